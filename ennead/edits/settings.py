"""Edits of a unit's switches and menus."""

from dataclasses import replace

from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings
from ennead.studio.ids import UnitId


def _put(studio: Studio, unit: UnitId, settings: Settings) -> Studio:
    return replace(studio, units=studio.units.put(unit, replace(studio.unit(unit), settings=settings)))


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
