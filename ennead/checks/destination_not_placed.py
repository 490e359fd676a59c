"""Everything that is to be heard needs an output."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.studio.session import GOING_LABELS
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a caution for each destination without an output, and each loop without a return."""
    for going in survey.studio.session_destinations:
        lacks = "output" if not going.outputs else "return" if going.kind == "loop" and not going.returns else ""
        if lacks:
            yield Finding(
                "destination_not_placed", "caution", "Lines", going.id, (going.id,),
                f"{going.name} ({GOING_LABELS[going.kind]}) has no {lacks} yet.",
                "Nobody hears it. Press Allocate, or give it one.",
                (Fix("Allocate", Wish("allocate", going.id)),),
                (f"it wants {going.channels} {lacks}{'s' if going.channels > 1 else ''}",),
            )  # fmt: skip
