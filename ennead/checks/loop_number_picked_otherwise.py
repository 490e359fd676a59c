"""The software must open the numbers that the loop is on."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop of which the software has picked other numbers than it is on."""
    for circuit in survey.once(circuits):
        loop, use = circuit.loop, circuit.loop.use
        outs = tuple([d.number for d in circuit.sends])
        backs = tuple([d.number for d in circuit.returns])
        for what, picked, is_on in (("output", use.sent, outs), ("input", use.returned, backs)):
            if not picked or not is_on or picked == is_on[: len(picked)]:
                continue
            said, planned = (" and ".join(map(str, numbers)) for numbers in (picked, is_on))
            yield Finding(
                "loop_number_picked_otherwise",
                "trouble",
                subject_of(loop.id),
                (loop.id,),
                f"The software has picked {what} {said} for {loop.name}, which is on {planned}.",
                "The box gets nothing, or another track; what comes back is silence, or somebody else. Choose the other"
                " number in the software, or move the loop there.",
                (),
                (f"typed: {said}", f"planned: {planned}"),
                cause=(what, said),
            )
