"""A stereo source needs both of its sides."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.studio.document import channel_text
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every stereo source of which only one side is plugged in."""
    for source, missing in _half(survey):
        yield Finding(
            "stereo_half_plugged",
            "caution",
            subject_of(source.id),
            (source.id,),
            f"Only one side of {source.name} is plugged in; {channel_text(missing)} is missing.",
            "The recording is mono, and what was to be wide sits in one loudspeaker.",
            (Fix(f"Find a pair for {source.name}", Request("place", source.id)),),
            (f"channels: 2, plugged in: {channel_text(3 - missing)} alone",),
            cause=(channel_text(missing),),
        )


def _half(survey: Parts) -> list[tuple[Source, int]]:
    cables = survey.leads
    stereo = [s for s in survey.sources if s.channels == 2 and s.kind != "digital"]
    there = [(s, (s.id, 1) in cables, (s.id, 2) in cables) for s in stereo]
    return [(s, 2 if left else 1) for s, left, right in there if left != right]
