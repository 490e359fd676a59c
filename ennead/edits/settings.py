"""Edits of a unit's switches and menus."""

from ennead.edits.profiles import fitted
from ennead.standards.links import WORD
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings, Unit
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port, Profile
from ennead.studio.record import replace


def _put(studio: Studio, unit: UnitId, settings: Settings) -> Studio:
    return replace(studio, units=studio.units.put(unit, replace(studio.unit(unit), settings=settings)))


def stand_as(unit: Unit, then: Settings, profile: Profile) -> Unit:
    """Return a unit whose switches and menus stand as then; what belongs to the box itself stays as it is."""
    now = unit.settings
    settings = replace(
        now,
        modes=then.modes,
        phantom=then.phantom,
        clock_source=then.clock_source,
        rate_hz=then.rate_hz,
        pads=then.pads,
        off=then.off,
    )
    # Its description may have changed since that evening.
    settings = fitted(replace(unit, settings=settings), profile).settings
    return unit if settings == now else replace(unit, settings=settings)


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
    old = studio.unit(unit).settings
    modes = {**old.modes, mode: choice}
    if choice == found.default:
        del modes[mode]
    return _put(studio, unit, replace(old, modes=modes))


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
    return _put(studio, unit, replace(studio.unit(unit).settings, clock_source=source))


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
    old = studio.unit(unit).settings
    live = {*old.phantom, bank} if on else set(old.phantom) - {bank}
    return _put(studio, unit, replace(old, phantom=tuple(b for b in banks if b in live)))


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
    return _put(studio, unit, replace(studio.unit(unit).settings, driver_map=key))


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
    return _put(studio, unit, replace(old, terminated=tuple(p.key for p in profile.ports if p.key in live)))


def may_be_closed(port: Port) -> bool:
    """Say whether it is up to somebody if a word-clock line ends at a socket: by its switch, or with a T-piece and a terminator."""
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
    return _put(studio, unit, replace(studio.unit(unit).settings, rate_hz=rate_hz))


def set_stored(studio: Studio, unit: UnitId, stored: bool) -> Studio:
    """Note whether a unit has had stored in it what its profile wants stored once.

    Raises
    ------
    UnknownObject
    """
    return _put(studio, unit, replace(studio.unit(unit).settings, stored=stored))


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
    old = studio.unit(unit).settings
    live = {*old.pads, port} if on else set(old.pads) - {port}
    return _put(studio, unit, replace(old, pads=tuple(p.key for p in profile.ports if p.key in live)))


def switch_off(studio: Studio, unit: UnitId, off: bool) -> Studio:
    """Switch a unit off, or on again; what it joins in copper stays joined.

    Raises
    ------
    BadValue
        If it takes no power at all.
    """
    if off and studio.profile_of(unit).supply == "none":
        raise BadValue("a box that is switched off", studio.unit(unit).name, "It has no switch: it takes no power.")
    return _put(studio, unit, replace(studio.unit(unit).settings, off=off))
