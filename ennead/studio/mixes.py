"""What a box mixes: which signals each of its mixes may hold, how their levels are noted, and what may feed its outputs.

A lane is named ``key/n``: of a socket (``mic1/1``), of a playback channel by the socket it usually comes out of (``line_out3/1``) or, where it has
none, by its block (``loopback/2``), of a mix by its side (``monitor/1``).
"""

from collections.abc import Mapping
from typing import Final, Literal

from ennead.standards.links import LINKS
from ennead.studio.profile import Port, Profile

#: A level in a mix, dB; ``off`` where the signal is not in it.
Level = float | Literal["off"]
Levels = Mapping[str, Level]

#: Levels that are no slip of the hand, dB. House default.
LEVEL_RANGE_DB: Final = (-120.0, 30.0)
#: An output that is fed by nothing.
NOTHING: Final = "nothing"


def lane_name(key: str, lane: int) -> str:
    """Return what a lane is called in a mix."""
    return f"{key}/{lane}"


def lane_of(name: str) -> tuple[str, int]:
    """Return the key and the number of a lane that is called so; lane 0 where it is no such name."""
    key, _, number = name.rpartition("/")
    return key, int(number) if number.isdecimal() and number.isascii() and len(number) < 4 else 0


def _lanes(port: Port, way: Literal["in", "out"]) -> list[str]:
    most = max(LINKS[c].lanes["single"] for c in port.carries if c in LINKS) if port.is_digital else port.channels
    return [lane_name(port.key, n) for n in port.lanes_that(way, most)]


def mixable(profile: Profile) -> Mapping[str, tuple[str, ...]]:
    """Return by each mix, or each output on which a box sums, the signals that it may hold; worked out once a profile."""
    known: Mapping[str, tuple[str, ...]] | None = profile.__dict__.get("_mixable")
    if known is not None:
        return known
    ports, found = profile.port_by_key, dict[str, dict[str, None]]()
    for path in profile.inner_paths:
        if path.sums and not profile.joins(path):
            ends = [lane for key in path.to_ports for lane in _lanes(ports[key], "out")]
            begins = [lane for key in path.from_ports for lane in _lanes(ports[key], "in")]
            for i, begin in enumerate(begins if ends else ()):
                found.setdefault(ends[i % len(ends)], {})[begin] = None
    for mix in profile.mixes:
        inputs = [lane for key in mix.from_ports for lane in _lanes(ports[key], "in")]
        held = dict.fromkeys([*inputs, *(() if mix.inputs_only else playback(profile))])
        found |= {lane_name(mix.key, side): held for side in range(1, mix.channels + 1)}
    mixes = {name: tuple(held) for name, held in found.items()}
    profile.__dict__["_mixable"] = mixes
    return mixes


def playback(profile: Profile) -> tuple[str, ...]:
    """Return the playback channels of an interface, whichever of its maps is the true one."""
    found: dict[str, None] = {}
    for driver_map in profile.driver_maps:
        for block in driver_map.outputs:
            lanes = [lane for key in block.ports for lane in _lanes(profile.port_by_key[key], "out")]
            found |= dict.fromkeys(
                lanes if block.ports else [lane_name(block.key, n + 1) for n in range(block.channels)]
            )
    return tuple(found)


def feeds_offered(profile: Profile) -> Mapping[str, tuple[str, ...]]:
    """Return by each output lane what may feed it; none where a profile lists no mixes, for what plays to each socket is fixed there."""
    known: Mapping[str, tuple[str, ...]] | None = profile.__dict__.get("_feeds_offered")
    if known is not None:
        return known
    found: dict[str, tuple[str, ...]] = {}
    if profile.mixes:
        channels = playback(profile)
        mirrors = [lane_name(p.key, n + 1) for p in profile.ports for n in range(len(p.mirrors))]
        reached = [
            lane for mix in profile.mixes for key in mix.to_ports for lane in _lanes(profile.port_by_key[key], "out")
        ]
        sockets = [c for c in channels if lane_of(c)[0] in profile.port_by_key]
        for lane in dict.fromkeys([*sockets, *mirrors, *reached]):
            mixes = [
                lane_name(m.key, n + 1)
                for m in profile.mixes
                if lane_of(lane)[0] in m.to_ports
                for n in range(m.channels)
            ]
            found[lane] = (*channels, *mixes, NOTHING)
    profile.__dict__["_feeds_offered"] = found
    return found


def levels_text(levels: Levels) -> str:
    """Return the levels of a mix as a switch has them: ``mic1/1 -6, mic2/1 off``; nothing where none is noted."""
    return ", ".join(f"{name} {level if level == 'off' else f'{level:.12g}'}" for name, level in sorted(levels.items()))


def levels_of(text: str) -> dict[str, Level] | None:
    """Return the levels a text gives; None where it is none."""
    found: dict[str, Level] = {}
    for part in text.split(", ") if text else ():
        name, _, said = part.rpartition(" ")
        level = level_of(said)
        if not name or level is None or name in found:
            return None
        found[name] = level
    return found


def level_of(text: str) -> Level | None:
    """Return a level in dB, or that it is off; None for what is neither, or beyond what a level can be."""
    if text == "off":
        return "off"
    try:
        level = float(text)
    except ValueError:
        return None
    return level if LEVEL_RANGE_DB[0] <= level <= LEVEL_RANGE_DB[1] else None


def are_levels(profile: Profile, mix: str, levels: Levels) -> bool:
    """Say whether a box has a mix, and it may hold each of some signals at its level."""
    held = mixable(profile).get(mix)
    return held is not None and all(
        name in held and ", " not in name and level_of(str(level)) is not None for name, level in levels.items()
    )


def switch_value_text(profile: Profile, what: str, value: str) -> str:
    """Return the levels of a mix, or what feeds an output, in words: ``Mic 1 −6 dB, Mic 2 off``, ``Monitor mix left``."""
    if what == "feed":
        return lane_label(profile, value) if value not in ("", NOTHING) else value or "its own playback channel"
    levels = levels_of(value) or {}
    said = [
        f"{lane_label(profile, name)} {level if level == 'off' else f'{level:g} dB'.replace('-', '−')}"
        for name, level in levels.items()
    ]
    return ", ".join(said) or "no level noted"


def lane_label(profile: Profile, name: str) -> str:
    """Return a lane of what is in a mix, or feeds an output, in words: ``Mic 1``, ``playback Line out 3``, ``Monitor mix left``."""
    port = profile.port_by_key.get(lane_of(name)[0])
    is_playback = port is None or port.direction == "out"
    text = socket_label(profile, name)
    return f"playback {text}" if is_playback and profile.driver_maps and not _is_mix(profile, name) else text


def _is_mix(profile: Profile, name: str) -> bool:
    return any(mix.key == lane_of(name)[0] for mix in profile.mixes)


def socket_label(profile: Profile, name: str) -> str:
    """Return a lane of a socket, or a side of a mix, in words: ``Line out 3``, ``Monitor mix left``."""
    key, lane = lane_of(name)
    port = profile.port_by_key.get(key)
    if port is not None:
        several = port.is_digital or port.channels > 1
        return f"{port.label} {lane}" if several else port.label
    mix = next((m for m in profile.mixes if m.key == key), None)
    if mix is not None:
        return f"{mix.label} {('left', 'right')[lane - 1]}" if mix.channels == 2 and 0 < lane < 3 else mix.label
    blocks = [b for m in profile.driver_maps for b in m.outputs if b.key == key]
    return f"{blocks[0].label} {lane}" if blocks else name
