"""A stereo pair belongs on odd and even neighbours of one converter."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.rules.pair_sits_together import is_pair
from ennead.studio.house import SourceEnd
from ennead.survey.seats import seat_at
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a caution for every stereo source whose two sockets are no pair."""
    studio = survey.studio
    for source in studio.session_sources:
        if source.channels != 2 or source.kind == "digital":
            continue
        cables = [survey.source_cables.get(SourceEnd(source.id, c)) for c in (1, 2)]
        seats = [seat_at(survey.seats, c.end) for c in cables if c is not None]
        left, right = seats if len(seats) == 2 else (None, None)
        if left is None or right is None or is_pair(left, right):
            continue
        places = f"{studio.end_text(left.end)} and {studio.end_text(right.end)}"
        apart = left.converter != right.converter
        why = (
            "Two converters may deliver the sides at different times: the image shifts and mono sounds hollow."
            if apart
            else "It works, but pairs in the recording software are odd–even; the sides are easily swapped."
        )
        yield Finding(
            "pair_split",
            "caution" if apart else "note",
            "Lines",
            source.id,
            (source.id, left.end.unit, right.end.unit),
            f"{source.name} sits on {places}, which are no pair.",
            why,
            (Fix(f"Find a pair for {source.name}", Wish("place", source.id)),),
            (f"driver inputs {left.number} and {right.number}; a pair is odd and even, next to each other, on one unit",),
        )
