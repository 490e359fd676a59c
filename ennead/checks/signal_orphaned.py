"""A plug that breaks a normal which carries a signal of the session."""

from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.bays import NORMAL_LABELS
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.orphans import orphans
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every line of the session that does not arrive because a plug has broken a normal on its way."""
    for run, (unit, normal, cords) in survey.once(orphans):
        start, end = (survey.end_text(PortEnd(unit, key)) for key in (normal.start, normal.end))
        name = (
            survey.source_by_id[run.source].name
            if run.source is not None
            else f"Driver output {run.driver.number if run.driver else ''}"
        )
        texts = [f"Pull {cord_text(survey, cord)}" for cord in cords]
        yield Finding(
            "signal_orphaned",
            "trouble",
            subject_of(cords[0].id),
            (*(c.id for c in cords), unit, *((run.source,) if run.source else ())),
            f"{name} ends at {start}: a plug breaks its normal to {end}.",
            "What came by itself yesterday stays silent tonight, and every box looks right.",
            tuple(Fix(text, change(text, pull_cord, cord.id)) for text, cord in zip(texts, cords, strict=True)),
            (
                f"{start} is {NORMAL_LABELS[normal.mode]} to {end}; "
                + ("a plug in either breaks it" if normal.mode == "full" else "a plug there breaks it"),
                *(cord_text(survey, cord) for cord in cords),
            ),
            cause=at((unit, normal.start), (unit, normal.end)),
        )
