"""The moves from one scene to another with the switches that are set meanwhile: 48 V off before a plug moves, everything else after."""

from collections.abc import Callable, Sequence
from itertools import accumulate
from typing import Final, Literal

from ennead.checks.phantom_reaches_forbidden import harmful_banks
from ennead.edits.scene_switches import settings_in
from ennead.edits.scenes import cords_in
from ennead.planning.moves.contact_state import ContactState, contact_state_of
from ennead.planning.moves.matching import CordDemand, match
from ennead.planning.moves.moves import (
    FALL_S,
    MovePlan,
    MoveStep,
    NoMoves,
    contact_text,
    kind_of,
    moves,
    needs_m,
    on_the_hook,
)
from ennead.planning.moves.ordering import Fronts, Patience
from ennead.planning.moves.step_order import RANK, Kind, hops_of, kind_of_switch
from ennead.studio.bays import Cord
from ennead.studio.document import Studio
from ennead.studio.house import Settings
from ennead.studio.ids import SceneId, UnitId
from ennead.studio.switches import Switch, switched, switches
from ennead.survey.nets import Contact
from ennead.survey.survey import Survey, wiring
from ennead.survey.view import View
from ennead.survey.wiring import Wiring

#: A switch as it is to stand, and as it stood.
Turn = tuple[Switch, Switch]


def scene_moves(
    studio: Studio, start: SceneId | None, end: SceneId | None, stop: Callable[[], bool] = lambda: False
) -> MovePlan:
    """Return the moves from one scene to another, or to back to normals; None stands for what stands.

    Parameters
    ----------
    stop : callable
        Says whether they are no longer wanted.

    Raises
    ------
    NoMoves
        If a cord is lacking, or two outputs would have to meet on the way.
    """
    standing, goal = cords_in(studio, start), cords_in(studio, end)
    now, then = settings_in(studio, start), settings_in(studio, end)
    turns = [turn for unit in now for turn in turns_between(studio, unit, now[unit], then[unit])]
    laid = wiring(studio)._replace(settings={**studio.in_force, **now})
    off = [t for t in turns if t[0].what == "phantom" and t[0].value == "off"]
    others = [t for t in turns if t[0].what != "phantom"]
    plan, cut = with_turns(studio, _turned(studio, laid, off), others, standing, goal, Patience(stop))
    after = Survey(studio, view=View(scene=end))
    if turns:
        plan = plan._replace(steps=_in_order(after, plan.steps, turns, cut))
    return plan if end is None else _harmless(studio, after, plan)


def _harmless(studio: Studio, goal: Survey, plan: MovePlan) -> MovePlan:
    """Return moves that do not switch 48 V on where it would reach a source that forbids it, and say so."""
    if all(s.action != "phantom-on" for s in plan.steps):
        return plan
    banks = harmful_banks(goal)
    steps = tuple([s for s in plan.steps if s.action != "phantom-on" or s.on not in banks])
    said = dict.fromkeys(
        f"48 V of {studio.units[unit].name} stays off: it would reach {studio.sources[source].name}, which forbids it."
        for (unit, bank), source in banks.items()
        if any(s.action == "phantom-on" and s.on == (unit, bank) for s in plan.steps)
    )
    return plan._replace(steps=steps, stays_off=tuple(said))


def with_turns(
    studio: Studio,
    laid: Wiring,
    turns: Sequence[Turn],
    standing: Sequence[Cord],
    goal: Sequence[Cord],
    patience: Patience | None = None,
) -> tuple[MovePlan, int]:
    """Return the moves from some cords to others, and after how many of them switches are set that may join conductors.

    Parameters
    ----------
    laid : Wiring
        What is cabled meanwhile, and how the boxes stand before the switches are set.

    Raises
    ------
    NoMoves
        If a cord is lacking, or two outputs would have to meet on the way.
    """
    before, after = _fronts(standing), _fronts(goal)
    boards = [contact_state_of(studio, s) for s in _copper_states(studio, laid, turns)]
    may = _meeting(boards[0], before) | _meeting(boards[-1], after)
    late, early = ([m for b in boards for m in _meeting(b, fronts) - may] for fronts in (after, before))
    if late and early:
        return _in_two(studio, boards, standing, goal, tuple(sorted(late[0])), patience)
    if late:
        return moves(studio, standing, goal, boards[-1], patience), 0
    plan = moves(studio, standing, goal, boards[0], patience)
    return plan, plan.movements


def _in_two(
    studio: Studio,
    boards: Sequence[ContactState],
    standing: Sequence[Cord],
    goal: Sequence[Cord],
    met: tuple[Contact, ...],
    patience: Patience | None,
) -> tuple[MovePlan, int]:
    """Return moves that pull every cord that does not stay, and plug the others once the switches are set; and how many pulls there are.

    Raises
    ------
    NoMoves
        If that will not do either.
    """
    wanted = {frozenset(c.plugs) for c in goal}
    stays = [c for c in standing if frozenset(c.plugs) in wanted]
    may = _meeting(boards[0], _fronts(standing)) | _meeting(boards[-1], _fronts(goal))
    if any(_meeting(board, _fronts(stays)) - may for board in boards):
        names = " and ".join(contact_text(studio, c) for c in met)
        raise NoMoves(f"Whenever its switches are set, {names} meet for a moment.", "Switch one of them off first.")
    out = moves(studio, standing, stays, boards[0], patience)
    back = moves(studio, stays, goal, boards[-1], patience)
    hook = on_the_hook(studio.stock, standing)
    needs = [CordDemand(c.plugs, kind_of(c), needs_m(studio.bays, c.plugs)) for c in goal]
    bound = match([(c.plugs, kind_of(c)) for c in standing], needs, hook).movements
    count = out.movements + back.movements
    return (
        MovePlan(
            (*out.steps, *back.steps),
            count,
            bound,
            count == bound,
            ((met[0], met[1]),) if count > bound else (),
            back.from_hook,
        ),
        out.movements,
    )


def _fronts(cords: Sequence[Cord]) -> Fronts:
    fronts = Fronts()
    for cord in cords:
        fronts.lay(cord.plugs)
    return fronts


def _in_order(after: Survey, steps: Sequence[MoveStep], turns: Sequence[Turn], cut: int) -> tuple[MoveStep, ...]:
    """Return all steps in the one order; what may join conductors is set after so many of the plugs."""
    studio = after.studio
    found: list[tuple[Kind, MoveStep]] = []
    plugs = [s for s in steps if s.point is not None]
    loud = dict.fromkeys(s.on for s in steps if s.action == "mute")
    # What a switch lets be heard is not followed: every loudspeaker is muted while one is set.
    loud |= dict.fromkeys(
        u.id
        for u in studio.units.values()
        if not studio.settings_of(u.id).off and studio.profile_of(u.id).role == "loudspeaker"
    )
    found += [(kind, MoveStep(kind, on=unit)) for unit in loud for kind in _SILENT]
    supplies = [(kind_of_switch(after, t[0]), t) for t in turns if t[0].what == "phantom"]
    found += [
        ("48 V off", MoveStep("phantom-off", on=(t[0].unit, t[0].key), turn=t))
        for kind, t in supplies
        if kind == "48 V off"
    ]
    for action, kind in _SUPPLIES:
        found += [(kind, s) for s in dict.fromkeys(s for s in steps if s.action == action)]
    found += [
        ("48 V on", MoveStep("phantom-on", on=(t[0].unit, t[0].key), turn=t))
        for kind, t in supplies
        if kind == "48 V on"
    ]
    if any(kind == "48 V off" for kind, _ in found):
        found.append(("wait", MoveStep("wait", wait_s=FALL_S)))
    found += [("cord", s) for s in plugs[:cut]]
    found += [
        (kind_of_switch(after, t[0]), MoveStep("switch", on=t[0].unit, turn=t)) for t in turns if t[0].what != "phantom"
    ]
    found += [("cord", s) for s in plugs[cut:]]

    def rank(entry: tuple[Kind, MoveStep]) -> tuple[int, int]:
        turn = entry[1].turn
        return RANK[entry[0]], hops_of(after, turn[0]) if turn is not None else 0

    return tuple([step for _, step in sorted(found, key=rank)])


_SILENT: Final[tuple[Literal["mute", "unmute"], ...]] = ("mute", "unmute")
_SUPPLIES: Final[tuple[tuple[str, Kind], ...]] = (("phantom-off", "48 V off"), ("phantom-on", "48 V on"))


def turns_between(studio: Studio, unit: UnitId, now: Settings, then: Settings) -> list[Turn]:
    """Return what has to be switched on a box to get from one setting to another, and how each switch stood."""
    profile = studio.profile_of(unit)
    back = {(s.what, s.key): s for s in switches(unit, profile, then, now)}
    return [(s, back[s.what, s.key]) for s in switches(unit, profile, now, then)]


def _turned(studio: Studio, laid: Wiring, turns: Sequence[Turn]) -> Wiring:
    found = dict(laid.settings)
    for switch, _ in turns:
        found[switch.unit] = switched(found[switch.unit], studio.profile_of(switch.unit), switch)
    return laid._replace(settings=found)


def _copper_states(studio: Studio, laid: Wiring, turns: Sequence[Turn]) -> list[Wiring]:
    """Return what is there at first, after each switch that may join conductors, and at last."""
    copper = [t for t in turns if t[0].what == "mode" and studio.profile_of(t[0].unit).joins_any]
    states = accumulate(copper, lambda at, turn: _turned(studio, at, [turn]), initial=laid)
    return [*states, _turned(studio, laid, turns)]


def _meeting(board: ContactState, fronts: Fronts) -> set[frozenset[Contact]]:
    parties: dict[int, list[Contact]] = {}
    for contact, number in board.parties(fronts.at).items():
        parties.setdefault(number, []).append(contact)
    return {frozenset((a, b)) for party in parties.values() for n, a in enumerate(party) for b in party[n + 1 :]}
