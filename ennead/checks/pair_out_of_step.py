"""The two sides of a stereo source must arrive together."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.pair_split import split_pairs
from ennead.studio.subjects import subject_of
from ennead.survey.skew import skew_of, skew_text, skew_working
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every stereo source on two converters with delays a sample or more apart."""
    for source, left, right in split_pairs(survey):
        if left.converter == right.converter:
            continue
        ways = [survey.way(s.unit, s.port.key).delay for s in (left, right)]
        if ways[0] is None or ways[1] is None or abs(ways[0] - ways[1]) < 1.0:
            continue
        skew = skew_of(abs(ways[0] - ways[1]), survey.rate_hz)
        first = "left" if ways[0] < ways[1] else "right"
        yield Finding(
            "pair_out_of_step",
            "caution",
            subject_of(source.id),
            (source.id, left.unit, right.unit),
            f"The {first} side of {source.name} arrives first, by {skew_text(skew)}.",
            "The image leans to that side, and in mono its treble is hollow.",
            (Fix(f"Find a pair for {source.name}", Request("place", source.id)),),
            (
                f"left {ways[0]:g} samples, right {ways[1]:g} samples to the computer",
                *skew_working(skew, survey.rate_hz),
            ),
            cause=at(left.end, right.end),
        )
