"""Left comes back as left, and the channels of a wide loop in the order in which they go out."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop of which channels come back in another order than they go out."""
    for circuit in survey.once(circuits):
        loop = circuit.loop
        if not circuit.closed or not loop.goes_straight or loop.channels < 2:
            continue
        outs = [d.number for d in circuit.sends]
        backs = [d.number for d in circuit.returns]
        if len(set(backs)) < len(backs) or [back for _, back in sorted(zip(outs, backs, strict=True))] == sorted(backs):
            continue
        names = ("left", "right") if loop.channels == 2 else tuple(str(n) for n in range(1, loop.channels + 1))
        yield Finding(
            "loop_sides_swapped",
            "trouble",
            subject_of(loop.id),
            (loop.id,),
            f"{loop.name} comes back with left and right exchanged: {outs[0]}–{outs[1]} out,"
            f" {backs[0]} and {backs[1]} back."
            if loop.channels == 2
            else f"{loop.name} comes back in another order than it goes out.",
            "The picture is mirrored on every track that goes through it. Exchange the two cables at one end, or the"
            " two numbers in the software."
            if loop.channels == 2
            else "A track comes back as another. Exchange the cables at one end, or the numbers in the software.",
            (),
            tuple([f"{name}: {out} → {back}" for name, out, back in zip(names, outs, backs, strict=True)]),
            cause=at(*loop.outputs, *loop.returns),
        )
