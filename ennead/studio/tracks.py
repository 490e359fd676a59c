"""Tracks: what the recording software does with a source, or with what comes back by a loop, as far as it is stated."""

from typing import Final

from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.record import record

#: A driver number beyond this is a slip of the hand. House default.
MOST_NUMBER: Final = 9_999


@record(frozen=True)
class Track:
    """What is stated of the track of a source, or of the one that a loop is printed on; where nothing is, there is none.

    Parameters
    ----------
    line : SourceId or DestinationId
        The source, or the loop by whose return the track records.
    picked : tuple of int
        The driver inputs picked in the software, one a channel; empty where not stated.
    armed, monitored : bool
        Whether it records, and whether its input is heard through the software.
    outputs : tuple of int
        The driver outputs it is sent to.
    insert : DestinationId or None
        The loop it is sent through.
    """

    line: SourceId | DestinationId
    picked: tuple[int, ...] = ()
    armed: bool = False
    monitored: bool = False
    outputs: tuple[int, ...] = ()
    insert: DestinationId | None = None
