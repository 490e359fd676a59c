"""A loop passes a box; else it is a bare cable."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop that goes out and comes back without a box between."""
    for loop, channels in survey.once(circuits):
        bare = [c for c in channels if c.is_bare]
        if bare:
            numbers = [str(d.number) for d in (bare[0].out, bare[0].back) if d is not None]
            yield Finding(
                "loop_without_box",
                "caution",
                subject_of(loop.id),
                (loop.id,),
                f"{loop.name} goes out and comes back without a box between.",
                "It costs outputs and inputs, and the track only comes back later and weaker. Wire its box, or keep it"
                " so while you calibrate.",
                (),
                (f"driver output and input: {' → '.join(numbers)}",),
                cause=at(*loop.outputs, *loop.returns),
            )
