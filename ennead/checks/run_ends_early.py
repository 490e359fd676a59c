"""A source is plugged in, but its signal never reaches a driver number."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.edits.change import change
from ennead.edits.settings import switch_off
from ennead.studio.subjects import subject_of
from ennead.survey.orphans import orphan_of
from ennead.survey.survey_interface import Parts
from ennead.survey.words import gap_text, stop_texts

_SPOKEN_ELSEWHERE = frozenset({"unplaced", "lane", "format", "rate", "overfull"})


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble, once a source, where a run has a gap that no other rule names."""
    seen = set()
    orphaned = survey.once(orphan_of) if survey.cords else {}
    for run in survey.broken_paths:
        if run.source is None or run.gap is None or run.gap.cause in _SPOKEN_ELSEWHERE or run.source in seen:
            continue
        if id(run) in orphaned:
            continue
        seen.add(run.source)
        source = survey.source_by_id[run.source]
        fixes = [Fix(f"Find another place for {source.name}", Request("place", source.id))]
        if run.gap.cause == "off" and run.gap.unit is not None:
            text = f"Switch {survey.units[run.gap.unit].name} on"
            fixes.insert(0, Fix(text, change(text, switch_off, run.gap.unit, off=False)))
        yield Finding(
            "run_ends_early",
            "trouble",
            subject_of(source.id),
            (source.id, *((run.gap.unit,) if run.gap.unit else ())),
            f"{source.name} does not reach the computer: {gap_text(survey, run)}",
            "The input looks plugged, the microphone works, and the track stays silent.",
            tuple(fixes),
            stop_texts(survey, run),
            cause=(*at(run.gap), run.gap.cause),
        )
