"""A stereo destination belongs on odd and even neighbours, or on one stereo socket."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.rules.pair_sits_together import is_output_pair
from ennead.survey.out_seats import out_seat_at
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a note for every stereo destination whose two outputs are no pair."""
    goings = [d for d in survey.studio.session_destinations if len(d.outputs) == 2 and d.outputs[0] != d.outputs[1]]
    if not goings:
        return
    seats = out_seat_at(survey.out_seats)
    for going in goings:
        left, right = (seats.get(end) for end in going.outputs)
        if left is None or right is None or is_output_pair(left[0], right[0]):
            continue
        yield Finding(
            "output_pair_split", "note", "Lines", going.id, (going.id, left[0].unit, right[0].unit),
            f"{going.name} comes out at driver outputs {left[0].number} and {right[0].number}, which are no pair.",
            "It works, but recording software offers pairs odd and even; the sides are easily swapped.",
            (), ("a pair is odd and even, next to each other, on one unit",),
        )  # fmt: skip
