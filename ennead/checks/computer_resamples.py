"""Drift correction: the computer may resample one interface, at a price."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.checks.leading import slip_working
from ennead.edits.change import change
from ennead.edits.computer import correct_drift
from ennead.studio.house import Computer
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every interface that the computer resamples, be it needed or not."""
    for computer in survey.computers.values():
        for unit in computer.corrected:
            found = _finding(survey, computer, unit)
            if found is not None:
                yield found


def _finding(survey: Parts, computer: Computer, unit: UnitId) -> Finding | None:
    name = survey.units[unit].name
    reference = next((i for i in computer.interfaces if i not in computer.corrected), None)
    if reference is None:
        # Read from a file, perhaps; such a list is mended when it is read, and nothing else may fail over it.
        return None
    there = survey.units[reference].name
    off = f"Switch {name}'s drift correction off"
    fix = (Fix(off, change(off, correct_drift, unit, on=False)),)
    clocks = survey.clocks
    locked = clocks.by_unit[unit].leader is not None and clocks.by_unit[unit].leader == clocks.by_unit[reference].leader
    if locked:
        message = f"{name} is locked to {there} by cable and resampled by {computer.name} all the same."
        why = "Resampling what already runs in step only adds delay and takes away the exact samples."
    else:
        message = f"{name} runs on a clock of its own; {computer.name} resamples it to {there}'s."
        why = (
            "It works, but it is the fall-back: the tracks come later than the others, by a delay that nobody states,"
            " and are not sample-exact. Lock them by a digital or word-clock cable where phase matters."
        )
    working = (f"{name} and {there} are locked by cable",) if locked else slip_working(survey, reference, unit)
    return Finding(
        "computer_resamples",
        "caution",
        subject_of(unit),
        (unit, computer.id),
        message,
        why,
        fix if locked else (),
        working,
    )
