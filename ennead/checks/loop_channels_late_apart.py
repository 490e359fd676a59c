"""The channels of a loop come back together."""

import math
from collections.abc import Iterator
from typing import Final

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.loop_delay import measured
from ennead.survey.survey_interface import Parts

#: Channels closer than this are one, samples. House default:
#: a quarter of a sample is half a dB at 20 kHz in the mono sum at 48 kHz.
_APART: Final = 0.25


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop with channels measured apart by more than a fraction of a sample."""
    for loop in survey.destinations:
        held = measured(survey, loop) if loop.kind == "loop" and loop.outputs and loop.returns else None
        if held is None or held.apart < _APART:
            continue
        degrees = 360.0 * 10_000 * held.apart / survey.rate_hz
        lost = 20 * math.log10(max(1e-6, abs(math.cos(math.radians(degrees / 2)))))
        said = ", ".join([f"{samples:g}" for samples in held.by_channel])
        yield Finding(
            "loop_channels_late_apart",
            "caution",
            subject_of(loop.id),
            (loop.id,),
            f"The channels of {loop.name} come back {held.apart:.3g} samples apart.",
            "One offset makes up for one of them: left and right smear, and in mono the treble goes. Look for"
            " converters of two kinds, or one side over a digital link more; else give each side its own offset.",
            (),
            (
                f"measured by channel: {said} samples",
                f"{held.apart:.3g} samples are {degrees:.0f}° at 10 kHz; there the mono sum loses {-lost:.1f} dB",
            ),
            cause=("apart", *at(*loop.outputs, *loop.returns)),
        )
