"""What lies between two wirings of a house, in an order in which it can be done."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ennead.checks.phantom_reaches_forbidden import harmful_banks
from ennead.planning.moves.contact_state import Supply
from ennead.planning.moves.moves import FALL_S, MoveStep, NoMoves
from ennead.planning.moves.scene_moves import Turn, turns_between, with_turns
from ennead.planning.moves.step_order import RANK, Kind, hops_of, kind_of_switch
from ennead.studio.house import Cable, LineEnd, PortEnd
from ennead.studio.ids import number_of
from ennead.studio.switches import Switch
from ennead.survey.survey import Survey
from ennead.survey.wiring import Wiring


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
    cords, notes = _cords(
        before, after, {c.id for c in pulled}, [t for t in turns if kind_of_switch(after, t[0]) == "cord"]
    )
    steps = [Step("pull", c) for c in pulled] + [Step("plug", c) for c in plugged] + list(cords)
    # 48 V, and what may join conductors, have places of their own.
    kinds = [(kind_of_switch(after, t[0]), t) for t in turns if t[0].what != "phantom"]
    steps += [Step(kind, turn=t) for kind, t in kinds if kind != "cord"]
    points = [s.move.point for s in cords if s.move is not None and s.move.point is not None]
    steps += _supplies(before, after, [*_ends(pulled), *points], [*_ends(plugged), *points])
    if (before.rate_hz, before.pull_ppm) != (after.rate_hz, after.pull_ppm):
        steps.append(Step("rate"))
    if steps:
        steps += [Step("mute"), Step("unmute")]
    if any(s.kind == "48 V off" for s in steps) and any(s.kind in ("pull", "cord", "plug") for s in steps):
        # The supply's capacitors hold for a while; a plug that shorts its contacts meanwhile is heard, and felt by what is plugged.
        steps.append(Step("wait", wait_s=FALL_S))
    ordered = sorted(steps, key=lambda s: (RANK[s.kind], hops_of(after, s.turn[0]) if s.turn is not None else 0))
    return Difference(tuple(ordered), (*notes, *_harm(after, ordered)))


def _harm(after: Survey, steps: Iterable[Step]) -> Iterator[str]:
    """Yield a caution for each bank that is switched on where it reaches a source that forbids 48 V."""
    on = {(s.turn[0].unit, s.turn[0].key) for s in steps if s.kind == "48 V on" and s.turn is not None}
    for (unit, bank), source in harmful_banks(after).items() if on else ():
        if (unit, bank) in on:
            studio = after.studio
            yield (
                f"48 V of {studio.units[unit].name} would reach {studio.sources[source].name}, which forbids it: leave"
                " it off."
            )


def _joins(cable: Cable) -> tuple[object, ...]:
    """Return what a cable joins: two sessions may have planned the same one under two numbers."""
    return cable.plugs, cable.wires


def _numbered(cables: Iterable[Cable]) -> list[Cable]:
    return sorted(cables, key=lambda c: number_of(c.id))


def _ends(cables: Iterable[Cable]) -> list[PortEnd]:
    return [p for c in cables for p in c.plugs if not isinstance(p, LineEnd)]


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
    """Yield the 48 V banks that reach some sockets."""
    powered = survey.named("powered_of")
    for end in ends:
        for socket in powered.get(end.unit, {}).get(end.port) or (end,):
            bank = (
                survey.profiles[socket.unit].bank_of_port.get(socket.port) if socket.unit in survey.profiles else None
            )
            if bank is not None:
                yield socket.unit, bank.key
