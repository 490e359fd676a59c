"""Edits of scenes: the cords for a piece of work, what is done by hand with them, and the cords there are."""

import math
from collections.abc import Sequence

from ennead.edits.bays import checked_point
from ennead.edits.names import clean_name
from ennead.standards.bays import MOST_CORDS, MOST_STEPS
from ennead.studio.bays import Cord, CordStock, Scene
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, SocketTaken, UnknownObject
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, CordId, SceneId, SessionId, number_of
from ennead.studio.plugs import LONGEST_CABLE_M
from ennead.studio.record import replace


def scene_of(studio: Studio, scene: SceneId) -> Scene:
    """Return a scene.

    Raises
    ------
    UnknownObject
    """
    try:
        return studio.scenes[scene]
    except KeyError:
        raise UnknownObject("scene", scene) from None


def scene_named(studio: Studio, name: str) -> SceneId:
    """Return the scene of a name, or of an id; an empty id stands for back to normals.

    Raises
    ------
    UnknownObject
    """
    wanted = name.strip().casefold()
    if wanted == BACK_TO_NORMALS.casefold():
        return SceneId("")
    found = [s.id for s in studio.scenes.values() if s.name.casefold() == wanted] or [
        s for s in studio.scenes if s == name
    ]
    if not found:
        raise UnknownObject("scene", name)
    return found[0]


def cords_in(studio: Studio, scene: SceneId | None) -> tuple[Cord, ...]:
    """Return the cords of a scene; those that stand for None, none at all for back to normals."""
    if scene is None:
        return tuple(studio.as_built.cords.values())
    return studio.scenes[scene].cords if scene else ()


#: The scene that is always there: no cord at all.
BACK_TO_NORMALS = "Back to normals"


def _free_name(studio: Studio, name: str, but: SceneId | None = None) -> str:
    name = clean_name(name, "the name of a scene")
    taken = {s.name.casefold() for s in studio.scenes.values() if s.id != but} | {BACK_TO_NORMALS.casefold()}
    if name.casefold() in taken:
        raise BadValue("the name of a scene", name, "Another scene has it.")
    return name


def add_scene(studio: Studio, name: str, copy_of: SceneId | None = None) -> Studio:
    """Add a scene without cords, or with the cords, steps and switches of another, and choose it.

    Raises
    ------
    BadValue, UnknownObject
    """
    name = _free_name(studio, name)
    new = Scene(SceneId(""), name)
    if copy_of:
        model = scene_of(studio, copy_of)
        cords: tuple[Cord, ...] = ()
        for cord in model.cords:
            studio, key = studio.with_counter("cords")
            cords = (*cords, replace(cord, id=CordId(key)))
        new = replace(model, name=name, cords=cords)
    studio, key = studio.with_counter("scenes")
    new = replace(new, id=SceneId(key))
    return choose_scene(replace(studio, scenes=studio.scenes.put(new.id, new)), new.id)


def rename_scene(studio: Studio, scene: SceneId, name: str) -> Studio:
    """Give a scene another name.

    Raises
    ------
    BadValue, UnknownObject
    """
    new = replace(scene_of(studio, scene), name=_free_name(studio, name, scene))
    return _put(studio, new)


def remove_scene(studio: Studio, scene: SceneId) -> Studio:
    """Remove a scene; on sessions that had it the bays are back to normals.

    Raises
    ------
    UnknownObject
    """
    scene_of(studio, scene)
    left = {s.id: replace(s, scene=SceneId("")) for s in studio.sessions.values() if s.scene == scene}
    return replace(
        studio,
        scenes=studio.scenes.without(scene),
        sessions=studio.sessions.put_all(left) if left else studio.sessions,
    )


def choose_scene(studio: Studio, scene: SceneId) -> Studio:
    """Let another scene be in force on the current session; empty for back to normals.

    Raises
    ------
    UnknownObject
    """
    if scene:
        scene_of(studio, scene)
    if scene == studio.scene:
        return studio
    return replace(studio, sessions=studio.sessions.put(studio.session, replace(studio.current, scene=scene)))


def keep_for(studio: Studio, scene: SceneId, session: SessionId) -> Studio:
    """Say which session a scene is for; empty for any.

    Raises
    ------
    UnknownObject
    """
    if session and session not in studio.sessions:
        raise UnknownObject("session", session)
    return _put(studio, replace(scene_of(studio, scene), session=session))


def set_steps(studio: Studio, scene: SceneId, steps: Sequence[str]) -> Studio:
    """Say what is done by hand in a scene, in order.

    Raises
    ------
    BadValue, UnknownObject
    """
    if len(steps) > MOST_STEPS:
        raise BadValue("the steps of a scene", f"{len(steps)} steps", f"Keep them to {MOST_STEPS}.")
    return _put(studio, replace(scene_of(studio, scene), steps=tuple([clean_name(s, "a step") for s in steps])))


def lay_cord(
    studio: Studio,
    one: PortEnd,
    other: PortEnd | None,
    *,
    length_m: float | None = None,
    colour: str = "",
    unbalanced: bool = False,
) -> Studio:
    """Add a cord to the current scene, between two points, or with one plug as a dummy.

    Parameters
    ----------
    length_m : float or None, m

    Raises
    ------
    UnknownObject
        If a point's bay is not there.
    SocketTaken
        If a point holds a cord.
    BadValue
        If there is no scene to lay it in, or it would be a cord in one point twice.
    """
    if not studio.scene:
        raise BadValue("a cord of “back to normals”", "a cord", "Add a scene first; back to normals has none.")
    scene = scene_of(studio, studio.scene)
    plugs = (one,) if other is None else (one, other)
    for plug in plugs:
        checked_point(studio, plug)
    if len(set(plugs)) != len(plugs):
        raise BadValue("both ends of a cord", studio.end_text(one), "Choose two points.")
    if len(scene.cords) >= MOST_CORDS:
        raise BadValue("the cords of a scene", len(scene.cords) + 1, f"Keep them to {MOST_CORDS}.")
    for plug in plugs:
        taken = next((c for c in scene.cords if plug in c.plugs), None)
        if taken is not None:
            raise SocketTaken(studio.end_text(plug), taken.id)
    if length_m is not None and not (math.isfinite(length_m) and 0 < length_m <= LONGEST_CABLE_M):
        raise BadValue("the length of a cord", length_m, "Give metres above zero, such as 0.9.")
    studio, key = studio.with_counter("cords")
    cord = Cord(CordId(key), plugs, length_m, clean_name(colour, "a colour", may_be_empty=True), unbalanced)
    return _put(studio, replace(scene, cords=(*scene.cords, cord)))


def pull_cord(studio: Studio, cord: CordId) -> Studio:
    """Take a cord out of the current scene.

    Raises
    ------
    UnknownObject
    """
    scene = scene_of(studio, studio.scene) if studio.scene else None
    if scene is None or all(c.id != cord for c in scene.cords):
        raise UnknownObject("cord", cord)
    return _put(studio, replace(scene, cords=tuple([c for c in scene.cords if c.id != cord])))


def move_plug(studio: Studio, cord: CordId, end: int, to: PortEnd) -> Studio:
    """Move one plug of a cord of the current scene to another point.

    Parameters
    ----------
    end : int
        1 or 2.

    Raises
    ------
    UnknownObject, SocketTaken, BadValue
    """
    scene = scene_of(studio, studio.scene) if studio.scene else None
    found = next((c for c in scene.cords if c.id == cord), None) if scene is not None else None
    if found is None or scene is None:
        raise UnknownObject("cord", cord)
    if not 1 <= end <= len(found.plugs):
        raise BadValue(f"a plug of {cord}", end, f"It has {len(found.plugs)}.")
    checked_point(studio, to)
    taken = next((c for c in scene.cords if to in c.plugs and not (c.id == cord and c.plugs[end - 1] == to)), None)
    if taken is not None:
        raise SocketTaken(studio.end_text(to), taken.id)
    plugs = tuple([to if at == end else plug for at, plug in enumerate(found.plugs, start=1)])
    cords = tuple([replace(c, plugs=plugs) if c.id == cord else c for c in scene.cords])
    return _put(studio, replace(scene, cords=cords))


def set_stock(studio: Studio, stock: Sequence[CordStock]) -> Studio:
    """Say which cords there are.

    Raises
    ------
    BadValue
    """
    for kind in stock:
        if not (math.isfinite(kind.length_m) and 0 < kind.length_m <= LONGEST_CABLE_M):
            raise BadValue("the length of a cord", kind.length_m, "Give metres above zero, such as 0.9.")
        if not 0 <= kind.count <= 10_000:
            raise BadValue("a number of cords", kind.count, "Give 0 to 10,000.")
    cleaned = [replace(k, colour=clean_name(k.colour, "a colour", may_be_empty=True)) for k in stock]
    return replace(studio, stock=tuple(cleaned))


def stand_cord(studio: Studio, cord: Cord) -> Studio:
    """Note that a cord is plugged as it is given.

    Raises
    ------
    UnknownObject
        If a point's bay is not there.
    SocketTaken
        If another cord is noted in one of its points.
    BadValue
        If it is no cord that was ever given out, or has not one plug or two.
    """
    built = studio.as_built
    if not 1 <= len(set(cord.plugs)) == len(cord.plugs) <= 2:
        raise BadValue("a cord", f"{len(cord.plugs)} plugs", "It has one plug, or two in different points.")
    if not 1 <= number_of(cord.id) <= studio.counters.get(LETTERS["cords"], 0):
        raise UnknownObject("cord", cord.id)
    for plug in cord.plugs:
        checked_point(studio, plug)
        taken = next((c for c in built.cords.values() if plug in c.plugs and c.id != cord.id), None)
        if taken is not None:
            raise SocketTaken(studio.end_text(plug), taken.id)
    return replace(studio, as_built=replace(built, cords={**built.cords, cord.id: cord}))


def stand_plug(studio: Studio, point: PortEnd, cord: Cord) -> Studio:
    """Note that a plug of a cord is in a point now; a cord of which nothing was plugged is as it is given, with this plug alone.

    Raises
    ------
    UnknownObject, SocketTaken
    BadValue
        If both plugs of the cord are in points already.
    """
    there = studio.as_built.cords.get(cord.id, replace(cord, plugs=()))
    if len(there.plugs) > 1:
        raise BadValue(f"a third plug of {cord.id}", point.port, "Pull one of its plugs first.")
    number = number_of(cord.id)
    if 1 <= number > studio.counters.get(LETTERS["cords"], 0):
        studio = replace(studio, counters=studio.counters.put(LETTERS["cords"], number))
    return stand_cord(studio, replace(there, plugs=(*there.plugs, point)))


def lift_plug(studio: Studio, point: PortEnd) -> Studio:
    """Note that the plug in a point has been pulled.

    Raises
    ------
    UnknownObject
    """
    built = studio.as_built
    cord = next((c for c in built.cords.values() if point in c.plugs), None)
    if cord is None:
        raise UnknownObject("plug in", f"{point.unit} {point.port}")
    left = replace(cord, plugs=tuple([p for p in cord.plugs if p != point]))
    cords = {k: (left if k == cord.id else c) for k, c in built.cords.items() if k != cord.id or left.plugs}
    return replace(studio, as_built=replace(built, cords=cords))


def _put(studio: Studio, scene: Scene) -> Studio:
    return replace(studio, scenes=studio.scenes.put(scene.id, scene))
