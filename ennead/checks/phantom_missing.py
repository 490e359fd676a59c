"""A source that needs 48 V must get it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import seated
from ennead.edits.change import change
from ennead.edits.settings import set_phantom
from ennead.rules.phantom_reaches_source import has_phantom, touches_phantom, wants_phantom
from ennead.studio.house import Lead, PortEnd, Unit
from ennead.studio.profile import PASSIVE, Profile
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that needs 48 V and sits where it is off, or where there is none."""
    spoken: set[str] = set()
    for source, cable, powered in _without(survey):
        if source.id in spoken:
            continue
        spoken.add(source.id)
        unit, profile = survey.units[powered.unit], survey.profiles[powered.unit]
        at_xlr = touches_phantom(source, survey.port(cable.end))
        can = at_xlr and has_phantom(powered.port, profile)
        fixes = [Fix(f"Find another place for {source.name}", Request("place", source.id))]
        if can:
            bank = profile.bank_of_port[powered.port]
            text = f"Switch {bank.label} of {unit.name} on"
            fixes.insert(0, Fix(text, change(text, set_phantom, unit.id, bank.key, on=True)))
            message = f"{source.name} needs 48 V, and {bank.label} of {unit.name} is off."
        elif at_xlr:
            message = f"{source.name} needs 48 V, and {survey.end_text(powered)} has none."
        else:
            message = f"{source.name} needs 48 V, and the jack of {survey.end_text(cable.end)} carries none."
        yield Finding(
            "phantom_missing",
            "trouble",
            subject_of(source.id),
            (source.id, unit.id),
            message,
            "Without it the microphone is silent or thin.",
            tuple(fixes),
            _working(unit, profile),
            cause=at(powered),
        )


def _working(unit: Unit, profile: Profile) -> tuple[str, ...]:
    switches = f"{unit.name}'s 48 V switches: {', '.join(b.label for b in profile.banks) or 'none'}"
    if any(p.direction == "out" and p.stage == "transformer" for p in profile.ports) and profile.role in PASSIVE:
        return (
            switches,
            f"48 V comes back through {unit.name}'s direct leg; its isolated leg is a transformer and passes none",
        )
    return (switches,)


def _without(survey: Parts) -> list[tuple[Source, Lead, PortEnd]]:
    """Return the sources that need 48 V and sit where it does not reach them, with cable and the socket it would come from."""
    profiles, behind = survey.profiles, survey.powered
    live = {
        u: {port for bank in profiles[u].banks if bank.key in on for port in bank.ports}
        for u, on in survey.phantom_on.items()
    }
    found = []
    for source, cable, port in seated(survey):
        if source.phantom != "needed" or not wants_phantom(source):
            continue
        end = cable.end
        powered = behind.get((end.unit, end.port))
        if powered is None:
            gives, powered = end.port in live[end.unit], (end,)
        else:
            gives = any(p.port in live[p.unit] for p in powered)
        if gives and (source.is_microphone or touches_phantom(source, port)):
            continue
        if not survey.views[powered[0].unit].off:
            found.append((source, cable, powered[0]))
    return found
