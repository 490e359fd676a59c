"""Cords that stand and belong to no line of the scene."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note where cords stand that the chosen scene does not have."""
    at = survey.at_the_bays
    if not at.standing:
        return
    wanted = {frozenset(c.plugs) for c in survey.cords}
    left = [c for c in at.standing if frozenset(c.plugs) not in wanted]
    if not left:
        return
    units: dict[UnitId, None] = dict.fromkeys(p.unit for c in left for p in c.plugs if p.unit in survey.bays)
    if not units:
        return
    where = at.scene or "back to normals"
    ends = [[survey.end_text(p) for p in c.plugs if p.unit in survey.bays] for c in left]
    yield Finding(
        "cord_left_over",
        "note",
        subject_of(next(iter(units))),
        (*units, *(c.id for c in left)),
        f"{len(left)} cord{'s' * (len(left) != 1)} still stand{'s' * (len(left) == 1)} that “{where}” does not have.",
        "What is left from another evening breaks a normal nobody thinks of. The moves to the scene pull it.",
        (),
        tuple(" – ".join(texts) for texts in ends[:8] if texts),
    )
