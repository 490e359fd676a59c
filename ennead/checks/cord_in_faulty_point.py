"""No cord in a point that is out of service."""

from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every cord of the scene in a point that is out of service."""
    if not survey.faults:
        return
    for cord in survey.cords:
        for point in cord.plugs:
            note = survey.faults.get(point.unit, {}).get(point.port)
            if note is not None:
                text = f"Pull {cord_text(survey, cord)}"
                yield Finding(
                    "cord_in_faulty_point",
                    "caution",
                    subject_of(cord.id),
                    (cord.id, point.unit),
                    f"Cord {cord.id} is in {survey.end_text(point)}, which is out of service: {note}.",
                    "What is scratchy at noon is silent in the take. Lay it by another point.",
                    (Fix(text, change(text, pull_cord, cord.id)),),
                    cause=at(point),
                )
