"""Both sides of a stereo loop need a way back of their own."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every stereo loop with both sides back at one input: a mono box, or one cable, carries both."""
    for circuit in survey.once(circuits):
        backs = [c.back.number for c in circuit.channels if c.back is not None]
        if len(circuit.channels) != 2 or len(set(backs)) != 1 or len(backs) != 2:
            continue
        loop, boxes = circuit.loop, circuit.channels[0].boxes
        names = ", ".join([survey.units[u].name for u in boxes])
        yield Finding(
            "loop_channels_meet",
            "trouble",
            subject_of(loop.id),
            (loop.id, *boxes),
            f"Both sides of {loop.name} come back at driver input"
            f" {backs[0]}{f': {names} is mono there' if names else ''}.",
            "What was stereo comes back as one, and the sides add: up to 6 dB more, or holes"
            " where they differ. Make the"
            " loop mono, or give each side a channel.",
            cause=at(*loop.outputs, *loop.returns),
        )
