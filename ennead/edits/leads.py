"""Edits of the cables that destinations have of their own, which any edit of what they are plugged into may need."""

from collections.abc import Sequence
from dataclasses import replace

from ennead.studio.document import Studio
from ennead.studio.house import DestinationEnd
from ennead.studio.ids import DestinationId


def without_leads(studio: Studio, destination: DestinationId, sides: Sequence[str]) -> Studio:
    """Return the studio without the cables a destination has of its own."""
    gone = [
        c.id
        for c in studio.cables.values()
        for end in (c.start, c.end)
        if isinstance(end, DestinationEnd) and end.destination == destination and end.side in sides
    ]
    return replace(studio, cables=studio.cables.without(*gone)) if gone else studio


def let_go(studio: Studio, destination: DestinationId) -> Studio:
    """Let a destination go of its sockets: its own cables are pulled, those of the house stay."""
    free = replace(studio.destination(destination), at=(), boxes=())
    studio = without_leads(studio, destination, ("", "return"))
    return replace(studio, destinations=studio.destinations.put(destination, free))
