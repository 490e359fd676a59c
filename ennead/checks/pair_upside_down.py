"""A pair wired upside down: its normal runs from an input to an output."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution where an output is wired to the end of a half-normal and an input to its start."""
    if not survey.bays:
        return
    there = survey.behind
    for unit, bay in survey.bays.items():
        for normal in bay.normals:
            start = unit, normal.start
            above = there.get(start)
            if above is None or above[0].way != "out" or normal.mode != "half":
                continue
            end = unit, normal.end
            if {b.way for b in above} != {"out"} or {b.way for b in there.get(end, ())} != {"in"}:
                continue
            if any(isinstance(b.far, PortEnd) and b.far.unit in survey.bays for b in (*there[start], *there[end])):
                continue
            yield Finding(
                "pair_upside_down",
                "caution",
                subject_of(unit),
                (unit, *(b.cable for b in (*there[start], *there[end]))),
                f"{survey.end_text(PortEnd(*start))} and {survey.end_text(PortEnd(*end))} are wired upside down: the"
                " output is below.",
                "A plug in the output breaks the normal, and a plug in the input taps it: just the wrong way round."
                " Swap the two cables, or let the normal run upward.",
                cause=at(start, end),
            )
