"""A loop comes back at line level."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop that comes back by a microphone input that takes no line level."""
    for loop, channels in survey.once(circuits):
        for channel in channels if loop.returns else ():
            back = channel.comes_in
            if back is None:
                continue
            port = survey.profiles[back.unit].port_by_key[back.port]
            if "line" in port.carries or not port.at_mic_level:
                continue
            yield Finding(
                "return_at_mic_level",
                "caution",
                subject_of(loop.id),
                (loop.id, back.unit),
                f"{loop.name} comes back by {survey.units[back.unit].name} {port.label}, a microphone input.",
                "Line level into a preamp clips at its first stage, or is padded down and"
                " amplified again with its noise."
                " Bring it back by a line input.",
                (Fix("Find places for it", Request("allocate", loop.id)),),
                cause=at(back),
            )
            break
