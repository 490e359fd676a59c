"""Paths onward: a signal followed from any lane of any socket until it arrives at a driver number, at an ear, or is lost."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from itertools import pairwise

from ennead.studio.ids import UnitId
from ennead.survey.links import Link
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask, Passages
from ennead.survey.played import PortLane, UnitChannel
from ennead.survey.signal_paths import Gap, PathOnward, Stop, Zone
from ennead.survey.walk import End, Hop, Lane, Path, first_path, is_record

_ANALOGUE = ("converter", "outboard")


@part
def unit_ids(profiles: Mapping[UnitId, object]) -> dict[UnitId, UnitId]:
    """Return every unit that is there, by itself."""
    return {u: u for u in profiles}


@each("paths_onward", of={"unit": "unit_ids", "held": "taken"}, at={"ask": "passages"})
def paths_onward(unit: UnitId, held: Collection[str] | None, ask: Ask) -> dict[PortLane, PathOnward]:
    """Return the way onward from every lane of every input of one unit at which a line could begin.

    A socket that holds another unit's cable is none, and few lines begin at any of thousands of points; from there `path_from` follows it
    when it is asked for.
    Where a unit sends a signal two ways, the first that arrives is taken; of several, the first that meets no port out of service.
    """
    walk = remembered(ask)
    here = walk(unit)
    arrives = here.view.input_at if here.on_computer else {}
    full = here.points.union(held) if held else here.points
    found: dict[PortLane, PathOnward] = {}
    plain = _is_plain(here)
    for at in here.view.line_ins:
        port, lane = at
        if port in full:
            continue
        if at in arrives and at not in here.silent:
            found[at] = arrived(unit, here, port, arrives[at])
            continue
        way = _straight_in(walk, unit, here, at) if plain else straight_over(walk, (unit, port, lane))
        found[at] = way if way is not None else walked_in(walk, (unit, port, lane))
    return found


def path_from(
    paths_onward: Mapping[UnitId, Mapping[PortLane, PathOnward]],
    passages: Mapping[UnitId, Passages],
    unit: UnitId,
    port: str,
    lane: int,
) -> PathOnward:
    """Return the way onward from any lane of any input, one that it does not have among them."""
    known = paths_onward[unit].get((port, lane))
    if known is not None:
        return known
    here = passages[unit]
    if (port, lane) not in here.view.line_ins and port not in here.points and not here.view.back.get((port, lane)):
        return PathOnward(zone_at(here, port), (), None, _dead_end(unit, here, port, lane), None, (unit,))
    return path_onward(remembered(passages.__getitem__), unit, port, lane)


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


def path_onward(ask: Ask, unit: UnitId, port: str, lane: int, apart: Collection[Lane] = ()) -> PathOnward:
    """Return the way of a signal from a lane onward to a driver input, or to where it is lost.

    Parameters
    ----------
    apart : collection of Lane
        Lanes it does not go over: those of the other leads of its line.
    """
    here = ask(unit)
    plain = _straight_in(ask, unit, here, (port, lane)) if not apart and _is_plain(here) else None
    return plain if plain is not None else walked_in(ask, (unit, port, lane), apart)


def walked_in(ask: Ask, start: Lane, apart: Collection[Lane] = ()) -> PathOnward:
    """Return the way of a signal from a lane onward, whatever there is to follow."""
    path = first_path(ask, start, is_record, (lambda hop: hop.to in apart) if apart else None)
    way = path_along(ask, path)
    if way.fault and way.lands is not None:
        # A way that meets nothing out of service goes before.
        other = first_path(ask, start, is_record, lambda hop: hop.to in apart or _is_faulty(ask, hop))
        if not other.end.cause:
            return path_along(ask, other)
    return way


def _is_plain(here: Passages) -> bool:
    """Say whether a unit takes on what comes in by its inner paths alone, and every lane of it passes."""
    return not (here.points or here.silent or here.strands or here.view.inserts or here.view.back)


def _straight_in(ask: Ask, unit: UnitId, here: Passages, at: PortLane) -> PathOnward | None:
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
        return PathOnward(zone, (), None, _dead_end(unit, here, port, lane), None, (unit,))
    out, out_lane = outs[0]
    links = here.leaving.get(out, ())
    if len(outs) > 1 or len(links) > 1 or out not in digital:
        return None
    left = Stop("link", unit, out, out_lane)
    if not links:
        return PathOnward(zone, (left,), None, Gap("no-cable", unit, out), None, (unit,))
    link = links[0]
    into = link.across(out_lane)
    if into is None:
        return PathOnward(zone, (left,), None, crossing_gap(link, out_lane), None, (unit,))
    far, socket = link.end.unit, link.end.port
    there = ask(far)
    channel = there.view.input_at.get((socket, into)) if there.on_computer else None
    if channel is None or there.silent:
        return None
    stop = Stop("link", far, socket, into, link.cable, (unit, out))
    delay = added(added(delays[port], delays[out]), there.view.delays[socket])
    fault = here.faults.get(out, "") or there.faults.get(socket, "")
    return PathOnward(zone, (left, stop), (far, channel), None, delay, (unit, far), fault)


def straight_over(ask: Ask, start: Lane) -> PathOnward | None:
    """Return the way of a signal over copper to one cable alone, and from there straight in; None where there is more to follow.

    So it is from the wall of a room over its panel to a preamp.
    """
    unit, port, lane = start
    here, at = ask(unit), (port, lane)
    view = here.view
    if here.points or here.special or here.beside or view.inserts or port in here.leaving or at in view.back:
        return None
    outs, arrives = view.inside.get(at, ()), here.on_computer and at in view.input_at
    if len(outs) != 1 or arrives or outs[0][0] in view.digital or outs[0] in view.inside:
        return None
    out, out_lane = outs[0]
    links = here.leaving.get(out, ())
    if len(links) != 1 or (into := links[0].across(out_lane)) is None:
        return None
    there, socket = links[0].end.unit, links[0].end.port
    box = ask(there)
    onward = _straight_in(ask, there, box, (socket, into)) if _is_plain(box) else None
    if onward is None:
        return None
    stop = Stop(onward.zone, there, socket, into, links[0].cable, (unit, out))
    delay = added(view.delays[port], onward.delay) if onward.gap is None else None
    fault = here.faults.get(out, "") or box.faults.get(socket, "") or onward.fault
    zone: Zone = "outboard" if onward.zone == "converter" and port not in view.digital else zone_at(here, port)
    return PathOnward(zone, (stop, *onward.stops), onward.lands, onward.gap, delay, (unit, *onward.passes), fault)


def _is_faulty(ask: Ask, hop: Hop) -> bool:
    return hop.to is not None and hop.to[1] in ask(hop.to[0]).faults


def arrived(unit: UnitId, here: Passages, port: str, channel: UnitChannel) -> PathOnward:
    """Return the way of a lane that is a driver input itself."""
    return PathOnward(zone_at(here, port), (), (unit, channel), None, here.view.delays[port], (unit,))


def zone_at(here: Passages, port: str) -> Zone:
    """Return what a signal comes to at a socket: a digital link, or a converter."""
    return "link" if port in here.view.digital else "converter"


def path_along(ask: Ask, path: Path) -> PathOnward:
    """Return a path as a way: a stop for every cable, and for every digital output it leaves by; worked out from its end."""
    hops, end = path
    last = hops[-1].to if hops[-1].to is not None else hops[-2].to
    assert last is not None  # noqa: S101 - only the last hop of a path goes nowhere
    # Where each unit is entered: at the beginning, and by every cable.
    entries = [0, *[n for n, hop in enumerate(hops) if n and hop.cable is not None and hop.to is not None]]
    gap, lands = gap_of(ask, hops, end), None
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
            zone, out = zone_at(here, port), inner[-1]
            if gap is None:
                channel = here.view.input_at[last[1], last[2]]
                lands = unit, channel
                delay = added(own, here.view.delays[out[1]]) if len(inner) > 1 else own
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
        delay = added(added(own, delay), here.view.delays[leaves] if by_link else 0.0)
        for jack in closed:
            delay = added(delay, here.view.delays[jack])
        if by_link:
            stops.append(Stop("link", unit, leaves, leaves_lane))
        zone = zone_at(here, port)
        # An analogue stop before the last analogue one is outboard: a preamp, a panel in front of the converter.
        if zone == "converter" and (later_analogue or closed):
            zone = "outboard"
    stops.reverse()
    passes.reverse()
    return PathOnward(zone, tuple(stops), lands, gap, delay if gap is None else None, tuple(passes), fault)


def added(one: float | None, other: float | None) -> float | None:
    """Return two delays together, samples; None where one is not known."""
    return None if one is None or other is None else one + other


def _closed(here: Passages, inner: list[Lane]) -> list[str]:
    """Return the insert jacks with nothing in them that some lanes within a unit pass."""
    inserts = here.view.inserts
    if not inserts:
        return []
    return [one[1] for one, other in pairwise(inner) if inserts.get(one[1:]) == other[1:]]


def gap_of(ask: Ask, hops: tuple[Hop, ...], end: End) -> Gap | None:
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
