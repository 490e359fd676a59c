"""A word-clock line may be closed at its far end only."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.word_lines import line_working, switch_fix, word_lines
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every input that closes a word-clock line before its end."""
    for line in word_lines(survey):
        for link, closed in list(zip(line.links, line.closed, strict=True))[:-1]:
            if not closed:
                continue
            there = survey.end_text(link.end)
            fixes = switch_fix(survey, link, on=False)
            remedy = (
                "" if fixes else " Its termination cannot be switched off: give it a line of its own, or put it last."
            )
            yield Finding(
                "word_line_closed_twice",
                "trouble",
                subject_of(link.end.unit),
                (link.cable, link.end.unit, link.start.unit, line.links[-1].end.unit),
                f"{there} closes the word-clock line, though it goes on to {survey.end_text(line.links[-1].end)}.",
                "Two loads of 75 ohm halve the clock's level: the units behind it lose lock, at first only when it is"
                f" warm.{remedy}",
                fixes,
                line_working(survey, line),
            )
