"""A pinned line stays, even where it does not work."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.checks.stated_sources import paths_by_source, stated
from ennead.edits.change import change
from ennead.edits.session import change_source
from ennead.rules.source_fits_port import why_unfit
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every pinned source that does not arrive, or does not suit its socket."""
    for source in stated(survey).pinned:
        cable = survey.leads.get((source.id, 1))
        if cable is None:
            continue
        lost = any(r.gap for r in paths_by_source(survey)[source.id])
        unfit = why_unfit(source, survey.port(cable.end))
        if not lost and not unfit:
            continue
        text = f"Unpin {source.name}"
        yield Finding(
            "pinned_does_not_work",
            "caution",
            subject_of(source.id),
            (source.id,),
            f"{source.name} is pinned to {survey.end_text(cable.end)}, where it does not work.",
            "Allocate leaves what is pinned alone, so it stays as it is until it is unpinned.",
            (Fix(text, change(text, change_source, source.id, pinned=False)),),
            (unfit or "its line ends before the computer",),
            cause=at(cable.end),
        )
