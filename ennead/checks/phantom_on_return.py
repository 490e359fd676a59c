"""No 48 V reaches the output of a box."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.settings import set_phantom
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop that comes back at an input with 48 V on."""
    for loop, channels in survey.once(circuits):
        for channel in channels:
            back = channel.comes_in
            bank = survey.profiles[back.unit].bank_of_port.get(back.port) if back is not None else None
            if back is None or bank is None or bank.key not in survey.phantom_on.get(back.unit, ()):
                continue
            port = survey.profiles[back.unit].port_by_key[back.port]
            if port.connector == "combo" and port.phantom_on_xlr_only:
                # A line output goes in by the jack, which carries none.
                continue
            name = survey.units[back.unit].name
            text = f"Switch {bank.label} of {name} off"
            yield Finding(
                "phantom_on_return",
                "trouble",
                subject_of(loop.id),
                (loop.id, back.unit),
                f"{loop.name} comes back by {name} {port.label} with 48 V on.",
                "Outputs of boxes are not made for it: noise, a thump, at worst a dead output stage. Turn the monitors"
                " down, switch it off and wait before you plug.",
                (Fix(text, change(text, set_phantom, back.unit, bank.key, on=False)),),
                cause=at(back),
            )
            break
