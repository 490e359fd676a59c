"""What the margin says of how an input's gain, or an output, stands."""

from functools import partial

from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change, change
from ennead.edits.delays import set_stop_delay
from ennead.edits.settings import set_feed, set_gain, set_level, set_output
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, Settings, Unit
from ennead.studio.mixes import feeds_offered, lane_label, lane_name, lane_of, level_of, mixable
from ennead.studio.profile import Port, Profile
from ennead.studio.switches import gain_text, offers
from ennead.survey.survey import Survey

_STATES = (("on", "on"), ("off", "off"), ("fixed", "fixed at full level"))


def level_facts(unit: Unit, port: Port, settings: Settings, profile: Profile) -> list[Fact]:
    """Return the gain of an input that has a preamp or a converter, or the state of an interface's output."""
    facts = []
    if offers(profile, "gain", port.key, ""):
        facts.append(Fact("Gain, dB", gain_text(settings.gains.get(port.key)), edit=lambda t: _gained(unit, port, t)))
    elif offers(profile, "output", port.key, "on"):
        facts.append(
            Fact("Output", settings.outputs.get(port.key, "on"), _STATES, lambda key: _stating(unit, port, key))
        )
    return facts + _mix_facts(unit, port, settings, profile)


def _mix_facts(unit: Unit, port: Port, settings: Settings, profile: Profile) -> list[Fact]:
    """Return what feeds each lane of an output, and the level of each lane in the mixes that may hold it."""
    facts = []
    lanes = [lane_name(port.key, n) for n in range(1, max(port.channels, 1) + 1)] if not port.is_digital else []
    for lane in lanes:
        number = lane_of(lane)[1]
        side = "" if len(lanes) == 1 else f" {('left', 'right')[number - 1]}" if len(lanes) == 2 else f" {number}"
        if lane in feeds_offered(profile):
            choices = [
                ("", "its own playback channel"),
                *[(f, lane_label(profile, f)) for f in feeds_offered(profile)[lane] if f != lane],
            ]
            facts.append(
                Fact(
                    f"{side} fed by".strip().capitalize(),
                    settings.feeds.get(lane, ""),
                    tuple(choices),
                    partial(_fed, unit, port, lane),
                )
            )
        for mix, held in mixable(profile).items():
            if lane in held:
                level = settings.mixes.get(mix, {}).get(lane)
                said = "" if level is None else level if level == "off" else f"{level:g}"
                label = f"{'Playback' if port.direction == 'out' else 'Level'}{side} in {lane_label(profile, mix)}, dB"
                facts.append(Fact(label, said, edit=partial(_mixed, unit, port, mix, lane)))
    return facts


def _figure(text: str, unit: str) -> str:
    """Return a typed figure without its unit, with the signs that Python reads."""
    return text.strip().removesuffix(unit).strip().replace(",", ".").replace("−", "-")


def _fed(unit: Unit, port: Port, lane: str, feed: str) -> Change:
    return change(f"Feed {unit.name} {port.label}", set_feed, unit.id, lane, feed)


def _mixed(unit: Unit, port: Port, mix: str, lane: str, text: str) -> Change:
    bare = _figure(text, "dB")
    level = level_of(bare) if bare else None
    if bare and level is None:
        raise BadValue(f"the level of {port.label} in a mix", text, "Type a number of dB, off, or nothing.")
    return change(f"Set the level of {unit.name} {port.label}", set_level, unit.id, mix, lane, level)


def _gained(unit: Unit, port: Port, text: str) -> Change:
    bare = _figure(text, "dB")
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
    return figure_of(text, "samples", what)


def figure_of(text: str, unit: str, what: str) -> float | None:
    """Return a typed figure, with or without its unit; None for nothing.

    Raises
    ------
    BadValue
    """
    bare = _figure(text, unit)
    try:
        return float(bare) if bare else None
    except ValueError:
        raise BadValue(what, text, f"Type a number of {unit}, or nothing.") from None


def _stating(unit: Unit, port: Port, state: str) -> Change:
    words = dict(_STATES)[state]
    return change(f"Set {unit.name} {port.label} {words}", set_output, unit.id, port.key, state)
