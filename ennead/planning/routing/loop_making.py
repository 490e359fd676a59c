"""A loop made of boxes: free outputs and inputs found for it, the cables between, the sends fixed at full level."""

from collections.abc import Callable, Sequence

from ennead.edits.cables import connect
from ennead.edits.change import Change, Edit, step
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.loop_use import set_loop_use
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import fixed_sends, take
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.profile import Port
from ennead.survey.survey import Survey

#: Roles of boxes that can work on a signal, those made for it first.
LOOP_ROLES = ("processor", "preamp", "console", "instrument")


def free_boxes(survey: Survey) -> list[UnitId]:
    """Return the boxes that could stand in a loop and stand in none of the session's, those that work on sound first."""
    held = {box for d in survey.destinations for box in d.boxes}
    profiles = survey.profiles
    boxes = [u for u, p in profiles.items() if p.role in LOOP_ROLES and u not in held and not p.driver_maps]
    return sorted(boxes, key=lambda u: LOOP_ROLES.index(profiles[u].role))


def channels_of(survey: Survey, unit: UnitId) -> int:
    """Return how many channels of a box can be in a loop, at most two."""
    return max(1, min(2, *[sum(p.channels for p in _sockets(survey, unit, way)) for way in ("in", "out")]))


def make_loop(
    survey: Survey,
    name: str,
    boxes: Sequence[UnitId],
    channels: int,
    *,
    parallel: bool = False,
    keep_going: Callable[[float], bool] = lambda _: True,
) -> Change:
    """Return the change that puts a loop on the session's list and wires it through some boxes in series.

    Boxes that stand wired from an output round to an input keep their cables. For others free places are found as Allocate finds them, for
    the loop alone, and the cables run: to the first box, from each to the next, from the last one back.

    Raises
    ------
    BadValue
        If a box is wired to something else, has too few channels, or no place is left.
    """
    studio = survey.studio
    key = DestinationId(f"D{studio.counters.get('D', 0) + 1}")
    steps: list[Edit] = [step(add_destination, name, "loop", channels=channels)]
    if parallel:
        steps.append(step(set_loop_use, key, parallel=True))
    label = f"Make the loop {name}"
    for edit in steps:
        studio = edit(studio)
    if not boxes:
        return Change(label, tuple(steps))
    stands = next((w for w in survey.wired_loops if set(boxes) <= set(w.boxes)), None)
    if stands is not None:
        ends = [PortEnd(w.output[0], w.output[1]) for w in stands.ways][:channels]
        backs = [w.back for w in stands.ways][:channels]
        if len(ends) < channels:
            raise BadValue("the width of a loop", channels, f"It is wired with {len(ends)}.")
        return Change(label, (*steps, step(send_out, key, ends, backs)))
    sockets = [_free_sockets(survey, unit, channels) for unit in boxes]
    trial = Survey(studio)
    proposal = allocate(trial, keep_going=keep_going)
    place = next((p for p in proposal.outs if p.destination == key), None)
    if place is None:
        why = (proposal.unplaced_outs or {}).get(key, "Every output or input that could serve is taken.")
        raise BadValue(f"a place for {name}", "none", f"{why[:1].upper()}{why[1:].rstrip('.')}.")
    # Places behind cords are taken as Allocate takes them; the cords are its own.
    if proposal.cords.get(key):
        return Change(label, (*steps, *take(trial, proposal, [key]).steps))
    for n in range(channels):
        chain = [place.outputs[n], *[end for ins, outs in sockets for end in (ins[n], outs[n])], place.returns[n]]
        steps += [step(connect, chain[i], chain[i + 1]) for i in range(0, len(chain), 2)]
    steps.append(step(send_out, key, place.outputs, place.returns))
    steps += fixed_sends(survey, place.outputs)
    return Change(label, tuple(steps))


def _sockets(survey: Survey, unit: UnitId, way: str) -> list[Port]:
    ports = [p for p in survey.profiles[unit].ports if p.direction == way and not p.is_digital and p.wiring != "multi"]
    return [p for p in ports if "line" in p.carries] or ports


def _free_sockets(survey: Survey, unit: UnitId, channels: int) -> tuple[list[PortEnd], list[PortEnd]]:
    """Return the inputs and outputs of a box that a loop can have.

    Raises
    ------
    BadValue
    """
    name = survey.units[unit].name
    found: list[list[PortEnd]] = []
    for way, word in (("in", "input"), ("out", "output")):
        ends = [PortEnd(unit, p.key) for p in _sockets(survey, unit, way) for _ in range(p.channels)]
        if len(ends) < channels:
            many = f"{len(ends)} line {word}{'s' if len(ends) != 1 else ''}"
            raise BadValue(f"{name} in a loop", channels, f"It has {many}: make the loop mono, or choose another box.")
        taken = next((end for end in ends[:channels] if end in survey.plugs), None)
        if taken is not None:
            raise BadValue(
                f"{name} in a loop",
                survey.end_text(taken),
                "It is wired already: lay its cords in a scene, or pull that cable first.",
            )
        found.append(ends[:channels])
    return found[0], found[1]
