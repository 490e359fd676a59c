"""What passes a loop comes back later than what does not; a group must not be mixed from both."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.survey.asked import Parts
from ennead.survey.output_points import output_point_at
from ennead.survey.skew import skew_of, skew_text, skew_working


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note with the converters' share of each loop's round trip; the software's buffers come on top."""
    loops = [d for d in survey.destinations if d.kind == "loop" and d.outputs and d.returns]
    if not loops:
        return
    points = output_point_at(survey.output_points)
    for loop in loops:
        out, end = points.get(loop.outputs[0]), loop.returns[0]
        if out is None or out[0].delay is None or survey.arrival(end) is None:
            continue
        back = survey.way(end.unit, end.port).delay
        if back is None or out[0].delay + back < 1.0:
            continue
        skew = skew_of(out[0].delay + back, survey.rate_hz)
        yield Finding(
            "loop_comes_back_late", "note", "Lines", loop.id, (loop.id,),
            f"{loop.name} comes back late, by at least {skew_text(skew)}.",
            "Beside a dry copy of itself that is a comb. Measure it and have the software make it up.",
            (), (f"{out[0].delay:g} samples out + {back:g} samples in = {skew.samples:g} samples (converters and links alone)",
                 *skew_working(skew, survey.rate_hz)), cause=at(*loop.outputs, *loop.returns),
        )  # fmt: skip
