"""A cord with one plug in a point: a dummy on purpose, or one that was forgotten."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every cord of the scene with one end loose."""
    for cord in survey.cords:
        if len(cord.plugs) != 1:
            continue
        (point,) = cord.plugs
        text = f"Pull cord {cord.id}"
        yield Finding(
            "cord_hangs_loose",
            "note",
            subject_of(cord.id),
            (cord.id, point.unit),
            f"Cord {cord.id} is in {survey.end_text(point)} alone: its other end hangs loose.",
            "A plug breaks the normal of its point. As a dummy that is what it is for; forgotten, it keeps a signal"
            " away.",
            (Fix(text, change(text, pull_cord, cord.id)),),
            cause=at(point),
        )
