"""What if a unit dies tonight: which lines are lost, whether the rest can carry them, and the re-patch that does it."""

from collections.abc import Callable
from dataclasses import dataclass

from ennead.edits.change import Change, step
from ennead.edits.house import remove_unit
from ennead.planning.seating.allocation import Proposal, allocate, fixed_part
from ennead.planning.seating.proposal_change import take
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.studio.session import PlacedDestination
from ennead.survey.output_points import output_point_at
from ennead.survey.rehearsal import Renumbered, rehearse
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class UnitLoss:
    """One unit's loss.

    Parameters
    ----------
    lost : tuple of SourceId
        Sources that no longer arrive.
    carried : tuple of SourceId
        Those of them that the rest can carry.
    left : tuple of SourceId
        All that would be without an input after the re-patch.
    moves : tuple of SourceId
        Others that must move for it.
    silent : tuple of DestinationId
        Destinations that no longer have all their outputs, or a loop its returns.
    carried_outs, left_outs : tuple of DestinationId
        Those of them that the rest can carry; all that would be without an output after the re-patch.
    outputs_lost : int
        Driver outputs that are gone.
    renumbered : tuple of Renumbered
        Tracks that get another number although their source stays, because numbers before them are gone.
    led_clock : bool
        Whether it led the clock of other units, which then need another leader.
    change : Change or None
        The re-patch, to be carried out after the unit has been taken out; None where none is needed.
    """

    unit: UnitId
    lost: tuple[SourceId, ...]
    carried: tuple[SourceId, ...]
    left: tuple[SourceId, ...]
    moves: tuple[SourceId, ...]
    silent: tuple[DestinationId, ...]
    carried_outs: tuple[DestinationId, ...]
    left_outs: tuple[DestinationId, ...]
    outputs_lost: int
    renumbered: tuple[Renumbered, ...]
    led_clock: bool
    proposal: Proposal
    change: Change | None


def lose_unit(survey: Survey, unit: UnitId, keep_going: Callable[[float], bool] = lambda _: True) -> UnitLoss:
    """Return what the loss of a unit means for the current session."""
    studio = survey.studio
    after = Survey(remove_unit(studio, unit))
    told = rehearse(survey, after)
    lost = tuple(dict.fromkeys(r.of.id for r in told.lost if r.of is not None))
    proposal = allocate(after, keep_going=keep_going)
    placed = {p.source for p in proposal.placements}
    moves = tuple(
        p.source for p in proposal.placements if p.source not in lost and survey.leads.get((p.source, 1)) is not None
    )
    stays = [r for r in told.renumbered if r.source not in placed]
    led = any(c.leader == unit and c.unit != unit for c in survey.clocks.by_unit.values())
    silent = tuple(d.id for d in survey.destinations if _falls_silent(survey, after, d))
    new_outs = {p.destination for p in proposal.outs}
    change = None
    if proposal.changes:
        name = studio.units[unit].name
        change = Change(f"Do without {name}", (step(remove_unit, unit), *take(after, proposal).steps))
    return UnitLoss(
        unit,
        lost,
        tuple(s for s in lost if s in placed),
        tuple(proposal.unplaced),
        moves,
        silent,
        tuple(d for d in silent if d in new_outs),
        tuple(proposal.unplaced_outs or ()),
        told.outputs[0] - told.outputs[1],
        tuple(stays),
        led,
        proposal,
        change,
    )


def _falls_silent(before: Survey, after: Survey, destination: PlacedDestination) -> bool:
    """Say whether a destination that had a way out, and a loop a way back, has it no longer."""
    then, now = output_point_at(before.output_points), output_point_at(after.output_points)
    out = any(end in then and end not in now for end in destination.outputs)
    return out or any(
        before.arrival(e) is not None and (e.unit not in after.profiles or after.arrival(e) is None)
        for e in destination.returns
    )


def lose_each(survey: Survey, keep_going: Callable[[float], bool] = lambda _: True) -> tuple[UnitLoss, ...]:
    """Return what the loss of each unit would mean, the worst first."""
    found = []
    units = list(survey.studio.units)
    for done, unit in enumerate(units):
        if not keep_going(done / len(units)):
            break
        found.append(lose_unit(survey, unit, fixed_part(keep_going, done / len(units))))
    return tuple(sorted(found, key=_weight))


def _weight(loss: UnitLoss) -> tuple[int, ...]:
    return -len(loss.left) - len(loss.left_outs), -len(loss.lost) - len(loss.silent), -loss.outputs_lost
