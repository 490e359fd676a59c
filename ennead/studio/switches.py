"""Single switches of a box: which stand otherwise in one setting of it than in another, and how one is set."""

from typing import Literal, NamedTuple

from ennead.studio.house import Settings
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.studio.record import replace


class Switch(NamedTuple):
    """One switch or menu of a box and where it is to stand.

    Parameters
    ----------
    key : str
        Of the bank, the input with the pad, or the mode; empty where a box has one such switch.
    value : str
        ``on`` or ``off``, the key of a position or of a clock source, or a rate in Hz; empty for a rate that goes with the session.
    """

    unit: UnitId
    what: Literal["power", "phantom", "pad", "mode", "clock", "rate"]
    key: str
    value: str


def switches(unit: UnitId, profile: Profile, old: Settings, new: Settings) -> list[Switch]:
    """Return what has to be switched on a box to get from one setting to another."""
    found = [
        Switch(unit, "phantom", bank.key, "on" if bank.key in new.phantom else "off")
        for bank in profile.banks if (bank.key in new.phantom) != (bank.key in old.phantom)
    ]  # fmt: skip
    found += [
        Switch(unit, "pad", port.key, "on" if port.key in new.pads else "off")
        for port in profile.ports if (port.key in new.pads) != (port.key in old.pads)
    ]  # fmt: skip
    for mode in profile.modes:
        value = new.modes.get(mode.key, mode.default)
        if value != old.modes.get(mode.key, mode.default):
            found.append(Switch(unit, "mode", mode.key, value))
    if new.clock_source != old.clock_source:
        found.append(Switch(unit, "clock", "", new.clock_source))
    if new.rate_hz != old.rate_hz:
        found.append(Switch(unit, "rate", "", "" if new.rate_hz is None else str(new.rate_hz)))
    if new.off != old.off:
        found.append(Switch(unit, "power", "", "off" if new.off else "on"))
    return found


def switched(settings: Settings, profile: Profile, switch: Switch) -> Settings:
    """Return settings with one switch of them set."""
    key, value = switch.key, switch.value
    if switch.what == "phantom":
        live = {*settings.phantom, key} if value == "on" else {*settings.phantom} - {key}
        return replace(settings, phantom=tuple([b.key for b in profile.banks if b.key in live]))
    if switch.what == "pad":
        live = {*settings.pads, key} if value == "on" else {*settings.pads} - {key}
        return replace(settings, pads=tuple([p.key for p in profile.ports if p.key in live]))
    if switch.what == "mode":
        mode = profile.mode(key)
        usual = mode is not None and mode.default == value
        return replace(
            settings, modes={k: v for k, v in {**settings.modes, key: value}.items() if k != key or not usual}
        )
    if switch.what == "clock":
        return replace(settings, clock_source=value)
    if switch.what == "rate":
        return replace(settings, rate_hz=int(value) if value else None)
    return replace(settings, off=value == "off")
