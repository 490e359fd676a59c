"""Switches that belong to a scene: boxes set apart for it stand otherwise while it is in force, and as before once it is left."""

from ennead.studio.bays import Scene
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings
from ennead.studio.ids import SceneId, UnitId
from ennead.studio.record import replace
from ennead.studio.switches import Switch, stated_of, switched


def set_apart(studio: Studio, unit: UnitId, apart: bool) -> Studio:
    """Set a box apart for the current scene, so that its switches are the scene's own, or let it stand as in every other.

    Raises
    ------
    UnknownObject
    BadValue
        If the bays are back to normals, or the box has no switch.
    """
    now = studio.settings_of(unit)
    scene = studio.scenes.get(studio.scene)
    if scene is None:
        raise BadValue("switches of “back to normals”", studio.unit(unit).name, "Choose a scene first.")
    if apart == (unit in scene.settings):
        return studio
    if apart:
        stated = stated_of(studio.profile_of(unit), now)
        if not stated:
            raise BadValue("a box set apart", studio.unit(unit).name, "It has no switch that could stand otherwise.")
        return _put(studio, replace(scene, settings={**scene.settings, unit: stated}))
    return _put(studio, replace(scene, settings={u: s for u, s in scene.settings.items() if u != unit}))


def settings_in(studio: Studio, scene: SceneId | None) -> dict[UnitId, Settings]:
    """Return how every box that any scene sets apart stands in one of them; of None as last ticked, and else at rest.

    Raises
    ------
    UnknownObject
    """
    apart = [u for u in dict.fromkeys([u for s in studio.scenes.values() for u in s.settings]) if u in studio.units]
    there = studio.settings_in(studio.current, studio.scenes[scene] if scene else None)
    ticked = studio.as_built.settings if scene is None else {}
    return {u: ticked.get(u, there[u]) for u in apart}


def stand_switch(studio: Studio, switch: Switch) -> Studio:
    """Note that a switch has been set, as far as how the rest of its box stands is known.

    Raises
    ------
    UnknownObject
    """
    profile, built = studio.profile_of(switch.unit), studio.as_built
    now = built.settings.get(switch.unit) or studio.settings_in(studio.current, None)[switch.unit]
    return replace(
        studio, as_built=replace(built, settings={**built.settings, switch.unit: switched(now, profile, switch)})
    )


def _put(studio: Studio, scene: Scene) -> Studio:
    return replace(studio, scenes=studio.scenes.put(scene.id, scene))
