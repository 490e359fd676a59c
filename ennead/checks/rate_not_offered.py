"""Every digital unit must offer the session's rate."""

from collections.abc import Iterator, Mapping

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.session import set_rate
from ennead.standards.rates import rate_text
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every cabled or computer-bound digital unit that cannot run at the session's rate."""
    rate, profiles = survey.rate_hz, survey.profiles
    for unit_id in _without(profiles, rate):
        unit, profile = survey.units[unit_id], profiles[unit_id]
        best = max((r for r in profile.rates_hz if r < survey.rate_hz), default=profile.rates_hz[0])
        text = f"Go to {rate_text(best)}"
        offered = ", ".join(rate_text(r) for r in profile.rates_hz)
        yield Finding(
            "rate_not_offered",
            "trouble",
            subject_of(unit.id),
            (unit.id,),
            f"{unit.name} does not run at {rate_text(survey.rate_hz)}.",
            "It may still show a steady lock light on a fibre from a faster unit, and what it then hears is wrong.",
            (Fix(text, change(text, set_rate, best)),),
            (f"{unit.name} offers {offered}", f"session: {rate_text(survey.rate_hz)}"),
        )


def _without(profiles: Mapping[UnitId, Profile], rate: int) -> list[UnitId]:
    return [u for u, p in profiles.items() if p.is_digital and rate not in p.rates_hz]
