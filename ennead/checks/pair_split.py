"""A stereo pair belongs on odd and even neighbours of one converter."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.rules.pair_sits_together import is_pair
from ennead.studio.session import Source
from ennead.survey.seats import Seat
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a caution for every stereo source whose two sockets are no pair."""
    studio = survey.studio
    reads = (studio.sources, studio.current, survey.source_cables, survey.seats)
    for source, left, right in survey.part("pair_split", reads, lambda: _apart(survey)):
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
            (source.id, left.unit, right.unit),
            f"{source.name} sits on {places}, which are no pair.",
            why,
            (Fix(f"Find a pair for {source.name}", Wish("place", source.id)),),
            (f"driver inputs {left.number} and {right.number}; a pair is odd and even, next to each other, on one unit",),
        )


def _apart(survey: Survey) -> list[tuple[Source, Seat, Seat]]:
    found = []
    listed = (survey.studio.sources, survey.studio.current)
    for source in survey.part("stereo", listed, lambda: _stereo(survey)):
        cables = [survey.source_cables.get((source.id, c)) for c in (1, 2)]
        seats = [survey.seat_at.get((c.end.unit, c.end.port)) for c in cables if c is not None]
        left, right = seats if len(seats) == 2 else (None, None)
        if left is not None and right is not None and not is_pair(left, right):
            found.append((source, left, right))
    return found


def _stereo(survey: Survey) -> list[Source]:
    return [s for s in survey.studio.session_sources if s.channels == 2 and s.kind != "digital"]
