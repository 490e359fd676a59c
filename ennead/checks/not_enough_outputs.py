"""More destinations than outputs of a kind: reported before the first cable is plugged."""

from collections.abc import Iterator

from ennead.checks.advice import more_outputs
from ennead.checks.finding import Finding, Fix, Request
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.standards.rates import rate_text
from ennead.studio.subjects import Subject
from ennead.survey.balance import output_balance
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every kind of output the session needs more of than there is at this rate."""
    if not survey.units or not survey.destinations:
        return
    kept = kept_for_mains(survey.session_facts, survey.destinations, survey.output_points)
    for need in output_balance(survey, kept):
        if need.needed > need.available:
            yield Finding(
                "not_enough_outputs",
                "trouble",
                Subject("need", need.key),
                need.sources,
                f"{need.needed} {need.label} are needed and {need.available} are there at {rate_text(survey.rate_hz)}.",
                f"{need.needed - need.available} would have nowhere to go. {more_outputs(survey)}",
                (Fix("See what binds and what helps", Request("shortage", need.key)),),
                (f"needed {need.needed} − available {need.available} = {need.needed - need.available} short",),
            )
