"""Each channel of a loop needs a way back of its own, unless it is said to come back with fewer."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop with two channels back at one input: a mono box, or one cable, carries both."""
    for circuit in survey.once(circuits):
        loop = circuit.loop
        backs = [c.back.number for c in circuit.channels if c.back is not None]
        twice = next((number for number in backs if backs.count(number) > 1), None)
        if twice is None or not loop.goes_straight or len(backs) < len(circuit.channels):
            continue
        boxes = next(c.boxes for c in circuit.channels if c.back is not None and c.back.number == twice)
        which = "Both sides" if loop.channels == 2 else f"{backs.count(twice)} channels"
        names = ", ".join([survey.units[u].name for u in boxes])
        yield Finding(
            "loop_channels_meet",
            "trouble",
            subject_of(loop.id),
            (loop.id, *boxes),
            f"{which} of {loop.name} come back at driver input {twice}{f': {names} is mono there' if names else ''}.",
            "What was stereo comes back as one, and the sides add: up to 6 dB more, or holes"
            " where they differ. Make the"
            " loop mono, give each side a channel, or say with how many channels it comes back.",
            cause=at(*loop.outputs, *loop.returns),
        )
