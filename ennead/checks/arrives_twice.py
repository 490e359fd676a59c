"""A signal must not come to one place by two ways: it is summed with itself."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.split_paths import split_paths
from ennead.survey.survey_interface import Parts
from ennead.survey.words import stop_texts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every place at which a signal arrives by more than one way."""
    for run, trace in survey.once(split_paths):
        for leg in trace.legs:
            if leg.ways < 2:
                continue
            about = run.source or run.to
            last = leg.run.stops[-1].unit
            place = (
                f"driver input {leg.run.driver.number}"
                if leg.run.driver and not run.out
                else stop_texts(survey, leg.run)[-1]
            )
            yield Finding(
                "arrives_twice",
                "caution",
                subject_of(about or last or ""),
                tuple(k for k in (about, last) if k),
                f"{run.signal} comes to {place} by two ways.",
                "It is summed with itself: too loud where both come at once, hollow as a comb where one comes later."
                " Pull one of them.",
                (),
                (f"one of them: {' → '.join(stop_texts(survey, leg.run))}",),
                cause=at(*[(s.unit, s.port) for s in leg.run.stops[-1:]]),
            )
