"""Fixes carried out: what a finding offers as edits stands in it, what it only wishes for is searched here, and nowhere else."""

from collections.abc import Callable, Sequence

from ennead.checks.finding import Fix
from ennead.edits.change import Change
from ennead.planning.clock.clock_plan import clock_anew
from ennead.planning.routing.placing import place_anew
from ennead.studio.errors import BadValue
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.profile import Profile
from ennead.survey.survey import Survey


def change_of(
    survey: Survey, fix: Fix, catalogue: Sequence[Profile] = (), stop: Callable[[], bool] = lambda: False
) -> Change:
    """Return what carries a fix out.

    Parameters
    ----------
    catalogue : sequence of Profile
        Boxes that could be added where something is short.
    stop : callable
        Says whether it is no longer wanted; what is found by then is returned.

    Raises
    ------
    EnneadError
        When nothing is found that would.
    """
    if isinstance(fix.does, Change):
        return fix.does
    about = fix.does.about
    if fix.does.name == "place":
        return place_anew(survey, SourceId(about))
    if fix.does.name == "clock":
        return clock_anew(survey, UnitId(about), stop)
    if fix.does.name == "allocate":
        from ennead.planning.seating.allocation import allocate
        from ennead.planning.seating.proposal_change import take

        return take(survey, allocate(survey, keep_going=lambda _: not stop()))
    from ennead.planning.growing.remedies import find_remedies

    found = find_remedies(survey, catalogue, lambda _: not stop())
    if not found:
        raise BadValue("a way out", fix.text, "No box known here helps, nor another rate, mode or place.")
    return found[0].change
