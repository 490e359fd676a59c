"""Runs: one signal's whole way, stop by stop, from source to driver channel, or from driver channel to ear.

What is kept here is structure, ids and numbers only; `ennead.survey.words` puts it into words, so that renaming
a box costs nothing here.
"""

from collections.abc import Collection, Iterable, Iterator, Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Literal, NamedTuple, Protocol

from ennead.studio.document import Studio, channel_text
from ennead.studio.house import Cable
from ennead.studio.ids import CableId, SourceId, UnitId
from ennead.studio.session import Source
from ennead.survey.links import Link
from ennead.survey.numbering import DriverChannel, Numbering
from ennead.survey.unit_view import UnitView

Zone = Literal["source", "outboard", "converter", "link", "driver", "ear"]


class Stop(NamedTuple):
    """One stop of a run.

    Parameters
    ----------
    lane : int
        Lane on the port, from 1.
    cable : CableId or None
        The cable by which the signal came here.
    """

    zone: Zone
    unit: UnitId | None = None
    port: str = ""
    lane: int = 1
    cable: CableId | None = None


class Gap(NamedTuple):
    """Where and why a run ends too early.

    Parameters
    ----------
    cause : str
        ``unplaced``, ``no-cable``, ``no-onward``, ``format``, ``lane``, ``rate``, ``no-host``, ``no-number``,
        ``ring``.
    cable : CableId or None
        The cable on which it is lost.
    """

    cause: str
    unit: UnitId | None = None
    port: str = ""
    lane: int = 1
    cable: CableId | None = None


class Way(NamedTuple):
    """What lies onward of a lane of a port.

    Parameters
    ----------
    zone : Zone
        What the port itself is on this way.
    stops : tuple of Stop
        The stops after it.
    delay : float or None, samples
        Sum of the stated delays, the port's included; None where a digital unit states none.
    units : tuple of UnitId
        Every unit looked at on the way, dead branches included.
    """

    zone: Zone
    stops: tuple[Stop, ...]
    driver: DriverChannel | None
    gap: Gap | None
    delay: float | None
    units: tuple[UnitId, ...]


class Run(NamedTuple):
    """One signal's way.

    Parameters
    ----------
    of : Source or None
        None for a driver output.
    into : Stop or None
        The port it begins at; None for a source that is plugged in nowhere.
    out : DriverChannel or None
        The driver output it begins with.
    """

    of: Source | None
    channel: int
    into: Stop | None
    way: Way
    out: DriverChannel | None = None

    @property
    def stops(self) -> tuple[Stop, ...]:
        """All stops, from the source or the driver output on."""
        first = _SOURCE if self.out is None else _DRIVER
        return (first,) if self.into is None else (first, self.into, *self.way.stops)

    @property
    def driver(self) -> DriverChannel | None:
        """The driver number at which it arrives, or with which it begins."""
        return self.out or self.way.driver

    @property
    def gap(self) -> Gap | None:
        """Where it ends too early."""
        return self.way.gap

    @property
    def latency_samples(self) -> float | None:
        """The sum of the stated delays on it, samples; None where it does not arrive or one is not stated."""
        return self.way.delay if self.way.gap is None else None

    @property
    def source(self) -> SourceId | None:
        """The source's id."""
        return self.of.id if self.of is not None else None

    @property
    def _side(self) -> str:
        return f" {channel_text(self.channel)}" if self.of is not None and self.of.channels > 1 else ""

    @property
    def signal(self) -> str:
        """The signal's name: the source with its side, or the driver's label of an output."""
        if self.of is None:
            return self.out.label if self.out else ""
        return self.of.name + self._side

    @property
    def track(self) -> str:
        """The name of the track it is recorded on; empty for an output."""
        return self.of.track_name + self._side if self.of is not None else ""

    @property
    def complete(self) -> bool:
        """Whether it arrives."""
        return self.way.gap is None

    @property
    def seat(self) -> Stop | None:
        """The first port it sits in."""
        return self.into


_ANALOGUE = ("converter", "outboard")
_SOURCE = Stop("source")
_DRIVER = Stop("driver")
_UNPLACED = Way("source", (), None, Gap("unplaced"), None, ())


#: A lane of a port of a unit.
PortLane = tuple[UnitId, str, int]

_Crossing = tuple[tuple[Stop, ...], DriverChannel | None, Gap | None, float | None, tuple[UnitId, ...]]

# A named tuple made by its own class costs twice as much, and a house has thousands of them.
_new = tuple.__new__


class Ground(Protocol):
    """The parts of a survey by which signals find their way."""

    @property
    def views(self) -> Mapping[UnitId, UnitView]: ...
    @property
    def leaving(self) -> Mapping[tuple[UnitId, str], tuple[Link, ...]]: ...


class Wires:
    """Everything a signal can run along, with the ways found so far.

    Parameters
    ----------
    previous : Wires, optional
        The wires before an edit, to say which units stand otherwise now.
    faults : map of UnitId to map of port key to note
        Ports out of service; of several ways that arrive one without them is taken.
    """

    def __init__(
        self,
        views: Mapping[UnitId, UnitView],
        leaving: Mapping[tuple[UnitId, str], tuple[Link, ...]],
        numbering: Numbering,
        previous: "Wires | None" = None,
        faults: Mapping[UnitId, Mapping[str, str]] = MappingProxyType({}),
    ) -> None:
        self.views, self.leaving, self.numbering, self.faults = views, leaving, numbering, faults
        self._onward: dict[PortLane, Way] = {}
        self._outward: dict[PortLane, Way] = {}
        # The lanes being followed at this moment, and how often one of them was met again.
        self._before = numbering.before_in
        self._open: set[PortLane] = set()
        self._rings = 0
        #: Units that stand or are cabled otherwise than before the edit; None where nothing is known of before.
        self.changed = None if previous is None else self._differ(previous)
        #: Interfaces whose numbers begin elsewhere than before the edit.
        self.renumbered: frozenset[UnitId] = frozenset() if previous is None else self._moved_on(previous.numbering)

    def _differ(self, old: "Wires") -> frozenset[UnitId]:
        changed = {u for u, view in self.views.items() if old.views.get(u) is not view}
        changed |= old.views.keys() - self.views.keys()
        for key, links in self.leaving.items():
            before = old.leaving.get(key)
            if before is not links and before != links:
                changed |= {key[0], *(n.end.unit for n in links)}
        changed |= {key[0] for key in old.leaving if key not in self.leaving}
        if self.faults is not old.faults:
            both = self.faults.keys() | old.faults.keys()
            changed |= {u for u in both if self.faults.get(u) != old.faults.get(u)}
        if self.numbering is not old.numbering:
            changed |= self.numbering.before_in.keys() ^ old.numbering.before_in.keys()
        return frozenset(changed)

    def _moved_on(self, old: Numbering) -> frozenset[UnitId]:
        mine = self.numbering
        if mine is old:
            return frozenset()
        pairs = ((mine.before_in, old.before_in), (mine.before_out, old.before_out))
        return frozenset([u for now, then in pairs for u, before in now.items() if then.get(u, before) != before])

    def number_now(self, driver: DriverChannel) -> DriverChannel:
        """Return a driver input of the survey before with the number that it has now."""
        before = self._before[driver[1]]
        return driver if before == driver[3] else _new(DriverChannel, (before + driver[2].index, driver[1], driver[2], before))

    def onward(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an input port onward until a driver number or a gap.

        Where a unit sends it two ways, the first that arrives is taken; else the first.
        """
        key = (unit, port, lane)
        known = self._onward.get(key)
        if known is not None:
            return known
        view = self.views[unit]
        here = (port, lane)
        zone: Zone = "link" if port in view.digital else "converter"
        before = self._before.get(unit)
        if before is not None and here in view.input_at:
            channel = view.input_at[here]
            number = _new(DriverChannel, (before + channel.index, unit, channel, before))
            way = self._onward[key] = _new(Way, (zone, (), number, None, view.delays[port], (unit,)))
            return way
        inner = view.onward.get(here)
        if inner is None:
            way = self._onward[key] = Way(zone, (), None, self._dead_end(unit, port, lane), None, (unit,))
            return way
        if key in self._open:
            self._rings += 1
            return Way(zone, (), None, Gap("ring", unit, port), None, (unit,))
        rings = self._rings
        self._open.add(key)
        way = self._inside(unit, view, port, zone, inner)
        self._open.discard(key)
        # What was cut short because it came back to its own way may run on when looked at from elsewhere.
        if rings == self._rings:
            self._onward[key] = way
        return way

    def _inside(self, unit: UnitId, view: UnitView, port: str, zone: Zone, inner: tuple[tuple[str, int], ...]) -> Way:
        """Pass through a unit by the first of its inner paths that arrives."""
        best = self._cross(unit, view, *inner[0])
        units, rank = best[4], self._rank(unit, inner[0][0], best)
        for out_port, out_lane in inner[1:]:
            if not rank:
                break
            other = self._cross(unit, view, out_port, out_lane)
            units += other[4]
            if self._rank(unit, out_port, other) < rank:
                best, rank = other, self._rank(unit, out_port, other)
        stops, driver, gap, later = best[:4]
        # An analogue stop before the last analogue one is outboard: a preamp, a panel in front of the converter.
        if zone == "converter":
            for stop in stops:
                if stop[0] in _ANALOGUE:
                    zone = "outboard"
                    break
        delay = view.delays[port]
        late = None if delay is None or later is None else delay + later
        return _new(Way, (zone, stops, driver, gap, late, (unit, *units)))

    def _cross(self, unit: UnitId, view: UnitView, port: str, lane: int) -> _Crossing:
        """Leave a unit by an output and arrive at the next; the stops begin with the output of a digital link."""
        digital = port in view.digital
        delay = view.delays[port] if digital else 0.0
        stops: tuple[Stop, ...] = (_new(Stop, ("link", unit, port, lane, None)),) if digital else ()
        links = self.leaving.get((unit, port))
        if not links:
            return stops, None, Gap("no-cable", unit, port), None, ()
        best = self._over(links[0], lane, stops, delay)
        units = best[4]
        for link in links[1:]:
            rank = self._rank(unit, port, best)
            if not rank:
                break
            way = self._over(link, lane, stops, delay)
            units += way[4]
            best = way if self._rank(unit, port, way) < rank else best
        return best if len(links) == 1 else (*best[:4], units)

    def _rank(self, unit: UnitId, port: str, crossing: _Crossing) -> int:
        """Return how good a way out of a port is: 0 arrives, 1 arrives by a port out of service, 2 does not arrive."""
        if crossing[1] is None:
            return 2
        return 1 if self.faults and (port in self.faults.get(unit, ()) or self.fault_on(crossing[0])) else 0

    @cached_property
    def _start_of(self) -> Mapping[CableId, tuple[UnitId, str]]:
        """Where each cable begins; asked for only where something is out of service."""
        return {link.cable: start for start, links in self.leaving.items() for link in links}

    def passes(self, stops: Iterable[Stop]) -> Iterator[tuple[UnitId, str]]:
        """Yield the ports some stops pass, the outputs their cables begin at among them."""
        for stop in stops:
            if stop.cable is not None and stop.cable in self._start_of:
                yield self._start_of[stop.cable]
            if stop.unit is not None:
                yield stop.unit, stop.port

    def fault_on(self, stops: Iterable[Stop]) -> str:
        """Return the note of the first port out of service that some stops pass; empty where all are in order."""
        if not self.faults:
            return ""
        return next((note for unit, port in self.passes(stops) if (note := self.faults.get(unit, {}).get(port))), "")

    def _over(self, link: Link, lane: int, stops: tuple[Stop, ...], delay: float | None) -> _Crossing:
        """Go on over one cable, with the stops and the delay up to it."""
        there, into = link.end.unit, link.end.port
        if lane > link.lanes:
            return stops, None, crossing_gap(link, lane), None, (there,)
        zone, after, driver, gap, later, units = self.onward(there, into, lane)
        late = None if delay is None or later is None else delay + later
        return (*stops, _new(Stop, (zone, there, into, lane, link.cable)), *after), driver, gap, late, units

    def _dead_end(self, unit: UnitId, port: str, lane: int) -> Gap:
        view = self.views[unit]
        if not view.runs:
            return Gap("rate", unit, port, lane)
        if (port, lane) in view.lost:
            return Gap("lane", unit, port, lane)
        if view.profile.driver_maps and unit not in self.numbering.host_of:
            return Gap("no-host", unit, port)
        return Gap("no-number" if view.profile.driver_maps else "no-onward", unit, port)

    def outward(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an output port to the ear, or to the last box it reaches."""
        key = (unit, port, lane)
        known = self._outward.get(key)
        if known is not None:
            return known
        view = self.views[unit]
        zone: Zone = "link" if port in view.digital else "converter"
        links = self.leaving.get((unit, port))
        if not links:
            return self._end(unit, view, port, heard="headphone" in view.profile.port_by_key[port].carries)
        if key in self._open:
            self._rings += 1
            return Way(zone, (), None, Gap("ring", unit, port), None, (unit,))
        rings = self._rings
        self._open.add(key)
        way = self._to_ear(view, key, links[0], zone)
        self._open.discard(key)
        if rings == self._rings:
            self._outward[key] = way
        return way

    @staticmethod
    def _end(unit: UnitId, view: UnitView, port: str, *, heard: bool) -> Way:
        """Return the way from an output that holds no cable: heard there, or lost."""
        gap = None if heard else _new(Gap, ("no-cable", unit, port, 1, None))
        return _new(Way, ("link" if port in view.digital else "converter", (), None, gap, view.delays[port], (unit,)))

    def _to_ear(self, from_view: UnitView, start: PortLane, link: Link, zone: Zone) -> Way:
        unit, port, lane = start
        there, into, delay = link.end.unit, link.end.port, from_view.delays[port]
        if lane > link.lanes:
            return Way(zone, (), None, crossing_gap(link, lane), None, (unit, there))
        view = self.views[there]
        onward = view.onward.get((into, lane))
        role = view.profile.role
        more = view.delays[into]
        late = None if delay is None or more is None else delay + more
        stop = _new(Stop, ("ear" if role == "loudspeaker" else "converter", there, into, lane, link.cable))
        if not onward or role in ("loudspeaker", "processor"):
            return Way(zone, (stop,), None, None, late, (unit, there))
        out_port, out_lane = onward[0]
        if (there, out_port) in self.leaving:
            after = self.outward(there, out_port, out_lane)
            heard = False
        else:
            heard = "headphone" in view.profile.port_by_key[out_port].carries
            after = self._end(there, view, out_port, heard=heard)
        leaves = _new(Stop, ("ear" if heard else after.zone, there, out_port, out_lane, None))
        whole = None if late is None or after.delay is None else late + after.delay
        return _new(Way, (zone, (stop, leaves, *after.stops), None, after.gap, whole, (unit, *after.units)))


def crossing_gap(link: Link, lane: int) -> Gap:
    """Return why a lane does not cross a cable."""
    for end, view in ((link.start, link.out_view), (link.end, link.in_view)):
        if link.digital and not view.runs:
            return Gap("rate", end.unit, end.port, lane)
    if link.overfull:
        return Gap("overfull", link.end.unit, link.end.port, lane, link.cable)
    return Gap("lane" if link.agrees else "format", link.end.unit, link.end.port, lane, link.cable)


def source_runs(
    studio: Studio, wires: Wires, plugged: Mapping[tuple[SourceId, int], Cable]
) -> tuple[Run, ...]:
    """Return the runs of the current session's sources, one a channel, in the order of the list."""
    return tuple(
        [_run(wires, plugged, source, c) for source in studio.session_sources for c in range(1, source.channels + 1)]
    )


def _run(wires: Wires, plugged: Mapping[tuple[SourceId, int], Cable], source: Source, channel: int) -> Run:
    digital = source.kind == "digital"
    # One digital cable carries both channels; analogue channels have a cable each.
    cable = plugged.get((source.id, 1 if digital else channel))
    if cable is None:
        return Run(source, channel, None, _UNPLACED)
    unit, port, lane = cable.end.unit, cable.end.port, channel if digital else 1
    way = wires.onward(unit, port, lane)
    into = _new(Stop, (way.zone, unit, port, lane, cable.id))
    return _new(Run, (source, channel, into, way, None))


def runs_anew(
    wires: Wires,
    plugged: Mapping[tuple[SourceId, int], Cable],
    previous: tuple[Run, ...],
    units: frozenset[UnitId],
    moved: frozenset[UnitId],
    sources: Collection[SourceId],
) -> tuple[Run, ...]:
    """Return the runs of the same sources after an edit; those it does not touch stay the same objects.

    Parameters
    ----------
    units : set of UnitId
        Units that stand otherwise than before.
    moved : set of UnitId
        Interfaces whose numbers begin elsewhere than before.
    sources : collection of SourceId
        Sources that are plugged otherwise than before.
    """
    stale: list[int] = []
    runs = list(previous)
    if units or moved:
        for i, run in enumerate(previous):
            way = run[3]
            if not units.isdisjoint(way[5]):
                stale.append(i)
            elif (driver := way[2]) is not None and driver[1] in moved:
                now = _new(Way, (*way[:2], wires.number_now(driver), *way[3:]))
                runs[i] = _new(Run, (*run[:3], now, run[4]))
    if sources:
        stale += [i for i, run in enumerate(previous) if run[0] is not None and run[0].id in sources]
    for i in stale:
        source = previous[i].of
        if source is not None:
            runs[i] = _run(wires, plugged, source, previous[i].channel)
    return tuple(runs)


#: The runs of one interface's outputs, and every unit they pass.
OutputsOf = tuple[tuple[Run, ...], frozenset[UnitId]]


def output_runs(wires: Wires, previous: Mapping[UnitId, OutputsOf]) -> dict[UnitId, OutputsOf]:
    """Return the runs of each interface's outputs that go anywhere: a cable, or a headphone socket of their own."""
    found: dict[UnitId, OutputsOf] = {}
    for unit, before in wires.numbering.before_out.items():
        was = previous.get(unit)
        if was is not None and wires.changed is not None and wires.changed.isdisjoint(was[1]):
            found[unit] = was if unit not in wires.renumbered else (_renumbered(was[0], before), was[1])
            continue
        runs: list[Run] = []
        units: set[UnitId] = {unit}
        view = wires.views[unit]
        for channel in view.outputs:
            port, lane = channel.port, channel.lane
            if not port or not channel.live:
                continue
            if (unit, port) not in wires.leaving and "headphone" not in view.profile.port_by_key[port].carries:
                continue
            way = wires.outward(unit, port, lane)
            units.update(way.units)
            out = _new(DriverChannel, (before + channel.index, unit, channel, before))
            into = _new(Stop, (way.zone, unit, port, lane, None))
            runs.append(_new(Run, (None, lane, into, way, out)))
        found[unit] = tuple(runs), frozenset(units)
    return found


def _renumbered(runs: tuple[Run, ...], before: int) -> tuple[Run, ...]:
    """Return the runs of one interface's outputs with the numbers they have behind `before` channels of others."""
    return tuple(
        [
            _new(Run, (None, lane, into, way, _new(DriverChannel, (before + out[2].index, out[1], out[2], before))))
            for _, lane, into, way, out in runs
            if out is not None
        ]
    )
