"""Every digital unit must offer the session's rate."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.session import set_rate
from ennead.standards.rates import rate_text
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield trouble for every cabled or computer-bound digital unit that cannot run at the session's rate."""
    studio = survey.studio
    for unit in studio.units.values():
        profile = studio.profiles[unit.profile]
        if not profile.is_digital or survey.rate_hz in profile.rates_hz:
            continue
        best = max((r for r in profile.rates_hz if r < survey.rate_hz), default=profile.rates_hz[0])
        text = f"Go to {rate_text(best)}"
        offered = ", ".join(rate_text(r) for r in profile.rates_hz)
        yield Finding(
            "rate_not_offered",
            "trouble",
            "Rig",
            unit.id,
            (unit.id,),
            f"{unit.name} does not run at {rate_text(survey.rate_hz)}.",
            "It may still show a steady lock light on a fibre from a faster unit, and what it then hears is wrong.",
            (Fix(text, change(text, set_rate, best)),),
            (f"{unit.name} offers {offered}", f"session: {rate_text(survey.rate_hz)}"),
        )
