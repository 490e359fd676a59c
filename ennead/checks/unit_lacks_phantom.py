"""A box that runs on 48 V from the preamp, such as an active DI, must be given it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.settings import set_phantom
from ennead.rules.phantom_reaches_source import has_phantom, is_live
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every wired box that runs on phantom and gets none from its preamp."""
    fed = {unit for unit, profile in survey.profiles.items() if profile.supply == "phantom"}
    for link in survey.links.values() if fed else ():
        unit_fed = link.start.unit
        if unit_fed not in fed or "mic" not in survey.profiles[unit_fed].port_by_key[link.start.port].carries:
            continue
        sockets = survey.powered_sockets(link.end)
        if any(is_live(p.port, survey.profiles[p.unit], survey.phantom_on[p.unit]) for p in sockets):
            continue
        powered = sockets[0]
        unit, profile = survey.units[powered.unit], survey.profiles[powered.unit]
        name = survey.units[link.start.unit].name
        fixes: tuple[Fix, ...] = ()
        if has_phantom(powered.port, profile):
            bank = profile.bank_of_port[powered.port]
            text = f"Switch {bank.label} of {unit.name} on"
            fixes = (Fix(text, change(text, set_phantom, unit.id, bank.key, on=True)),)
            message = f"{name} runs on 48 V, and {bank.label} of {unit.name} is off."
        else:
            message = f"{name} runs on 48 V, and {survey.end_text(powered)} gives none."
        yield Finding(
            "unit_lacks_phantom",
            "trouble",
            subject_of(link.start.unit),
            (link.start.unit, unit.id, link.cable),
            message,
            "Without it the box passes nothing, or a thin and distorted signal, unless it has a battery.",
            fixes,
            (f"{link.cable} ends in {survey.end_text(link.end)}", f"48 V there comes from {survey.end_text(powered)}"),
        )
