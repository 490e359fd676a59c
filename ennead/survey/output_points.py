"""Output points: every analogue output the computer can reach, with the driver number that comes out there."""

from collections.abc import Iterator, Mapping
from typing import Final, Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import PASSIVE, Port, Profile
from ennead.survey.links import Link
from ennead.survey.numbering import DriverChannel
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask
from ennead.survey.unit_view import UnitChannel

#: What an output is wired to.
Feeds = Literal["", "loudspeakers", "cue", "outboard", "other"]


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
    """Return every analogue output that a driver channel of one interface comes out of, mirrored ones after all others."""
    if not numbered:
        return ()
    found = []
    here = ask(unit)
    ports, profile = here.view.profile.port_by_key, here.view.profile
    for channel in here.view.outputs:
        port, lane = channel.port, channel.lane
        if not port or not channel.live:
            continue
        if port not in here.view.digital:
            # The usual case, an output of the interface's own, goes without looking any further.
            found.append(
                OutSocket(unit, ports[port], lane, profile, channel, here.view.delays[port], feeds(ask, unit, port))
            )
        elif port in here.leaving:
            for there, out, out_lane, delay in _come_out(ask, unit, port, lane, 0.0, frozenset()):
                other = ask(there).view.profile
                found.append(
                    OutSocket(there, other.port_by_key[out], out_lane, other, channel, delay, feeds(ask, there, out))
                )
    own = {s.port.key: s for s in found if s.unit == unit and s.lane == 1}
    for socket in profile.ports:
        fed = feeds(ask, unit, socket.key) if socket.mirrors else ""
        for lane, key in enumerate(socket.mirrors, start=1):
            if key in own:
                found.append(
                    OutSocket(unit, socket, lane, profile, own[key].channel, here.view.delays[socket.key], fed)
                )
    return tuple(found)


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


_Out = tuple[UnitId, str, int, float | None]


def _come_out(
    ask: Ask, unit: UnitId, port: str, lane: int, delay: float | None, seen: frozenset[tuple[UnitId, str]]
) -> Iterator[_Out]:
    """Yield the analogue outputs a lane of an output leads to, over digital links alone."""
    here = ask(unit)
    more = here.view.delays[port]
    late = None if delay is None or more is None else delay + more
    if port not in here.view.digital:
        yield unit, port, lane, late
        return
    if (unit, port) in seen:
        return
    for link in here.leaving.get(port, ()):
        if lane > link.lanes:
            continue
        there = ask(link.end.unit).view
        arrives = there.delays[link.end.port]
        later = None if late is None or arrives is None else late + arrives
        for out, out_lane in there.inside.get((link.end.port, lane), ()):
            yield from _come_out(ask, link.end.unit, out, out_lane, later, seen | {(unit, port)})


def feeds(ask: Ask, unit: UnitId, port: str) -> Feeds:
    """Return what an output is wired to, looking on through amplifiers and controllers."""
    links = ask(unit).leaving.get(port, ())
    if not links:
        return ""
    kinds = {kind for link in links for kind in _kinds(ask, link, frozenset())}
    for kind in _RANKED:
        if kind in kinds:
            return kind
    return "other"


_RANKED: tuple[Feeds, ...] = ("loudspeakers", "cue", "outboard", "other")
#: Straight back into a converter, with nothing in between; beside the kinds an output may be wired to.
_BACK: Final = "back"


def _kinds(ask: Ask, link: Link, seen: frozenset[UnitId]) -> Iterator[str]:
    there = link.end.unit
    if there in seen:
        return
    here = ask(there)
    profile = here.view.profile
    if profile.driver_maps or profile.is_digital:
        # It comes back into a converter: what it passed on the way is a loop, whatever that converter is wired to in turn.
        yield _BACK
        return
    if profile.role == "loudspeaker":
        yield "loudspeakers"
    outs = [p for p in profile.ports if p.direction == "out" and not p.is_digital]
    if profile.role == "cue" or (outs and all("headphone" in p.carries for p in outs)):
        yield "cue"
        return
    onward = [n for p in outs for n in here.leaving.get(p.key, ())]
    further = {kind for n in onward for kind in _kinds(ask, n, seen | {there})}
    if "loudspeakers" in further or (profile.role == "monitor" and not onward):
        yield "loudspeakers"
    elif profile.role == "processor" or (profile.role == "preamp" and _BACK in further):
        yield "outboard"
    elif profile.role in PASSIVE and further:
        yield from further
    elif profile.role != "loudspeaker":
        yield "other"


def output_point_at(points: tuple[OutputPoint, ...]) -> Mapping[PortEnd, tuple[OutputPoint, ...]]:
    """Return the lanes of each output socket."""
    found: dict[PortEnd, list[OutputPoint]] = {}
    for point in points:
        found.setdefault(point.end, []).append(point)
    return {end: tuple(sorted(held, key=lambda s: s.lane)) for end, held in found.items()}
