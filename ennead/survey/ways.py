"""Ways: a signal followed from any lane of any socket until it arrives at a driver number, at an ear, or is lost."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from itertools import pairwise
from typing import Final

from ennead.studio.ids import UnitId
from ennead.survey.links import Link
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask, Passages
from ennead.survey.played import PortLane, UnitChannel
from ennead.survey.runs import Gap, Stop, Way, Zone
from ennead.survey.walk import End, Hop, Lane, Path, first_path, is_record

_ANALOGUE = ("converter", "outboard")


@part
def unit_ids(profiles: Mapping[UnitId, object]) -> dict[UnitId, UnitId]:
    """Return every unit that is there, by itself."""
    return {u: u for u in profiles}


@each("ways", of={"unit": "unit_ids", "held": "taken"}, at={"ask": "passages"})
def ways(unit: UnitId, held: Collection[str] | None, ask: Ask) -> dict[PortLane, Way]:
    """Return the way onward from every lane of every input of one unit at which a line could begin.

    A socket that holds another unit's cable is none, and few lines begin at any of thousands of points; from there `way_from` follows it
    when it is asked for.
    Where a unit sends a signal two ways, the first that arrives is taken; of several, the first that meets no port out of service.
    """
    walk = remembered(ask)
    here = walk(unit)
    arrives = here.view.input_at if here.on_computer else {}
    full = here.points.union(held) if held else here.points
    found: dict[PortLane, Way] = {}
    plain = _is_plain(here)
    for at in here.view.line_ins:
        port, lane = at
        if port in full:
            continue
        if at in arrives and at not in here.silent:
            found[at] = arrived(unit, here, port, arrives[at])
            continue
        way = _straight_in(walk, unit, here, at) if plain else None
        found[at] = way if way is not None else _walked_in(walk, (unit, port, lane))
    return found


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
    here = passages[unit]
    if (port, lane) not in here.view.line_ins and port not in here.points and not here.view.back.get((port, lane)):
        return Way(_zone_at(here, port), (), None, _dead_end(unit, here, port, lane), None, (unit,))
    return way_onward(remembered(passages.__getitem__), unit, port, lane)


class _Known(dict[UnitId, Passages]):
    """Passages by unit, each asked for when it is first looked up."""

    def __init__(self, ask: Ask) -> None:
        self._ask = ask

    def __missing__(self, unit: UnitId) -> Passages:
        found = self[unit] = self._ask(unit)
        return found


def remembered(ask: Ask) -> Ask:
    """Return passages that are asked for once a unit, however often a walk comes by."""
    return _Known(ask).__getitem__


def passed(stops: Iterable[Stop]) -> Iterator[tuple[UnitId, str]]:
    """Yield the ports some stops pass, the outputs their cables begin at among them."""
    for stop in stops:
        if stop.left is not None:
            yield stop.left
        if stop.unit is not None:
            yield stop.unit, stop.port


def way_onward(ask: Ask, unit: UnitId, port: str, lane: int, apart: Collection[Lane] = ()) -> Way:
    """Return the way of a signal from a lane onward to a driver input, or to where it is lost.

    Parameters
    ----------
    apart : collection of Lane
        Lanes it does not go over: those of the other leads of its line.
    """
    here = ask(unit)
    plain = _straight_in(ask, unit, here, (port, lane)) if not apart and _is_plain(here) else None
    return plain if plain is not None else _walked_in(ask, (unit, port, lane), apart)


def _walked_in(ask: Ask, start: Lane, apart: Collection[Lane] = ()) -> Way:
    path = first_path(ask, start, is_record, (lambda hop: hop.to in apart) if apart else None)
    way = way_along(ask, path)
    if way.fault and way.lands is not None:
        # A way that meets nothing out of service goes before.
        other = first_path(ask, start, is_record, lambda hop: hop.to in apart or _is_faulty(ask, hop))
        if not other.end.cause:
            return way_along(ask, other)
    return way


def _is_plain(here: Passages) -> bool:
    """Say whether a unit takes on what comes in by its inner paths alone, and every lane of it passes."""
    return not (here.points or here.silent or here.strands or here.view.inserts or here.view.back)


def _straight_in(ask: Ask, unit: UnitId, here: Passages, at: PortLane) -> Way | None:
    """Return the way of a signal that a box sends to one output alone, and a digital link from there into a driver input, or nowhere.

    Nearly all inputs of a house are so; whatever else there is to follow is left to the walk (None).
    """
    port, lane = at
    view = here.view
    if port in here.leaving or (here.on_computer and at in view.input_at):
        return None
    digital, delays = view.digital, view.delays
    zone: Zone = "link" if port in digital else "converter"
    outs = view.inside.get(at)
    if outs is None:
        return Way(zone, (), None, _dead_end(unit, here, port, lane), None, (unit,))
    out, out_lane = outs[0]
    links = here.leaving.get(out, ())
    if len(outs) > 1 or len(links) > 1 or out not in digital:
        return None
    left = Stop("link", unit, out, out_lane)
    if not links:
        return Way(zone, (left,), None, Gap("no-cable", unit, out), None, (unit,))
    link = links[0]
    into = link.across(out_lane)
    if into is None:
        return Way(zone, (left,), None, crossing_gap(link, out_lane), None, (unit,))
    far, socket = link.end.unit, link.end.port
    there = ask(far)
    channel = there.view.input_at.get((socket, into)) if there.on_computer else None
    if channel is None or there.silent:
        return None
    stop = Stop("link", far, socket, into, link.cable, (unit, out))
    delay = _plus(_plus(delays[port], delays[out]), there.view.delays[socket])
    fault = here.faults.get(out, "") or there.faults.get(socket, "")
    return Way(zone, (left, stop), (far, channel), None, delay, (unit, far), fault)


def _is_faulty(ask: Ask, hop: Hop) -> bool:
    return hop.to is not None and hop.to[1] in ask(hop.to[0]).faults


def arrived(unit: UnitId, here: Passages, port: str, channel: UnitChannel) -> Way:
    """Return the way of a lane that is a driver input itself."""
    return Way(_zone_at(here, port), (), (unit, channel), None, here.view.delays[port], (unit,))


def _zone_at(here: Passages, port: str) -> Zone:
    return "link" if port in here.view.digital else "converter"


def way_along(ask: Ask, path: Path) -> Way:
    """Return a path as a way: a stop for every cable, and for every digital output it leaves by; worked out from its end."""
    hops, end = path
    last = hops[-1].to if hops[-1].to is not None else hops[-2].to
    assert last is not None  # noqa: S101 - only the last hop of a path goes nowhere
    # Where each unit is entered: at the beginning, and by every cable.
    entries = [0, *[n for n, hop in enumerate(hops) if n and hop.cable is not None and hop.to is not None]]
    gap, lands = _gap_of(ask, hops, end), None
    stops: list[Stop] = []
    passes: list[UnitId] = []
    fault, delay = "", None
    later_analogue = False
    zone: Zone = "converter"
    for number in range(len(entries) - 1, -1, -1):
        first = entries[number]
        after = entries[number + 1] if number + 1 < len(entries) else len(hops)
        unit, port, _ = hops[first].to  # type: ignore[misc]
        here = ask(unit)
        inner = [h.to for h in hops[first:after] if h.to is not None]
        passes.append(unit)
        own = here.view.delays[port]
        if after == len(hops):
            zone, out = _zone_at(here, port), inner[-1]
            if gap is None:
                channel = here.view.input_at[last[1], last[2]]
                lands = unit, channel
                delay = _plus(own, here.view.delays[out[1]]) if len(inner) > 1 else own
            elif len(inner) > 1 and out[1] in here.view.digital and gap.cause != "ring":
                stops.append(Stop("link", *out))
            continue
        there, into, across = hops[after].to  # type: ignore[misc]
        _, leaves, leaves_lane = inner[-1]
        stops.append(Stop(zone, there, into, across, hops[after].cable, (unit, leaves)))
        later_analogue = later_analogue or zone in _ANALOGUE
        by_link = leaves in here.view.digital
        closed = _closed(here, inner)
        fault = here.faults.get(leaves, "") or ask(there).faults.get(into, "") or fault
        delay = _plus(_plus(own, delay), here.view.delays[leaves] if by_link else 0.0)
        for jack in closed:
            delay = _plus(delay, here.view.delays[jack])
        if by_link:
            stops.append(Stop("link", unit, leaves, leaves_lane))
        zone = _zone_at(here, port)
        # An analogue stop before the last analogue one is outboard: a preamp, a panel in front of the converter.
        if zone == "converter" and (later_analogue or closed):
            zone = "outboard"
    stops.reverse()
    passes.reverse()
    return Way(zone, tuple(stops), lands, gap, delay if gap is None else None, tuple(passes), fault)


def _plus(one: float | None, other: float | None) -> float | None:
    return None if one is None or other is None else one + other


def _closed(here: Passages, inner: list[Lane]) -> list[str]:
    """Return the insert jacks with nothing in them that some lanes within a unit pass."""
    inserts = here.view.inserts
    if not inserts:
        return []
    return [one[1] for one, other in pairwise(inner) if inserts.get(one[1:]) == other[1:]]


def _gap_of(ask: Ask, hops: tuple[Hop, ...], end: End) -> Gap | None:
    """Return where and why a path ends too early; None where it arrives."""
    if not end.cause:
        return None
    if end.lost is not None:
        at = hops[-2].to
        assert at is not None  # noqa: S101 - a lane is lost on a cable that leaves a lane
        return crossing_gap(end.lost, at[2])
    unit, port, lane = hops[-1].to  # type: ignore[misc]
    here = ask(unit)
    if (port, lane) in here.silent:
        return Gap("silent", unit, port, lane)
    if end.cause == "ring":
        return Gap("ring", unit, port)
    if end.cause == "open":
        return Gap("insert" if port in here.opened else "no-cable", unit, port)
    return _dead_end(unit, here, port, lane)


def _dead_end(unit: UnitId, here: Passages, port: str, lane: int) -> Gap:
    view = here.view
    if not view.runs:
        return Gap("off" if view.off else "rate", unit, port, lane)
    if (port, lane) in view.lost:
        return Gap("lane", unit, port, lane)
    if view.profile.driver_maps and not here.on_computer:
        return Gap("no-computer", unit, port)
    return Gap("no-number" if view.profile.driver_maps else "no-onward", unit, port)


def crossing_gap(link: Link, lane: int) -> Gap:
    """Return why a lane does not cross a cable."""
    for end, view in ((link.start, link.out_view), (link.end, link.in_view)):
        if link.digital and not view.runs:
            return Gap("off" if view.off else "rate", end.unit, end.port, lane)
    if link.overfull:
        return Gap("overfull", link.end.unit, link.end.port, lane, link.cable)
    return Gap("lane" if link.agrees else "format", link.end.unit, link.end.port, lane, link.cable)


def is_ear(here: Passages, at: Lane) -> bool:
    """Say whether something is heard at a lane: at a loudspeaker, or headphones that are plugged straight in.

    A box that has no output at all hears as well: what it makes of a signal is no longer ours to follow.
    """
    _, port, lane = at
    view = here.view
    if here.silent and (port, lane) in here.silent:
        return False
    if port in view.ears or (port in view.phones and port not in here.leaving):
        return True
    return any(h.lane == lane and not h.side for h in here.heard.get(port, ())) if here.heard else False


def is_terminal(here: Passages, at: Lane) -> bool:
    """Say whether what is sent out ends at a lane: at an ear, or at a driver input, where it has come back."""
    return is_record(here, at) or is_ear(here, at)


@each("outward", of={"unit": "unit_ids", "numbered": "on_computer"}, at={"ask": "passages"})
def outward(unit: UnitId, numbered: bool | None, ask: Ask) -> dict[PortLane, Way]:
    """Return the way to the ear, or to where it comes back, from every live driver output of one unit that is in use.

    In use is an output that holds a cable, or headphones of its own.
    """
    if not numbered:
        return {}
    walk = remembered(ask)
    here = walk(unit)
    leaving, phones = here.leaving, here.view.phones
    heard = here.heard
    used = [p.at for p in here.view.played if p.at[0] in leaving or p.at[0] in phones or p.at[0] in heard]
    return {at: _straight_out(walk, (unit, *at)) or _walked_out(walk, (unit, *at)) for at in used}


def way_outward(ask: Ask, unit: UnitId, port: str, lane: int) -> Way:
    """Return the way of a signal from an output to the ear, or to the driver input at which it comes back."""
    return _straight_out(ask, (unit, port, lane)) or _walked_out(ask, (unit, port, lane))


def _walked_out(ask: Ask, start: Lane) -> Way:
    port, here = start[1], ask(start[0])
    # Where a lead of a destination's own shares an output with a cable of the house, the cable says where it goes.
    by_cable = port in here.leaving or port in here.strands

    def arrives(box: Passages, at: Lane) -> bool:
        return is_terminal(box, at) and not (by_cable and at == start)

    return way_out_along(ask, first_path(ask, start, arrives))


#: Stops after which a straight way is left to the walk, which sees rings.
_LONGEST: Final = 24


def _straight_out(ask: Ask, start: Lane) -> Way | None:
    """Return the way of a signal that has one way on wherever it is, as `way_out_along` has it; None where there is more to follow.

    Nearly all outputs of a house are so, behind a bay as well; they are a third of what a survey walks.
    """
    unit, port, lane = start
    here = ask(unit)
    view = here.view
    first, delay, passes = _zone_at(here, port), view.delays[port], [unit]
    stops: list[Stop] = []
    entered, came = (port, lane), ""
    for _ in range(_LONGEST):
        # Written out: with every survey it is asked of thousands.
        links = here.leaving.get(port)
        if (links and len(links) > 1) or (here.special and (port in here.strands or port in here.heard or here.silent)):
            return None
        near = here.beside.get(port) if here.beside else None
        if near:
            if len(near) > 1:
                return None
            if near[0] != came:
                if links or lane > 1:
                    return None
                port, came = near[0], port
                continue
        if entered[0] != port or entered[1] != lane:
            delay = None if delay is None or (own := view.delays[port]) is None else delay + own
            stops.append(Stop("link" if port in view.digital else "converter", unit, port, lane))
        if not links:
            if port in view.phones:
                if stops:
                    stops[-1].zone = "ear"
                return Way(first, tuple(stops), None, None, delay, tuple(passes))
            return Way(first, tuple(stops), None, Gap("no-cable", unit, port), delay, tuple(passes)) if stops else None
        link = links[0]
        into = lane if link.crosses is None and lane <= link.lanes else link.across(lane)
        if into is None:
            return None
        left = unit, port
        unit, port, lane = link.end.unit, link.end.port, into
        here = ask(unit)
        view = here.view
        passes.append(unit)
        delay = None if delay is None or (own := view.delays[port]) is None else delay + own
        stops.append(Stop("converter", unit, port, lane, link.cable, left))
        entered, came = (port, lane), ""
        if port in here.points:
            if view.inside and entered in view.inside:
                return None
            continue
        if here.on_computer and entered in view.input_at:
            return Way(first, tuple(stops), (unit, view.input_at[entered]), None, delay, tuple(passes))
        if port in view.ears:
            stops[-1].zone = "ear" if view.profile.role == "loudspeaker" else "converter"
            return Way(first, tuple(stops), None, None, delay, tuple(passes))
        outs = view.inside.get(entered, ())
        if len(outs) != 1 or view.inserts or view.back or port in here.leaving:
            return None
        port, lane = outs[0]
    return None


def way_out_along(ask: Ask, path: Path) -> Way:
    """Return a path from an output as a way: a stop where each unit is entered and where it is left."""
    hops, end = path
    gap, lands = _gap_of(ask, hops, end), None
    unit, port, _ = hops[0].to  # type: ignore[misc]
    here = ask(unit)
    first: Zone = _zone_at(here, port)
    passes, stops = [unit], []
    delay = here.view.delays[port]
    lanes: list[Lane] = [hop.to for hop in hops if hop.to is not None]
    entered = 0
    for n, hop in enumerate(hops[1 : len(lanes)], start=1):
        unit, port, lane = lanes[n]
        here = ask(unit)
        leaves = n + 1 == len(lanes) or hops[n + 1].cable is not None
        if hop.cable is not None:
            before = lanes[n - 1]
            entered = n
            passes.append(unit)
            delay = _plus(delay, here.view.delays[port])
            stops.append(Stop("converter", unit, port, lane, hop.cable, (before[0], before[1])))
        elif leaves and (port != lanes[entered][1] or lane != lanes[entered][2]):
            delay = _plus(delay, here.view.delays[port])
            stops.append(Stop(_zone_at(here, port), unit, port, lane))
    if gap is None and stops:
        here = ask(lanes[-1][0])
        if is_record(here, lanes[-1]):
            lands = lanes[-1][0], here.view.input_at[lanes[-1][1], lanes[-1][2]]
        elif here.view.profile.role == "loudspeaker" or lanes[-1][1] in here.view.phones:
            stops[-1].zone = "ear"
    return Way(first, tuple(stops), lands, gap, delay, tuple(passes))


def ear(way: Way) -> bool:
    """Say whether a way ends at an ear."""
    return bool(way.stops) and way.stops[-1].zone == "ear"
