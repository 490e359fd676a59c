"""Working levels should meet: domestic gear into a professional input comes in low."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.checks.stated_sources import plugged_levels
from ennead.standards.levels import LEVEL_GAP_DB
from ennead.studio.subjects import subject_of
from ennead.survey.levels import input_level
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note where a line source's peak lies far under the working level of its input."""
    for source, cable, port, _ in plugged_levels(survey):
        if source.kind != "line" or source.level_dbu is None:
            continue
        level = input_level(source, port, survey.settings[cable.end.unit])
        if level is None or level.nominal_dbu is None or source.level_dbu > level.nominal_dbu - LEVEL_GAP_DB:
            continue
        gap = level.nominal_dbu - source.level_dbu
        yield Finding(
            "level_mismatch",
            "note",
            subject_of(source.id),
            (source.id, cable.end.unit),
            f"{source.name} comes in {gap:.1f} dB under the working level of {survey.end_text(cable.end)}.",
            "Raised later, its noise rises as well. Look for a +4/−10 switch at either end, or use a preamp's line"
            " input.",
            (),
            (
                f"source {source.level_dbu:+.1f} dBu at its loudest, input {level.nominal_dbu:+.1f} dBu nominal",
                f"a note from {LEVEL_GAP_DB:g} dB on (house default)",
            ),
            cause=at(cable.end),
        )
