"""Ways: a signal followed from any lane of any socket until it arrives at a driver number, at an ear, or is lost."""

from collections.abc import Collection, Iterable, Iterator, Mapping

from ennead.studio.ids import UnitId
from ennead.survey.links import Link, link_into
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask, Passages
from ennead.survey.runs import Gap, Stop, Way, Zone
from ennead.survey.unit_view import PortLane, UnitChannel
from ennead.survey.wiring import SpanKey

_ANALOGUE = ("converter", "outboard")
#: An output that holds no cable leads on by none.
_NO_LINK: tuple[None, ...] = (None,)


@part
def unit_ids(profiles: Mapping[UnitId, object]) -> dict[UnitId, UnitId]:
    """Return every unit that is there, by itself."""
    return {u: u for u in profiles}


@each("ways", of={"unit": "unit_ids", "held": "taken"}, at={"ask": "passages"})
def ways(unit: UnitId, held: Collection[str] | None, ask: Ask) -> dict[PortLane, Way]:
    """Return the way onward from every lane of every input of one unit at which a line could begin.

    A digital socket that holds another unit's cable is none, and few lines begin at any of thousands of points; from there `way_from`
    follows it when it is asked for.
    Where a unit sends a signal two ways, the first that arrives is taken; of several, the first that meets no port out of service.
    """
    walk = OnwardWalk(ask)
    here = walk.ask(unit)
    arrives = here.view.input_at if here.on_computer else {}
    onward_from, arrived = walk.onward_from, walk.arrived
    full = here.view.points.union(here.view.digital.intersection(held)) if held else here.view.points
    return {
        at: arrived(unit, here, at[0], arrives[at]) if at in arrives else onward_from(unit, here, *at)
        for at in here.view.line_ins if at[0] not in full
    }  # fmt: skip


def way_from(
    ways: Mapping[UnitId, Mapping[PortLane, Way]],
    passages: Mapping[UnitId, Passages],
    unit: UnitId,
    port: str,
    lane: int,
) -> Way:
    """Return the way onward from any lane of any input, one that it does not have among them."""
    known = ways[unit].get((port, lane))
    if known is not None:
        return known
    if (port, lane) not in passages[unit].view.line_ins:
        return no_lane(unit, passages[unit], port, lane)
    return OnwardWalk(passages.__getitem__).follow(unit, port, lane)


@each("outward", of={"unit": "unit_ids", "numbered": "on_computer"}, at={"ask": "passages"})
def outward(unit: UnitId, numbered: bool | None, ask: Ask) -> dict[PortLane, Way]:
    """Return the way to the ear, or to the last box it reaches, from every live driver output of one unit that is in use.

    In use is an output that holds a cable, or headphones of its own.
    """
    if not numbered:
        return {}
    walk = OutwardWalk(ask)
    here = walk.ask(unit)
    leaving, phones = here.leaving, here.view.phones
    return {
        (c.port, c.lane): walk.outward(unit, c.port, c.lane)
        for c in here.view.outputs
        if c.port and c.live and (c.port in leaving or c.port in phones)
    }


def passed(links: Mapping[SpanKey, Link], stops: Iterable[Stop]) -> Iterator[tuple[UnitId, str]]:
    """Yield the ports some stops pass, the outputs their cables begin at among them."""
    for stop in stops:
        link = None if stop.cable is None else link_into(links, stop.cable, stop.unit, stop.port)
        if link is not None:
            yield link.start.unit, link.start.port
        if stop.unit is not None:
            yield stop.unit, stop.port


def joined_by(links: tuple[Link, ...], lane: int) -> tuple[Link, ...]:
    """Return those of the cables from an output that have a wire for a lane of it; a straight one may lose it and has it all the same."""
    if not links or (len(links) == 1 and links[0].crosses is None):
        return links
    return tuple([link for link in links if link.crosses is None or lane in link.crosses])


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

    def follow(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an input port onward until a driver channel or a gap."""
        here = self._units.get(unit) or self.ask(unit)
        channel = here.view.input_at.get((port, lane)) if here.on_computer else None
        return self.onward_from(unit, here, port, lane) if channel is None else self.arrived(unit, here, port, channel)

    @staticmethod
    def arrived(unit: UnitId, here: Passages, port: str, channel: UnitChannel) -> Way:
        """Return the way of a lane that is a driver input itself."""
        view = here.view
        return Way(
            "link" if port in view.digital else "converter", (), (unit, channel), None, view.delays[port], (unit,)
        )

    def onward_from(self, unit: UnitId, here: Passages, port: str, lane: int) -> Way:
        """Follow a signal from a lane that is no driver input."""
        key = (unit, port, lane)
        known = self._known.get(key)
        if known is not None:
            return known
        view = here.view
        zone: Zone = "link" if port in view.digital else "converter"
        if (inner := view.inside.get((port, lane))) is None:
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
        inserts = here.view.inserts
        for out, lane in inner:
            if inserts and (out, lane) in inserts and out not in here.opened:
                return self.closed(unit, here, port, self.follow(unit, *inserts[out, lane]))
            for link in joined_by(here.leaving.get(out, ()), lane) or _NO_LINK:
                way = self.leave(unit, here, port, out, lane, link)
                if way.lands is not None and not way.fault:
                    return way
                if best is None or (best.lands is None and way.lands is not None):
                    best = way
        return best if best is not None else Way("converter", (), None, Gap("no-onward", unit, port), None, (unit,))

    def leave(self, unit: UnitId, here: Passages, port: str, out: str, lane: int, link: Link | None) -> Way:
        """Leave a unit by an output and over one cable, and go on as the signal does there."""
        if link is not None:
            into = link.across(lane) if link.crosses is not None or lane > link.lanes else lane
            if into is not None:
                end = link.end
                return self.over(unit, here, port, out, lane, link, into, self.follow(end.unit, end.port, into))
        view = here.view
        zone: Zone = "link" if port in view.digital else "converter"
        stops = (Stop("link", unit, out, lane),) if out in view.digital else ()
        gap = (
            Gap("insert" if out in here.opened else "no-cable", unit, out) if link is None else crossing_gap(link, lane)
        )
        return Way(zone, stops, None, gap, None, (unit,))

    @staticmethod
    def closed(unit: UnitId, here: Passages, port: str, way: Way) -> Way:
        """Return the way through an insert jack in which nothing is plugged: it joins its send to its return."""
        delay = here.view.delays[port]
        late = None if delay is None or way.delay is None else delay + way.delay
        return Way(
            "converter" if not way.stops else "outboard",
            way.stops,
            way.lands,
            way.gap,
            late,
            (unit, *way.passes[1:]),
            way.fault,
        )

    def over(
        self, unit: UnitId, here: Passages, port: str, out: str, lane: int, link: Link, across: int, way: Way
    ) -> Way:
        """Return the way through a unit, out by an output and over a cable; the stops begin with the output of a digital link."""
        view = here.view
        zone: Zone = "link" if port in view.digital else "converter"
        stops: tuple[Stop, ...] = (Stop("link", unit, out, lane),) if out in view.digital else ()
        delay, more = view.delays[port], view.delays[out] if stops else 0.0
        delay = None if delay is None or more is None else delay + more
        there, into = link.end.unit, link.end.port
        # An analogue stop before the last analogue one is outboard: a preamp, a panel in front of the converter.
        if zone == "converter" and (
            way.zone in _ANALOGUE or (way.stops and any(stop.zone in _ANALOGUE for stop in way.stops))
        ):
            zone = "outboard"
        late = None if delay is None or way.delay is None else delay + way.delay
        fault = here.faults.get(out, "") or self._units[there].faults.get(into, "") or way.fault
        return Way(
            zone,
            (*stops, Stop(way.zone, there, into, across, link.cable), *way.stops),
            way.lands,
            way.gap,
            late,
            (unit, *way.passes),
            fault,
        )


def no_lane(unit: UnitId, here: Passages, port: str, lane: int) -> Way:
    """Return the way from a lane that a port does not have, such as the second of an analogue socket."""
    return Way(
        "link" if port in here.view.digital else "converter", (), None, _dead_end(unit, here, port, lane), None, (unit,)
    )


def _dead_end(unit: UnitId, here: Passages, port: str, lane: int) -> Gap:
    view = here.view
    if not view.runs:
        return Gap("off" if view.off else "rate", unit, port, lane)
    if (port, lane) in view.lost:
        return Gap("lane", unit, port, lane)
    if view.profile.driver_maps and not here.on_computer:
        return Gap("no-computer", unit, port)
    return Gap("no-number" if view.profile.driver_maps else "no-onward", unit, port)


class OutwardWalk(_Walk):
    """Follows signals toward the ear."""

    def outward(self, unit: UnitId, port: str, lane: int) -> Way:
        """Follow a signal from an output port to the ear, or to the last box it reaches; of several cables, by the first that arrives."""
        key = (unit, port, lane)
        known = self._known.get(key)
        if known is not None:
            return known
        here = self._units.get(unit) or self.ask(unit)
        zone: Zone = "link" if port in here.view.digital else "converter"
        links = here.leaving.get(port, ())
        if links and (len(links) > 1 or links[0].crosses is not None):
            links = joined_by(links, lane)
        if not links:
            return _end(unit, here, port, heard=port in here.view.phones)
        if key in self._open:
            self._rings += 1
            return Way(zone, (), None, Gap("ring", unit, port), None, (unit,))
        rings = self._rings
        self._open.add(key)
        way = self.to_ear(key, here, links[0], zone)
        for link in links[1:] if way.gap is not None else ():
            further = self.to_ear(key, here, link, zone)
            if further.gap is None:
                way = further
                break
        self._open.discard(key)
        if rings == self._rings:
            self._known[key] = way
        return way

    @staticmethod
    def lost(unit: UnitId, zone: Zone, link: Link, lane: int) -> Way:
        """Return the way of a lane that does not cross a cable."""
        return Way(zone, (), None, crossing_gap(link, lane), None, (unit,))

    def cross(self, here: Passages, port: str, link: Link, across: int) -> tuple[Stop, float | None, Passages]:
        """Return the stop at which a signal comes out of a cable, the delay of both its sockets, and the box it is in then."""
        there, into = link.end.unit, link.end.port
        box = self._units.get(there) or self.ask(there)
        delay, more = here.view.delays[port], box.view.delays[into]
        late = None if delay is None or more is None else delay + more
        return (
            Stop("ear" if box.view.profile.role == "loudspeaker" else "converter", there, into, across, link.cable),
            late,
            box,
        )

    def to_ear(self, start: tuple[UnitId, str, int], here: Passages, link: Link, zone: Zone) -> Way:
        """Follow a signal over one cable from an output."""
        unit, port, lane = start
        across = link.across(lane) if link.crosses is not None or lane > link.lanes else lane
        if across is None:
            return self.lost(unit, zone, link, lane)
        there, into = link.end.unit, link.end.port
        box = self._units.get(there) or self.ask(there)
        view = box.view
        role = view.profile.role
        stop, late = Stop("ear" if role == "loudspeaker" else "converter", there, into, across, link.cable), None
        delay, more = here.view.delays[port], view.delays[into]
        if delay is not None and more is not None:
            late = delay + more
        onward = view.inside.get((into, across))
        if not onward or role == "loudspeaker":
            return Way(zone, (stop,), None, None, late, (unit, there))
        first: Way | None = None
        leaving = box.leaving
        for out, out_lane in onward:
            if out in leaving:
                way = passed_through(unit, zone, stop, late, (there, out, out_lane), self.outward(there, out, out_lane))
                if role == "processor" and not ear(way):
                    # Through an amplifier it goes on to the loudspeaker; outboard that leads back into a converter is where it was sent.
                    return Way(zone, (stop,), None, None, late, (unit, there))
            elif role == "processor":
                return Way(zone, (stop,), None, None, late, (unit, there))
            elif first is not None and out not in view.phones:
                # One end at which nothing is plugged says as much as the next.
                continue
            else:
                way = ends_behind(unit, zone, stop, late, box, (there, out, out_lane))
            if way.gap is None:
                return way
            first = first or way
        assert first is not None  # noqa: S101 - there is one way onward at least
        return first


def ear(way: Way) -> bool:
    """Say whether a way ends at an ear."""
    return bool(way.stops) and way.stops[-1].zone == "ear"


def passed_through(
    unit: UnitId,
    zone: Zone,
    into: Stop,
    late: float | None,
    out: tuple[UnitId, str, int],
    after: Way,
    *,
    heard: bool = False,
) -> Way:
    """Return the way over a cable into a box, through it and on."""
    leaves = Stop("ear" if heard else after.zone, *out)
    whole = None if late is None or after.delay is None else late + after.delay
    return Way(zone, (into, leaves, *after.stops), None, after.gap, whole, (unit, *after.passes))


def ends_behind(
    unit: UnitId, zone: Zone, into: Stop, late: float | None, box: Passages, out: tuple[UnitId, str, int]
) -> Way:
    """Return the way over a cable into a box and to an output of it that holds no cable: heard there, or lost."""
    there, port, lane = out
    view = box.view
    heard, delay = port in view.phones, view.delays[port]
    leaves = Stop("ear" if heard else "link" if port in view.digital else "converter", there, port, lane)
    gap = None if heard else Gap("no-cable", there, port)
    whole = None if late is None or delay is None else late + delay
    return Way(zone, (into, leaves), None, gap, whole, (unit, there))


def _end(unit: UnitId, here: Passages, port: str, *, heard: bool) -> Way:
    """Return the way from an output that holds no cable: heard there, or lost."""
    gap = None if heard else Gap("no-cable", unit, port)
    return Way("link" if port in here.view.digital else "converter", (), None, gap, here.view.delays[port], (unit,))


def crossing_gap(link: Link, lane: int) -> Gap:
    """Return why a lane does not cross a cable."""
    for end, view in ((link.start, link.out_view), (link.end, link.in_view)):
        if link.digital and not view.runs:
            return Gap("off" if view.off else "rate", end.unit, end.port, lane)
    if link.overfull:
        return Gap("overfull", link.end.unit, link.end.port, lane, link.cable)
    return Gap("lane" if link.agrees else "format", link.end.unit, link.end.port, lane, link.cable)
