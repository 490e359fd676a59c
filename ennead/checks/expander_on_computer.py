"""A box set to work as an expander vanishes from the computer."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.computer import leave_computer, use_beside
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every unit among a computer's interfaces that in its present mode has no channel there."""
    for unit in survey.numbering.computer_of:
        view = survey.views[unit]
        if view.inputs or view.outputs or not view.runs:
            continue
        name = survey.units[unit].name
        text, setup = f"Take {name} off the computer", f"{name} is on the computer only to be set up"
        modes = survey.settings[unit].modes
        yield Finding(
            "expander_on_computer",
            "trouble",
            subject_of(unit),
            (unit,),
            f"{name} is planned on the computer, but as it is set the computer does not see it.",
            "Its channels are those of the interface its fibre runs to; looked for under its own name they are"
            " missing.",
            (Fix(text, change(text, leave_computer, unit)), Fix(setup, change(setup, use_beside, unit, "setup"))),
            tuple(f"{m.label}: {m.label_of(modes.get(m.key, m.default))}" for m in view.profile.modes),
        )
