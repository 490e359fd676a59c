"""A box in use is taken."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.ids import UnitId
from ennead.studio.session import PlacedDestination
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every box of which one channel stands in two loops of the session."""
    held: dict[tuple[UnitId, str, int], PlacedDestination] = {}
    told: set[tuple[UnitId, str, str]] = set()
    for circuit in survey.once(circuits):
        loop = circuit.loop
        for socket in [p for c in circuit.channels if c.boxes for p in c.passed if p.what == "box"]:
            first = held.setdefault((socket.unit, socket.port, socket.lane), loop)
            key = socket.unit, first.id, loop.id
            if first.id == loop.id or key in told:
                continue
            told.add(key)
            box = survey.units[socket.unit].name
            yield Finding(
                "box_in_two_loops",
                "trouble",
                subject_of(loop.id),
                (loop.id, first.id, socket.unit),
                f"{box} stands in {first.name} and in {loop.name} at once.",
                "One channel of a box works on one thing at a time: both tracks come back mixed."
                " Print one of them first,"
                " put the box on a bus that both feed, or take one loop off the list.",
                cause=(socket.unit, socket.port),
            )
