"""Output points: every analogue output the computer can reach, and every digital one with a box behind it, with the number that comes out."""

from collections.abc import Iterator, Mapping
from typing import Final, Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import PASSIVE, Port, Profile
from ennead.survey.numbering import DriverChannel
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask, Passages
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.played import PortLane, UnitChannel
from ennead.survey.walk import Lane, Reach, is_record, onward, reach

#: What an output is wired to; ``point`` where it ends in a bay, so that a cord has to take it on.
Feeds = Literal["", "loudspeakers", "cue", "outboard", "console", "other", "point"]


class OutputPoint(NamedTuple):
    """One channel of one analogue output.

    Parameters
    ----------
    lane : int
        1, or the side of a headphone socket.
    delay : float or None, samples
        The stated delays from the driver number to the socket; None where a digital unit states none.
    feeds : Feeds
        What it is wired to; empty where it holds no cable.
    """

    unit: UnitId
    port: Port
    lane: int
    profile: Profile
    driver: DriverChannel
    delay: float | None
    feeds: Feeds

    @property
    def end(self) -> PortEnd:
        """The socket as a cable end."""
        return PortEnd(self.unit, self.port.key)

    @property
    def number(self) -> int:
        """The driver number."""
        return self.driver.number


class OutSocket(NamedTuple):
    """One channel of an output, whatever its number on the computer; see `OutputPoint`."""

    unit: UnitId
    port: Port
    lane: int
    profile: Profile
    channel: UnitChannel
    delay: float | None
    feeds: Feeds


@each("out_sockets", of={"unit": "unit_ids", "numbered": "on_computer"}, at={"ask": "passages"})
def out_sockets(unit: UnitId, numbered: bool | None, ask: Ask) -> tuple[OutSocket, ...]:
    """Return every output that a driver channel of one interface comes out of, mirrored ones after all others.

    Digital ones count where a box that works on sound hangs on them: what goes to converters comes out at these.
    """
    if not numbered:
        return ()
    walk = remembered(ask)
    found = []
    here = walk(unit)
    ports, profile = here.view.profile.port_by_key, here.view.profile
    for one in here.view.played:
        (port, lane), channel = one.at, here.view.outputs[one.channel - 1]
        late = here.view.delays[port]
        if one.delay is None or late is None:
            late = None
        else:
            late += one.delay
        if port not in here.view.digital:
            # The usual case, an output of the interface's own, goes without looking any further.
            found.append(OutSocket(unit, ports[port], lane, profile, channel, late, feeds(walk, unit, port, lane)))
        elif port in here.leaving:
            if _feeds_box(walk, here, port):
                found.append(OutSocket(unit, ports[port], lane, profile, channel, late, "outboard"))
            for (there, out, out_lane), delay in _come_out(walk, (unit, port, lane), late):
                other = walk(there).view.profile
                found.append(
                    OutSocket(
                        there,
                        other.port_by_key[out],
                        out_lane,
                        other,
                        channel,
                        delay,
                        feeds(walk, there, out, out_lane),
                    )
                )
    return tuple(found)


def _feeds_box(ask: Ask, here: Passages, port: str) -> bool:
    """Say whether a digital output leads straight to a box that takes numbers and gives numbers back."""
    for link in here.leaving[port]:
        view = ask(link.end.unit).view
        onward = {out for (at, _), outs in view.inside.items() if at == link.end.port for out, _ in outs}
        if view.profile.role == "processor" and any(out in view.digital for out in onward):
            return True
    return False


@part
def output_points(
    out_sockets: Mapping[UnitId, tuple[OutSocket, ...]], driver_outputs: Mapping[UnitId, tuple[DriverChannel, ...]]
) -> tuple[OutputPoint, ...]:
    """Return every analogue output that a driver number comes out of, by number; each socket's lane once."""
    found: dict[tuple[UnitId, str, int], OutputPoint] = {}
    for unit, drivers in driver_outputs.items():
        for there, port, lane, profile, channel, delay, fed in out_sockets[unit]:
            driver = drivers[channel.index - 1]
            found.setdefault((there, port.key, lane), OutputPoint(there, port, lane, profile, driver, delay, fed))
    return tuple(sorted(found.values(), key=lambda s: (s.driver.number, s.unit, s.port.key)))


def _come_out(ask: Ask, start: Lane, late: float | None) -> Iterator[tuple[Lane, float | None]]:
    """Yield the analogue outputs a digital lane leads to, over digital links alone, each with the stated delays on the way, samples.

    Parameters
    ----------
    late : float or None, samples
        What passing its own socket adds.
    """
    waiting: list[tuple[Lane, float | None]] = [(start, late)]
    met = {start}
    while waiting:
        at, late = waiting.pop()
        view = ask(at[0]).view
        if at[1] not in view.digital:
            yield at, late
            continue
        ahead = []
        for hop in onward(ask(at[0]), at):
            if hop.to is not None and hop.to not in met and not hop.copper:
                met.add(hop.to)
                more = ask(hop.to[0]).view.delays[hop.to[1]]
                ahead.append((hop.to, None if late is None or more is None else late + more))
        waiting += reversed(ahead)


#: Of several things an output is wired to, the first of these says what it is for.
_RANKED: Final[tuple[Feeds, ...]] = ("loudspeakers", "cue", "outboard", "console", "other")


def feeds(ask: Ask, unit: UnitId, port: str, lane: int) -> Feeds:
    """Return what an output is wired to, looking on through all that it passes; nothing where no input is reached."""
    here = ask(unit)
    if port not in here.leaving and port not in here.strands:
        return ""
    tree = reach(ask, (unit, port, lane), is_terminal)
    kinds = set(_kinds(ask, tree))
    if kinds:
        return next(kind for kind in _RANKED if kind in kinds)
    leaves = [at for n, at in enumerate(tree.lanes) if n and n not in tree.parent]
    if any(at == lane and _is_tail(ask(there), key) for there, key, at in leaves):
        # A wall line with nothing at its other end is as good as the output itself; on another lane a straight lead would miss it.
        return ""
    return "point" if any(key in ask(there).points for there, key, _ in tree.lanes) else "other"


def _is_tail(here: Passages, port: str) -> bool:
    """Say whether a socket only carries on what a panel joins to it, so that a lead may begin there; a multipin takes a loom."""
    socket = here.view.profile.port_by_key[port]
    return (
        not here.view.sides[port] and port not in here.points and socket.direction != "in" and socket.wiring != "multi"
    )


def _kinds(ask: Ask, tree: Reach) -> Iterator[Feeds]:
    """Yield what the boxes are for that a signal reaches."""
    brought_back: set[UnitId] = set()
    for index in tree.ends:
        if is_record(ask(tree.lanes[index][0]), tree.lanes[index]):
            brought_back |= {
                unit
                for unit in tree.passed_to(index)
                if ask(unit).view.profile.role in _OUTBOARD or ask(unit).view.profile.is_outboard
            }
    behind = tree.passages_to(brought_back.__contains__)
    for index, (unit, port, _) in enumerate(tree.lanes):
        if index == 0:
            continue
        box = ask(unit)
        profile = box.view.profile
        side = box.view.sides[port]
        if side == "in" or (side == "" and port in box.view.goes_on):
            if behind[index]:
                # What comes back is a loop, also where a destination listens to it on the way.
                continue
            yield from _kind_of(box, (port, tree.lanes[index][2]), unit in brought_back)
        elif port in box.view.phones and port not in box.leaving and side == "out" and profile.role == "cue":
            yield "cue"


#: Boxes that a send drives, whether anything of them comes back or not.
_OUTBOARD: Final = ("processor", "console")


def _kind_of(box: Passages, at: PortLane, back: bool) -> Iterator[Feeds]:
    """Yield what a box that is reached at an input is for."""
    view = box.view
    profile = view.profile
    outs = [p for p in profile.ports if p.direction == "out" and not p.is_digital]
    if profile.role == "loudspeaker" or (outs and not back and all("speaker" in p.carries for p in outs)):
        # A power amplifier is there for loudspeakers, though none is wired to it yet.
        yield "loudspeakers"
    elif profile.role == "cue" or (outs and not profile.is_digital and all("headphone" in p.carries for p in outs)):
        yield "cue"
    elif profile.role == "monitor":
        # A controller that listens to another input, or to which no loudspeaker is wired yet, is there for loudspeakers all the same.
        yield "loudspeakers" if at not in view.inside or not any(p.key in box.leaving for p in outs) else "other"
    elif profile.role == "processor" or back:
        yield "outboard"
    elif profile.role == "console" or at[0] in view.sums:
        # What is mixed with others comes back by no way of its own.
        yield "console"
    elif profile.role not in PASSIVE:
        yield "other"


def output_point_at(points: tuple[OutputPoint, ...]) -> Mapping[PortEnd, tuple[OutputPoint, ...]]:
    """Return the lanes of each output socket."""
    found: dict[PortEnd, list[OutputPoint]] = {}
    for point in points:
        found.setdefault(point.end, []).append(point)
    return {end: tuple(sorted(held, key=lambda s: s.lane)) for end, held in found.items()}
