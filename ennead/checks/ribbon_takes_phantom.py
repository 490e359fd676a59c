"""A ribbon that is said to need 48 V should be an active one."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.stated_sources import stated
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every ribbon for which 48 V is asked or only guessed to be harmless."""
    for source in stated(survey).ribbons:
        if source.phantom == "needed":
            yield Finding(
                "ribbon_takes_phantom",
                "note",
                subject_of(source.id),
                (source.id,),
                f"{source.name} is a ribbon and asks for 48 V. Make sure that it is an active one.",
                "An active ribbon is silent without it; a bare ribbon can be stretched by it when a cable is faulty.",
                (),
                ("whether it may have 48 V is a fact of the microphone, not of its kind: see its manual",),
            )
