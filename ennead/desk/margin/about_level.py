"""What the margin says of how an input's gain, or an output, stands."""

from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change, change
from ennead.edits.settings import set_gain, set_output
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings, Unit
from ennead.studio.profile import Port, Profile
from ennead.studio.switches import gain_text, offers

_STATES = (("on", "on"), ("off", "off"), ("fixed", "fixed at full level"))


def level_facts(unit: Unit, port: Port, settings: Settings, profile: Profile) -> list[Fact]:
    """Return the gain of an input that has a preamp or a converter, or the state of an interface's output."""
    if offers(profile, "gain", port.key, ""):
        return [Fact("Gain, dB", gain_text(settings.gains.get(port.key)), edit=lambda t: _gained(unit, port, t))]
    if offers(profile, "output", port.key, "on"):
        return [Fact("Output", settings.outputs.get(port.key, "on"), _STATES, lambda key: _stating(unit, port, key))]
    return []


def _gained(unit: Unit, port: Port, text: str) -> Change:
    bare = text.strip().removesuffix("dB").strip().replace(",", ".").replace("−", "-")
    try:
        gain = float(bare) if bare else None
    except ValueError:
        raise BadValue(f"the gain of {port.label}", text, "Type a number of dB, or nothing.") from None
    return change(f"Note the gain of {unit.name} {port.label}", set_gain, unit.id, port.key, gain)


def _stating(unit: Unit, port: Port, state: str) -> Change:
    words = dict(_STATES)[state]
    return change(f"Set {unit.name} {port.label} {words}", set_output, unit.id, port.key, state)
