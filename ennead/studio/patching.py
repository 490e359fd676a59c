"""Patching: what normals and cords make of the points of the bays, and which way a signal goes over what lies either way."""

from collections.abc import Iterable, Mapping, Sequence
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
    joints: list[tuple[PortEnd, PortEnd]] = []
    normals = {unit: tuple(bay.live_normals(plugged.get(unit, ()))) for unit, bay in bays.items()}
    for unit, live in normals.items():
        joints += [(PortEnd(unit, n.start), PortEnd(unit, n.end)) for n in live]
    whole = {CableId(c.id): (c.plugs[0], c.plugs[1], c.length_m) for c in laid if len(c.plugs) == 2}
    joints += [(one, other) for one, other, _ in whole.values()]
    first: list[PortEnd] = [end for end in arriving if end.port in points.get(end.unit, ())]
    ties: dict[Any, Span] = {}
    for key, span in spans.items():
        start, end = span.start, span.end
        if end.port in points.get(end.unit, ()):
            if start.port in points.get(start.unit, ()):
                ties[key] = span
            else:
                first.append(end)
    joints += [(tie.start, tie.end) for tie in ties.values()]
    first += _driven_within(bays, profiles)
    order = _spread(first, joints)
    bays_now = {
        unit: _patched(unit, points[unit], [(n.start, n.end) for n in live], order) for unit, live in normals.items()
    }
    turned = {key: _turned(tie) for key, tie in ties.items() if _against(tie.start, tie.end, order)}
    oriented = {
        key: cast(Span, Cable(key, (other, one) if _against(one, other, order) else (one, other), length_m=length))
        for key, (one, other, length) in whole.items()
    }
    return Patch(bays_now, turned, oriented)


def _driven_within(bays: Mapping[UnitId, Bay], profiles: Mapping[UnitId, Profile]) -> list[PortEnd]:
    """Return the points that their own unit drives: a console's outputs in its built-in bay."""
    return [
        PortEnd(unit, key)
        for unit, bay in bays.items()
        for path in profiles[unit].inner_paths
        if not bay.points.issuperset(path.from_ports)
        for key in path.to_ports
        if key in bay.points
    ]


def _spread(first: Iterable[PortEnd], joints: Sequence[tuple[PortEnd, PortEnd]]) -> dict[PortEnd, int]:
    """Return in which order signals reach points from where they are driven, nearest first."""
    near: dict[PortEnd, list[PortEnd]] = {}
    for a, b in joints:
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    order: dict[PortEnd, int] = {}
    waiting = list(dict.fromkeys(first))
    for end in waiting:
        order[end] = len(order)
    for end in waiting:
        for other in near.get(end, ()):
            if other not in order:
                order[other] = len(order)
                waiting.append(other)
    return order


def _against(start: PortEnd, end: PortEnd, order: Mapping[PortEnd, int]) -> bool:
    """Say whether a signal reaches the end of a joint before its start."""
    return start in order and order[end] < order[start]


def _patched(
    unit: UnitId, points: frozenset[str], live: Sequence[tuple[str, str]], order: Mapping[PortEnd, int]
) -> Patched:
    ahead: dict[str, list[str]] = {}
    for start, end in live:
        a, b = (end, start) if _against(PortEnd(unit, start), PortEnd(unit, end), order) else (start, end)
        ahead.setdefault(a, []).append(b)
    onward: dict[str, tuple[str, ...]] = {}
    for key in ahead:
        reached = [key]
        for here in reached:
            reached += [further for further in ahead.get(here, ()) if further not in reached]
        onward[key] = tuple(reached[1:])
    return Patched(points, onward, tuple(live))


def _turned(tie: Any) -> Span:
    """Return a tie line the other way round."""
    if isinstance(tie, Piece):
        return replace(tie, start=tie.end, end=tie.start, crosses={b: a for a, b in tie.crosses.items()})  # type: ignore[return-value]
    return replace(tie, plugs=tie.plugs[::-1])  # type: ignore[no-any-return]
