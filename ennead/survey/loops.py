"""Loops: what goes out of a driver playback channel through outboard and comes back at a driver input.

A way runs from a playback channel to the first record channel of any computer. The boxes on it are neither panels, points, splitters
nor bare converters. Ways that share a box are one loop; where a way ends at an ear instead, that is a tap of it.
"""

from collections.abc import Iterator, Mapping
from typing import Final, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import PASSIVE
from ennead.survey.output_points import OutSocket
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.unit_view import UnitView
from ennead.survey.walk import Hop, Lane, is_record, reach

#: Roles of boxes that turn sound into numbers and back, whatever else they can do.
_CONVERTERS: Final = ("interface", "expander", "converter", "clock")


class LoopPath(NamedTuple):
    """One way out through boxes and back.

    Parameters
    ----------
    output : Lane
        The analogue socket at which it leaves for them.
    at : Lane
        The input of the first box.
    record : Lane
        The driver input at which it comes back.
    back : PortEnd
        The socket by which it comes back, where it is turned into numbers.
    boxes : tuple of UnitId
        In the order in which the signal passes them.
    number : int
        The driver channel of its interface, from 1.
    """

    interface: UnitId
    number: int
    output: Lane
    at: Lane
    record: Lane
    back: PortEnd
    boxes: tuple[UnitId, ...]


class WiredLoop(NamedTuple):
    """Boxes out of and back into the computers; its ways channel by channel.

    Parameters
    ----------
    taps : tuple of Lane
        Where what comes out of its boxes is heard as well.
    """

    boxes: tuple[UnitId, ...]
    ways: tuple[LoopPath, ...]
    taps: tuple[Lane, ...] = ()


def boxes_on(ask: Ask, hops: tuple[Hop, ...]) -> Iterator[tuple[int, UnitId]]:
    """Yield the boxes that work on a signal on its way, each with the hop by which it enters what is in the box."""
    met: set[UnitId] = set()
    doubtful: list[tuple[int, UnitId]] = []
    sure = False
    for n in range(1, len(hops)):
        hop, before = hops[n], hops[n - 1].to
        if hop.cable is not None or hop.copper or hop.to is None or before is None or hop.to[0] in met:
            continue
        unit = hop.to[0]
        view = ask(unit).view
        kind = _works(view, before[1], hop.to[1])
        if kind == "preamp":
            doubtful.append((n, unit))
        elif kind:
            met.add(unit)
            sure = True
            yield n, unit
    if not sure:
        # A preamp with a digital output brings others' sends back; alone on a way it is what the way is for.
        yield from doubtful


def _works(view: UnitView, entered: str, left: str) -> str:
    """Say whether a box works on what passes it from one socket to another; ``preamp`` where it may be there to convert alone."""
    profile = view.profile
    if profile.driver_maps or (profile.role in PASSIVE and entered not in view.sums):
        return ""
    digital = (entered in view.digital) + (left in view.digital)
    if digital == 0:
        return "box"
    if profile.role in _CONVERTERS:
        return ""
    if digital == 2:
        return "box"
    if not has_analogue_path(view):
        return ""
    return "preamp" if profile.role == "preamp" else "box"


def has_analogue_path(view: UnitView) -> bool:
    """Say whether a box passes sound between two analogue sockets as it is set; a bare converter does not."""
    digital = view.digital
    return any(
        at not in digital and any(out not in digital for out, _ in outs) for (at, _), outs in view.inside.items()
    )


@each("loop_paths", of={"unit": "unit_ids", "sockets": "out_sockets"}, at={"ask": "passages"})
def loop_paths(
    unit: UnitId, sockets: tuple[OutSocket, ...], ask: Ask
) -> tuple[tuple[LoopPath, ...], tuple[tuple[UnitId, Lane], ...]]:
    """Return the ways through boxes from the outputs of one interface, and where what passes a box is heard instead."""
    walk = remembered(ask)
    found: list[LoopPath] = []
    taps: list[tuple[UnitId, Lane]] = []
    for socket in sockets:
        start = socket.unit, socket.port.key, socket.lane
        if not _is_wired(walk, start):
            continue
        tree = reach(walk, start, is_terminal)
        for index in tree.ends:
            hops = tree.path_to(index)
            boxes = list(boxes_on(walk, hops))
            if not boxes:
                continue
            if not is_record(walk(tree.lanes[index][0]), tree.lanes[index]):
                taps += [(box, tree.lanes[index]) for _, box in boxes]
                continue
            at = hops[boxes[0][0] - 1].to
            assert at is not None  # noqa: S101 - a box is entered at a lane
            found.append(
                LoopPath(
                    unit,
                    socket.channel.index,
                    start,
                    at,
                    tree.lanes[index],
                    back_socket(walk, hops, boxes[-1][0]),
                    tuple([b for _, b in boxes]),
                )
            )
    return tuple(found), tuple(taps)


def _is_wired(ask: Ask, at: Lane) -> bool:
    here = ask(at[0])
    return at[1] in here.leaving or at[1] in here.strands


def back_socket(ask: Ask, hops: tuple[Hop, ...], last: int) -> PortEnd:
    """Return the socket behind the last box by which a signal comes back: where it becomes numbers, or the first that takes numbers."""
    found = None
    for hop in hops[last:]:
        unit, port, _ = hop.to  # type: ignore[misc]
        view = ask(unit).view
        if view.sides[port] == "in" or (hop.cable is not None and view.sides[port] == "both"):
            found = PortEnd(unit, port) if found is None or port not in view.digital else found
    assert found is not None  # noqa: S101 - a driver input is an input
    return found


_Onward = Mapping[UnitId, tuple[tuple[LoopPath, ...], tuple[tuple[UnitId, Lane], ...]]]


@part
def wired_loops(loop_paths: _Onward) -> tuple[WiredLoop, ...]:
    """Return the loops of the house: ways that share a box together, by the first output of each."""
    several = [way for ways, _ in loop_paths.values() for way in ways]
    taps = [tap for _, found in loop_paths.values() for tap in found]
    groups: list[tuple[set[UnitId], list[LoopPath]]] = []
    for way in several:
        mine = set(way.boxes)
        mates = [g for g in groups if not mine.isdisjoint(g[0])]
        groups = [g for g in groups if g not in mates]
        boxes = mine.union(*[g[0] for g in mates])
        groups.append((boxes, [*[w for _, ways in mates for w in ways], way]))
    loops = []
    for boxes, ways in groups:
        order = list(dict.fromkeys([box for way in ways for box in way.boxes]))
        heard = tuple(dict.fromkeys([lane for box, lane in taps if box in boxes]))
        loops.append(WiredLoop(tuple(order), tuple(sorted(ways)), heard))
    return tuple(sorted(loops, key=lambda loop: loop.ways[0][:2]))
