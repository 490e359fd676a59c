"""Patching: what normals and cords make of the points of the bays, and which way a signal goes over what lies either way."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Any, Final, NamedTuple, cast

from ennead.studio.bays import Bay, Cord
from ennead.studio.house import Cable, Piece, PortEnd, Span
from ennead.studio.ids import CableId, UnitId
from ennead.studio.profile import Profile
from ennead.studio.record import replace

#: A cable between two units, by whatever key it is known.
_Spans = Mapping[Any, Any]


class Patched(NamedTuple):
    """One bay as it is patched.

    Parameters
    ----------
    points : frozenset of str
        Port keys of its points.
    leads_to : map of str to tuple of str
        To which points the normals lead from each, the nearest first.
    joined : tuple of pair of str
        The normals that join, either way.
    """

    points: frozenset[str]
    leads_to: Mapping[str, tuple[str, ...]]
    joined: tuple[tuple[str, str], ...]


class Patch(NamedTuple):
    """All bays as they are patched.

    Parameters
    ----------
    turned : map of key to Span
        The tie lines in which the signal runs against the order of their plugs.
    cords : map of CableId to Cable
        Cords with two plugs, the one it comes from first.
    """

    bays: Mapping[UnitId, Patched]
    turned: Mapping[Any, Span]
    cords: Mapping[CableId, Span]


NO_PATCH: Final = Patch({}, {}, {})


def patch(
    bays: Mapping[UnitId, Bay],
    cords: Iterable[Cord],
    spans: _Spans,
    arriving: Iterable[PortEnd],
    profiles: Mapping[UnitId, Profile],
) -> Patch:
    """Return what is joined, each joint with the direction in which a signal goes.

    A point is one conductor, front and rear. Signals spread from where something drives a point; over what no driver reaches they
    would go as it was plugged.

    Parameters
    ----------
    spans : map of key to Span
        The cables between units.
    arriving : iterable of PortEnd
        Points at which a lead of a line arrives.
    """
    if not bays:
        return NO_PATCH
    points = {unit: bay.points for unit, bay in bays.items()}
    laid = [c for c in cords if all(p.port in points.get(p.unit, ()) for p in c.plugs)]
    plugged: dict[UnitId, set[str]] = {}
    for cord in laid:
        for plug in cord.plugs:
            plugged.setdefault(plug.unit, set()).add(plug.port)
    normals = {unit: _live(bay, plugged.get(unit, ())) for unit, bay in bays.items()}
    near = {
        unit: bay.beside if normals[unit] is bay.pairs else _beside(bay, normals[unit]) for unit, bay in bays.items()
    }
    whole = {CableId(c.id): (c.plugs[0], c.plugs[1], c.length_m) for c in laid if len(c.plugs) == 2}
    first: list[_Point] = [(end.unit, end.port) for end in arriving if end.port in points.get(end.unit, ())]
    ties: dict[Any, Span] = {}
    for key, span in spans.items():
        end = span.end
        unit, port = end.unit, end.port
        if unit in points and port in points[unit]:
            start = span.start
            if start.unit in points and start.port in points[start.unit]:
                ties[key] = span
            else:
                first.append((unit, port))
    first += _driven_within(bays, profiles)
    order = _spread(
        first,
        near,
        [*[(one, other) for one, other, _ in whole.values()], *[(t.start, t.end) for t in ties.values()]],
    )
    bays_now = {unit: _patched(unit, points[unit], live, order) for unit, live in normals.items()}
    turned = {key: _turned(tie) for key, tie in ties.items() if _against(_point(tie.start), _point(tie.end), order)}
    oriented = {
        key: cast(
            Span,
            Cable(key, (other, one) if _against(_point(one), _point(other), order) else (one, other), length_m=length),
        )
        for key, (one, other, length) in whole.items()
    }
    return Patch(bays_now, turned, oriented)


def _live(bay: Bay, plugged: Collection[str]) -> Sequence[tuple[str, str]]:
    """Return the normals that join, as pairs; few are broken, and each plug breaks one at most."""
    broken = [bay.switched[key] for key in plugged if key in bay.switched]
    if not broken:
        return bay.pairs
    # The same two points may be joined for good besides.
    gone = {(n.start, n.end) for n in broken}
    return [p for p in bay.pairs if p not in gone] + [
        (n.start, n.end) for n in bay.soldered if (n.start, n.end) in gone
    ]


def _beside(bay: Bay, live: Sequence[tuple[str, str]]) -> Mapping[str, tuple[str, ...]]:
    """Return what some normals of a bay join to each point: as with all of them, but for those that are broken."""
    found = dict(bay.beside)
    kept = frozenset(live)
    for start, end in bay.pairs:
        if (start, end) not in kept:
            found[start] = tuple([key for key in found[start] if key != end])
            found[end] = tuple([key for key in found[end] if key != start])
    return found


#: A point as a plain key: thousands are looked up with every edit.
_Point = tuple[UnitId, str]


def _point(end: PortEnd) -> _Point:
    return end.unit, end.port


def _driven_within(bays: Mapping[UnitId, Bay], profiles: Mapping[UnitId, Profile]) -> list[_Point]:
    """Return the points that their own unit drives: a console's outputs in its built-in bay."""
    return [
        (unit, key)
        for unit, bay in bays.items()
        for path in profiles[unit].inner_paths
        if not bay.points.issuperset(path.from_ports)
        for key in path.to_ports
        if key in bay.points
    ]


def _spread(
    first: Iterable[_Point],
    near: Mapping[UnitId, Mapping[str, tuple[str, ...]]],
    further: Iterable[tuple[PortEnd, PortEnd]],
) -> dict[_Point, int]:
    """Return in which order signals reach points from where they are driven, nearest first."""
    between: dict[_Point, list[_Point]] = {}
    for one, other in further:
        a, b = _point(one), _point(other)
        between.setdefault(a, []).append(b)
        between.setdefault(b, []).append(a)
    waiting = list(dict.fromkeys(first))
    order = {end: n for n, end in enumerate(waiting)}
    for end in waiting:
        unit, key = end
        for port in near[unit].get(key, ()):
            there = unit, port
            if there not in order:
                order[there] = len(order)
                waiting.append(there)
        for there in between.get(end, ()) if between else ():
            if there not in order:
                order[there] = len(order)
                waiting.append(there)
    return order


def _against(start: _Point, end: _Point, order: Mapping[_Point, int]) -> bool:
    """Say whether a signal reaches the end of a joint before its start."""
    return start in order and order[end] < order[start]


def _patched(
    unit: UnitId, points: frozenset[str], live: Sequence[tuple[str, str]], order: Mapping[_Point, int]
) -> Patched:
    ahead: dict[str, tuple[str, ...]] = {}
    for start, end in live:
        there = order.get((unit, start))
        a, b = (end, start) if there is not None and order[unit, end] < there else (start, end)
        ahead[a] = (*ahead[a], b) if a in ahead else (b,)
    leads_to: dict[str, tuple[str, ...]] = {}
    for key, near in ahead.items():
        if len(near) == 1 and near[0] not in ahead:
            leads_to[key] = near
            continue
        reached = [key]
        for here in reached:
            reached += [further for further in ahead.get(here, ()) if further not in reached]
        leads_to[key] = tuple(reached[1:])
    return Patched(points, leads_to, tuple(live))


def _turned(tie: Any) -> Span:
    """Return a tie line the other way round."""
    if isinstance(tie, Piece):
        return replace(tie, start=tie.end, end=tie.start, crosses={b: a for a, b in tie.crosses.items()})  # type: ignore[return-value]
    return replace(tie, plugs=tie.plugs[::-1])  # type: ignore[no-any-return]
