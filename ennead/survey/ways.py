"""Ways: a signal followed from any lane of any socket until it arrives at a driver number, at an ear, or is lost."""

from collections.abc import Iterable, Iterator, Mapping

from ennead.studio.ids import CableId, UnitId
from ennead.survey.links import Link
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask, Passages
from ennead.survey.runs import Gap, Stop, Way, Zone

_ANALOGUE = ("converter", "outboard")
#: An output that holds no cable leads on by none.
_NO_LINK: tuple[None, ...] = (None,)

#: A lane of a port.
PortLane = tuple[str, int]


@part
def unit_ids(profiles: Mapping[UnitId, object]) -> dict[UnitId, UnitId]:
    """Return every unit that is there, by itself."""
    return {u: u for u in profiles}


@each("ways", of={"unit": "unit_ids"}, at={"ask": "passages"})
def ways(unit: UnitId, ask: Ask) -> dict[PortLane, Way]:
    """Return the way onward from every lane of every input of one unit.

    Where a unit sends a signal two ways, the first that arrives is taken; of several, the first that meets no port out of service.
    """
    walk = OnwardWalk(ask)
    here = walk.ask(unit)
    return {at: _arrival(unit, here, at) or walk.onward(unit, *at) for at in here.view.line_ins}


@each("outward", of={"unit": "unit_ids", "numbered": "on_computer"}, at={"ask": "passages"})
def outward(unit: UnitId, numbered: bool | None, ask: Ask) -> dict[PortLane, Way]:
    """Return the way to the ear, or to the last box it reaches, from every live driver output of one unit that is in use.

    In use is an output that holds a cable, or headphones of its own.
    """
    if not numbered:
        return {}
    walk = OutwardWalk(ask)
    here = walk.ask(unit)
    ports = here.view.profile.port_by_key
    return {
        (c.port, c.lane): walk.outward(unit, c.port, c.lane)
        for c in here.view.outputs
        if c.port and c.live and (c.port in here.leaving or "headphone" in ports[c.port].carries)
    }


def passed(links: Mapping[CableId, Link], stops: Iterable[Stop]) -> Iterator[tuple[UnitId, str]]:
    """Yield the ports some stops pass, the outputs their cables begin at among them."""
    for stop in stops:
        if stop.cable is not None and stop.cable in links:
            start = links[stop.cable].start
            yield start.unit, start.port
        if stop.unit is not None:
            yield stop.unit, stop.port


class _Walk:
    """What both directions share: units asked for once, lanes being followed, ways known."""

    def __init__(self, ask: Ask) -> None:
        self._ask = ask
        self._units: dict[UnitId, Passages] = {}
        self._known: dict[tuple[UnitId, str, int], Way] = {}
        # The lanes being followed at this moment, and how often one of them was met again.
        self._open: set[tuple[UnitId, str, int]] = set()
        self._rings = 0

    def ask(self, unit: UnitId) -> Passages:
        """Return a unit's passages."""
        found = self._units.get(unit)
        if found is None:
            found = self._units[unit] = self._ask(unit)
        return found


class OnwardWalk(_Walk):
    """Follows signals toward the computer."""

    def onward(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an input port onward until a driver channel or a gap."""
        here = self._units.get(unit) or self.ask(unit)
        view = here.view
        arrival = _arrival(unit, here, (port, lane))
        if arrival is not None:
            return arrival
        zone: Zone = "link" if port in view.digital else "converter"
        key = (unit, port, lane)
        known = self._known.get(key)
        if known is not None:
            return known
        if (inner := view.onward.get((port, lane))) is None:
            way = Way(zone, (), None, _dead_end(unit, here, port, lane), None, (unit,))
        elif key in self._open:
            self._rings += 1
            return Way(zone, (), None, Gap("ring", unit, port), None, (unit,))
        else:
            rings = self._rings
            self._open.add(key)
            way = self._inside(unit, here, port, inner)
            self._open.discard(key)
            # What was cut short because it came back to its own way may run on when looked at from elsewhere.
            if rings != self._rings:
                return way
        self._known[key] = way
        return way

    def _inside(self, unit: UnitId, here: Passages, port: str, inner: tuple[PortLane, ...]) -> Way:
        """Pass through a unit: by the first way that arrives, else by the first; one that meets nothing out of service goes before."""
        best: Way | None = None
        for out, lane in inner:
            for link in here.leaving.get(out, _NO_LINK):
                way = self._leave(unit, here, port, out, lane, link)
                if way.lands is not None and not way.fault:
                    return way
                if best is None or (best.lands is None and way.lands is not None):
                    best = way
        return best if best is not None else Way("converter", (), None, Gap("no-onward", unit, port), None, (unit,))

    def _leave(self, unit: UnitId, here: Passages, port: str, out: str, lane: int, link: Link | None) -> Way:
        """Leave a unit by an output and over one cable, and go on as the signal does there."""
        if link is not None and lane <= link.lanes:
            return self._over(unit, here, port, out, lane, link, self.onward(link.end.unit, link.end.port, lane))
        view = here.view
        zone: Zone = "link" if port in view.digital else "converter"
        stops = (Stop("link", unit, out, lane),) if out in view.digital else ()
        gap = Gap("no-cable", unit, out) if link is None else crossing_gap(link, lane)
        return Way(zone, stops, None, gap, None, (unit,))

    def _over(self, unit: UnitId, here: Passages, port: str, out: str, lane: int, link: Link, way: Way) -> Way:
        """Return the way through a unit, out by an output and over a cable; the stops begin with the output of a digital link."""
        view = here.view
        zone: Zone = "link" if port in view.digital else "converter"
        stops: tuple[Stop, ...] = (Stop("link", unit, out, lane),) if out in view.digital else ()
        delay, more = view.delays[port], view.delays[out] if stops else 0.0
        delay = None if delay is None or more is None else delay + more
        there, into = link.end.unit, link.end.port
        # An analogue stop before the last analogue one is outboard: a preamp, a panel in front of the converter.
        if zone == "converter" and (way.zone in _ANALOGUE or any(stop.zone in _ANALOGUE for stop in way.stops)):
            zone = "outboard"
        late = None if delay is None or way.delay is None else delay + way.delay
        fault = here.faults.get(out, "") or self._units[there].faults.get(into, "") or way.fault
        return Way(zone, (*stops, Stop(way.zone, there, into, lane, link.cable), *way.stops), way.lands, way.gap, late, (unit, *way.passes), fault)

    def every(self, unit: UnitId, port: str, lane: int, met: set[tuple[UnitId, str, int]]) -> Iterator[Way]:
        """Yield every way by which a signal arrives, each lane on it entered once: where a splitter sends it several ways."""
        here = self.ask(unit)
        arrival = _arrival(unit, here, (port, lane))
        if arrival is not None:
            yield arrival
        elif (unit, port, lane) not in met:
            met.add((unit, port, lane))
            for out, out_lane in here.view.onward.get((port, lane), ()):
                for link in here.leaving.get(out, ()):
                    for way in self.every(link.end.unit, link.end.port, out_lane, met) if out_lane <= link.lanes else ():
                        yield self._over(unit, here, port, out, out_lane, link, way)


def _arrival(unit: UnitId, here: Passages, at: PortLane) -> Way | None:
    """Return the way of a lane that is a driver input itself; None of any other."""
    view = here.view
    channel = view.input_at.get(at) if here.on_computer else None
    if channel is None:
        return None
    return Way("link" if at[0] in view.digital else "converter", (), (unit, channel), None, view.delays[at[0]], (unit,))


def no_lane(unit: UnitId, here: Passages, port: str, lane: int) -> Way:
    """Return the way from a lane that a port does not have, such as the second of an analogue socket."""
    return Way("link" if port in here.view.digital else "converter", (), None, _dead_end(unit, here, port, lane), None, (unit,))


def _dead_end(unit: UnitId, here: Passages, port: str, lane: int) -> Gap:
    view = here.view
    if not view.runs:
        return Gap("rate", unit, port, lane)
    if (port, lane) in view.lost:
        return Gap("lane", unit, port, lane)
    if view.profile.driver_maps and not here.on_computer:
        return Gap("no-computer", unit, port)
    return Gap("no-number" if view.profile.driver_maps else "no-onward", unit, port)


class OutwardWalk(_Walk):
    """Follows signals toward the ear."""

    def outward(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an output port to the ear, or to the last box it reaches."""
        key = (unit, port, lane)
        known = self._known.get(key)
        if known is not None:
            return known
        here = self.ask(unit)
        zone: Zone = "link" if port in here.view.digital else "converter"
        links = here.leaving.get(port)
        if not links:
            return _end(unit, here, port, heard="headphone" in here.view.profile.port_by_key[port].carries)
        if key in self._open:
            self._rings += 1
            return Way(zone, (), None, Gap("ring", unit, port), None, (unit,))
        rings = self._rings
        self._open.add(key)
        way = self._to_ear(key, here, links[0], zone)
        self._open.discard(key)
        if rings == self._rings:
            self._known[key] = way
        return way

    def _to_ear(self, start: tuple[UnitId, str, int], here: Passages, link: Link, zone: Zone) -> Way:
        unit, port, lane = start
        there, into, delay = link.end.unit, link.end.port, here.view.delays[port]
        if lane > link.lanes:
            return Way(zone, (), None, crossing_gap(link, lane), None, (unit,))
        next_one = self.ask(there)
        view = next_one.view
        onward = view.onward.get((into, lane))
        role = view.profile.role
        more = view.delays[into]
        late = None if delay is None or more is None else delay + more
        stop = Stop("ear" if role == "loudspeaker" else "converter", there, into, lane, link.cable)
        ends_here = Way(zone, (stop,), None, None, late, (unit, there))
        if not onward or role == "loudspeaker":
            return ends_here
        out_port, out_lane = onward[0]
        if out_port in next_one.leaving:
            whole = _through(unit, zone, stop, late, (there, out_port, out_lane), self.outward(there, out_port, out_lane))
            # Through an amplifier it goes on to the loudspeaker; outboard that leads back into a converter is where it was sent.
            return ends_here if role == "processor" and whole.stops[-1].zone != "ear" else whole
        if role == "processor":
            return ends_here
        heard = "headphone" in view.profile.port_by_key[out_port].carries
        return _through(unit, zone, stop, late, (there, out_port, out_lane), _end(there, next_one, out_port, heard=heard), heard=heard)

    def every(self, unit: UnitId, port: str, lane: int, met: set[tuple[UnitId, str, int]]) -> Iterator[Way]:
        """Yield the way to every ear, loudspeaker and last box that hears an output, each lane on it entered once."""
        here = self.ask(unit)
        zone: Zone = "link" if port in here.view.digital else "converter"
        if (unit, port, lane) in met:
            return
        met.add((unit, port, lane))
        for link in here.leaving.get(port, ()):
            there, into = link.end.unit, link.end.port
            if lane > link.lanes:
                continue
            box = self.ask(there)
            role, delay, more = box.view.profile.role, here.view.delays[port], box.view.delays[into]
            late = None if delay is None or more is None else delay + more
            stop = Stop("ear" if role == "loudspeaker" else "converter", there, into, lane, link.cable)
            onward = () if role == "loudspeaker" else box.view.onward.get((into, lane), ())
            further: list[Way] = []
            for out, out_lane in onward:
                if out in box.leaving:
                    further += [_through(unit, zone, stop, late, (there, out, out_lane), after) for after in self.every(there, out, out_lane, met)]
            heard = [way for way in further if way.stops[-1].zone == "ear"] if role == "processor" else further
            yield from heard
            if not onward or (role == "processor" and not heard):
                yield Way(zone, (stop,), None, None, late, (unit, there))
            for out, out_lane in onward:
                if out not in box.leaving and role != "processor" and "headphone" in box.view.profile.port_by_key[out].carries:
                    yield _through(unit, zone, stop, late, (there, out, out_lane), _end(there, box, out, heard=True), heard=True)


def _through(
    unit: UnitId, zone: Zone, into: Stop, late: float | None, out: tuple[UnitId, str, int], after: Way, *, heard: bool = False
) -> Way:
    """Return the way over a cable into a box, through it and on."""
    leaves = Stop("ear" if heard else after.zone, *out)
    whole = None if late is None or after.delay is None else late + after.delay
    return Way(zone, (into, leaves, *after.stops), None, after.gap, whole, (unit, *after.passes))


def _end(unit: UnitId, here: Passages, port: str, *, heard: bool) -> Way:
    """Return the way from an output that holds no cable: heard there, or lost."""
    gap = None if heard else Gap("no-cable", unit, port)
    return Way("link" if port in here.view.digital else "converter", (), None, gap, here.view.delays[port], (unit,))


def crossing_gap(link: Link, lane: int) -> Gap:
    """Return why a lane does not cross a cable."""
    for end, view in ((link.start, link.out_view), (link.end, link.in_view)):
        if link.digital and not view.runs:
            return Gap("rate", end.unit, end.port, lane)
    if link.overfull:
        return Gap("overfull", link.end.unit, link.end.port, lane, link.cable)
    return Gap("lane" if link.agrees else "format", link.end.unit, link.end.port, lane, link.cable)
