"""A clock generator that is cabled, and that no unit follows."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.checks.link_kinds import link_kinds
from ennead.edits.change import change
from ennead.edits.settings import set_clock_source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every unit to which a generator's clock arrives and which follows something else."""
    for link in link_kinds(survey).generators:
        if link.clock is None or link.in_view.profile.role == "clock":
            continue
        entry = next((c for c in link.in_view.profile.clock_sources if c.port == link.end.port), None)
        now = survey.settings[link.end.unit].clock_source
        if entry is None or entry.key == now:
            continue
        there, name = survey.units[link.end.unit].name, survey.units[link.start.unit].name
        text = f"Let {there} follow {entry.label}"
        follows = link.in_view.profile.clock_source(now)
        yield Finding(
            "generator_not_followed",
            "note",
            subject_of(link.end.unit),
            (link.end.unit, link.start.unit, link.cable),
            f"{name}'s clock arrives at {there}, which follows {follows.label if follows else 'nothing'} instead.",
            "It may be meant so; more often the menu was forgotten after the cable was pulled.",
            (Fix(text, change(text, set_clock_source, link.end.unit, entry.key)),),
            (f"{link.cable}: {survey.end_text(link.start)} → {survey.end_text(link.end)}",),
        )
