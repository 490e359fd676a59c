"""Tracks: what the recording software does with a line, as far as it is stated."""

from typing import Final

from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.record import record

#: A driver number beyond this is a slip of the hand. House default.
MOST_NUMBER: Final = 9_999


@record(frozen=True)
class Track:
    """What is stated of the track of a source; where nothing is, there is none.

    Parameters
    ----------
    picked : tuple of int
        The driver inputs picked in the software, one a channel; empty where not stated.
    armed, monitored : bool
        Whether it records, and whether its input is heard through the software.
    outputs : tuple of int
        The driver outputs it is sent to.
    insert : DestinationId or None
        The loop it is sent through.
    """

    line: SourceId
    picked: tuple[int, ...] = ()
    armed: bool = False
    monitored: bool = False
    outputs: tuple[int, ...] = ()
    insert: DestinationId | None = None
