"""Everything that is to be heard needs an output."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.studio.session import DESTINATION_LABELS
from ennead.studio.subjects import subject_of
from ennead.survey.interrupted import interruption
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for each destination without an output, and each loop without a return."""
    for destination in survey.destinations:
        lacks = (
            "output"
            if not destination.outputs
            else "return"
            if destination.kind == "loop" and not destination.returns
            else ""
        )
        many = destination.backs if lacks == "return" else destination.channels
        if lacks and (not destination.at or interruption(survey, destination) is None):
            yield Finding(
                "destination_not_placed",
                "caution",
                subject_of(destination.id),
                (destination.id,),
                f"{destination.name} ({DESTINATION_LABELS[destination.kind]}) has no {lacks} yet.",
                "Nobody hears it. Press Allocate, or give it one.",
                (Fix("Allocate", Request("allocate", destination.id)),),
                (f"it wants {many} {lacks}{'s' if many > 1 else ''}",),
            )
