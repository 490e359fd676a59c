"""With one fibre, audio and clock both flow one way: the unit that sends must lead."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.leading import cable_back_fixes, lead_fixes, lead_working, slip_working
from ennead.studio.subjects import subject_of
from ennead.survey.clock import Domain
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every domain with more than one leader of which only one can reach all others."""
    units = survey.units
    for domain in survey.clocks.domains:
        if len(domain.leaders) < 2 or len(domain.possible) != 1:
            continue
        (must,) = domain.possible
        other = next(u for u in domain.leaders if u != must)
        name, others = units[must].name, [units[u].name for u in domain.units if u != must]
        yield Finding(
            "one_fibre_expander_leads",
            "trouble",
            subject_of(must),
            domain.units,
            f"{_with_one(survey, domain)}{name} has to lead the clock: sound and clock both run one way, from it to "
            f"{others[0]}.",
            f"As set, {' and '.join(units[u].name for u in domain.leaders)} each run on their own crystal; you would"
            " hear a click whenever they slip by a sample, or the new inputs do not appear at all, or stay silent.",
            (*lead_fixes(survey, domain), *cable_back_fixes(survey, domain, other)),
            (*lead_working(survey, domain), *slip_working(survey, must, other)),
        )


def _with_one(survey: Parts, domain: Domain) -> str:
    """Return how the sentence begins where a single fibre is all there is."""
    inside = [
        n for n in survey.links.values() if n.digital and n.start.unit in domain.units and n.end.unit in domain.units
    ]
    fibre = len(inside) == 1 and survey.port(inside[0].start).connector == "toslink"
    return "With one fibre " if fibre else ""
