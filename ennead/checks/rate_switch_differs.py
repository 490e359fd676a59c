"""A unit's own rate switch must stand at the session's rate."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.settings import set_own_rate
from ennead.standards.rates import rate_text
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every unit with its switch at another rate."""
    all_settings = survey.settings
    for unit, settings in all_settings.items():
        if settings.rate_hz is None or settings.rate_hz == survey.rate_hz:
            continue
        name, rates = survey.units[unit].name, survey.profiles[unit].rates_hz
        own, session = rate_text(settings.rate_hz or 0), rate_text(survey.rate_hz)
        fixes: tuple[Fix, ...] = ()
        if survey.rate_hz in rates:
            text = f"Set {name} to {session}"
            fixes = (Fix(text, change(text, set_own_rate, unit, survey.rate_hz)),)
        leads = survey.clocks.by_unit[unit].state == "leads" if unit in survey.clocks.by_unit else False
        yield Finding(
            "rate_switch_differs",
            "trouble",
            subject_of(unit),
            (unit,),
            f"{name}'s own rate switch stands at {own}, the session runs at {session}.",
            "As the leader it pulls everybody to the wrong rate: takes play back at the wrong pitch."
            if leads
            else "It cannot lock to what arrives, and its channels stay silent or are noise.",
            fixes,
            (f"{own} against {session}: a wrong rate, not a drift, so there is no slip time",),
        )
