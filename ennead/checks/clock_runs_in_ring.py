"""Every clock source must lead back to a leader, not to itself."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.leading import is_idle, lead_fixes, lead_working
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble once for every ring of units that follow each other."""
    units = survey.units
    for domain in survey.clocks.domains:
        if domain.all_locked or is_idle(survey, domain):
            continue
        ring = [u for u in domain.units if survey.clocks.by_unit[u].state == "ring"]
        if not ring:
            continue
        names = " and ".join(units[u].name for u in ring)
        yield Finding(
            "clock_runs_in_ring",
            "trouble",
            subject_of(ring[0]),
            domain.units,
            f"{names} {'follows itself' if len(ring) == 1 else 'follow each other'}; nobody leads.",
            "A ring of followers wanders off or never locks: everything digital clicks or stays silent.",
            lead_fixes(survey, domain),
            lead_working(survey, domain),
        )
