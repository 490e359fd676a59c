"""Some boxes must have their routing stored once, while they are connected to a computer."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.settings import set_stored
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every cabled unit that has not stored what its profile says must be stored."""
    profiles = survey.profiles
    for unit in [u for u, p in profiles.items() if p.setup]:
        profile = profiles[unit]
        if survey.settings[unit].stored or _as_it_comes(survey, unit):
            continue
        if not any(unit in (n.start.unit, n.end.unit) for n in survey.links.values() if n.digital):
            continue
        name = survey.units[unit].name
        text = f"It is stored in {name}"
        yield Finding(
            "routing_not_stored",
            "note",
            subject_of(unit),
            (unit,),
            f"{name} has to have its settings stored once before it works so.",
            "As delivered it may send nothing, or something else: new inputs that stay silent though every cable is"
            " right.",
            (Fix(text, change(text, set_stored, unit, True)),),
            tuple(f"{n}. {sentence}" for n, sentence in enumerate(profile.setup, start=1)),
        )


def _as_it_comes(survey: Parts, unit: UnitId) -> bool:
    """Say whether a box on the computer stands in every mode as it is delivered: the computer sets what there is to set."""
    modes, profile = survey.settings[unit].modes, survey.profiles[unit]
    return unit in survey.numbering.computer_of and all(modes.get(m.key, m.default) == m.default for m in profile.modes)
