"""A staircase ends at a box with no stated output level."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.staircase import staircase
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every closed loop whose levels are not known behind one of its boxes."""
    for circuit in survey.once(circuits):
        if not circuit.closed:
            continue
        unit = next(
            (u for c in circuit.channels if (u := staircase(survey, circuit, c).silent_about) is not None), None
        )
        if unit is not None:
            box, loop = survey.units[unit].name, circuit.loop
            yield Finding(
                "loop_level_not_stated",
                "note",
                subject_of(loop.id),
                (loop.id, unit),
                f"Nobody has said what comes out of {box} at its loudest, so the way back of {loop.name} has no level.",
                "Whether the return clips shows on the first loud bar. Read the box's meter or measure it, and type the"
                " figure in the margin.",
                cause=(unit,),
            )
