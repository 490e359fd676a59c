"""Paths out: what the computer plays followed from an output until it is heard, comes back at a driver number, or is lost."""

from typing import Final

from ennead.studio.ids import CableId, UnitId
from ennead.survey.parts import each
from ennead.survey.passages import Ask, Passages
from ennead.survey.paths_onward import added, gap_of, remembered, zone_at
from ennead.survey.played import PortLane
from ennead.survey.signal_paths import Gap, PathOnward, Stop, Zone
from ennead.survey.walk import Lane, Path, first_path, is_record


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
def outward(unit: UnitId, numbered: bool | None, ask: Ask) -> dict[PortLane, PathOnward]:
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
    return {at: straight_out(walk, (unit, *at)) or walked_out(walk, (unit, *at)) for at in used}


def path_outward(ask: Ask, unit: UnitId, port: str, lane: int) -> PathOnward:
    """Return the way of a signal from an output to the ear, or to the driver input at which it comes back."""
    return straight_out(ask, (unit, port, lane)) or walked_out(ask, (unit, port, lane))


def walked_out(ask: Ask, start: Lane) -> PathOnward:
    """Return the way of a signal from an output, whatever there is to follow."""
    port, here = start[1], ask(start[0])
    # Where a lead of a destination's own shares an output with a cable of the house, the cable says where it goes.
    by_cable = port in here.leaving or port in here.strands

    def arrives(box: Passages, at: Lane) -> bool:
        return is_terminal(box, at) and not (by_cable and at == start)

    return path_out_along(ask, first_path(ask, start, arrives))


#: Stops after which a straight way is left to the walk, which sees rings.
_LONGEST: Final = 24


def straight_out(ask: Ask, start: Lane) -> PathOnward | None:
    """Return the way of a signal that has one way on wherever it is, as `way_out_along` has it; None where there is more to follow.

    Nearly all outputs of a house are so, behind a bay as well; they are a third of what a survey walks.
    """
    unit, port, lane = start
    here = ask(unit)
    if here.view.back or (port, lane) in here.view.inside:
        return None
    trail: _Trail = zone_at(here, port), here.view.delays[port], [unit], [], (port, lane), ""
    return _followed(ask, start, trail, forks=True)


#: What of a straight way lies behind where it is followed on from: what it begins at, its delay so far, the units it passed and the stops
#: it made, the lane at which the unit was entered, and the point from which a normal was taken.
_Trail = tuple[Zone, float | None, list[UnitId], list[Stop], PortLane, str]


def _followed(ask: Ask, at: Lane, trail: _Trail, *, forks: bool) -> PathOnward | None:
    """Return a way followed on from a lane; None where there is more to follow, a fork where none is allowed among it."""
    unit, port, lane = at
    first, delay, passes, stops, entered, came = trail
    here = ask(unit)
    view, back, over = here.view, at, _NOWHERE
    for _ in range(_LONGEST):
        # Written out: with every survey it is asked of thousands.
        links = here.leaving.get(port)
        if links and len(links) > 1:
            return None
        if here.special:
            if (copper := _over_copper(ask, here, (port, lane), back)) is None or (copper and links):
                return None
            over = copper
        if here.beside and (near := here.beside.get(port)) and near[0] != came:
            if len(near) > 1 or lane > 1 or ((links or over) and not forks) or (near[0], 1) in view.inside:
                return None
            if links or over:
                return _forked(ask, (unit, port, lane), near[0], (first, delay, passes, stops, entered, near[0]))
            port, came = near[0], port
            continue
        if entered[0] != port or entered[1] != lane:
            delay = None if delay is None or (own := view.delays[port]) is None else delay + own
            stops.append(Stop("link" if port in view.digital else "converter", unit, port, lane))
        if not links and not over:
            gap = None if port in view.phones else Gap("no-cable", unit, port)
            if stops and gap is None:
                stops[-1].zone = "ear"
            return PathOnward(first, tuple(stops), None, gap, delay, tuple(passes)) if stops or gap is None else None
        left, back = (unit, port), (unit, port, lane)
        if links:
            into = lane if links[0].crosses is None and lane <= links[0].lanes else links[0].across(lane)
            if into is None:
                return None
            over = links[0].end.unit, links[0].end.port, into, links[0].cable
        unit, port, lane, cable = over  # type: ignore[misc]
        here, over = ask(unit), _NOWHERE
        view = here.view
        passes.append(unit)
        delay = None if delay is None or (own := view.delays[port]) is None else delay + own
        stops.append(Stop("converter", unit, port, lane, cable, left))
        entered, came = (port, lane), ""
        if port in here.points:
            if view.inside and entered in view.inside:
                return None
            continue
        if here.special and (port in here.strands or port in here.heard or here.silent):
            return None
        if here.on_computer and entered in view.input_at:
            return PathOnward(first, tuple(stops), (unit, view.input_at[entered]), None, delay, tuple(passes))
        if port in view.ears:
            stops[-1].zone = "ear" if view.profile.role == "loudspeaker" else "converter"
            return PathOnward(first, tuple(stops), None, None, delay, tuple(passes))
        outs = view.inside.get(entered, ())
        if len(outs) != 1 or view.inserts or view.back or port in here.leaving or port in here.beside:
            return None
        port, lane = outs[0]
    return None


#: A lane at the other end of a piece of copper, with the cable or cord; empty where copper leads no further.
_Over = tuple[UnitId, str, int, CableId] | tuple[()]
_NOWHERE: Final[_Over] = ()


def _over_copper(ask: Ask, here: Passages, at: PortLane, back: Lane) -> _Over | None:
    """Return where copper leads on from a lane, but for where the signal came from; None where there is more to follow."""
    port, lane = at
    if port in here.heard or here.silent:
        return None
    strands = here.strands.get(port)
    if not strands:
        return _NOWHERE
    across = [(s.unit, s.port, into, s.cable) for s in strands for into in s.crosses.get(lane, ())]
    ahead = [one for one in across if one[:3] != back]
    if len(ahead) > 1 or port in here.view.phones:
        return None
    if any(link.cable == cable for unit, into, _, cable in ahead for link in ask(unit).leaving.get(into, ())):
        # The cable leads straight back.
        return None
    return ahead[0] if ahead else _NOWHERE


def _forked(ask: Ask, at: Lane, near: str, trail: _Trail) -> PathOnward | None:
    """Return the way from a point that a normal takes on and a cord as well: by the normal, or by the cord where that one is lost."""
    unit, port, lane = at
    first, delay, passes, stops, entered, _ = trail
    copied = first, delay, [*passes], [*stops], entered, port
    by_normal = _followed(ask, (unit, near, lane), copied, forks=False)
    if by_normal is None or by_normal.gap is None:
        return by_normal
    by_cord = _followed(ask, at, trail, forks=False)
    return by_cord if by_cord is None or by_cord.gap is None else by_normal


def path_out_along(ask: Ask, path: Path) -> PathOnward:
    """Return a path from an output as a way: a stop where each unit is entered and where it is left."""
    hops, end = path
    gap, lands = gap_of(ask, hops, end), None
    unit, port, _ = hops[0].to  # type: ignore[misc]
    here = ask(unit)
    first: Zone = zone_at(here, port)
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
            delay = added(delay, here.view.delays[port])
            stops.append(Stop("converter", unit, port, lane, hop.cable, (before[0], before[1])))
        elif leaves and (port != lanes[entered][1] or lane != lanes[entered][2]):
            delay = added(delay, here.view.delays[port])
            stops.append(Stop(zone_at(here, port), unit, port, lane))
    if gap is None and stops:
        here = ask(lanes[-1][0])
        if is_record(here, lanes[-1]):
            lands = lanes[-1][0], here.view.input_at[lanes[-1][1], lanes[-1][2]]
        elif here.view.profile.role == "loudspeaker" or lanes[-1][1] in here.view.phones:
            stops[-1].zone = "ear"
    return PathOnward(first, tuple(stops), lands, gap, delay, tuple(passes))


def ear(way: PathOnward) -> bool:
    """Say whether a way ends at an ear."""
    return bool(way.stops) and way.stops[-1].zone == "ear"
