"""What the margin says of how an input's gain, or an output, stands."""

from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change, change
from ennead.edits.delays import set_stop_delay
from ennead.edits.settings import set_gain, set_output
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, Settings, Unit
from ennead.studio.profile import Port, Profile
from ennead.studio.switches import gain_text, offers
from ennead.survey.survey import Survey

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


def delay_facts(survey: Survey, end: PortEnd) -> list[Fact]:
    """Return what passing a socket adds, where its box keeps time; a value of its own goes above the profile's."""
    view, unit, port = survey.views[end.unit], survey.studio.units[end.unit], survey.studio.port(end)
    own = next((d for d in unit.delays.get(end.port, ()) if d.rate_hz == survey.rate_hz), None)
    if not view.profile.is_digital and own is None:
        return []
    held = view.delays[end.port]
    text = f"Note the delay at {unit.name} {port.label}"

    def noted(typed: str) -> Change:
        return change(text, set_stop_delay, end, samples_of(typed, f"the delay at {port.label}"))

    facts = [Fact("Delay, samples", "" if held is None else f"{held:g}", edit=noted)]
    if own is not None:
        facts.append(Fact("Delay is", "measured" if own.measured else "stated for this box"))
    return facts


def samples_of(text: str, what: str) -> float | None:
    """Return typed samples; None for nothing.

    Raises
    ------
    BadValue
    """
    bare = text.strip().removesuffix("samples").strip().replace(",", ".").replace("−", "-")
    try:
        return float(bare) if bare else None
    except ValueError:
        raise BadValue(what, text, "Type a number of samples, or nothing.") from None


def _stating(unit: Unit, port: Port, state: str) -> Change:
    words = dict(_STATES)[state]
    return change(f"Set {unit.name} {port.label} {words}", set_output, unit.id, port.key, state)
