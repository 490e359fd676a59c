"""Circuits: each loop of the session channel by channel, from the driver output round through its boxes to the driver input."""

from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId, UnitId
from ennead.studio.profile import PASSIVE
from ennead.studio.session import PlacedDestination
from ennead.survey.loops import back_socket, boxes_on
from ennead.survey.numbering import DriverChannel
from ennead.survey.output_points import OutputPoint, output_point_at
from ennead.survey.passages import Ask
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import Hop, Lane, first_path, is_record, reach

#: What a signal passes at a socket: a converter either way, a digital link, a box that works on it, or copper alone.
Passing = Literal["D/A", "A/D", "link", "box", "copper"]


class Passed(NamedTuple):
    """One socket on the way.

    Parameters
    ----------
    cable : CableId or None
        The cable or cord by which the signal came here.
    """

    what: Passing
    unit: UnitId
    port: str
    lane: int
    cable: CableId | None


class CircuitChannel(NamedTuple):
    """One channel of a loop.

    Parameters
    ----------
    out, back : DriverChannel or None
        The driver numbers by which it leaves the computer and comes back; None where it does not.
    passed : tuple of Passed
        Every socket on the way, in the order of the signal.
    boxes : tuple of UnitId
        The boxes that work on it, in order; none where a cable alone brings it back, or where the box is not in the rig.
    """

    out: DriverChannel | None
    passed: tuple[Passed, ...]
    boxes: tuple[UnitId, ...]
    back: DriverChannel | None

    @property
    def comes_in(self) -> Passed | None:
        """The converter's input by which it comes back."""
        return next((p for p in reversed(self.passed) if p.what == "A/D"), None)

    @property
    def is_bare(self) -> bool:
        """Whether cables alone bring it back, with no box between."""
        back = self.comes_in
        return not self.boxes and back is not None and back.cable is not None


class Circuit(NamedTuple):
    """A loop of the session with its channels: one for each output, or for each return where more come back."""

    loop: PlacedDestination
    channels: tuple[CircuitChannel, ...]

    @property
    def sends(self) -> tuple[DriverChannel, ...]:
        """The driver outputs it goes out by."""
        outs = [c.out for c in self.channels if c.out is not None]
        return tuple(outs) if self.loop.goes_straight else _each_once(outs)

    @property
    def returns(self) -> tuple[DriverChannel, ...]:
        """The driver inputs it comes back by."""
        backs = [c.back for c in self.channels if c.back is not None]
        return tuple(backs) if self.loop.goes_straight else _each_once(backs)

    @property
    def closed(self) -> bool:
        """Whether every channel leaves the computer and comes back."""
        return bool(self.channels) and all(c.out is not None and c.back is not None for c in self.channels)


def _each_once(drivers: Iterable[DriverChannel]) -> tuple[DriverChannel, ...]:
    return tuple({(d.unit, d.number): d for d in drivers}.values())


def circuits(survey: Parts) -> tuple[Circuit, ...]:
    """Return the circuits of the session's loops, in the order of their list."""
    loops = [destination for destination in survey.destinations if destination.kind == "loop"]
    if not loops:
        return ()
    points = output_point_at(survey.output_points)
    ask = remembered(survey.passages.__getitem__)
    return tuple([circuit(survey, ask, points, loop) for loop in loops])


def circuit(
    survey: Parts, ask: Ask, points: Mapping[PortEnd, tuple[OutputPoint, ...]], loop: PlacedDestination
) -> Circuit:
    """Return the circuit of one loop; without channels where it goes out nowhere."""
    sends = []
    for n, end in enumerate(loop.outputs):
        lane = loop.outputs[:n].count(end)
        several = points.get(end, ())
        if lane < len(several):
            sends.append(several[lane])
    if len(sends) < loop.channels:
        return Circuit(loop, ())
    # Every output and every return once; of sixteen out and two back, odd ones with the left.
    ways = [(n % loop.channels, n % loop.backs) for n in range(max(loop.channels, loop.backs))]
    return Circuit(loop, tuple([_channel(survey, ask, sends[out], loop, out, back) for out, back in ways]))


def _channel(
    survey: Parts, ask: Ask, point: OutputPoint, loop: PlacedDestination, n: int, n_back: int
) -> CircuitChannel:
    driver = point.driver
    start = driver.unit, driver.channel.port, driver.channel.lane
    tree = reach(ask, start, is_terminal)
    back = _return_lane(loop, n_back)
    whole = [tree.path_to(i) for i in tree.ends if is_record(ask(tree.lanes[i][0]), tree.lanes[i])]
    # A way that meets no box is a cable of another kind, unless it comes back where this loop does.
    boxed = [hops for hops in whole if next(boxes_on(ask, hops), None) is not None]
    whole = boxed or [hops for hops in whole if back is not None and any(h.to == back for h in hops)]
    if whole:
        hops = next((h for h in boxed if back is not None and _back_end(ask, h) == back[:2]), whole[0])
        boxes = tuple([unit for _, unit in boxes_on(ask, hops)])
        return CircuitChannel(driver, _passed(ask, hops, boxes), boxes, _arrives(survey, ask, hops[-1].to))
    # It goes out by cables of the house, or of its own, and comes back by a cable of its own: two ways, the boxes as they are stated.
    stands = [(end.unit, end.port) for end in loop.at[n : n + 1]] or [(point.unit, point.port.key)]
    there = next((i for i, lane in enumerate(tree.lanes) if lane[:2] == stands[0]), None)
    out = tree.path_to(there) if there is not None else (Hop(start),)
    home = first_path(ask, back, is_record) if back is not None else None
    ends = home is not None and not home.end.cause
    boxes = loop.boxes
    passed = _passed(ask, out, boxes) + (_passed(ask, home.hops, boxes) if home is not None and ends else ())
    return CircuitChannel(
        driver, passed, boxes, _arrives(survey, ask, home.hops[-1].to) if home is not None and ends else None
    )


def _return_lane(loop: PlacedDestination, n: int) -> Lane | None:
    """Return the lane by which a channel of a loop comes back, or None."""
    if n >= len(loop.returns):
        return None
    end = loop.returns[n]
    return end.unit, end.port, loop.returns[:n].count(end) + 1


def _back_end(ask: Ask, hops: tuple[Hop, ...]) -> tuple[UnitId, str]:
    end = back_socket(ask, hops, [n for n, _ in boxes_on(ask, hops)][-1])
    return end.unit, end.port


def _arrives(survey: Parts, ask: Ask, at: Lane | None) -> DriverChannel | None:
    if at is None:
        return None
    unit, port, lane = at
    return survey.numbering.input_at((unit, ask(unit).view.input_at[port, lane]))


def _passed(ask: Ask, hops: Iterable[Hop], boxes: tuple[UnitId, ...]) -> tuple[Passed, ...]:
    return tuple([Passed(_what(ask, hop.to, boxes), *hop.to, hop.cable) for hop in hops if hop.to is not None])


def _what(ask: Ask, at: Lane, boxes: tuple[UnitId, ...]) -> Passing:
    unit, port, _ = at
    here = ask(unit)
    view = here.view
    if unit in boxes:
        return "box"
    if port in view.digital:
        return "link"
    if port in here.points or view.profile.role in PASSIVE or not view.sides[port]:
        return "copper"
    return "A/D" if view.sides[port] == "in" or at[1:] in view.input_at else "D/A"
