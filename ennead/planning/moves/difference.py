"""What lies between two wirings of a house, in an order in which it can be done."""

from collections.abc import Iterable, Iterator
from typing import Final, Literal, NamedTuple

from ennead.planning.moves.board import Supply
from ennead.planning.moves.moves import FALL_S, MoveStep, NoMoves
from ennead.planning.moves.scene_moves import Turn, may_join, turns_between, with_turns
from ennead.studio.house import Cable, LineEnd, PortEnd
from ennead.studio.ids import UnitId, number_of
from ennead.studio.switches import Switch
from ennead.survey.survey import Survey
from ennead.survey.wiring import Wiring

Kind = Literal[
    "mute", "power off", "48 V off", "wait", "pull", "cord", "switch", "plug", "rate", "clock", "48 V on", "power on", "unmute",
]  # fmt: skip

#: The order of the kinds of step. Loudspeakers are silent while anything they hear changes, and amplifiers off; 48 V is off, and has
#: fallen, while plugs behind it move; plugs leave before others take their sockets; the clock is set once its cables are there, the
#: leader's first.
ORDER: Final[tuple[Kind, ...]] = (
    "mute", "power off", "48 V off", "wait", "pull", "cord", "switch", "plug", "rate", "clock", "48 V on", "power on", "unmute",
)  # fmt: skip


class Step(NamedTuple):
    """One thing to do.

    Parameters
    ----------
    cable : Cable or None
        What is pulled or plugged whole.
    move : MoveStep or None
        What is done with one plug of a cord.
    turn : pair of Switch or None
        What is set, and how it stood. A copper switch stands among the cords, where it is safe.
    wait_s : int, s
    """

    kind: Kind
    cable: Cable | None = None
    move: MoveStep | None = None
    turn: Turn | None = None
    wait_s: int = 0


class Difference(NamedTuple):
    """The steps in order, and what stands in the way of some of them, in sentences."""

    steps: tuple[Step, ...]
    notes: tuple[str, ...] = ()


def difference(before: Survey, after: Survey) -> Difference:
    """Return what has to be done to get from one wiring to another of the same house."""
    old, new = before.wiring, after.wiring
    stay = {_joins(c) for c in old.in_use.values()} & {_joins(c) for c in new.in_use.values()}
    pulled, plugged = ([c for c in _numbered(w.in_use.values()) if _joins(c) not in stay] for w in (old, new))
    units = [u for u in new.settings if u in old.settings]
    turns = [t for unit in units for t in turns_between(after.studio, unit, old.settings[unit], new.settings[unit])]
    cords, notes = _cords(before, after, {c.id for c in pulled}, [t for t in turns if may_join(after.studio, t[0])])
    steps = [Step("pull", c) for c in pulled] + [Step("plug", c) for c in plugged] + list(cords)
    steps += [s for s in (_set(after, t) for t in turns) if s is not None]
    points = [s.move.point for s in cords if s.move is not None and s.move.point is not None]
    steps += _supplies(before, after, [*_ends(pulled), *points], [*_ends(plugged), *points])
    if (before.rate_hz, before.pull_ppm) != (after.rate_hz, after.pull_ppm):
        steps.append(Step("rate"))
    if steps:
        steps += [Step("mute"), Step("unmute")]
    if any(s.kind == "48 V off" for s in steps) and any(s.kind in ("pull", "cord", "plug") for s in steps):
        # The supply's capacitors hold for a while; a plug that shorts its contacts meanwhile is heard, and felt by what is plugged.
        steps.append(Step("wait", wait_s=FALL_S))
    rank = {kind: n for n, kind in enumerate(ORDER)}
    return Difference(tuple(sorted(steps, key=lambda s: (rank[s.kind], _late(after, s)))), notes)


def _joins(cable: Cable) -> tuple[object, ...]:
    """Return what a cable joins: two sessions may have planned the same one under two numbers."""
    return cable.plugs, cable.wires


def _numbered(cables: Iterable[Cable]) -> list[Cable]:
    return sorted(cables, key=lambda c: number_of(c.id))


def _ends(cables: Iterable[Cable]) -> list[PortEnd]:
    return [p for c in cables for p in c.plugs if not isinstance(p, LineEnd)]


def _set(after: Survey, turn: Turn) -> Step | None:
    """Return a switch as a step; None for one that stands elsewhere: 48 V, and what may join conductors."""
    switch = turn[0]
    if switch.what == "phantom" or may_join(after.studio, switch):
        return None
    if switch.what == "power" and _drives_ears(after, switch.unit):
        return Step("power off" if switch.value == "off" else "power on", turn=turn)
    return Step("clock" if switch.what in ("clock", "rate") else "switch", turn=turn)


def _drives_ears(survey: Survey, unit: UnitId) -> bool:
    """Say whether a box is a loudspeaker, or an amplifier of some."""
    profile = survey.profiles[unit]
    outs = [p for p in profile.ports if p.direction == "out" and not p.is_digital]
    return profile.role == "loudspeaker" or (bool(outs) and all("speaker" in p.carries for p in outs))


def _late(after: Survey, step: Step) -> int:
    """Return how far from its leader a box stands whose clock is set: the leader first."""
    if step.kind != "clock" or step.turn is None:
        return 0
    clock = after.clocks.by_unit.get(step.turn[0].unit)
    return clock.hops if clock is not None and clock.hops >= 0 else len(after.clocks.by_unit)


def _cords(
    before: Survey, after: Survey, pulled: set[str], copper: list[Turn]
) -> tuple[tuple[Step, ...], tuple[str, ...]]:
    """Return the moves of cords with the switches that may join conductors, done while cables that go are pulled and others not yet there."""
    standing, goal = before.cords, after.cords
    if not copper and {c.plugs for c in standing} == {c.plugs for c in goal}:
        return (), ()
    laid: Wiring = before.wiring._replace(in_use={k: c for k, c in before.wiring.in_use.items() if k not in pulled})
    notes: tuple[str, ...] = ()
    try:
        plan, cut = with_turns(after.studio, laid, copper, standing, goal)
        moved = [s for s in plan.steps if s.point is not None]
    except NoMoves as reason:
        # It has to be done all the same: everything out, then everything in, and it is said what is amiss.
        notes = (str(reason),)
        keep = {frozenset(c.plugs) for c in standing} & {frozenset(c.plugs) for c in goal}
        out = [
            MoveStep("pull", c.id, n, p)
            for c in standing
            if frozenset(c.plugs) not in keep
            for n, p in enumerate(c.plugs, 1)
        ]
        moved = out + [
            MoveStep("plug", c.id, n, p)
            for c in goal
            if frozenset(c.plugs) not in keep
            for n, p in enumerate(c.plugs, 1)
        ]
        cut = len(out)
    steps = [Step("cord", move=m) for m in moved]
    return (*steps[:cut], *(Step("cord", turn=t) for t in copper), *steps[cut:]), notes


def _supplies(before: Survey, after: Survey, leaving: Iterable[PortEnd], coming: Iterable[PortEnd]) -> Iterator[Step]:
    """Yield the 48 V switches: those that change, and off and on again those that are on in both while plugs behind them move."""
    was, then = ({(u, bank) for u, s in survey.settings.items() for bank in s.phantom} for survey in (before, after))
    behind = {*_behind(before, leaving), *_behind(after, coming)}
    for unit, bank in sorted(was | then):
        supply = unit, bank
        on, off = (Switch(unit, "phantom", bank, value) for value in ("on", "off"))
        if supply in was and (supply not in then or supply in behind):
            yield Step("48 V off", turn=(off, on))
        if supply in then and (supply not in was or supply in behind):
            yield Step("48 V on", turn=(on, off))


def _behind(survey: Survey, ends: Iterable[PortEnd]) -> Iterator[Supply]:
    """Yield the banks whose 48 V reaches some sockets."""
    powered = survey.named("powered_of")
    for end in ends:
        for socket in powered.get(end.unit, {}).get(end.port) or (end,):
            bank = (
                survey.profiles[socket.unit].bank_of_port.get(socket.port) if socket.unit in survey.profiles else None
            )
            if bank is not None:
                yield socket.unit, bank.key
