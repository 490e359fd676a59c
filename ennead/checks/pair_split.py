"""A stereo pair belongs on odd and even neighbours of one converter."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.rules.may_sit_beside import is_pair
from ennead.studio.ids import UnitId
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.input_points import InputPoint
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every stereo source on two sockets that are no pair."""
    for source, left, right in split_pairs(survey):
        places = f"{survey.end_text(left.end)} and {survey.end_text(right.end)}"
        apart = left.converter != right.converter
        why = (
            "Two converters may deliver the sides at different times: the image shifts and mono sounds hollow."
            if apart
            else "It works, but pairs in the recording software are odd–even; the sides are easily swapped."
        )
        yield Finding(
            "pair_split",
            "caution" if apart else "note",
            subject_of(source.id),
            (source.id, left.unit, right.unit),
            f"{source.name} sits on {places}, which are no pair.",
            why,
            (Fix(f"Find a pair for {source.name}", Request("place", source.id)),),
            (
                (
                    f"driver inputs {left.number} and {right.number}; a pair is odd and even, next to each other, on"
                    " one unit"
                ),
            ),
            cause=at(left.end, right.end),
        )


def split_pairs(survey: Parts) -> list[tuple[Source, InputPoint, InputPoint]]:
    """Return the stereo sources on two sockets that are no pair, with these."""
    return survey.once(_apart)


def _apart(survey: Parts) -> list[tuple[Source, InputPoint, InputPoint]]:
    found = []
    input_point_at = survey.input_point_at
    for source, one, other in survey.once(_stereo):
        left, right = input_point_at.get(one), input_point_at.get(other)
        if left is not None and right is not None and not is_pair(left, right):
            found.append((source, left, right))
    return found


def _stereo(survey: Parts) -> list[tuple[Source, tuple[UnitId, str], tuple[UnitId, str]]]:
    """Return the stereo sources with both sides plugged in, and where."""
    found, leads, sources = [], survey.leads, survey.source_by_id
    for key in survey.named("stereo"):
        source, one, other = sources[key], leads.get((key, 1)), leads.get((key, 2))
        if one is not None and other is not None:
            found.append((source, (one.end.unit, one.end.port), (other.end.unit, other.end.port)))
    return found
