"""A song is exported in real time while loops are live in it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield one note for the loops of a session that are live: what passes a box passes it as long as it plays."""
    live = [circuit.loop for circuit in survey.once(circuits) if circuit.closed and not circuit.loop.use.twin_on]
    if live:
        yield Finding(
            "export_in_real_time",
            "note",
            subject_of(live[0].id),
            tuple([loop.id for loop in live]),
            f"Export in real time while {' and '.join([loop.name for loop in live])}"
            f" {'is' if len(live) == 1 else 'are'} live.",
            "Faster than it plays, the software reads on while the boxes do not: what comes back is silence, or the"
            " wrong place of the song. Print the tracks first, take the inserts off, then export as fast as you like.",
        )
