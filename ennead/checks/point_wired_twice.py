"""One cable behind a point."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every point behind which there are several cables."""
    if not survey.bays:
        return
    for where, there in survey.behind.items():
        cables = list(dict.fromkeys([b.cable for b in there])) if len(there) > 1 else []
        if len(cables) < 2:
            continue
        point = PortEnd(*where)
        fixes = tuple(Fix(f"Pull {c}", change(f"Pull {c}", disconnect, CableId(c))) for c in cables)
        yield Finding(
            "point_wired_twice",
            "trouble",
            subject_of(point.unit),
            (point.unit, *cables),
            f"{survey.end_text(point)} is wired twice: {' and '.join(cables)}.",
            "One of them is a slip of the pen, or two signals meet where nobody looks. A mult is made by joined"
            " points.",
            fixes,
            cause=at(point),
        )
