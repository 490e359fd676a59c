"""What if a unit dies tonight: which lines are lost, whether the rest can carry them, and the re-patch that does it."""

from collections.abc import Callable
from dataclasses import dataclass

from ennead.edits.change import Change, step
from ennead.edits.house import remove_unit
from ennead.planning.allocation import Proposal, allocate, fixed_part
from ennead.planning.taking import take
from ennead.studio.ids import SourceId, UnitId
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
    outputs_lost : int
        Outputs that fall silent.
    renumbered : tuple of Renumbered
        Tracks whose number changes although their source stays, because numbers before them are gone.
    led_clock : bool
        Whether it led the clock of others, who then need another leader.
    change : Change or None
        The re-patch, to be carried out after the unit has been taken out; None where none is needed.
    """

    unit: UnitId
    lost: tuple[SourceId, ...]
    carried: tuple[SourceId, ...]
    left: tuple[SourceId, ...]
    moves: tuple[SourceId, ...]
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
    moves = tuple(p.source for p in proposal.placements if p.source not in lost and survey.source_cables.get((p.source, 1)) is not None)
    stays = [r for r in told.renumbered if r.source not in placed]
    led = any(c.leader == unit and c.unit != unit for c in survey.clocks.by_unit.values())
    change = None
    if proposal.count:
        name = studio.units[unit].name
        change = Change(f"Do without {name}", (step(remove_unit, unit), *take(after, proposal).steps))
    return UnitLoss(
        unit, lost, tuple(s for s in lost if s in placed), tuple(proposal.unplaced), moves,
        told.outputs[0] - told.outputs[1], tuple(stays), led, proposal, change,
    )  # fmt: skip


def lose_each(survey: Survey, keep_going: Callable[[float], bool] = lambda _: True) -> tuple[UnitLoss, ...]:
    """Return what the loss of each unit would mean, the worst first."""
    found = []
    units = list(survey.studio.units)
    for done, unit in enumerate(units):
        if not keep_going(done / len(units)):
            break
        found.append(lose_unit(survey, unit, fixed_part(keep_going, done / len(units))))
    return tuple(sorted(found, key=lambda x: (-len(x.left), -len(x.lost), -x.outputs_lost)))
