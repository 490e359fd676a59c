"""Rings: lanes of a house on which a signal comes back to itself, over cables and through boxes."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import TypeVar

from ennead.studio.ids import LETTERS, UnitId
from ennead.survey.nets import Contact, Net
from ennead.survey.parts import each, part
from ennead.survey.passages import Passages
from ennead.survey.played import PortLane
from ennead.survey.survey_interface import Parts
from ennead.survey.unit_view import UnitView

#: An input lane of a unit.
Lane = tuple[UnitId, str, int]
_Socket = tuple[UnitId, str]
T = TypeVar("T")


@part
def copper_goes_on(views: Mapping[UnitId, UnitView]) -> bool:
    """Say whether some box takes on what comes to sockets of it that are copper: a splitter's input does."""
    return any(not view.carrying.isdisjoint(view.goes_on) for view in views.values())


@each("fed_sockets", of={"unit": "unit_ids", "here": "passages"}, at={"net": "nets", "view": "views"})
def fed_sockets(
    unit: UnitId,
    here: Passages,
    net: Callable[[Contact], Net | None],
    view: Callable[[UnitId], UnitView],
    copper_goes_on: bool,
) -> dict[str, set[_Socket]]:
    """Return to which inputs what comes into each input of one unit goes on, among those that go on themselves."""
    held = here.leaving.keys() | here.strands.keys() if here.strands else here.leaving.keys()
    if here.view.goes_on and here.view.joined:
        # An output that holds nothing itself may be joined inside to a socket that does.
        joined = {port for (port, _), others in here.view.joined.items() if any(other in held for other, _ in others)}
        held = held | joined
    found: dict[str, set[_Socket]] = {}
    by_output: dict[str, set[_Socket]] = {}
    go_on: dict[UnitId, Mapping[str, object]] = {}
    for out in held if here.view.goes_on else ():
        # Most outputs lead to boxes that take nothing on.
        for to in _sockets(net, unit, here, out, both=copper_goes_on):
            there, port = to
            if there not in go_on:
                go_on[there] = view(there).goes_on
            if port in go_on[there]:
                by_output.setdefault(out, set()).add(to)
    for port, outs in here.view.goes_on.items() if by_output else ():
        if ahead := {to for out in outs if out in by_output for to in by_output[out]}:
            found[port] = ahead
    return found


def rings(survey: Parts) -> tuple[tuple[Lane, ...], ...]:
    """Return every set of input lanes that feed each other in a ring, each in the order of its lanes.

    Notes
    -----
    Sockets come first, lanes only where sockets feed each other; most houses have none, and no lane is looked at. Copper that turns back
    into itself is no ring: there is a passage through some unit in each.
    """
    onward = {(unit, port): ahead for unit, ports in survey.fed_sockets.items() for port, ahead in ports.items()}
    # What nothing leads to, and what leads to nothing, is in no ring; in most houses no more is left soon.
    fed = {end for ahead in onward.values() for end in ahead}
    onward = {at: ahead for at, ahead in onward.items() if at in fed and not ahead.isdisjoint(onward)}
    found: list[tuple[Lane, ...]] = []
    for sockets in knots(onward):
        found += [tuple(sorted(lanes)) for lanes in knots(_lanes(survey, set(sockets)))]
    return tuple(sorted(found))


def _sockets(
    net_at: Callable[[Contact], Net | None], unit: UnitId, here: Passages, out: str, *, both: bool
) -> list[_Socket]:
    """Return the sockets that what leaves by an output comes to, over copper or a digital link.

    Parameters
    ----------
    both : bool
        Whether some box takes on what comes to sockets that are copper.
    """
    found: list[_Socket] = [(link.end.unit, link.end.port) for link in here.leaving.get(out, ())]
    if out not in here.view.digital:
        for lane in range(1, here.view.lanes[out] + 1):
            net = net_at((unit, out, lane))
            if net is not None:
                # A splitter's input is copper, and passes on what comes to it all the same.
                there = net.contacts if both else net.receivers
                found += [(UnitId(key), port) for key, port, _ in there if key[:1] == LETTERS["units"]]
    return found


def _lanes(survey: Parts, sockets: set[_Socket]) -> dict[Lane, set[Lane]]:
    """Return which lanes of some inputs each lane of them leads to, among these alone."""
    found: dict[Lane, set[Lane]] = {}
    for unit, socket in sockets:
        here = survey.passages[unit]
        for port, lane in dict.fromkeys((*here.view.inside, *here.view.direct)):
            if port == socket:
                ahead = found.setdefault((unit, port, lane), set())
                for out in _outs(here, (port, lane)):
                    ahead.update([to for to in _across(survey, unit, here, *out) if to[:2] in sockets])
    return found


def _across(survey: Parts, unit: UnitId, here: Passages, out: str, lane: int) -> Iterator[Lane]:
    net = None if out in here.view.digital else survey.nets.get((unit, out, lane))
    if net is not None:
        yield from [(UnitId(u), port, n) for u, port, n in net.contacts if (u, port, n) != (unit, out, lane)]
        return
    for link in here.leaving.get(out, ()):
        into = link.across(lane)
        if into is not None:
            yield link.end.unit, link.end.port, into


def _outs(here: Passages, at: PortLane) -> Iterator[PortLane]:
    """Yield the output lanes that a unit takes a lane to, not by copper; behind insert jacks in which nothing is plugged as well.

    What an input gives to a mix of an interface's own comes out there too, whatever the computer does with it.
    """
    yield from here.view.direct.get(at, ())
    inserts, copper = here.view.inserts, here.view.joined.get(at, ())
    for out in here.view.inside.get(at, ()):
        if out in copper:
            continue
        if out in inserts and out[0] not in here.opened:
            yield from _outs(here, inserts[out])
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
