"""A word-clock line must be closed at its far end."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.word_lines import line_working, switch_fix, word_lines
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every word-clock line that its last input does not terminate."""
    for line in word_lines(survey):
        last = line.links[-1]
        if line.closed[-1] is not False:
            continue
        there = survey.end_text(last.end)
        fixes = switch_fix(survey, last, on=True)
        yield Finding(
            "word_line_open",
            "trouble",
            subject_of(last.end.unit),
            (last.cable, last.end.unit, last.start.unit),
            f"The word-clock line to {there} ends open.",
            "The edge comes back from an open end and is counted twice now and then: clicks, or a lock that comes and"
            " goes.",
            fixes,
            line_working(survey, line),
        )
