"""A send that a volume control can turn is no calibrated send."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.settings import set_output
from ennead.studio.subjects import subject_of
from ennead.studio.switches import offers
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every loop with an output that is not noted as fixed at full level."""
    for loop in survey.destinations:
        if loop.kind != "loop" or not loop.outputs or not loop.returns:
            continue
        loose = [
            end
            for end in dict.fromkeys(loop.outputs)
            if survey.settings[end.unit].outputs.get(end.port, "on") == "on"
            and offers(survey.profiles[end.unit], "output", end.port, "fixed")
        ]
        if not loose:
            continue
        fixes = []
        for end in loose:
            text = f"Fix {survey.end_text(end)} at full level"
            fixes.append(Fix(text, change(text, set_output, end.unit, end.port, "fixed")))
        where = " and ".join([survey.end_text(end) for end in loose])
        yield Finding(
            "send_not_fixed",
            "note",
            subject_of(loop.id),
            (loop.id, *dict.fromkeys([e.unit for e in loose])),
            f"{where}, the send of {loop.name}, {'is' if len(loose) == 1 else 'are'} not noted as fixed.",
            "Where a volume control turns that output, the box is driven otherwise each time, and no recalled setting"
            " is true. Fix it in the interface's own panel, and note it here.",
            tuple(fixes),
            cause=at(*loose),
        )
