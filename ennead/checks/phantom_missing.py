"""A source that needs 48 V must get it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.edits.change import change
from ennead.edits.settings import set_phantom
from ennead.rules.phantom_reaches_source import has_phantom, is_live, wants_phantom
from ennead.studio.house import SourceEnd
from ennead.survey.phantom_way import powered_socket
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a caution where 48 V is off for a source that needs it, trouble where its socket has none."""
    studio = survey.studio
    spoken: set[str] = set()
    for cable in studio.cables.values():
        if not isinstance(cable.start, SourceEnd) or not studio.is_active(cable):
            continue
        source = studio.sources[cable.start.source]
        if source.id in spoken or not wants_phantom(source):
            continue
        powered = powered_socket(survey, cable.end)
        unit, profile = studio.units[powered.unit], studio.profile_of(powered.unit)
        if is_live(powered.port, profile, unit.settings.phantom):
            continue
        spoken.add(source.id)
        can = has_phantom(powered.port, profile)
        fixes = [Fix(f"Find another place for {source.name}", Wish("place", source.id))]
        if can:
            bank = profile.bank_of_port[powered.port]
            text = f"Switch {bank.label} of {unit.name} on"
            fixes.insert(0, Fix(text, change(text, set_phantom, unit.id, bank.key, on=True)))
            message = f"{source.name} needs 48 V, and {bank.label} of {unit.name} is off."
        else:
            message = f"{source.name} needs 48 V, and {studio.end_text(powered)} has none."
        yield Finding(
            "phantom_missing",
            "caution" if can else "trouble",
            "Lines",
            source.id,
            (source.id, unit.id),
            message,
            "Without it the microphone is silent or thin.",
            tuple(fixes),
            (f"{unit.name}'s 48 V switches: {', '.join(b.label for b in profile.banks) or 'none'}",),
        )
