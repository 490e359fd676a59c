"""Where another unit leads, the rate is set by hand, twice."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.rates import rate_text
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every computer with interfaces that follow a unit that is none of them."""
    on_computer = survey.numbering.computer_of
    for domain in survey.clocks.domains:
        if len(domain.leaders) != 1 or domain.leaders[0] in on_computer:
            continue
        followers = [u for u in domain.units if u in on_computer]
        if not followers:
            continue
        leader, rate = survey.units[domain.leaders[0]].name, rate_text(survey.rate_hz)
        yield Finding(
            "rate_by_hand",
            "note",
            subject_of(domain.leaders[0]),
            (domain.leaders[0], *followers),
            f"{leader} leads: set {rate} by hand on {leader}, and again in the software.",
            "The software cannot set the rate of a box it does not see. If the two differ, takes play back at the wrong"
            " pitch.",
            (),
            (
                f"1. {leader}: {rate}",
                f"2. software, through {' and '.join(survey.units[u].name for u in followers)}: {rate}",
            ),
        )
