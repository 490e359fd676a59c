"""Two tracks of one name cannot be told apart."""

from collections import defaultdict
from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import Change, step
from ennead.edits.session import change_source
from ennead.studio.ids import SourceId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every track name that several sources of the session share."""
    for sources in _alike(survey):
        name = survey.source_by_id[sources[0]].track_name
        numbered = tuple(step(change_source, s, track=f"{name[:490]} {i}") for i, s in enumerate(sources, start=1))
        yield Finding(
            "names_alike",
            "note",
            subject_of(sources[0]),
            tuple(sources),
            f"{len(sources)} tracks are called “{name}”.",
            "At the mix nobody knows which is which. Give each its own name.",
            (Fix("Number these tracks", Change("Number tracks alike", numbered)),),
            tuple(f"line {list(survey.source_by_id).index(s) + 1} of the input list" for s in sources),
        )


def _alike(survey: Parts) -> list[list[SourceId]]:
    sources = survey.sources
    names = [source.track_name.casefold() for source in sources]
    if len(set(names)) == len(names):
        return []
    tracks: dict[str, list[SourceId]] = defaultdict(list)
    for source, name in zip(sources, names, strict=True):
        tracks[name].append(source.id)
    return [sources for sources in tracks.values() if len(sources) > 1]
