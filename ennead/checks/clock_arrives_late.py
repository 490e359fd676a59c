"""A very long cable eats into the time by which a clock may be late."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.clock import INPUT_WINDOW, OUTPUT_WINDOW, frame_us, wire_delay_us
from ennead.standards.rates import rate_text
from ennead.studio.ids import CableId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every digital cable that is late by more than a receiver has to accept."""
    frame = frame_us(survey.rate_hz)
    left = (INPUT_WINDOW - OUTPUT_WINDOW) * frame
    for cable, length in survey.once(_very_long):
        link = survey.links.get(cable)
        late = wire_delay_us(length)
        if link is None or not link.digital or late <= left:
            continue
        yield Finding(
            "clock_arrives_late",
            "caution",
            subject_of(cable),
            (cable, link.start.unit, link.end.unit),
            f"{cable} is {length:g} m long: what arrives is {late:.3g} µs late.",
            "A receiver need not accept more than a quarter of a frame; beyond it the channel slips by a sample against"
            " the others.",
            (),
            (
                f"{length:g} m × 5 ns/m = {late:.3g} µs",
                (
                    f"frame at {rate_text(survey.rate_hz)}: {frame:.4g} µs; {INPUT_WINDOW:.0%} accepted −"
                    f" {OUTPUT_WINDOW:.0%} used = {left:.3g} µs (AES11)"
                ),
            ),
        )


def _very_long(survey: Parts) -> list[tuple[CableId, float]]:
    return [(c.id, c.length_m) for c in survey.spans.values() if c.length_m is not None and c.length_m > 100]
