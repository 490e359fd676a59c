"""An input should be light on its source."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import plugged_levels
from ennead.standards.levels import BRIDGING
from ennead.studio.subjects import subject_of
from ennead.survey.levels import input_level
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution where an input's impedance is less than five times that of its source."""
    for source, cable, port, _ in plugged_levels(survey):
        if source.impedance_ohm is None:
            continue
        level = input_level(source, port, survey.settings[cable.end.unit])
        if level is None or level.impedance_ohm is None or level.impedance_ohm >= BRIDGING * source.impedance_ohm:
            continue
        share = level.impedance_ohm / (level.impedance_ohm + source.impedance_ohm)
        yield Finding(
            "input_loads_source",
            "caution",
            subject_of(source.id),
            (source.id, cable.end.unit),
            f"{survey.end_text(cable.end)} loads {source.name}: {level.impedance_ohm:g} Ω on"
            f" {source.impedance_ohm:g} Ω.",
            "A pickup or a ribbon loses level and treble into a low load. Use a Hi-Z input, a DI box, or a preamp of"
            " higher impedance.",
            (Fix(f"Find another place for {source.name}", Request("place", source.id)),),
            (
                (
                    f"{level.impedance_ohm:g} / {source.impedance_ohm:g} ="
                    f" {level.impedance_ohm / source.impedance_ohm:.1f} times; {BRIDGING:g} or more is light (house"
                    " default)"
                ),
                (
                    f"level left: {level.impedance_ohm:g} / ({level.impedance_ohm:g} + {source.impedance_ohm:g}) ="
                    f" {share:.2f}"
                ),
            ),
            cause=at(cable.end),
        )
