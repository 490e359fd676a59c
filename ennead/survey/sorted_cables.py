"""Cables by what they join: between two units, from a line, of several plugs; and what each line of the session is plugged into."""

from collections.abc import Collection, Iterable, Mapping
from typing import NamedTuple, TypeVar, cast

from ennead.studio.bays import Bay, Cord
from ennead.studio.house import Cable, Lead, Piece, PortEnd, SourceEnd, Span
from ennead.studio.ids import CableId, SourceId, UnitId
from ennead.studio.pieces import pieces
from ennead.studio.profile import Profile
from ennead.studio.session import Source
from ennead.survey.parts import Held, changed_keys, in_that_order, part, renews

#: A cable between two units; those of several pieces have one entry a piece, the first under the cable's id alone.
SpanKey = CableId | tuple[CableId, int]

K = TypeVar("K")
C = TypeVar("C", Span, Lead)

_Leads = dict[tuple[SourceId, int], Lead]
_Further = dict[tuple[SourceId, int], tuple[Lead, ...]]


class SortedOut(NamedTuple):
    """The cables by what they join; those of several plugs, or with wires of their own, in pieces from plug to plug.

    Parameters
    ----------
    leads, further : map of (SourceId, channel) to Lead, and to tuple of Lead
        The first cable of each channel of a source that has leads of its own, and what else it is plugged into.
    others : list of Cable
        The straight leads of destinations.
    at_copper : list of Cable
        Those straight ones that have an end in a box that joins conductors.
    """

    spans: dict[SpanKey, Span]
    leads: _Leads
    further: _Further
    made_up: dict[CableId, tuple[Piece, ...]]
    others: list[Cable]
    at_copper: list[Cable]


@part
def sorted_out(in_use: Mapping[CableId, Cable], profiles: Mapping[UnitId, Profile]) -> SortedOut:
    """Return the cables by what they join."""
    copper = {unit for unit, profile in profiles.items() if profile.joins_any}
    found = SortedOut({}, {}, {}, {}, [], [])
    spans, leads, at_copper = found.spans, found.leads, found.at_copper
    for key, cable in in_use.items():
        runs = cable.runs
        if runs == "from a source":
            lead = cast(Lead, cable)
            begins = lead.start
            at = begins.source, begins.channel
            if leads.setdefault(at, lead) is not lead:
                _plug(leads, found.further, at, lead)
            if lead.end.unit in copper:
                at_copper.append(lead)
        elif runs == "between units":
            span = spans[key] = cast(Span, cable)
            if span.start.unit in copper or span.end.unit in copper:
                at_copper.append(span)
        elif runs == "in pieces":
            found.made_up[key] = pieces(cable, profiles.__getitem__)
        else:
            found.others.append(cable)
            at_copper += [cable] if any(isinstance(p, PortEnd) and p.unit in copper for p in cable.plugs) else []
    for key, several in found.made_up.items():
        spans |= between(key, several)
        for piece in several:
            if isinstance(start := piece.start, SourceEnd) and isinstance(piece.end, PortEnd):
                _plug(found.leads, found.further, (start.source, start.channel), cast(Lead, piece))
    return found


@renews(sorted_out)
def _sorted_out_again(
    was: Held, in_use: Mapping[CableId, Cable], profiles: Mapping[UnitId, Profile]
) -> SortedOut | None:
    """Return the cables by what they join after an edit of some straight ones, none of which shares a channel of a line with another."""
    then, known = was.reads
    before: SortedOut = was.value
    turned = changed_keys(in_use, then)
    if (
        profiles is not known
        or before.further
        or not turned.isdisjoint(before.made_up)
        or not in_that_order(then, in_use)
    ):
        return None
    old = sorted_out({key: then[key] for key in turned if key in then}, profiles)
    new = sorted_out({key: in_use[key] for key in in_use if key in turned}, profiles)
    left = before.leads.keys() - old.leads.keys()
    if new.made_up or new.further or not new.leads.keys().isdisjoint(left):
        return None
    others, copper = before.others, before.at_copper
    if old.others or new.others:
        others = _in_order(in_use, others, turned, new.others)
    if old.at_copper or new.at_copper:
        copper = _in_order(in_use, copper, turned, new.at_copper)
    place = {key: n for n, key in enumerate(in_use)} if new.spans or new.leads else {}
    spans = _put(before.spans, old.spans, new.spans, before.made_up, place)
    return SortedOut(
        spans, _put(before.leads, old.leads, new.leads, before.made_up, place), {}, before.made_up, others, copper
    )


def _in_order(in_use: Iterable[CableId], listed: list[Cable], gone: set[CableId], new: list[Cable]) -> list[Cable]:
    found = {c.id: c for c in (*[c for c in listed if c.id not in gone], *new)}
    return [found[key] for key in in_use if key in found]


def _put(
    before: dict[K, C],
    old: Mapping[K, C],
    new: Mapping[K, C],
    made_up: Collection[CableId],
    place: Mapping[CableId, int],
) -> dict[K, C]:
    """Return a map with some cables taken out and others put in, straight ones first; the very same map where that comes to nothing."""
    if all(before.get(key) is cable for key, cable in new.items()) and old.keys() <= new.keys():
        return before
    found = {**before, **new}
    for key in old.keys() - new.keys():
        del found[key]
    if new.keys() <= before.keys():
        # Each in its place.
        return found
    return dict(sorted(found.items(), key=lambda of: (of[1].id in made_up, place[of[1].id])))


def _plug(leads: _Leads, further: _Further, at: tuple[SourceId, int], lead: Lead) -> None:
    if leads.setdefault(at, lead) is not lead:
        further[at] = (*further.get(at, ()), lead)


@part
def made_up(sorted_out: SortedOut) -> dict[CableId, tuple[Piece, ...]]:
    """Return the cables of more than two plugs, or with wires of their own, in pieces."""
    return sorted_out.made_up


@part
def at_copper(sorted_out: SortedOut) -> list[Cable]:
    """Return the straight cables that have an end in a box that joins conductors."""
    return sorted_out.at_copper


def between(key: CableId, several: Iterable[Piece]) -> dict[SpanKey, Span]:
    """Return the pieces of a cable that run between two units, the first under its id alone."""
    found = [p for p in several if isinstance(p.start, PortEnd) and isinstance(p.end, PortEnd)]
    return {(key, n) if n else key: cast(Span, piece) for n, piece in enumerate(found)}


@part
def corded(cords: tuple[Cord, ...], bays: Mapping[UnitId, Bay]) -> dict[SpanKey, Span]:
    """Return the cords that join two points, as cables; which way a signal goes over one is not its plugs' to say."""
    points = {unit: bay.points for unit, bay in bays.items()}
    return {
        CableId(c.id): cast(Span, c.as_cable)
        for c in cords
        if len(c.plugs) == 2 and all(p.port in points.get(p.unit, ()) for p in c.plugs)
    }


@part
def cables_in(in_use: Mapping[CableId, Cable]) -> dict[PortEnd, tuple[Cable, ...]]:
    """Return the cables in each socket that holds any; what is plugged in the front of a point is none."""
    found: dict[PortEnd, tuple[Cable, ...]] = {}
    for cable in in_use.values():
        for plug in cable.plugs:
            if isinstance(plug, PortEnd):
                found[plug] = (*found[plug], cable) if plug in found else (cable,)
    return found


@part
def plugs(cables_in: Mapping[PortEnd, tuple[Cable, ...]]) -> frozenset[PortEnd]:
    """Return the sockets that hold a plug of a cable."""
    return frozenset(cables_in)


@part
def spans(sorted_out: SortedOut, corded: dict[SpanKey, Span]) -> dict[SpanKey, Span]:
    """Return the cables between two units, piece by piece, and the cords, each from its first plug on."""
    return {**sorted_out.spans, **corded} if corded else sorted_out.spans


@part
def plugged(
    sorted_out: SortedOut,
    standing: tuple[tuple[SourceId, tuple[PortEnd, ...]], ...],
    stereo: tuple[SourceId, ...],
    profiles: Mapping[UnitId, Profile],
) -> tuple[_Leads, _Further]:
    """Return the first cable of each channel of the session's sources and its further ones: its own, or the house's where it stands wired."""
    leads, further = dict(sorted_out.leads), dict(sorted_out.further)
    for source in stereo:
        if (source, 2) not in leads and (source, 1) in leads:
            lead = leads[source, 1]
            # One straight cable into a socket of two channels brings both.
            if (
                isinstance(lead, Cable)
                and not lead.wires
                and profiles[lead.end.unit].port_by_key[lead.end.port].channels > 1
            ):
                leads[source, 2] = cast(Lead, Piece(lead.id, SourceEnd(source, 2), lead.end, {2: 2}, lead.length_m))
    if standing:
        from_port: dict[PortEnd, list[Lead]] = {}
        for span in sorted_out.spans.values():
            from_port.setdefault(span.start, []).append(cast(Lead, span))
        for of, ends in standing:
            for channel, end in enumerate(ends, start=1):
                if (of, channel) not in leads:
                    for lead in from_port.get(end, ()):
                        _plug(leads, further, (of, channel), lead)
    return leads, further


@part
def leads(plugged: tuple[_Leads, _Further]) -> _Leads:
    """Return the cable each channel of the session's sources is on; of several, the first."""
    return plugged[0]


@part
def further_leads(plugged: tuple[_Leads, _Further]) -> _Further:
    """Return what each channel of the session's sources is plugged into besides: a split lead, a second cable."""
    return plugged[1]


@part
def stereo(sources: tuple[Source, ...]) -> tuple[SourceId, ...]:
    """Return the session's analogue sources of two channels."""
    return tuple([s.id for s in sources if s.channels == 2 and s.kind != "digital"])


@part
def standing(sources: tuple[Source, ...]) -> tuple[tuple[SourceId, tuple[PortEnd, ...]], ...]:
    """Return the sources that are outputs of the house, each with these."""
    return tuple([(s.id, s.at) for s in sources if s.at])
