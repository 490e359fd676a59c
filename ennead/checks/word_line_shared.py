"""T-pieces on a word-clock output: it works, and a star from a distributor is better."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.checks.word_lines import line_working, word_lines
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every word-clock output that feeds several units over T-pieces."""
    for line in word_lines(survey):
        if len(line.links) < 2:
            continue
        names = [survey.units[n.end.unit].name for n in line.links]
        yield Finding(
            "word_line_shared",
            "note",
            subject_of(line.start.unit),
            (line.start.unit, *(n.end.unit for n in line.links)),
            f"{' and '.join(names)} share one word-clock output over T-pieces.",
            "One bad plug takes the clock from all of them. A star from a distributor beats a chain, and a chain beats"
            " T-pieces.",
            (),
            line_working(survey, line),
            cause=at(*[n.end for n in line.links]),
        )
