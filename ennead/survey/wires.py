"""Wires: everything a signal can run along, followed from any lane of any port until it arrives or is lost."""

from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Protocol

from ennead.studio.ids import CableId, UnitId
from ennead.survey.links import Link
from ennead.survey.numbering import DriverChannel, Numbering
from ennead.survey.runs import Gap, Stop, Way, Zone
from ennead.survey.unit_view import UnitView

_ANALOGUE = ("converter", "outboard")

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
        if view.profile.driver_maps and unit not in self.numbering.computer_of:
            return Gap("no-computer", unit, port)
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
