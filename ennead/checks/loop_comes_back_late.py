"""What passes a loop comes back later than what does not; a group must not be mixed from both."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.standards.rates import rate_text
from ennead.studio.delays import LoopDelay
from ennead.studio.session import PlacedDestination
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.loop_delay import measured
from ennead.survey.loop_time import LoopTime, loop_time
from ennead.survey.output_points import output_point_at
from ennead.survey.skew import skew_of, skew_text, skew_working
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note with each loop's round trip as it was measured; else with the converters' share, on which the software's buffers come."""
    loops = [d for d in survey.destinations if d.kind == "loop" and d.outputs and d.returns]
    if not loops:
        return
    points = output_point_at(survey.output_points)
    times = {circuit.loop.id: loop_time(survey, circuit) for circuit in survey.once(circuits)}
    for loop in loops:
        if (held := measured(survey, loop)) is not None:
            if abs(held.samples) >= 1.0:
                yield _as_measured(survey, loop, held)
            continue
        time = times.get(loop.id)
        if time is not None and time.residual is not None:
            if abs(time.residual) >= 1.0:
                yield _as_stated(survey, loop, time.residual, time)
            continue
        out, end = points.get(loop.outputs[0]), loop.returns[0]
        if out is None or out[0].delay is None or survey.arrival(end) is None:
            continue
        back = survey.way(end.unit, end.port).delay
        if back is None or out[0].delay + back < 1.0:
            continue
        skew = skew_of(out[0].delay + back, survey.rate_hz)
        yield Finding(
            "loop_comes_back_late",
            "note",
            subject_of(loop.id),
            (loop.id,),
            f"{loop.name} comes back late, by at least {skew_text(skew)}.",
            "Beside a dry copy of itself that is a comb. Measure it and have the software make it up.",
            (),
            (
                (
                    f"{out[0].delay:g} samples out + {back:g} samples in = {skew.samples:g} samples (converters and"
                    " links alone)"
                ),
                *skew_working(skew, survey.rate_hz),
            ),
            cause=at(*loop.outputs, *loop.returns),
        )


def _as_stated(survey: Parts, loop: PlacedDestination, residual: float, time: LoopTime) -> Finding:
    """Return the note with what is left over of the stated round trip when the driver's own figure is taken off."""
    skew = skew_of(abs(residual), survey.rate_hz)
    late = "later" if residual > 0 else "earlier"
    return Finding(
        "loop_comes_back_late",
        "note",
        subject_of(loop.id),
        (loop.id,),
        f"{loop.name} comes back {late} than the software makes up, by {skew_text(skew)}.",
        f"Beside a dry copy of itself that is a comb. Give the software an offset of {residual:g} samples for it, or"
        " measure it.",
        (),
        (
            f"{time.round_trip:g} samples round − {time.reported:g} that the driver reports = {residual:+g}",
            *skew_working(skew, survey.rate_hz),
        ),
        cause=("stated", *at(*loop.outputs, *loop.returns)),
    )


def _as_measured(survey: Parts, loop: PlacedDestination, held: LoopDelay) -> Finding:
    """Return the note with what was measured: the whole round trip, the software's buffers in it."""
    skew = skew_of(abs(held.samples), survey.rate_hz)
    late = "late" if held.samples > 0 else "early, for the driver reports more than the loop passes"
    when = f" on {held.at[:10]}" if held.at else ""
    return Finding(
        "loop_comes_back_late",
        "note",
        subject_of(loop.id),
        (loop.id,),
        f"{loop.name} comes back {late}, by {skew_text(skew)}.",
        f"Beside a dry copy of itself that is a comb. Give the software an offset of {held.samples:g} samples for it.",
        (),
        (f"measured{when}: {held.samples:g} samples at {rate_text(held.rate_hz)}", *skew_working(skew, survey.rate_hz)),
        cause=("measured", *at(*loop.outputs, *loop.returns)),
    )
