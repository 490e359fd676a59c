"""A scene that was made for another session."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note where the chosen scene is kept for another session than the one at hand."""
    at = survey.at_the_bays
    if at.of and at.of != survey.session_facts.session and survey.cords:
        cord = survey.cords[0]
        yield Finding(
            "scene_of_another_evening",
            "note",
            subject_of(cord.id),
            (cord.plugs[0].unit,),
            f"“{at.scene}” is the scene of another evening.",
            "Its cords are laid for other sources. Choose tonight's scene, or keep this one for any evening.",
        )
