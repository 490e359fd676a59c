"""A loop that is printed while its insert is live is heard once, not twice."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.tracks import set_track
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop with a return that is monitored on its printed track and heard by an insert as well."""
    tracks = survey.named("tracks")
    inserted = {track.insert: track for track in tracks.values() if track.insert is not None}
    for loop in survey.destinations:
        printed, original = tracks.get(loop.id), inserted.get(loop.id)
        if printed is None or original is None or not printed.monitored:
            continue
        apart = printed.outputs and original.outputs and not set(printed.outputs) & set(original.outputs)
        if apart or original.line == loop.id:
            continue
        text = f"Do not monitor the printed track of {loop.name}"
        yield Finding(
            "return_heard_twice",
            "caution",
            subject_of(loop.id),
            (loop.id, original.line),
            f"The return of {loop.name} is heard twice: by the insert, and by the track it is printed on.",
            "It is 6 dB too loud where both come at once, and hollow where the printed one is a buffer later. Do not"
            " monitor the track that records, or take the insert off while it does.",
            (Fix(text, change(text, set_track, loop.id, monitored=False)),),
            cause=("monitored", str(original.line)),
        )
