"""Two tracks of one name cannot be told apart."""

from collections import defaultdict
from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import Change, step
from ennead.edits.session import change_source
from ennead.studio.ids import SourceId
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a note for every track name that several sources of the session share."""
    reads = (survey.studio.sources, survey.studio.current)
    for sources in survey.part("names_alike", reads, lambda: _alike(survey)):
        name = survey.studio.sources[sources[0]].track_name
        numbered = tuple(step(change_source, s, track=f"{name[:490]} {i}") for i, s in enumerate(sources, start=1))
        yield Finding(
            "names_alike",
            "note",
            "Session",
            sources[0],
            tuple(sources),
            f"{len(sources)} tracks are called “{name}”.",
            "At the mix nobody knows which is which. Give each its own name.",
            (Fix("Number these tracks", Change("Number tracks alike", numbered)),),
            tuple(f"line {survey.studio.current.sources.index(s) + 1} of the input list" for s in sources),
        )


def _alike(survey: Survey) -> list[list[SourceId]]:
    sources = survey.studio.session_sources
    names = [source.track_name.casefold() for source in sources]
    if len(set(names)) == len(names):
        return []
    tracks: dict[str, list[SourceId]] = defaultdict(list)
    for source, name in zip(sources, names, strict=True):
        tracks[name].append(source.id)
    return [sources for sources in tracks.values() if len(sources) > 1]
