"""Outboard on the way in must be wired between a preamp and a line input."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.stated_sources import stated
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that wants outboard through which nothing reaches the computer."""
    for source in stated(survey).wishes:
        if source.outboard is None or source.outboard not in survey.units:
            continue
        if any(source.outboard in survey.way(s.unit, s.port.key).passes for s in survey.input_points):
            continue
        name = survey.units[source.outboard].name
        yield Finding(
            "outboard_has_no_way_in",
            "trouble",
            subject_of(source.id),
            (source.id, source.outboard),
            f"{source.name} is to pass {name}, but nothing leads through {name} to the computer.",
            "A built-in preamp goes straight to its converter. Wire a preamp's output, an insert's send or a direct out"
            " to its input, and its output to a line input.",
            (),
            (f"inputs from which a signal passes {name} on its way to the computer: none",),
        )
