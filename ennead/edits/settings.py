"""Edits of a unit's switches and menus: of the box itself, of the session, or of the scene."""

from collections.abc import Mapping

from ennead.standards.links import WORD
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings
from ennead.studio.ids import SessionId, UnitId
from ennead.studio.mixes import LEVEL_RANGE_DB, Level, are_levels, levels_text
from ennead.studio.profile import Port
from ennead.studio.record import replace
from ennead.studio.switches import GAIN_RANGE_DB, Overrides, Switch, offers, stated_of, states, stating, switched


def _of_the_box(studio: Studio, unit: UnitId, settings: Settings) -> Studio:
    return replace(studio, units=studio.units.put(unit, replace(studio.unit(unit), settings=settings)))


def set_switch(studio: Studio, switch: Switch) -> Studio:
    """Set a switch or menu of a box at the innermost level in force that already states it.

    The levels are the scene, the session and the box. Where none states it, the session does if there are several, else the box.

    Parameters
    ----------
    switch : Switch
        One that the box has.

    Raises
    ------
    UnknownObject
    """
    unit = studio.unit(switch.unit)
    scene, session = studio.scenes.get(studio.scene), studio.current
    if scene is not None and states(scene.settings.get(unit.id, ()), switch):
        there = {**scene.settings, unit.id: stating(scene.settings[unit.id], switch)}
        return replace(studio, scenes=studio.scenes.put(scene.id, replace(scene, settings=there)))
    stated = session.settings.get(unit.id, ())
    if len(studio.sessions) > 1 or states(stated, switch):
        return _with_overrides(studio, {session.id: {**session.settings, unit.id: stating(stated, switch)}})
    return _of_the_box(studio, unit.id, switched(unit.settings, studio.profile_of(unit.id), switch))


def set_for_every_session(studio: Studio, switch: Switch) -> Studio:
    """Set a switch or menu in the box itself, and let no session state it any more; scenes that do still mask it.

    Raises
    ------
    UnknownObject
    """
    unit = studio.unit(switch.unit)
    left: dict[SessionId, Overrides] = {}
    for session in studio.sessions.values():
        stated = session.settings.get(unit.id, ())
        if states(stated, switch):
            kept = tuple([s for s in stated if (s.what, s.key) != (switch.what, switch.key)])
            others = {u: s for u, s in session.settings.items() if u != unit.id}
            left[session.id] = {**others, unit.id: kept} if kept else others
    changed = _of_the_box(studio, unit.id, switched(unit.settings, studio.profile_of(unit.id), switch))
    return _with_overrides(changed, left)


def settle(studio: Studio, unit: UnitId) -> Studio:
    """Let every session have the switches of a box that any session states as the current session has them.

    Raises
    ------
    UnknownObject
    """
    for switch in stated_by_sessions(studio, unit):
        studio = set_for_every_session(studio, switch)
    return studio


def stated_by_sessions(studio: Studio, unit: UnitId) -> tuple[Switch, ...]:
    """Return the switches of a box that some session states, each as it stands on the current one without its scene.

    Raises
    ------
    UnknownObject
    """
    profile = studio.profile_of(unit)
    now = studio.settings_in(studio.current, None)[unit]
    asked = {(s.what, s.key) for session in studio.sessions.values() for s in session.settings.get(unit, ())}
    return tuple([Switch(unit, s.what, s.key, s.value) for s in stated_of(profile, now) if (s.what, s.key) in asked])


def _with_overrides(studio: Studio, settings: Mapping[SessionId, Overrides]) -> Studio:
    sessions = {key: replace(studio.sessions[key], settings=stated) for key, stated in settings.items()}
    return replace(studio, sessions=studio.sessions.put_all(sessions)) if sessions else studio


def set_mode(studio: Studio, unit: UnitId, mode: str, choice: str) -> Studio:
    """Set one of a unit's modes.

    Raises
    ------
    BadValue
        If the unit has no such mode, or the mode no such position.
    """
    found = studio.profile_of(unit).mode(mode)
    name = studio.unit(unit).name
    if found is None:
        raise BadValue(f"a mode of {name}", mode, "Choose one of the modes in its menu.")
    if choice not in {c.key for c in found.choices}:
        offered = ", ".join(c.label for c in found.choices)
        raise BadValue(f"a position of {found.label} on {name}", choice, f"It offers: {offered}.")
    return set_switch(studio, Switch(unit, "mode", mode, choice))


def set_clock_source(studio: Studio, unit: UnitId, source: str) -> Studio:
    """Set where a unit takes its clock from.

    Raises
    ------
    BadValue
        If the unit's clock menu has no such entry.
    """
    profile = studio.profile_of(unit)
    if profile.clock_source(source) is None:
        offered = ", ".join(c.label for c in profile.clock_sources) or "none, it has no clock"
        raise BadValue(f"a clock source of {studio.unit(unit).name}", source, f"It offers: {offered}.")
    return set_switch(studio, Switch(unit, "clock", "", source))


def set_phantom(studio: Studio, unit: UnitId, bank: str, on: bool) -> Studio:
    """Switch the 48 V of a phantom bank on or off.

    Raises
    ------
    BadValue
        If the unit has no such bank.
    """
    banks = [b.key for b in studio.profile_of(unit).banks]
    if bank not in banks:
        raise BadValue(f"a phantom bank of {studio.unit(unit).name}", bank, "Choose one of its 48 V switches.")
    return set_switch(studio, Switch(unit, "phantom", bank, "on" if on else "off"))


def set_driver_map(studio: Studio, unit: UnitId, key: str) -> Studio:
    """Choose which of an interface's driver maps is the true one here.

    Raises
    ------
    BadValue
        If the profile has no such map.
    """
    maps = studio.profile_of(unit).driver_maps
    if key not in {m.key for m in maps}:
        offered = ", ".join(m.label for m in maps) or "none"
        raise BadValue(f"a driver map of {studio.unit(unit).name}", key, f"It offers: {offered}.")
    return _of_the_box(studio, unit, replace(studio.unit(unit).settings, driver_map=key))


def set_termination(studio: Studio, unit: UnitId, port: str, on: bool) -> Studio:
    """Close a word-clock line with 75 ohm at an input or open it: by its switch, or by a T-piece with a terminator.

    Raises
    ------
    BadValue
        If that is no word-clock input, or one that closes its line in any case.
    """
    profile = studio.profile_of(unit)
    found = profile.port_by_key.get(port)
    if found is None or not may_be_closed(found):
        remedy = "Choose a word-clock input that does not close its line in any case."
        raise BadValue(f"the end of a word-clock line at {studio.unit(unit).name}", port, remedy)
    old = studio.unit(unit).settings
    live = {*old.terminated, port} if on else set(old.terminated) - {port}
    return _of_the_box(studio, unit, replace(old, terminated=tuple(p.key for p in profile.ports if p.key in live)))


def may_be_closed(port: Port) -> bool:
    """Say whether the end of a word-clock line at a socket is a choice: by its switch, or with a T-piece and a terminator."""
    return port.direction == "in" and port.carries[0] in WORD and port.termination != "fixed"


def set_own_rate(studio: Studio, unit: UnitId, rate_hz: int | None) -> Studio:
    """Note where a unit's own rate switch stands, Hz; None where it goes with the session.

    Raises
    ------
    BadValue
        If the unit does not run at that rate.
    """
    profile = studio.profile_of(unit)
    if rate_hz is not None and rate_hz not in profile.rates_hz:
        offered = ", ".join(rate_text(r) for r in profile.rates_hz)
        raise BadValue(f"a sample rate of {studio.unit(unit).name}", rate_hz, f"It offers: {offered}.")
    return set_switch(studio, Switch(unit, "rate", "", "" if rate_hz is None else str(rate_hz)))


def set_stored(studio: Studio, unit: UnitId, stored: bool) -> Studio:
    """Note whether a unit has had stored in it what its profile wants stored once.

    Raises
    ------
    UnknownObject
    """
    return _of_the_box(studio, unit, replace(studio.unit(unit).settings, stored=stored))


def set_pad(studio: Studio, unit: UnitId, port: str, on: bool) -> Studio:
    """Switch the pad of an input on or off.

    Raises
    ------
    BadValue
        If that input has none.
    """
    profile = studio.profile_of(unit)
    found = profile.port_by_key.get(port)
    if found is None or found.pad_db is None:
        raise BadValue(f"a pad of {studio.unit(unit).name}", port, "Only inputs whose profile states a pad have one.")
    return set_switch(studio, Switch(unit, "pad", port, "on" if on else "off"))


def set_gain(studio: Studio, unit: UnitId, port: str, gain_db: float | None) -> Studio:
    """Note where the gain of an input stands, dB; None for not known.

    Raises
    ------
    BadValue
        If that is no analogue input, or no gain.
    """
    text = "" if gain_db is None else f"{gain_db:g}"
    if not offers(studio.profile_of(unit), "gain", port, text):
        least, most = GAIN_RANGE_DB
        raise BadValue(
            f"the gain of an input of {studio.unit(unit).name}",
            text or port,
            f"Analogue inputs have one, from {least:g} to {most:g} dB.",
        )
    return set_switch(studio, Switch(unit, "gain", port, text))


def set_output(studio: Studio, unit: UnitId, port: str, state: str) -> Studio:
    """Set an output on, off, or fixed: at full level, whatever the volume control says.

    Raises
    ------
    BadValue
        If that is no analogue output, or no such state.
    """
    if not offers(studio.profile_of(unit), "output", port, state):
        raise BadValue(
            f"an output of {studio.unit(unit).name}", f"{port} {state}", "Analogue outputs are on, off or fixed."
        )
    return set_switch(studio, Switch(unit, "output", port, state))


def set_level(studio: Studio, unit: UnitId, mix: str, lane: str, level: Level | None) -> Studio:
    """Note at which level a signal is in a mix, or on an output on which a unit sums; None for not noted.

    Parameters
    ----------
    mix, lane : str
        See `studio/mixes`.
    level : float, dB, or "off"

    Raises
    ------
    BadValue
        If it has no such mix, the mix cannot hold that, or it is no level.
    """
    others = {name: held for name, held in studio.settings_of(unit).mixes.get(mix, {}).items() if name != lane}
    if not are_levels(studio.profile_of(unit), mix, {lane: 0.0 if level is None else level}):
        least, most = LEVEL_RANGE_DB
        raise BadValue(
            f"the level of {lane} in {mix} of {studio.unit(unit).name}",
            level if level is not None else lane,
            f"A mix holds its own inputs and playback channels, off or from {least:g} to {most:g} dB.",
        )
    return set_switch(
        studio, Switch(unit, "mix", mix, levels_text(others if level is None else {**others, lane: level}))
    )


def set_feed(studio: Studio, unit: UnitId, lane: str, feed: str) -> Studio:
    """Choose what feeds an output of an interface: a playback channel, a side of a mix, or nothing; empty for its own playback channel.

    Raises
    ------
    BadValue
        If that output has no choice, or the interface nothing of the kind.
    """
    if not offers(studio.profile_of(unit), "feed", lane, feed):
        remedy = "Choose a playback channel, or a mix that its profile lists for this output."
        raise BadValue(f"what feeds {lane} of {studio.unit(unit).name}", feed or lane, remedy)
    return set_switch(studio, Switch(unit, "feed", lane, "" if feed == lane else feed))


def switch_off(studio: Studio, unit: UnitId, off: bool) -> Studio:
    """Switch a unit off, or on again; what it joins in copper stays joined.

    Raises
    ------
    BadValue
        If it takes no power at all.
    """
    if off and studio.profile_of(unit).supply == "none":
        raise BadValue("a box that is switched off", studio.unit(unit).name, "It has no switch: it takes no power.")
    return set_switch(studio, Switch(unit, "power", "", "off" if off else "on"))
