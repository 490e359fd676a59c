"""A signal that is split arrives; one leg of it, though wired, does not."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.split_paths import split_paths
from ennead.survey.survey_interface import Parts
from ennead.survey.words import gap_text, stop_texts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every wired leg on which nothing arrives, beside one that does."""
    for run, trace in survey.once(split_paths):
        for stray in trace.strays:
            about = run.source or run.to
            where = stop_texts(survey, stray)[-1]
            unit = stray.gap.unit if stray.gap is not None else None
            yield Finding(
                "leg_ends_early",
                "caution",
                subject_of(about or unit or ""),
                tuple(k for k in (about, unit) if k),
                f"{run.signal} is split, and one leg ends early behind {where}.",
                f"{gap_text(survey, stray)} The other leg arrives, so nobody looks for it.",
                (),
                (f"arrives: {' → '.join(stop_texts(survey, run))}", f"ends early: … {where}"),
                cause=at(stray.gap),
            )
