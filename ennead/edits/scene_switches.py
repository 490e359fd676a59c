"""Switches that belong to a scene: boxes set apart for it stand otherwise while it is the current one, and as before once it is left."""

from collections.abc import Mapping

from ennead.edits.settings import stand_as
from ennead.studio.bays import Scene
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings
from ennead.studio.ids import SceneId, UnitId
from ennead.studio.record import replace
from ennead.studio.switches import Switch, switched


def set_apart(studio: Studio, unit: UnitId, apart: bool) -> Studio:
    """Set a box apart for the current scene, so that its switches are the scene's own, or let it stand as in every other.

    Raises
    ------
    UnknownObject
    BadValue
        If the bays are back to normals.
    """
    now = studio.unit(unit).settings
    scene = studio.scenes.get(studio.scene)
    if scene is None:
        raise BadValue("switches of “back to normals”", studio.unit(unit).name, "Choose a scene first.")
    if apart == (unit in scene.settings):
        return studio
    if apart:
        kept = _put(studio, replace(scene, settings={**scene.settings, unit: now}))
        return replace(kept, resting=studio.resting.put(unit, now))
    left = _put(studio, replace(scene, settings={u: s for u, s in scene.settings.items() if u != unit}))
    return replace(_standing(left, {unit: studio.resting.get(unit, now)}), resting=studio.resting.without(unit))


def at_rest(studio: Studio) -> Studio:
    """Return the studio with the boxes of its scene as they stand without it; how they stood is noted in the scene.

    Raises
    ------
    UnknownObject
    """
    scene = studio.scenes.get(studio.scene)
    if scene is None or not (scene.settings or studio.resting):
        return studio
    noted = {u: studio.units[u].settings for u in scene.settings if u in studio.units}
    kept = studio if noted == scene.settings else _put(studio, replace(scene, settings=noted))
    return replace(_standing(kept, studio.resting), resting=studio.resting.without(*studio.resting))


def as_scene_has_it(studio: Studio) -> Studio:
    """Return a studio at rest with the boxes of its scene as the scene has them.

    Raises
    ------
    UnknownObject
    """
    scene = studio.scenes.get(studio.scene)
    there = {u: s for u, s in scene.settings.items() if u in studio.units} if scene is not None else {}
    if not there:
        return studio
    return replace(
        _standing(studio, there), resting=studio.resting.put_all({u: studio.units[u].settings for u in there})
    )


def settings_in(studio: Studio, scene: SceneId | None) -> dict[UnitId, Settings]:
    """Return how every box that any scene sets apart stands in one of them; of None as last ticked, and else at rest.

    Raises
    ------
    UnknownObject
    """
    apart = [u for u in dict.fromkeys([u for s in studio.scenes.values() for u in s.settings]) if u in studio.units]
    rest = {u: studio.resting.get(u, studio.units[u].settings) for u in apart}
    if scene is None:
        return {u: studio.as_built.settings.get(u, rest[u]) for u in apart}
    own = studio.scenes[scene].settings if scene and scene != studio.scene else {}
    now = studio.scenes[scene].settings if scene and scene == studio.scene else {}
    then = {u: studio.units[u].settings if u in now else own.get(u, rest[u]) for u in apart}
    # A box may have been described anew since the scene was left: it stands as choosing the scene would have it.
    return {u: stand_as(studio.units[u], s, studio.profile_of(u)).settings for u, s in then.items()}


def stand_switch(studio: Studio, switch: Switch) -> Studio:
    """Note that a switch has been set, as far as how the rest of its box stands is known.

    Raises
    ------
    UnknownObject
    """
    profile, built = studio.profile_of(switch.unit), studio.as_built
    now = built.settings.get(switch.unit, studio.resting.get(switch.unit, studio.unit(switch.unit).settings))
    return replace(
        studio, as_built=replace(built, settings={**built.settings, switch.unit: switched(now, profile, switch)})
    )


def without_unit(studio: Studio, unit: UnitId) -> Studio:
    """Return the studio of whose scenes none sets a box apart."""
    scenes = {
        s.id: replace(s, settings={u: v for u, v in s.settings.items() if u != unit})
        for s in studio.scenes.values() if unit in s.settings
    }  # fmt: skip
    if not scenes and unit not in studio.resting:
        return studio
    return replace(studio, scenes=studio.scenes.put_all(scenes), resting=studio.resting.without(unit))


def _standing(studio: Studio, settings: Mapping[UnitId, Settings]) -> Studio:
    units = {u: stand_as(studio.units[u], s, studio.profile_of(u)) for u, s in settings.items() if u in studio.units}
    changed = {u: unit for u, unit in units.items() if unit is not studio.units[u]}
    return replace(studio, units=studio.units.put_all(changed)) if changed else studio


def _put(studio: Studio, scene: Scene) -> Studio:
    return replace(studio, scenes=studio.scenes.put(scene.id, scene))
