"""The computer was read, and shows other numbers than the plan counts."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import Subject
from ennead.survey.survey_interface import Parts
from ennead.survey.system_names import difference_lines, name_differences


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every computer that, as last read at this rate, has other numbers than planned."""
    for computer in survey.computers.values():
        read = computer.names_at(survey.rate_hz)
        if not (read.inputs or read.outputs) or not computer.interfaces:
            continue
        found = [d for d in name_differences(survey, computer.id, read.inputs, read.outputs) if not d.agrees]
        if not found:
            continue
        ways = " and ".join(d.way for d in found)
        yield Finding(
            "computer_shows_otherwise",
            "trouble",
            Subject("computer", computer.id),
            computer.interfaces,
            f"{computer.name} shows other {ways} than the plan counts.",
            "A track set to a planned number records another line, or silence. See whether a box is off, or set to"
            " fewer channels, put the plan or the box right, and read the computer again.",
            (),
            tuple(line for d in found for line in difference_lines(d)),
        )
