"""Ids: a kind letter and a counter that is never used twice."""

from typing import Final, NewType

ProfileId = NewType("ProfileId", str)
PlaceId = NewType("PlaceId", str)
UnitId = NewType("UnitId", str)
ComputerId = NewType("ComputerId", str)
CableId = NewType("CableId", str)
SessionId = NewType("SessionId", str)
SourceId = NewType("SourceId", str)
DestinationId = NewType("DestinationId", str)
SceneId = NewType("SceneId", str)
CordId = NewType("CordId", str)
RevisionId = NewType("RevisionId", str)
RecallId = NewType("RecallId", str)
JobId = NewType("JobId", str)

#: The letter each map's ids begin with; a bay has the id of the unit it belongs to, and cords stand in scenes.
LETTERS: Final[dict[str, str]] = {
    "profiles": "F",
    "places": "P",
    "units": "U",
    "hosts": "H",
    "cables": "C",
    "sessions": "N",
    "sources": "S",
    "destinations": "D",
    "bays": "U",
    "scenes": "K",
    "cords": "W",
    "revisions": "R",
    "recalls": "M",
    "prints": "J",
}


def number_of(an_id: str) -> int:
    """Return the counter within an id, so that C10 sorts after C9."""
    return int(an_id[1:])
