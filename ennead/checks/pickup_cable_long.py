"""A bare pickup does not bear a long cable."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.checks.stated_sources import stated
from ennead.edits.change import change
from ennead.edits.session import change_source
from ennead.standards.levels import PICKUP_CABLE_M
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every instrument without a DI box on a long cable."""
    for source in stated(survey).bare:
        cable = survey.leads.get((source.id, 1))
        if cable is None or cable.length_m is None or cable.length_m <= PICKUP_CABLE_M:
            continue
        text = f"Put a passive DI box behind {source.name}"
        yield Finding(
            "pickup_cable_long",
            "caution",
            subject_of(source.id),
            (source.id, cable.end.unit),
            f"{source.name} runs over {cable.length_m:g} m without a DI box.",
            "The cable's capacitance takes the treble of a high-impedance pickup, and it hums. A DI box beside the"
            " player cures both.",
            (Fix(text, change(text, change_source, source.id, di="passive")),),
            (f"{cable.id} is {cable.length_m:g} m; up to {PICKUP_CABLE_M:g} m for a bare pickup (house default)",),
            cause=at(cable.end),
        )
