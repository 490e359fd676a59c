"""Views: which session and scene a studio is looked at for, as it is planned or as it stands, at which rate, and with what gone wrong."""

from collections.abc import Mapping
from typing import NamedTuple

from ennead.studio.as_built import AsBuilt
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import Cable
from ennead.studio.ids import CableId, SceneId, SessionId
from ennead.studio.plugs import cable_faults
from ennead.studio.record import replace
from ennead.survey.faults import Fault


class View(NamedTuple):
    """What a survey is of.

    Parameters
    ----------
    session : SessionId or None
        None for the current one.
    scene : SceneId or None
        The scene that gives the cords; empty for back to normals, None for the last one in force on the session.
    standing : bool
        Whether only what has been ticked is there: the cables and cords that stand, and switches as they were last set.
    rate_hz : int or None, Hz
        None for the session's.
    faults : tuple of Fault
        What has gone wrong, one after the other. Only these silence anything; a port marked out of service is said to be so, and followed.
    """

    session: SessionId | None = None
    scene: SceneId | None = None
    standing: bool = False
    rate_hz: int | None = None
    faults: tuple[Fault, ...] = ()


#: The plan of the current session, in its scene.
PLAN = View()


class Standing(NamedTuple):
    """What stands, as far as it can be followed: a cable into what has left the house is not."""

    cables: Mapping[CableId, Cable]
    built: AsBuilt


def standing_of(studio: Studio) -> Standing:
    """Return what stands in a studio, on whatever session it was plugged."""
    cables = {key: replace(stood.cable, sessions=()) for key, stood in studio.stood.items()}
    return Standing({key: cable for key, cable in cables.items() if _is_whole(studio, cable)}, studio.as_built)


def _is_whole(studio: Studio, cable: Cable) -> bool:
    try:
        return not any(True for _ in cable_faults(studio, cable))
    except EnneadError:
        return False
