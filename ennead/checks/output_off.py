"""An output that is switched off although a destination is taken from it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.settings import set_output
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every destination with an output that is off."""
    settings = survey.settings
    for destination in survey.destinations:
        off = dict.fromkeys(e for e in destination.outputs if settings[e.unit].outputs.get(e.port) == "off")
        if not off:
            continue
        where = " and ".join(survey.end_text(end) for end in off)
        fixes = []
        for end in off:
            text = f"Switch {survey.end_text(end)} on"
            fixes.append(Fix(text, change(text, set_output, end.unit, end.port, "on")))
        yield Finding(
            "output_off",
            "trouble",
            subject_of(destination.id),
            (destination.id, *dict.fromkeys(e.unit for e in off)),
            f"{destination.name} is silent{'' if len(off) == len(set(destination.outputs)) else ' on one side'}:"
            f" {where} {'is' if len(off) == 1 else 'are'} switched off.",
            "The cable is there and the software plays, and nothing comes out.",
            tuple(fixes),
            cause=at(*off),
        )
