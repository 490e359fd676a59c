"""Left comes back as left."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every stereo loop of which left comes back where right should."""
    for circuit in survey.once(circuits):
        if not circuit.closed or len(circuit.channels) != 2:
            continue
        (left, right), loop = circuit.channels, circuit.loop
        outs = [c.out.number for c in (left, right) if c.out is not None]
        backs = [c.back.number for c in (left, right) if c.back is not None]
        if (outs[0] < outs[1]) == (backs[0] < backs[1]) or backs[0] == backs[1]:
            continue
        yield Finding(
            "loop_sides_swapped",
            "trouble",
            subject_of(loop.id),
            (loop.id,),
            f"{loop.name} comes back with left and right exchanged: {outs[0]}–{outs[1]} out,"
            f" {backs[0]} and {backs[1]} back.",
            "The picture is mirrored on every track that goes through it. Exchange the two cables at one end, or the"
            " two numbers in the software.",
            (),
            (f"left: {outs[0]} → {backs[0]}", f"right: {outs[1]} → {backs[1]}"),
            cause=at(*loop.outputs, *loop.returns),
        )
