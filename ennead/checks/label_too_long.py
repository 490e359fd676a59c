"""A label that does not fit on its strip."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.standards.bays import letters_on
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for each bay that has labels longer than their point is wide in the smallest print."""
    for unit, bay in survey.bays.items():
        room = letters_on(bay.pitch_mm)
        long = {key: max((label.first, label.second), key=len) for key, label in bay.labels.items()}
        cut = {key for key, text in long.items() if len(text) > room}
        if over := [key for row in bay.rows for key in row if key in cut] if cut else []:
            worst = max(over, key=lambda key: len(long[key]))
            yield Finding(
                "label_too_long",
                "caution",
                subject_of(unit),
                (unit,),
                f"{len(over)} label{'s' * (len(over) != 1)} of {survey.units[unit].name}"
                f" {'are' if len(over) != 1 else 'is'} too long for the strip: “{long[worst]}” at"
                f" {bay.point_label(worst, survey.port(PortEnd(unit, worst)).label)}.",
                "On the strip it is cut off, and two cut labels look alike.",
                (),
                (f"{bay.pitch_mm:g} mm a point hold {room} letters a line at the smallest print (house default)",),
                cause=at(*[(unit, key) for key in over]),
            )
