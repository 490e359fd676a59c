"""Leads of destinations: the cables one has of its own, by which it hears, or by which a loop comes back."""

from collections.abc import Mapping
from typing import NamedTuple

from ennead.studio.house import Cable, DestinationEnd, Piece, PortEnd
from ennead.studio.ids import CableId, DestinationId, UnitId
from ennead.survey.parts import part
from ennead.survey.sorted_cables import SortedOut


class LeadEnd(NamedTuple):
    """The socket in which a lead of a destination sits.

    Parameters
    ----------
    lane : int
        The lane of the socket that its channel is on.
    straight : bool
        Whether it joins lane by lane, so that from a socket of two channels it brings both.
    """

    end: PortEnd
    lane: int
    straight: bool
    cable: CableId


class Heard(NamedTuple):
    """What a lead of a destination joins to one lane of a socket."""

    lane: int
    destination: DestinationId
    channel: int
    side: str
    cable: CableId


#: By destination: by side (empty where it hears, ``return`` where it comes back) and channel; old files may hold several for one.
Leads = Mapping[DestinationId, Mapping[tuple[str, int], tuple[LeadEnd, ...]]]


@part
def destination_leads(sorted_out: SortedOut, made_up: Mapping[CableId, tuple[Piece, ...]]) -> Leads:
    """Return the sockets in which the leads of destinations sit."""
    found: dict[DestinationId, dict[tuple[str, int], tuple[LeadEnd, ...]]] = {}
    straight: list[Cable | Piece] = list(sorted_out.others)
    for piece in (*straight, *[p for several in made_up.values() for p in several]):
        start, end = piece.start, piece.end
        lanes = piece.crosses or {1: 1}
        begins, ends = next(iter(lanes.items()))
        if isinstance(start, PortEnd) and isinstance(end, DestinationEnd):
            at, mine, lane = end, start, begins
        elif isinstance(start, DestinationEnd) and isinstance(end, PortEnd):
            at, mine, lane = start, end, ends
        else:
            continue
        plain = isinstance(piece, Cable) and not piece.wires
        leads = found.setdefault(at.destination, {})
        key = at.side, at.channel
        leads[key] = (*leads.get(key, ()), LeadEnd(mine, lane, plain, piece.id))
    return found


@part
def heard_at(destination_leads: Leads) -> dict[UnitId, dict[str, tuple[Heard, ...]]]:
    """Return what the leads of destinations join to each socket."""
    found: dict[UnitId, dict[str, tuple[Heard, ...]]] = {}
    for destination, leads in destination_leads.items():
        for side, channel, lead in [(*key, lead) for key, several in leads.items() for lead in several]:
            ports = found.setdefault(lead.end.unit, {})
            heard = Heard(lead.lane, destination, channel, side, lead.cable)
            ports[lead.end.port] = (*ports.get(lead.end.port, ()), heard)
    return found
