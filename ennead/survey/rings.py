"""Rings: lanes of a house on which a signal comes back to itself, over cables and through boxes."""

from collections.abc import Iterable, Iterator, Mapping
from typing import TypeVar

from ennead.studio.ids import UnitId
from ennead.survey.asked import Parts
from ennead.survey.passages import Passages
from ennead.survey.unit_view import PortLane

#: An input lane of a unit.
Lane = tuple[UnitId, str, int]
T = TypeVar("T")


def rings(survey: Parts) -> tuple[tuple[Lane, ...], ...]:
    """Return every set of input lanes that feed each other in a ring, each in the order of its lanes.

    Notes
    -----
    Sockets come first, lanes only where sockets feed each other; most houses have none, and no lane is looked at.
    """
    reached: dict[UnitId, dict[str, None]] = {}
    for link in survey.links.values():
        end = link.end
        if end.port in link.in_view.goes_on:
            if end.unit in reached:
                reached[end.unit][end.port] = None
            else:
                reached[end.unit] = {end.port: None}
    passages = survey.passages
    onward: dict[tuple[UnitId, str], set[tuple[UnitId, str]]] = {}
    for unit, ports in reached.items():
        here = passages[unit]
        leaving, goes_on = here.leaving, here.view.goes_on
        for port in ports if leaving else ():
            ahead = set()
            for out in goes_on[port]:
                for link in leaving.get(out, ()):
                    end = link.end
                    if end.unit in reached and end.port in reached[end.unit]:
                        ahead.add((end.unit, end.port))
            if ahead:
                onward[unit, port] = ahead
    # What nothing leads to, and what leads to nothing, is in no ring; in most houses no more is left soon.
    fed = {end for ahead in onward.values() for end in ahead}
    onward = {at: ahead for at, ahead in onward.items() if at in fed and not ahead.isdisjoint(onward)}
    found: list[tuple[Lane, ...]] = []
    for sockets in knots(onward):
        found += [tuple(sorted(lanes)) for lanes in knots(_lanes(survey, set(sockets)))]
    return tuple(sorted(found))


def _lanes(survey: Parts, sockets: set[tuple[UnitId, str]]) -> dict[Lane, set[Lane]]:
    """Return which lanes of some inputs each lane of them leads to, among these alone."""
    found: dict[Lane, set[Lane]] = {}
    for unit, socket in sockets:
        here = survey.passages[unit]
        for (port, lane), outs in here.view.inside.items():
            if port != socket:
                continue
            ahead = found.setdefault((unit, port, lane), set())
            for out, out_lane in _outs(here, outs):
                for link in here.leaving.get(out, ()):
                    into = link.across(out_lane)
                    if into is not None and (link.end.unit, link.end.port) in sockets:
                        ahead.add((link.end.unit, link.end.port, into))
    return found


def _outs(here: Passages, outs: Iterable[PortLane]) -> Iterator[PortLane]:
    """Yield some output lanes, and those behind insert jacks among them in which nothing is plugged."""
    inserts = here.view.inserts
    for out in outs:
        if out in inserts and out[0] not in here.opened:
            yield from _outs(here, here.view.inside.get(inserts[out], ()))
        else:
            yield out


def knots(onward: Mapping[T, Iterable[T]]) -> list[list[T]]:
    """Return the sets of two or more that all lead to each other, and what leads to itself (Tarjan's strong components).

    References
    ----------
    R. Tarjan, Depth-first search and linear graph algorithms, SIAM J. Comput. 1 (1972): one pass, each edge met once.

    Examples
    --------
    >>> knots({"a": ["b"], "b": ["c"], "c": ["b"]})
    [['c', 'b']]
    """
    index: dict[T, int] = {}
    low: dict[T, int] = {}
    stack: list[T] = []
    held: set[T] = set()
    found: list[list[T]] = []
    for root in onward:
        if root in index:
            continue
        index[root] = low[root] = len(index)
        stack.append(root)
        held.add(root)
        work = [(root, iter(onward[root]))]
        while work:
            here, ahead = work[-1]
            for there in ahead:
                if there not in index:
                    index[there] = low[there] = len(index)
                    stack.append(there)
                    held.add(there)
                    work.append((there, iter(onward.get(there, ()))))
                    break
                if there in held:
                    low[here] = min(low[here], index[there])
            else:
                work.pop()
                if work:
                    low[work[-1][0]] = min(low[work[-1][0]], low[here])
                if low[here] == index[here]:
                    knot = []
                    while True:
                        top = stack.pop()
                        held.discard(top)
                        knot.append(top)
                        if top == here:
                            break
                    if len(knot) > 1 or here in onward.get(here, ()):
                        found.append(knot)
    return found
