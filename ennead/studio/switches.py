"""Single switches of a box: how one is set, which differ between two settings, and what a session or a scene states of them."""

from collections.abc import Iterable, Mapping
from typing import Final, Literal, NamedTuple, cast

from ennead.studio.house import OutputState, Settings, Unit
from ennead.studio.ids import ProfileId, UnitId
from ennead.studio.mixes import are_levels, feeds_offered, levels_of, levels_text, mixable
from ennead.studio.profile import Profile
from ennead.studio.record import record, replace

What = Literal["power", "phantom", "pad", "mode", "clock", "rate", "gain", "output", "mix", "feed"]

#: Gains of inputs that are no slip of the hand, dB.
GAIN_RANGE_DB: Final = (-40.0, 90.0)


@record(frozen=True)
class Stated:
    """Where one switch or menu of a box stands on a session or in a scene, whatever the box's own setting is.

    Parameters
    ----------
    key, value : str
        As those of a `Switch`.
    """

    what: What
    key: str
    value: str


#: What a session or a scene states, by box: only switches that stand otherwise than the box, or that were set apart.
Overrides = Mapping[UnitId, tuple[Stated, ...]]


class Switch(NamedTuple):
    """One switch or menu of a box and where it is to stand.

    Parameters
    ----------
    key : str
        Of the bank, the input with the pad or the gain, the output, the mix, or the mode; empty where a box has one such switch.
    value : str
        ``on`` or ``off`` (of an output also ``fixed``), the key of a position or of a clock source, a gain in dB, the levels of a mix, what
        feeds an output, or a rate in Hz; empty for a rate that goes with the session, for a gain that is not noted, for a mix of which no
        level is, and for an output that is fed by its own playback channel.
    """

    unit: UnitId
    what: What
    key: str
    value: str


def offers(profile: Profile, what: str, key: str, value: str) -> bool:
    """Say whether a box has a switch or menu, and it a position."""
    if what in ("phantom", "pad", "power") and value not in ("on", "off"):
        return False
    if what == "phantom":
        return any(bank.key == key for bank in profile.banks)
    if what == "pad":
        return key in profile.port_by_key and profile.port_by_key[key].pad_db is not None
    if what == "mode":
        mode = profile.mode(key)
        return mode is not None and any(choice.key == value for choice in mode.choices)
    if what == "gain":
        return _has_gain(profile, key) and (not value or gain_of(value) is not None)
    if what == "output":
        return _has_level(profile, key) and value in ("on", "off", "fixed")
    if what == "mix":
        levels = levels_of(value)
        return levels is not None and are_levels(profile, key, levels)
    if what == "feed":
        return key in (lanes := feeds_offered(profile)) and (not value or value in lanes[key])
    if key:
        return False
    if what == "clock":
        return profile.clock_source(value) is not None
    if what == "rate":
        return not value or (value.isdecimal() and value.isascii() and len(value) < 8)
    return what == "power"


def _has_gain(profile: Profile, key: str) -> bool:
    port = profile.port_by_key.get(key)
    if port is None or port.direction != "in" or port.is_digital:
        return False
    return profile.converts or "mic" in port.carries


def _has_level(profile: Profile, key: str) -> bool:
    port = profile.port_by_key.get(key)
    return port is not None and port.direction == "out" and not port.is_digital and bool(profile.driver_maps)


def gain_of(text: str) -> float | None:
    """Return a gain in dB; None for what is none, or beyond what a gain can be."""
    try:
        gain = float(text)
    except ValueError:
        return None
    return gain if GAIN_RANGE_DB[0] <= gain <= GAIN_RANGE_DB[1] else None


def gain_text(gain: float | None) -> str:
    """Return a gain as a switch has it: ``32.5``; nothing where none is noted."""
    return "" if gain is None else f"{gain:g}"


def stated_of(profile: Profile, settings: Settings) -> tuple[Stated, ...]:
    """Return every switch of a box as it stands; those a box does not have are left out where they are at rest."""
    found = [Stated("phantom", bank.key, "on" if bank.key in settings.phantom else "off") for bank in profile.banks]
    found += [
        Stated("pad", port.key, "on" if port.key in settings.pads else "off")
        for port in profile.ports
        if port.pad_db is not None
    ]
    found += [Stated("mode", mode.key, settings.modes.get(mode.key, mode.default)) for mode in profile.modes]
    if profile.clock_sources:
        found.append(Stated("clock", "", settings.clock_source))
    if profile.is_digital or settings.rate_hz is not None:
        found.append(Stated("rate", "", "" if settings.rate_hz is None else str(settings.rate_hz)))
    if profile.supply != "none" or settings.off:
        found.append(Stated("power", "", "off" if settings.off else "on"))
    keys = [port.key for port in profile.ports]
    found += [Stated("gain", key, gain_text(settings.gains.get(key))) for key in keys if _has_gain(profile, key)]
    found += [Stated("output", key, settings.outputs.get(key, "on")) for key in keys if _has_level(profile, key)]
    found += [Stated("mix", mix, levels_text(settings.mixes.get(mix, {}))) for mix in mixable(profile)]
    found += [Stated("feed", lane, settings.feeds.get(lane, "")) for lane in feeds_offered(profile)]
    return _in_order(found)


def stating(stated: tuple[Stated, ...], switch: Switch) -> tuple[Stated, ...]:
    """Return what is stated of a box with one switch of it set, whether or not it was stated before."""
    others = [s for s in stated if (s.what, s.key) != (switch.what, switch.key)]
    return _in_order([*others, Stated(switch.what, switch.key, switch.value)])


def states(stated: Iterable[Stated], switch: Switch) -> bool:
    """Say whether a switch is among those stated, wherever it stands."""
    return any((s.what, s.key) == (switch.what, switch.key) for s in stated)


def _in_order(stated: Iterable[Stated]) -> tuple[Stated, ...]:
    return tuple(sorted(stated, key=lambda s: (s.what, s.key)))


def fitting(profile: Profile, stated: tuple[Stated, ...]) -> tuple[Stated, ...]:
    """Return what is stated without what a box does not offer; the very same tuple where it offers all."""
    left = tuple([s for s in stated if offers(profile, s.what, s.key, s.value)])
    return stated if len(left) == len(stated) else left


def composed(
    units: Mapping[UnitId, Unit], profiles: Mapping[ProfileId, Profile], *levels: Overrides
) -> dict[UnitId, Settings]:
    """Return how each box stands: its own settings, then what each level states, the later above the earlier.

    The same object comes out for a box as long as nothing that is stated of it is another.
    """
    found = {}
    for key, unit in units.items():
        settings = unit.settings
        for level in levels:
            if key in level:
                settings = _overridden(settings, profiles[unit.profile], level[key])
        found[key] = settings
    return found


#: How many results of an override each setting remembers.
_REMEMBERED: Final = 6


def _overridden(settings: Settings, profile: Profile, stated: tuple[Stated, ...]) -> Settings:
    # Beside the fields of a frozen value, as a cached property is.
    held: list[tuple[Profile, tuple[Stated, ...], Settings]] = settings.__dict__.setdefault("_overridden", [])
    for of, said, found in held:
        if of is profile and said is stated:
            return found
    found = settings
    for one in stated:
        if offers(profile, one.what, one.key, one.value):
            found = switched(found, profile, Switch(UnitId(""), one.what, one.key, one.value))
    if found == settings:
        found = settings
    held.insert(0, (profile, stated, found))
    del held[_REMEMBERED:]
    return found


def switches(unit: UnitId, profile: Profile, old: Settings, new: Settings) -> list[Switch]:
    """Return what has to be switched on a box to get from one setting to another."""
    found = [
        Switch(unit, "phantom", bank.key, "on" if bank.key in new.phantom else "off")
        for bank in profile.banks
        if (bank.key in new.phantom) != (bank.key in old.phantom)
    ]
    found += [
        Switch(unit, "pad", port.key, "on" if port.key in new.pads else "off")
        for port in profile.ports
        if (port.key in new.pads) != (port.key in old.pads)
    ]
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
    for port in profile.ports:
        if new.gains.get(port.key) != old.gains.get(port.key):
            found.append(Switch(unit, "gain", port.key, gain_text(new.gains.get(port.key))))
        if new.outputs.get(port.key) != old.outputs.get(port.key):
            found.append(Switch(unit, "output", port.key, new.outputs.get(port.key, "on")))
    if new.mixes != old.mixes:
        for mix in mixable(profile):
            if new.mixes.get(mix, {}) != old.mixes.get(mix, {}):
                found.append(Switch(unit, "mix", mix, levels_text(new.mixes.get(mix, {}))))
    if new.feeds != old.feeds:
        for lane in feeds_offered(profile):
            if new.feeds.get(lane) != old.feeds.get(lane):
                found.append(Switch(unit, "feed", lane, new.feeds.get(lane, "")))
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
    if switch.what == "gain":
        gain = gain_of(value)
        others = {k: v for k, v in settings.gains.items() if k != key}
        return replace(settings, gains=others if gain is None else {**others, key: gain})
    if switch.what == "output":
        states = {k: v for k, v in settings.outputs.items() if k != key}
        return replace(settings, outputs=states if value == "on" else {**states, key: cast(OutputState, value)})
    if switch.what == "mix":
        mixes = {k: v for k, v in settings.mixes.items() if k != key}
        levels = levels_of(value)
        return replace(settings, mixes={**mixes, key: levels} if levels else mixes)
    if switch.what == "feed":
        feeds = {k: v for k, v in settings.feeds.items() if k != key}
        return replace(settings, feeds={**feeds, key: value} if value not in ("", key) else feeds)
    return replace(settings, off=value == "off")
