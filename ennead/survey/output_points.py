"""Output points: every analogue output the computer can reach, with the driver number that comes out there."""

from collections.abc import Iterator, Mapping
from typing import Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port, Profile
from ennead.survey.links import Link
from ennead.survey.numbering import DriverChannel
from ennead.survey.wires import Wires

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


def find_output_points(wires: Wires) -> tuple[OutputPoint, ...]:
    """Return every analogue output that a driver number comes out of, by number; each socket's lane once."""
    found: dict[tuple[UnitId, str, int], OutputPoint] = {}
    leaving = wires.leaving
    for unit, before in wires.numbering.before_out.items():
        view = wires.views[unit]
        ports, profile = view.profile.port_by_key, view.profile
        for channel in view.outputs:
            port, lane = channel.port, channel.lane
            if not port or not channel.live:
                continue
            driver = _new(DriverChannel, (before + channel.index, unit, channel, before))
            if port not in view.digital:
                # The usual case, an output of the interface's own, goes without looking any further.
                wired: Feeds = feeds(wires, unit, port) if (unit, port) in leaving else ""
                found.setdefault((unit, port, lane), _new(OutputPoint, (unit, ports[port], lane, profile, driver, view.delays[port], wired)))
                continue
            if (unit, port) not in leaving:
                continue
            for there, out, out_lane, delay in _come_out(wires, unit, port, lane, 0.0, frozenset()):
                other = wires.views[there].profile
                point = _new(OutputPoint, (there, other.port_by_key[out], out_lane, other, driver, delay, feeds(wires, there, out)))
                found.setdefault((there, out, out_lane), point)
    return tuple(sorted(found.values(), key=lambda s: (s[4][0], s[0], s[1].key)))


# A named tuple made by its own class costs twice as much, and a house has hundreds of outputs.
_new = tuple.__new__

_Out = tuple[UnitId, str, int, float | None]


def _come_out(
    wires: Wires, unit: UnitId, port: str, lane: int, delay: float | None, seen: frozenset[tuple[UnitId, str]]
) -> Iterator[_Out]:
    """Yield the analogue outputs a lane of an output leads to, over digital links alone."""
    view = wires.views[unit]
    more = view.delays[port]
    late = None if delay is None or more is None else delay + more
    if port not in view.digital:
        yield unit, port, lane, late
        return
    if (unit, port) in seen:
        return
    for link in wires.leaving.get((unit, port), ()):
        if lane > link.lanes:
            continue
        there = wires.views[link.end.unit]
        arrives = there.delays[link.end.port]
        later = None if late is None or arrives is None else late + arrives
        for out, out_lane in there.onward.get((link.end.port, lane), ()):
            yield from _come_out(wires, link.end.unit, out, out_lane, later, seen | {(unit, port)})


def feeds(wires: Wires, unit: UnitId, port: str) -> Feeds:
    """Return what an output is wired to, looking on through amplifiers and controllers."""
    links = wires.leaving.get((unit, port), ())
    if not links:
        return ""
    kinds = {kind for link in links for kind in _kinds(wires, link, frozenset())}
    for kind in _RANKED:
        if kind in kinds:
            return kind
    return "other"


_RANKED: tuple[Feeds, ...] = ("loudspeakers", "cue", "outboard", "other")


def _kinds(wires: Wires, link: Link, seen: frozenset[UnitId]) -> Iterator[Feeds]:
    there = link.end.unit
    profile = wires.views[there].profile
    if there in seen:
        return
    if profile.role == "loudspeaker":
        yield "loudspeakers"
    outs = [p for p in profile.ports if p.direction == "out" and not p.is_digital]
    if profile.role == "cue" or (outs and all("headphone" in p.carries for p in outs)):
        yield "cue"
        return
    onward = [n for p in outs for n in wires.leaving.get((there, p.key), ())]
    further = {kind for n in onward for kind in _kinds(wires, n, seen | {there})}
    if "loudspeakers" in further or (profile.role == "monitor" and not onward):
        yield "loudspeakers"
    elif profile.role == "processor":
        yield "outboard"
    elif profile.role != "loudspeaker":
        yield "other"


def output_point_at(points: tuple[OutputPoint, ...]) -> Mapping[PortEnd, tuple[OutputPoint, ...]]:
    """Return the lanes of each output socket."""
    found: dict[PortEnd, list[OutputPoint]] = {}
    for point in points:
        found.setdefault(point.end, []).append(point)
    return {end: tuple(sorted(held, key=lambda s: s.lane)) for end, held in found.items()}
