"""More sources than inputs of a kind: said before anybody starts to plug."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.rates import rate_text
from ennead.survey.balance import balance
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield trouble for every kind of input the session needs more of than there is at this rate."""
    if not survey.studio.units:
        return
    for need in balance(survey):
        if need.needed <= need.available:
            continue
        rate = rate_text(survey.rate_hz)
        yield Finding(
            "not_enough_inputs",
            "trouble",
            "Session",
            need.key,
            need.sources,
            f"{need.needed} {need.label} are needed and {need.available} are there at {rate}.",
            f"{need.needed - need.available} would have nowhere to go. Connect an expander, add a preamp, or lower the rate.",
            (),
            (f"needed {need.needed} − available {need.available} = {need.needed - need.available} short",),
        )
