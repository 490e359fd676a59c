"""Two units that can follow no other can never be in step with each other."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.leading import slip_working
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every domain in which several units have no clock input at all."""
    without = survey.once(_without)
    for domain in survey.clocks.domains if len(without) > 1 else ():
        deaf = [u for u in domain.units if u in without]
        if len(deaf) < 2:
            continue
        names = " and ".join(survey.units[u].name for u in deaf)
        yield Finding(
            "two_cannot_follow",
            "trouble",
            subject_of(deaf[0]),
            tuple(deaf),
            f"{names} can follow nobody, so no unit can lead them all.",
            "Each runs on its own crystal for ever: a sample is lost or doubled again and again, heard as a click. Join"
            " one of them by its analogue sockets, or through an input that resamples.",
            (),
            (
                *(f"{survey.units[u].name}'s clock menu has no entry that comes in by a socket" for u in deaf),
                *slip_working(survey, deaf[0], deaf[1]),
            ),
        )


def _without(survey: Parts) -> set[UnitId]:
    """Return the digital units that have no clock input."""
    return {u for u, p in survey.profiles.items() if p.is_digital and not any(c.port for c in p.clock_sources)}
