"""Edits of the cables that destinations have of their own, which any edit of what they are plugged into may need."""

from collections.abc import Sequence

from ennead.studio.document import Studio
from ennead.studio.house import Cable, LineEnd
from ennead.studio.ids import DestinationId
from ennead.studio.record import replace


def pulled(studio: Studio, cable: Cable) -> Studio:
    """Return the studio without a cable; one that serves other sessions as well stays theirs."""
    others = tuple(s for s in cable.sessions if s != studio.session)
    if cable.sessions and others:
        return replace(studio, cables=studio.cables.put(cable.id, replace(cable, sessions=others)))
    return replace(studio, cables=studio.cables.without(cable.id))


def without_leads(studio: Studio, destination: DestinationId, sides: Sequence[str]) -> Studio:
    """Return the studio without the cables a destination has of its own on the current session."""
    gone = [
        c
        for c in studio.cables.values()
        if any(isinstance(p, LineEnd) and p.line == destination and p.side in sides for p in c.plugs)
        and (not c.sessions or studio.session in c.sessions)
    ]
    for cable in gone:
        studio = pulled(studio, cable)
    return studio


def let_go(studio: Studio, destination: DestinationId) -> Studio:
    """Let a destination go of its sockets: its own cables are pulled, those of the house stay.

    Raises
    ------
    UnknownObject
    """
    free = replace(studio.destination(destination), at=(), boxes=())
    studio = without_leads(studio, destination, ("", "return"))
    return replace(studio, destinations=studio.destinations.put(destination, free))
