"""A loop made of boxes: free outputs and inputs found for it, cables or cords between, the sends fixed at full level."""

from collections.abc import Sequence
from itertools import pairwise

from ennead.edits.cables import connect, make_up
from ennead.edits.change import Change, Edit, step
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.loop_use import set_loop_use
from ennead.planning.routing.loop_in_numbers import digital_steps
from ennead.planning.routing.loop_sockets import (
    box_sockets,
    line_ports,
    reached_by,
    sockets_for,
    widths_through,
)
from ennead.planning.seating.corded import CordTo, cord_steps, free_landings
from ennead.planning.seating.corded_outs import starts_of
from ennead.planning.seating.proposal_change import fixed_sends
from ennead.planning.seating.wide_loops import SocketAt, best_of, free_inputs, free_outputs, runs_of
from ennead.planning.seating.wired import legs_of
from ennead.rules.mains_keep_outputs import kept_ahead
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, Wire
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.ranges import in_ranges
from ennead.studio.session import Destination
from ennead.studio.widths import width_text
from ennead.survey.box_sockets import BoxSocket
from ennead.survey.circuits import circuits
from ennead.survey.output_points import output_point_at
from ennead.survey.placed import all_backs, come_back, onward_sockets
from ennead.survey.survey import Survey

_Pair = tuple[BoxSocket, BoxSocket]
#: Roles of boxes that can work on a signal, those made for it first.
LOOP_ROLES = ("processor", "preamp", "console", "instrument")


def free_boxes(survey: Survey) -> list[UnitId]:
    """Return the boxes that could stand in a loop and stand in none of the session's, those that work on sound first."""
    held = {box for d in survey.destinations for box in d.boxes}
    profiles = survey.profiles
    boxes = [u for u, p in profiles.items() if p.role in LOOP_ROLES and u not in held and not p.driver_maps]
    return sorted(boxes, key=lambda u: LOOP_ROLES.index(profiles[u].role))


def widths_of(survey: Survey, unit: UnitId) -> tuple[int, int]:
    """Return with how many channels a box is best gone out to and come back from: both sides of a stereo one, all of a summing one."""
    ins, outs = (sum(p.channels for p in line_ports(survey, unit, way)) for way in ("in", "out"))
    sums = bool(survey.views[unit].sums)
    return max(1, ins if sums and ins > outs else min(2, ins)), max(1, min(2, outs))


def make_loop(
    survey: Survey,
    name: str,
    boxes: Sequence[UnitId],
    channels: int,
    back: int = 0,
    *,
    parallel: bool = False,
    digital: bool = False,
) -> Change:
    """Return the change that puts a loop on the session's list and wires it through some boxes in series.

    Boxes that stand wired from an output round to an input keep their cables. For others free places are found, and the way runs to the first
    box, from each to the next, from the last one back: by cables where sockets are bare, by cords where they end at points of a bay.

    Parameters
    ----------
    back : int
        With how many channels it comes back; 0 for as many as it goes out.
    digital : bool
        Whether a box is to be reached by its digital sockets.

    Raises
    ------
    BadValue
        If a box is wired to something else, has too few channels, or no place is left.
    """
    studio = survey.studio
    key = DestinationId(f"D{studio.counters.get('D', 0) + 1}")
    steps: list[Edit] = [step(add_destination, name, "loop", channels=channels, back=back)]
    if parallel:
        steps.append(step(set_loop_use, key, parallel=True))
    label = f"Make the loop {name}"
    for edit in steps:
        studio = edit(studio)
    loop = studio.destinations[key]
    if not boxes:
        return Change(label, tuple(steps))
    stands = next((w for w in survey.wired_loops if set(boxes) <= set(w.boxes)), None)
    if stands is not None:
        legs = legs_of(stands.ways, loop)
        if legs is None:
            raise BadValue("the width of a loop", width_text(loop), f"It is wired with {len(stands.ways)}.")
        return Change(label, (*steps, step(send_out, key, *legs)))
    wiring = (
        digital_steps(survey, key, loop, boxes[0])
        if digital and len(boxes) == 1
        else _wired_through(survey, studio, loop, boxes)
    )
    made = Change(label, (*steps, *wiring))
    _must_go_round(Survey(made.apply(survey.studio)), key)
    return made


def _wired_through(survey: Survey, studio: Studio, loop: Destination, boxes: Sequence[UnitId]) -> list[Edit]:
    """Return the edits that wire a loop of a studio through boxes in series, and send it out."""
    sockets = _sockets(survey, boxes, loop)
    out, ins = _places(survey, loop, sockets[0][0], sockets[-1][1])
    chain = [(out, sockets[0][0]), *[(a[1], b[0]) for a, b in pairwise(sockets)], (sockets[-1][1], ins)]
    cables, cords = _wires(survey, chain)
    patches = [*cord_steps(studio, cords), *_cabling(cables)]
    ends, backs = [at.end for at in out], [at.end for at in ins]
    if cords:
        # Behind a point the input is known once the cords are laid.
        for edit in patches:
            studio = edit(studio)
        backs = _comes_back(Survey(studio), loop, sockets[0][0])
    return [*patches, step(send_out, loop.id, ends, backs), *fixed_sends(survey, ends)]


def _must_go_round(survey: Survey, key: DestinationId) -> None:
    """Look whether a loop goes round as it is made, whatever its boxes pass within.

    Raises
    ------
    BadValue
        If some channel goes out and does not come back.
    """
    loop = survey.placed(key)
    if len(loop.returns) < loop.backs or any(c.loop.id == key and not c.closed for c in survey.once(circuits)):
        names = " and ".join([survey.units[unit].name for unit in loop.boxes])
        raise BadValue(
            f"{names} in a loop",
            width_text(loop),
            "Not every output of it carries what comes in: choose another width.",
        )


def _sockets(
    survey: Survey, boxes: Sequence[UnitId], loop: Destination
) -> list[tuple[list[BoxSocket], list[BoxSocket]]]:
    counts = [(len(box_sockets(survey, unit, "in")), len(box_sockets(survey, unit, "out"))) for unit in boxes]
    widths = widths_through(counts, loop.channels, loop.backs)
    if widths is None:
        names = " and ".join([survey.units[unit].name for unit in boxes])
        has = ", then ".join([f"{a} line input{'s' * (a != 1)} and {b} output{'s' * (b != 1)}" for a, b in counts])
        raise BadValue(
            f"{names} in a loop", width_text(loop), f"It has {has}: make the loop mono, or choose another box or width."
        )
    return [sockets_for(survey, unit, *width) for unit, width in zip(boxes, widths, strict=True)]


def _places(
    survey: Survey, loop: Destination, first: Sequence[BoxSocket], last: Sequence[BoxSocket]
) -> tuple[list[BoxSocket], list[BoxSocket]]:
    """Return the outputs and the inputs of the loop, reached as the box's sockets are: bare, behind a point, or wired to it as it stands.

    Raises
    ------
    BadValue
        If none are left.
    """
    held = {plug for cord in survey.cords for plug in cord.plugs}
    gone = {end for d in survey.destinations for end in (*d.outputs, *d.returns)}
    points: dict[PortEnd, PortEnd] = {}
    ahead: list[SocketAt] = []
    behind: list[SocketAt] = []
    ways = reached_by(survey, first), reached_by(survey, last)
    if ways[0] == "bare":
        ahead = free_outputs(survey, loop, gone)
    elif ways[0] == "point":
        for output, point in starts_of(survey, held):
            ahead.append(SocketAt(output.unit, output.number, output.end))
            points[output.end] = point
    if ways[1] == "bare":
        behind = free_inputs(survey, gone)
    elif ways[1] == "point":
        for landing in free_landings(survey, held):
            behind.append(SocketAt(UnitId(""), landing.number, landing.point, int(landing.mic)))
            points[landing.point] = landing.point
    outs = [_led_outs(survey, first)] if ways[0] == "led" else list(runs_of(ahead, loop.channels))
    backs = [_led_backs(survey, last)] if ways[1] == "led" else list(runs_of(behind, loop.backs))
    found = best_of(outs, backs, survey.session_facts.loop_numbers)
    if found is None:
        many = f"{loop.channels} outputs" if not outs else f"{loop.backs} line inputs" if not backs else "equal numbers"
        where = " at the bay" if "point" in ways else ""
        kept = (
            ""
            if outs or not kept_ahead(survey)
            else f" Outputs {in_ranges(list(map(str, sorted(kept_ahead(survey)))))} stay with the mains."
        )
        raise BadValue(f"a place for {loop.name}", "none", f"No {many}{where} that could serve are left.{kept}")
    one, other = (
        [BoxSocket(at.end, 1, way == "bare", points.get(at.end), at.end if way == "led" else None) for at in leg]
        for leg, way in zip(found, ways, strict=True)
    )
    return one, other


def _led_outs(survey: Survey, first: Sequence[BoxSocket]) -> list[SocketAt]:
    points = output_point_at(survey.output_points)
    return [SocketAt(end.unit, points[end][0].number, end) for s in first if (end := s.led) is not None]


def _led_backs(survey: Survey, last: Sequence[BoxSocket]) -> list[SocketAt]:
    found = [(end, survey.arrival(end)) for s in last if (end := s.led) is not None]
    return [SocketAt(end.unit, arrival.number if arrival is not None else 0, end) for end, arrival in found]


def _wires(
    survey: Survey, chain: Sequence[tuple[Sequence[BoxSocket], Sequence[BoxSocket]]]
) -> tuple[list[_Pair], list[CordTo]]:
    """Return the cables and the cords that join each of some sockets to its partner; none where they are joined as it stands.

    Raises
    ------
    BadValue
        If of two boxes in series one is on a bay and the other not.
    """
    cables: list[_Pair] = []
    cords: list[CordTo] = []
    for a, b in [pair for starts, ends in chain for pair in zip(starts, ends, strict=True)]:
        if a.led == b.end or b.led == a.end:
            continue
        if any(
            at == (b.end.unit, b.end.port, b.lane) for at in onward_sockets(survey, (a.end.unit, a.end.port, a.lane))
        ):
            continue
        if a.bare and b.bare:
            cables.append((a, b))
        elif a.point is not None and b.point is not None:
            cords.append(CordTo(a.point, b.point))
        else:
            one, other = survey.end_text(a.end), survey.end_text(b.end)
            raise BadValue(
                "boxes in series", f"{one} → {other}", "One is on a bay, the other is not: wire both alike first."
            )
    return cables, cords


def _cabling(pairs: Sequence[_Pair]) -> list[Edit]:
    """Return the edits that run cables between pairs of sockets; those that share a multi-way plug are one loom."""
    groups: list[list[_Pair]] = []
    for pair in pairs:
        ends = {s.end for s in pair}
        mine = [g for g in groups if any(s.end in ends for other in g for s in other)]
        groups = [*[g for g in groups if g not in mine], [*[p for g in mine for p in g], pair]]
    steps: list[Edit] = []
    for group in groups:
        plugs = list(dict.fromkeys([*[a.end for a, _ in group], *[b.end for _, b in group]]))
        if len(group) == 1 and group[0][0].lane == group[0][1].lane == 1:
            steps.append(step(connect, *plugs))
        else:
            wires = [Wire(plugs.index(a.end), a.lane, plugs.index(b.end), b.lane) for a, b in group]
            steps.append(step(make_up, plugs, wires))
    return steps


def _comes_back(survey: Survey, loop: Destination, first: Sequence[BoxSocket]) -> list[PortEnd]:
    """Return the inputs by which a loop comes back, its cords laid."""
    lanes = [(s.end.unit, s.end.port, s.lane) for s in first]
    if not loop.goes_straight:
        return all_backs(survey, lanes)[: loop.backs]
    return [end for end in come_back(survey, lanes) if end is not None]
