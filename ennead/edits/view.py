"""Which of its truths a studio is looked at for: an evening as it is planned, or what really stands."""

from typing import NamedTuple

from ennead.edits.evenings import choose_session
from ennead.edits.plugs import cable_faults
from ennead.edits.scenes import choose_scene
from ennead.studio.bays import Scene
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable
from ennead.studio.ids import SceneId, SessionId
from ennead.studio.record import replace


class View(NamedTuple):
    """What a survey is to show.

    Parameters
    ----------
    session : SessionId or None
        The evening; None for the current one.
    scene : SceneId or None
        The scene whose cords are there; empty for back to normals, None for the current one.
    standing : bool
        Whether only what has been ticked is there: the cables that stand, and switches as they were last set.
    """

    session: SessionId | None = None
    standing: bool = False
    scene: SceneId | None = None


def seen(studio: Studio, view: View) -> Studio:
    """Return the studio as a view shows it; what stands is there whatever evening it was plugged for.

    A cable that stands in what has left the house is not followed. Switches nobody has ticked stand as planned.

    Raises
    ------
    UnknownObject
        If there is no such session.
    """
    if view.session is not None:
        studio = choose_session(studio, view.session)
    if view.scene is not None:
        studio = choose_scene(studio, view.scene)
    if not view.standing:
        return studio
    standing_cords = Scene(SceneId("K0"), "what stands", cords=tuple(studio.as_built.cords.values()))
    scenes = FrozenMap({standing_cords.id: standing_cords})
    standing = {
        key: replace(stood.cable, sessions=()) for key, stood in studio.stood.items() if _is_whole(studio, stood.cable)
    }
    settings = studio.as_built.settings
    units = {key: replace(unit, settings=settings[key]) for key, unit in studio.units.items() if key in settings}
    return replace(
        studio, cables=FrozenMap(standing), units=studio.units.put_all(units), scenes=scenes, scene=standing_cords.id
    )


def _is_whole(studio: Studio, cable: Cable) -> bool:
    try:
        return not any(True for _ in cable_faults(studio, replace(cable, sessions=())))
    except EnneadError:
        return False
