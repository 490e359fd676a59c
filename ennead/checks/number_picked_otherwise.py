"""A track that records another driver input than the one at which its source arrives."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.tracks import set_track
from ennead.studio.ids import SourceId
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that arrives at other numbers than the ones picked for it."""
    picked = survey.named("picked")
    if not picked:
        return
    runs: dict[SourceId, list[int | None]] = {}
    tracks: dict[SourceId, Source] = {}
    for run in survey.signal_paths:
        if run.of is not None:
            runs.setdefault(run.of.id, []).append(run.driver.number if run.driver is not None else None)
            tracks[run.of.id] = run.of
    at = {n: track for key, track in tracks.items() for n in runs[key] if n is not None}
    for key, numbers in runs.items():
        chosen = [picked.get((key, channel)) for channel in range(1, len(numbers) + 1)]
        wrong = [(c, n) for c, n in zip(chosen, numbers, strict=True) if c is not None and n is not None and c != n]
        if not wrong:
            continue
        source, true = tracks[key], tuple(n for n in numbers if n is not None)
        there = dict.fromkeys(at[c].name for c, _ in wrong if c in at and at[c].id != key)
        is_at, says = (" and ".join(str(n) for n in several) for several in (true, [c for c, _ in wrong]))
        exchanged = sorted(n for n in chosen if n is not None) == sorted(true)
        heard = f"The track stays silent, or {' and '.join(there)} is on it." if there else "The track stays silent."
        heard = "Left and right are exchanged." if exchanged else heard
        text = f"Pick {is_at} for {source.track_name}"
        yield Finding(
            "number_picked_otherwise",
            "trouble",
            subject_of(source.id),
            (source.id,),
            f"{source.name} arrives at driver input{'s' * (len(true) > 1)} {is_at}, and the software records {says}.",
            heard,
            (Fix(text, change(text, set_track, source.id, picked=true)),) if len(true) == len(numbers) else (),
        )
