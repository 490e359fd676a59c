"""A delay that was measured holds only as long as what was measured is the same."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.standards.rates import rate_text
from ennead.studio.subjects import subject_of
from ennead.survey.loop_delay import STALE_TEXTS, measured, nearest, stale_since
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every loop on tonight's list of which no measured delay holds any more."""
    for loop in [d for d in survey.destinations if d.measured and d.kind == "loop" and d.outputs and d.returns]:
        last = nearest(survey, loop)
        if last is None or measured(survey, loop) is not None:
            continue
        what = stale_since(survey, loop, last)
        yield Finding(
            "measured_delay_stale",
            "note",
            subject_of(loop.id),
            (loop.id,),
            f"The delay of {loop.name} was measured {STALE_TEXTS[what]}.",
            "The offset in the software is that of the loop as it was then: the return is early or late beside the dry"
            " track. Measure it anew.",
            (),
            (
                (
                    f"measured: {last.samples:g} samples at"
                    f" {rate_text(last.rate_hz)}{f', {last.at[:10]}' if last.at else ''}"
                ),
            ),
            cause=(what, *at(*loop.outputs, *loop.returns)),
        )
