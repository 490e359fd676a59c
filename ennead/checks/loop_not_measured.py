"""A loop whose delay is neither stated nor measured cannot be made up."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.loop_delay import nearest
from ennead.survey.loop_time import loop_time
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every closed loop of which it is not known what the software does not make up by itself."""
    for circuit in survey.once(circuits):
        loop, time = circuit.loop, loop_time(survey, circuit)
        if time is None or time.residual is not None or nearest(survey, loop) is not None:
            continue
        lacks = [f"{survey.units[p.unit].name} ({p.what})" if p.unit is not None else p.what for p in time.unstated]
        lacks += ["what the driver reports"] if time.reported is None else []
        yield Finding(
            "loop_not_measured",
            "note",
            subject_of(loop.id),
            (loop.id,),
            f"How much of the delay of {loop.name} the software makes up is not known.",
            "On a bus beside the dry track it is a comb; as an insert the track comes late by some dozens of samples."
            " Measure it, or state what is missing.",
            (),
            (f"not stated: {', '.join(lacks)}",),
            cause=tuple(lacks),
        )
