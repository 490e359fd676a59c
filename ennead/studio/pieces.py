"""Pieces: what runs within a cable of several plugs, or with wires of its own, from each plug that drives to each that takes."""

from collections.abc import Callable, Iterator, Mapping
from typing import cast

from ennead.studio.house import Cable, DestinationEnd, LineEnd, Piece, Plug, PortEnd, SourceEnd
from ennead.studio.ids import LETTERS, DestinationId, SourceId, UnitId
from ennead.studio.profile import Port, Profile

#: A lane of a plug: the plug by its place from 0, the lane from 1.
PlugLane = tuple[int, int]


def pieces(cable: Cable, profile_of: Callable[[UnitId], Profile]) -> tuple[Piece, ...]:
    """Return the pieces of a cable, by their plugs in order; a line's channels are a piece each.

    What only joins conductors drives nothing: it begins a piece where nothing else does.

    Parameters
    ----------
    profile_of : callable
        The profile of the unit a plug sits in.
    """

    def port(end: PortEnd) -> Port:
        return profile_of(end.unit).port_by_key[end.port]

    drives = {at: _gives(plug, profile_of) for at, plug in enumerate(cable.plugs)}
    found: dict[tuple[int, int, int], dict[int, int]] = {}
    for joined in joined_lanes(cable, port):
        starts = [(at, lane) for at, lane in joined if drives[at](lane)]
        ends = [(at, lane) for at, lane in joined if not drives[at](lane)]
        if not starts:
            # Of copper alone, tails before what they hang on; between equals the first plug.
            lying = [(at, lane) for at, lane in ends if _only_joins(cable.plugs[at], profile_of)]
            tails = [(at, lane) for at, lane in lying if port(cast(PortEnd, cable.plugs[at])).direction == "out"]
            lying = tails if tails and len(tails) < len(lying) else lying
            starts = lying if len(lying) < len(ends) else lying[:1]
            ends = [there for there in ends if there not in starts]
        lines = [there for there in starts if isinstance(cable.plugs[there[0]], LineEnd)]
        # What a line drives against an output reaches the copper behind it all the same.
        behind = [there for there in starts if lines and _also_joins(cable.plugs[there[0]], profile_of)]
        for at, lane in starts:
            for to, into in (*ends, *behind) if (at, lane) in lines else ends:
                of_line = (
                    lane
                    if isinstance(cable.plugs[at], LineEnd)
                    else into
                    if isinstance(cable.plugs[to], LineEnd)
                    else 0
                )
                found.setdefault((at, to, of_line), {}).setdefault(lane, into)
    return tuple([_piece(cable, at, to, crosses) for (at, to, _), crosses in sorted(found.items())])


def joined_lanes(cable: Cable, port: Callable[[PortEnd], Port]) -> list[list[PlugLane]]:
    """Return which lanes of its plugs a cable joins, as groups of two or more, each in order; digital sockets have one lane."""
    near: dict[PlugLane, list[PlugLane]] = {}
    for a, b in _wires(cable, port):
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    groups, met = [], set[PlugLane]()
    for first in sorted(near):
        if first in met:
            continue
        group, waiting = [], [first]
        met.add(first)
        while waiting:
            here = waiting.pop()
            group.append(here)
            new = [n for n in near[here] if n not in met]
            met.update(new)
            waiting += new
        groups.append(sorted(group))
    return groups


def _wires(cable: Cable, port: Callable[[PortEnd], Port]) -> Iterator[tuple[PlugLane, PlugLane]]:
    if cable.wires:
        for wire in cable.wires:
            yield (wire.a, wire.a_lane), (wire.b, wire.b_lane)
        return
    sockets = [port(plug) for plug in cable.plugs if isinstance(plug, PortEnd)]
    lanes = 1 if any(p.is_digital for p in sockets) else min([p.channels for p in sockets], default=1)
    for lane in range(1, lanes + 1):
        yield (0, lane), (1, lane)


def _gives(plug: Plug, profile_of: Callable[[UnitId], Profile]) -> Callable[[int], bool]:
    if isinstance(plug, LineEnd):
        gives = plug.line[:1] == LETTERS["sources"] or bool(plug.side)
        return lambda _: gives
    profile = profile_of(plug.unit)
    there = profile.port_by_key[plug.port]
    if there.direction != "both":
        return lambda _: profile.sides[plug.port] == "out"
    return lambda lane: lane in there.lanes_that("out", there.channels)


def _only_joins(plug: Plug, profile_of: Callable[[UnitId], Profile]) -> bool:
    return isinstance(plug, PortEnd) and not profile_of(plug.unit).sides[plug.port]


def _also_joins(plug: Plug, profile_of: Callable[[UnitId], Profile]) -> bool:
    return isinstance(plug, PortEnd) and any(
        path.kind == "joins" and plug.port in (*path.from_ports, *path.to_ports)
        for path in profile_of(plug.unit).inner_paths
    )


def _piece(cable: Cable, at: int, to: int, crosses: Mapping[int, int]) -> Piece:
    lane, into = next(iter(crosses.items()))
    start, end = end_at(cable.plugs[at], lane), end_at(cable.plugs[to], into)
    return Piece(
        cable.id, start, cast("PortEnd | DestinationEnd", end), crosses, cable.length_m, cable.note, cable.grade
    )


def end_at(plug: Plug, lane: int) -> PortEnd | SourceEnd | DestinationEnd:
    """Return a plug's end; of a line, one channel of it."""
    if isinstance(plug, PortEnd):
        return plug
    if plug.line[:1] == LETTERS["sources"]:
        return SourceEnd(SourceId(plug.line), lane)
    return DestinationEnd(DestinationId(plug.line), lane, plug.side)
