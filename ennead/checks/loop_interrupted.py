"""A loop that this scene does not connect is none while the scene is in force."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.interrupted import interruption, interruption_text
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every loop that a cord of the scene takes apart, or that is patched in another scene alone."""
    for loop in survey.destinations:
        if loop.kind != "loop" or not loop.at or (loop.outputs and loop.returns):
            continue
        found = interruption(survey, loop)
        if found is None:
            continue
        yield Finding(
            "loop_interrupted",
            "note",
            subject_of(loop.id),
            (loop.id,),
            f"{loop.name} is not connected in this scene: {interruption_text(survey, found)}.",
            "While this scene is in force the box is for others, as when one tracks over the same inputs. Take the"
            " insert off in the software, or the track is silent; choose the loop's own scene before you mix.",
            cause=at(found.point),
        )
