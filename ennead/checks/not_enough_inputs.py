"""More sources than inputs of a kind: reported before the first cable is plugged."""

from collections.abc import Iterator

from ennead.checks.advice import more_inputs
from ennead.checks.finding import Finding, Fix, Request
from ennead.edits.change import Change, change, step
from ennead.edits.session import remove_source, set_rate
from ennead.standards.rates import is_faster, rate_text, single_speed_of, speed_of
from ennead.studio.ids import SourceId
from ennead.studio.subjects import Subject
from ennead.survey.balance import Need, balance
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every kind of input the session needs more of than there is at this rate."""
    if not survey.units:
        return
    short = [need for need in balance(survey) if need.needed > need.available]
    advice = more_inputs(survey, [need.key for need in short]) if short else {}
    for need in short:
        rate = rate_text(survey.rate_hz)
        yield Finding(
            "not_enough_inputs",
            "trouble",
            Subject("need", need.key),
            need.sources,
            f"{need.needed} {need.label} are needed and {need.available} are there at {rate}.",
            f"{need.needed - need.available} would have nowhere to go. {advice[need.key]}",
            _fixes(survey, need),
            (f"needed {need.needed} − available {need.available} = {need.needed - need.available} short",),
        )


def _fixes(survey: Parts, need: Need) -> tuple[Fix, ...]:
    """Return the lower rate, where there is one, and the list without its last sources of that kind."""
    fixes = []
    if is_faster(speed_of(survey.rate_hz), "single"):
        slow = single_speed_of(survey.rate_hz)
        text = f"Go to {rate_text(slow)}"
        fixes.append(Fix(text, change(text, set_rate, slow)))
    short, gone = need.needed - need.available, list[SourceId]()
    for source in (SourceId(s) for s in reversed(need.sources)):
        if short <= 0:
            break
        gone.append(source)
        short -= survey.source_by_id[source].channels
    text = f"Leave out the last {len(gone)} of them"
    if len(gone) <= 2:
        text = f"Leave out {', '.join(survey.source_by_id[s].name for s in reversed(gone))}"
    fixes.append(Fix(text, Change(text, tuple(step(remove_source, s) for s in gone))))
    fixes.append(Fix("See what binds and what helps", Request("shortage", need.key)))
    return tuple(fixes)
