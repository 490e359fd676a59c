"""A box in a live loop is on."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.settings import switch_off
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every box of a session's loop that is switched off."""
    for loop, channels in survey.once(circuits):
        for unit in dict.fromkeys((*loop.boxes, *[b for c in channels for b in c.boxes])):
            if unit not in survey.views or not survey.views[unit].off:
                continue
            box = survey.units[unit].name
            text = f"Switch {box} on"
            yield Finding(
                "loop_box_off",
                "trouble",
                subject_of(loop.id),
                (loop.id, unit),
                f"{box} is switched off, and {loop.name} goes through it.",
                "Some boxes pass the signal when they are off, most are silent, and some thump"
                " when they come on: turn the"
                " monitors down first.",
                (Fix(text, change(text, switch_off, unit, off=False)),),
                cause=(unit,),
            )
