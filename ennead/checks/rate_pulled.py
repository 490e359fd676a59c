"""A session off its rate: the leader has to be set so, and everything that follows goes along."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.clock import pulled_hz
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts
from ennead.survey.words import samples_text


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for the leader of every domain of a session that runs off its nominal rate."""
    pull = survey.pull_ppm
    if not pull:
        return
    for domain in survey.clocks.domains:
        for leader in domain.leaders:
            name = survey.units[leader].name
            yield Finding(
                "rate_pulled",
                "note",
                subject_of(leader),
                (leader,),
                f"{name} has to run at {samples_text(survey)}: set it there, by hand or through the software.",
                "Only the leader is set; word clock and every digital cable carry the same rate on. Music plays slower"
                " or faster with it, and a box on its own crystal slips against it at once.",
                (),
                (
                    f"{survey.rate_hz} Hz × (1 {'−' if pull < 0 else '+'} {abs(pull):g} × 10⁻⁶) ="
                    f" {pulled_hz(survey.rate_hz, pull):,.3f} Hz".replace(",", " "),
                    f"{len(domain.units) - 1} units follow",
                ),
            )
