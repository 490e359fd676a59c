"""Cautions a profile states are said before the cable is in the hand."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every interface on a computer that, by its profile, needs care in plugging or switching."""
    for computer in survey.computers.values():
        for unit in computer.interfaces:
            profile = survey.views[unit].profile
            for caution in profile.cautions:
                yield Finding(
                    "power_down_first",
                    "note",
                    subject_of(unit),
                    (unit, computer.id),
                    f"Before you plug {survey.units[unit].name} into {computer.name}: {caution}",
                    "A moment's care here has saved many a socket; the unit's own manual comes first.",
                    (),
                    (f"stated in the profile “{profile.name}”", f"bus: {profile.bus or 'not stated'}"),
                )
