"""An interface that is on no computer has no driver numbers."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.computer import join_computer
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every interface that no computer numbers, though as it is set it would have numbers.

    A box that stands alone as an expander, and one that is on a computer as a device of its own, is right so.
    """
    beside = {unit for computer in survey.computers.values() for unit in computer.beside}
    for unit in survey.units.values():
        view = survey.views[unit.id]
        if not view.profile.driver_maps or unit.id in survey.numbering.computer_of or unit.id in beside:
            continue
        if view.runs and not (view.inputs or view.outputs):
            continue
        text = f"Put {unit.name} on the computer"
        yield Finding(
            "interface_not_on_computer",
            "caution",
            subject_of(unit.id),
            (unit.id,),
            f"{unit.name} is not on the computer.",
            "What arrives at it gets no driver number; the recording software never sees it.",
            (Fix(text, change(text, join_computer, unit.id)),),
            (f"interfaces on the computer: {len(survey.numbering.computer_of)}, {unit.name} not among them",),
        )
