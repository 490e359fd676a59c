"""Runs: one signal's whole way, stop by stop, from source to driver channel, or from driver channel to ear."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, Protocol

from ennead.standards.links import LINKS
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio, channel_text
from ennead.studio.house import Cable, PortEnd, SourceEnd
from ennead.studio.ids import CableId, SourceId, UnitId
from ennead.survey.links import Link
from ennead.survey.numbering import DriverChannel, Numbering
from ennead.survey.unit_view import UnitView

Zone = Literal["source", "outboard", "converter", "link", "driver", "ear"]


@dataclass(frozen=True, slots=True)
class Stop:
    """One stop of a run.

    Parameters
    ----------
    lane : int
        Lane on the port, from 1.
    cable : CableId or None
        The cable by which the signal came here.
    """

    zone: Zone
    text: str
    unit: UnitId | None = None
    port: str = ""
    lane: int = 1
    cable: CableId | None = None


@dataclass(frozen=True, slots=True)
class Gap:
    """Where and why a run ends too early.

    Parameters
    ----------
    reason : str
        A sentence.
    cause : str
        A word for checks: ``no-cable``, ``no-onward``, ``format``, ``lane``, ``no-number``, ``ring``.
    """

    reason: str
    cause: str
    unit: UnitId | None = None
    port: str = ""


@dataclass(frozen=True, slots=True)
class Run:
    """One signal's way.

    Parameters
    ----------
    latency_samples : float or None, samples
        Sum of the stated delays of all converters and links; None where one of them is not stated.
    """

    signal: str
    source: SourceId | None
    channel: int
    stops: tuple[Stop, ...]
    driver: DriverChannel | None
    track: str
    gap: Gap | None
    latency_samples: float | None

    @property
    def complete(self) -> bool:
        """Whether it arrives."""
        return self.gap is None

    @property
    def seat(self) -> Stop | None:
        """The first port it sits in."""
        return next((s for s in self.stops if s.unit is not None), None)


class Ground(Protocol):
    """The parts of a survey that tracing reads."""

    @property
    def studio(self) -> Studio: ...
    @property
    def views(self) -> Mapping[UnitId, UnitView]: ...
    @property
    def numbering(self) -> Numbering: ...
    @property
    def leaving(self) -> Mapping[PortEnd, tuple[Link, ...]]: ...
    @property
    def source_cables(self) -> Mapping[SourceEnd, Cable]: ...


Way = tuple[tuple[Stop, ...], DriverChannel | None, Gap | None]


def trace_port(ground: Ground, unit: UnitId, port: str, lane: int, cable: CableId | None = None) -> Way:
    """Follow a signal from an input port onward until a driver number or a gap.

    Where a unit sends it two ways, the first that arrives is taken; else the first.
    """
    return _trace(ground, unit, port, lane, cable, frozenset())


def _trace(
    ground: Ground, unit: UnitId, port: str, lane: int, cable: CableId | None, seen: frozenset[tuple[str, str, int]]
) -> Way:
    view = ground.views[unit]
    spec = view.profile.port_by_key[port]
    here = Stop("link" if spec.is_digital else "converter", _port_text(ground, unit, port, lane), unit, port, lane, cable)
    if (unit, port, lane) in seen:
        return (here,), None, Gap("The signal runs in a ring and never reaches the computer.", "ring", unit, port)
    seen |= {(unit, port, lane)}
    number = ground.numbering.input_at.get((unit, port, lane))
    if number is not None:
        return (here,), number, None
    onward = view.onward.get((port, lane), ())
    if not onward:
        return (here,), None, _dead_end(ground, unit, port, lane)
    best: Way | None = None
    for out_port, out_lane in onward:
        way = _cross(ground, unit, out_port, out_lane, seen)
        whole: Way = ((here, *way[0]), way[1], way[2])
        if whole[1] is not None:
            return _mark_outboard(whole)
        best = best or whole
    if best is None:  # pragma: no cover - onward is not empty
        return (here,), None, _dead_end(ground, unit, port, lane)
    return _mark_outboard(best)


def _cross(ground: Ground, unit: UnitId, port: str, lane: int, seen: frozenset[tuple[str, str, int]]) -> Way:
    """Leave a unit by an output and arrive at the next."""
    view = ground.views[unit]
    spec = view.profile.port_by_key[port]
    stops: tuple[Stop, ...] = ()
    if spec.is_digital:
        stops = (Stop("link", _port_text(ground, unit, port, lane), unit, port, lane),)
    name = ground.studio.units[unit].name
    links = ground.leaving.get(PortEnd(unit, port), ())
    if not links:
        return stops, None, Gap(f"No cable leaves {name}'s {spec.label}.", "no-cable", unit, port)
    best: Way | None = None
    for link in links:
        gap = _crossing_gap(ground, link, lane)
        if gap is not None:
            way: Way = (stops, None, gap)
        else:
            after = _trace(ground, link.end.unit, link.end.port, lane, link.cable, seen)
            way = ((*stops, *after[0]), after[1], after[2])
        if way[1] is not None:
            return way
        best = best or way
    return best or (stops, None, None)


def _crossing_gap(ground: Ground, link: Link, lane: int) -> Gap | None:
    units = ground.studio.units
    there = units[link.end.unit].name
    label = ground.views[link.end.unit].profile.port_by_key[link.end.port].label
    if not link.agrees:
        sends, takes = LINKS[link.sends].label, LINKS[link.takes].label
        reason = f"{there}'s {label} is set to {takes}, but {units[link.start.unit].name} sends {sends}."
        return Gap(reason, "format", link.end.unit, link.end.port)
    if lane > link.lanes:
        rate = rate_text(ground.studio.rate_hz)
        reason = f"{there}'s {label} carries {lanes_text(link.lanes)} at {rate}; lane {lane} is lost."
        return Gap(reason, "lane", link.end.unit, link.end.port)
    return None


def _dead_end(ground: Ground, unit: UnitId, port: str, lane: int) -> Gap:
    view = ground.views[unit]
    studio = ground.studio
    name, rate = studio.units[unit].name, rate_text(studio.rate_hz)
    label = view.profile.port_by_key[port].label
    lost_on = view.lost.get((port, lane))
    if lost_on is not None:
        out = view.profile.port_by_key[lost_on]
        carried = lanes_text(view.lanes[lost_on])
        return Gap(f"{name}'s {out.label} carries {carried} at {rate}; {label} is not among them.", "lane", unit, port)
    if view.profile.driver_maps and unit not in ground.numbering.host_of:
        return Gap(f"{name} is not on the computer.", "no-host", unit, port)
    if view.profile.driver_maps:
        return Gap(f"{name}'s driver map has no number for {label} at {rate}.", "no-number", unit, port)
    return Gap(f"{name} sends {label} nowhere.", "no-onward", unit, port)


def _mark_outboard(way: Way) -> Way:
    """Name analogue stops before the last analogue one outboard: a preamp in front of the converter."""
    stops, driver, gap = way
    analogue = [i for i, s in enumerate(stops) if s.zone in ("converter", "outboard")]
    marked = tuple(
        Stop("outboard", s.text, s.unit, s.port, s.lane, s.cable) if i in analogue[:-1] else s
        for i, s in enumerate(stops)
    )
    return marked, driver, gap


def _port_text(ground: Ground, unit: UnitId, port: str, lane: int) -> str:
    spec = ground.views[unit].profile.port_by_key[port]
    text = f"{ground.studio.units[unit].name} · {spec.label}"
    return f"{text} lane {lane}" if spec.is_digital else text


def lanes_text(lanes: int) -> str:
    """Return a number of lanes in words."""
    return "no lane" if lanes == 0 else "1 lane" if lanes == 1 else f"{lanes} lanes"


def latency_samples(ground: Ground, stops: tuple[Stop, ...]) -> float | None:
    """Return the sum of the stated delays along a run, samples; None where a digital unit states none."""
    total = 0.0
    for stop in stops:
        if stop.unit is None:
            continue
        profile = ground.views[stop.unit].profile
        stated = profile.port_by_key[stop.port].delay_samples(ground.views[stop.unit].speed)
        if stated is None and profile.is_digital:
            return None
        total += stated or 0.0
    return total


def source_runs(ground: Ground) -> tuple[Run, ...]:
    """Return the runs of the current session's sources, one a channel, in the order of the list."""
    studio = ground.studio
    runs = []
    for source in studio.session_sources:
        for channel in range(1, source.channels + 1):
            side = f" {channel_text(channel)}" if source.channels > 1 else ""
            signal = source.name + side
            first = Stop("source", signal)
            # One digital cable carries both channels; analogue channels have a cable each.
            plug = 1 if source.kind == "digital" else channel
            cable = ground.source_cables.get(SourceEnd(source.id, plug))
            if cable is None:
                gap = Gap(f"{signal} is not plugged in anywhere yet.", "unplaced")
                runs.append(Run(signal, source.id, channel, (first,), None, source.track_name + side, gap, None))
                continue
            lane = channel if source.kind == "digital" else 1
            stops, driver, gap_or_none = trace_port(ground, cable.end.unit, cable.end.port, lane, cable.id)
            whole = (first, *stops)
            late = latency_samples(ground, whole) if driver else None
            runs.append(Run(signal, source.id, channel, whole, driver, source.track_name + side, gap_or_none, late))
    return tuple(runs)


def output_runs(ground: Ground) -> tuple[Run, ...]:
    """Return the runs of driver outputs that go anywhere: a cable, or a headphone socket of their own."""
    runs = []
    for found in ground.numbering.outputs:
        channel = found.channel
        if not channel.port or not channel.live:
            continue
        port = ground.views[found.unit].profile.port_by_key[channel.port]
        links = ground.leaving.get(PortEnd(found.unit, channel.port), ())
        heard_here = "headphone" in port.carries
        if not links and not heard_here:
            continue
        zone: Zone = "link" if port.is_digital else "converter"
        text = _port_text(ground, found.unit, channel.port, channel.lane)
        first = (
            Stop("driver", f"driver output {found.number}"),
            Stop(zone, text, found.unit, channel.port, channel.lane),
        )
        rest, gap = _to_ear(ground, found.unit, channel.port, channel.lane, frozenset()) if links else ((), None)
        stops = (*first, *rest)
        late = latency_samples(ground, stops) if gap is None else None
        runs.append(Run(channel.label, None, channel.lane, stops, found, "", gap, late))
    return tuple(runs)


def _to_ear(
    ground: Ground, unit: UnitId, port: str, lane: int, seen: frozenset[tuple[str, str, int]]
) -> tuple[tuple[Stop, ...], Gap | None]:
    if (unit, port, lane) in seen:
        return (), Gap("The signal runs in a ring.", "ring", unit, port)
    links = ground.leaving.get(PortEnd(unit, port), ())
    name = ground.studio.units[unit].name
    label = ground.views[unit].profile.port_by_key[port].label
    if not links:
        return (), Gap(f"No cable leaves {name}'s {label}.", "no-cable", unit, port)
    link = links[0]
    gap = _crossing_gap(ground, link, lane)
    if gap is not None:
        return (), gap
    there, into = link.end.unit, link.end.port
    view = ground.views[there]
    onward = view.onward.get((into, lane), ())
    ends_here = view.profile.role in ("loudspeaker", "processor") or not onward
    zone: Zone = "ear" if view.profile.role == "loudspeaker" else "converter"
    stop = Stop(zone, _port_text(ground, there, into, lane), there, into, lane, link.cable)
    if ends_here:
        return (stop,), None
    out_port, out_lane = onward[0]
    spec = view.profile.port_by_key[out_port]
    if "headphone" in spec.carries:
        return (stop, Stop("ear", _port_text(ground, there, out_port, out_lane), there, out_port, out_lane)), None
    leaves = Stop("link" if spec.is_digital else "converter", _port_text(ground, there, out_port, out_lane), there, out_port, out_lane)
    rest, later = _to_ear(ground, there, out_port, out_lane, seen | {(unit, port, lane)})
    return (stop, leaves, *rest), later
