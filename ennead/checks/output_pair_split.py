"""A stereo destination belongs on odd and even neighbours, or on one stereo socket."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.rules.may_sit_beside import is_output_pair
from ennead.studio.subjects import subject_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every stereo destination on two outputs that are no pair."""
    destinations = [d for d in survey.destinations if len(d.outputs) == 2 and d.outputs[0] != d.outputs[1]]
    if not destinations:
        return
    points = output_point_at(survey.output_points)
    for destination in destinations:
        left, right = (points.get(end) for end in destination.outputs)
        if left is None or right is None or is_output_pair(left[0], right[0]):
            continue
        yield Finding(
            "output_pair_split",
            "note",
            subject_of(destination.id),
            (destination.id, left[0].unit, right[0].unit),
            f"{destination.name} comes out at driver outputs {left[0].number} and {right[0].number}, which are no"
            " pair.",
            "It works, but recording software offers pairs odd and even; the sides are easily swapped.",
            (),
            ("a pair is odd and even, next to each other, on one unit",),
            cause=at(*destination.outputs),
        )
