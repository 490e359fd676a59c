"""Exactly one leader in a domain: two free-running units slip against each other."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.checks.leading import lead_fixes, lead_working, slip_working
from ennead.edits.change import change
from ennead.edits.computer import correct_drift, leave_computer
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every domain with several leaders where none, or more than one, could lead alone."""
    units = survey.units
    for domain in survey.clocks.domains:
        if len(domain.leaders) < 2 or len(domain.possible) == 1:
            continue
        names = " and ".join(units[u].name for u in domain.leaders)
        if domain.possible:
            message = (
                f"{names} both lead the clock; only one may."
                if len(domain.leaders) == 2
                else (f"{names} all lead the clock; only one may.")
            )
            remedy = "Choose the one that leads."
        else:
            where = "in one computer" if all(_numbered(survey, u) for u in domain.leaders) else "in digital form"
            message = f"{names} meet {where}, but no cable brings one's clock to the other."
            remedy = "Join them by a digital or word-clock cable, then choose a leader."
        fixes = lead_fixes(survey, domain)
        if not fixes:
            apart = [u for u in domain.leaders[1:] if _numbered(survey, u)]
            anew = Fix("Bring them onto one clock, with the fewest new cables", Request("clock", domain.leaders[0]))
            fixes = (anew, *(_resample(survey, u) for u in apart), *(_apart(survey, u) for u in apart))
        yield Finding(
            "two_leaders",
            "trouble",
            subject_of(domain.leaders[0]),
            domain.units,
            message,
            "Their crystals differ by a few parts in a million: a sample is lost or doubled, heard as a click."
            f" {remedy}",
            fixes,
            (*lead_working(survey, domain), *slip_working(survey, domain.leaders[0], domain.leaders[1])),
        )


def _numbered(survey: Parts, unit: UnitId) -> bool:
    return unit in survey.numbering.computer_of


def _resample(survey: Parts, unit: UnitId) -> Fix:
    """Return the fall-back: the computer stretches one interface's samples to the other's clock."""
    text = f"Let the computer resample {survey.units[unit].name} (drift correction)"
    return Fix(text, change(text, correct_drift, unit, on=True))


def _apart(survey: Parts, unit: UnitId) -> Fix:
    """Return the fix that makes an interface a house of its own."""
    text = f"Use {survey.units[unit].name} apart: take it off the computer"
    return Fix(text, change(text, leave_computer, unit))
