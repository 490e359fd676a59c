"""Rule: what a profile says of its ports, blocks, modes and clock must hang together."""

from collections.abc import Iterator, Mapping
from itertools import combinations

from ennead.standards.links import DIGITAL, WORD
from ennead.standards.rates import RATES_HZ, SPEEDS
from ennead.studio.profile import Block, DriverMap, Port, Profile
from ennead.studio.record import record

_AUDIO_LINKS = DIGITAL - WORD - {"cue"}


@record(frozen=True)
class ProfileFault:
    """Something wrong with a profile, and the place in it.

    Parameters
    ----------
    part : str
        The table it stands in: ``ports``, ``modes``, ``banks``, ``driver_maps``, ``inner_paths``, ``clock_sources``
        or ``facts``.
    key : str
        Key of the row; for a block that of its map, a slash and its own.
    what, remedy : str
        What is wrong, beginning in lower case without a full stop; a whole sentence.
    breaks : bool
        Whether nothing can be worked out with it; else it can, but would come out wrong.
    """

    part: str
    key: str
    what: str
    remedy: str
    breaks: bool = True

    def __str__(self) -> str:
        where = f"{self.part} “{self.key}”" if self.key else self.part
        return f"{where}: {self.what}"


def profile_faults(profile: Profile) -> Iterator[ProfileFault]:
    """Yield what does not hang together, table by table."""
    yield from _port_faults(profile)
    yield from _reference_faults(profile)
    for driver_map in profile.driver_maps:
        yield from _map_faults(profile, driver_map)
    yield from _fact_faults(profile)


def _port_faults(profile: Profile) -> Iterator[ProfileFault]:
    seen: set[str] = set()
    modes = {m.key for m in profile.modes}
    outputs = {p.key for p in profile.ports if p.direction == "out" and not p.mirrors and p.channels == 1}
    if not profile.ports:
        yield ProfileFault("ports", "", "a box without a socket cannot be wired", "Add its sockets.", breaks=False)
    for port in profile.ports:
        if port.key in seen:
            yield ProfileFault("ports", port.key, "two ports share this key", "Give each a key of its own.")
        seen.add(port.key)
        if not port.carries:
            yield ProfileFault("ports", port.key, "it carries nothing", "Say what it carries, such as line or adat.")
        elif len({c in DIGITAL for c in port.carries}) > 1:
            yield ProfileFault(
                "ports", port.key, "it carries analogue and digital signals at once", "Make two ports of it."
            )
        if port.format_mode is not None and port.format_mode not in modes:
            yield ProfileFault(
                "ports", port.key, f"it names a mode “{port.format_mode}” that is not there", "Add that mode."
            )
        if port.pad_db is not None and not (
            0 < port.pad_db <= 60 and port.direction == "in" and not set(port.carries) & set(DIGITAL)
        ):
            yield ProfileFault(
                "ports", port.key, f"a pad of {port.pad_db:g} dB cannot be", "Give an analogue input up to 60 dB."
            )
        level_mode = profile.mode(port.level_mode) if port.level_mode else None
        if bool(port.levels_at) != (level_mode is not None and "line" in port.carries) or (
            level_mode is not None and not set(port.levels_at) <= {c.key for c in level_mode.choices}
        ):
            yield ProfileFault(
                "ports",
                port.key,
                "its levels by the position of a switch do not fit a switch of the box",
                "Name a mode, and give a level for its positions.",
            )
        if any(not 0 <= n <= 64 for n in port.lanes_at.values()):
            yield ProfileFault("ports", port.key, "it cannot have so many channels at a speed", "Give 0 to 64.")
        if port.mirrors and (
            port.direction != "out" or len(port.mirrors) > port.channels or not set(port.mirrors) <= outputs
        ):
            yield ProfileFault(
                "ports", port.key, "it cannot mirror what it names", "Name outputs of one channel, no more than it has."
            )
        yield from _contact_faults(port)
        if not 1 <= port.channels <= 64:
            yield ProfileFault("ports", port.key, f"it cannot have {port.channels} channels", "Give 1 to 64.")


def _contact_faults(port: Port) -> Iterator[ProfileFault]:
    if (port.direction == "both") != (len(port.lane_directions) == port.channels and bool(port.lane_directions)):
        remedy = "Say in or out for each of its channels where it does both, and nowhere else."
        yield ProfileFault("ports", port.key, "which of its channels come in and which go out is not said", remedy)
    elif port.direction in ("both", "either") and set(port.carries) & set(DIGITAL):
        yield ProfileFault("ports", port.key, "a digital socket lies one way", "Make two ports of it.")
    elif port.wiring == "insert" and sorted(port.lane_directions) != ["in", "out"]:
        yield ProfileFault(
            "ports", port.key, "an insert jack has a send and a return", "Give it two channels, one in and one out."
        )


def _reference_faults(profile: Profile) -> Iterator[ProfileFault]:
    known = {p.key for p in profile.ports}
    modes = {m.key: {c.key for c in m.choices} for m in profile.modes}
    for mode in profile.modes:
        if not mode.choices:
            yield ProfileFault("modes", mode.key, "it offers nothing", "Give it at least two positions.")
    used = [("banks", b.key, b.ports) for b in profile.banks]
    used += [("clock_sources", c.key, (c.port,)) for c in profile.clock_sources if c.port is not None]
    used += [
        ("inner_paths", path.from_ports[0] if path.from_ports else "", (*path.from_ports, *path.to_ports))
        for path in profile.inner_paths
    ]
    for part, key, ports in used:
        for port in ports:
            if port not in known:
                yield ProfileFault(part, key, f"there is no port “{port}”", "Name one of its ports, or add that one.")
    yield from _mix_faults(profile)
    for source in profile.clock_sources:
        found = next((p for p in profile.ports if p.key == source.port), None)
        if found is not None and (found.direction == "out" or not set(found.carries) & set(DIGITAL)):
            what = (
                f"no clock arrives at “{found.key}”, which is"
                f" {'an output' if found.direction == 'out' else 'an analogue input'}"
            )
            yield ProfileFault("clock_sources", source.key, what, "Name a digital or a word-clock input.", breaks=False)
    for path in profile.inner_paths:
        key = path.from_ports[0] if path.from_ports else ""
        if not path.from_ports or not path.to_ports:
            yield ProfileFault("inner_paths", key, "it has an open end", "Name the ports it comes from and goes to.")
        yield from _condition_faults("inner_paths", key, path.when, modes)


def _mix_faults(profile: Profile) -> Iterator[ProfileFault]:
    ports = profile.port_by_key
    taken = {*ports, *(block.key for m in profile.driver_maps for block in m.outputs)}
    for mix in profile.mixes:
        if mix.key in taken:
            yield ProfileFault(
                "mixes", mix.key, "a socket, a block or another mix has this key", "Give it a key of its own."
            )
        taken.add(mix.key)
        if not 1 <= mix.channels <= 2:
            yield ProfileFault(
                "mixes", mix.key, f"it cannot have {mix.channels} sides", "Give 1, or 2 for left and right."
            )
        for way, keys in (("in", mix.from_ports), ("out", mix.to_ports)):
            for key in keys:
                if key not in ports or ports[key].direction not in (way, "both"):
                    yield ProfileFault(
                        "mixes", mix.key, f"“{key}” is no {way}put of it", f"Name {way}puts that it has."
                    )
        if not profile.driver_maps:
            yield ProfileFault(
                "mixes", mix.key, "only an interface has mixes of this kind", "Use an inner path that sums."
            )


def _condition_faults(
    part: str, key: str, when: Mapping[str, str], modes: Mapping[str, set[str]]
) -> Iterator[ProfileFault]:
    for mode, position in when.items():
        if mode not in modes:
            yield ProfileFault(part, key, f"it names a mode “{mode}” that is not there", "Add that mode.")
        elif position not in modes[mode]:
            what = f"mode “{mode}” cannot stand at “{position}”"
            yield ProfileFault(part, key, what, f"It offers {', '.join(sorted(modes[mode]))}.", breaks=False)


def _map_faults(profile: Profile, driver_map: DriverMap) -> Iterator[ProfileFault]:
    known = profile.port_by_key
    modes = {m.key: {c.key for c in m.choices} for m in profile.modes}
    for direction, blocks in (("in", driver_map.inputs), ("out", driver_map.outputs)):
        for block in blocks:
            key = f"{driver_map.key}/{block.key}"
            if not block.ports and not 1 <= block.channels <= 128:
                remedy = "Name its ports, or say how many channels it has without one, as a loopback does."
                yield ProfileFault("driver_maps", key, "the block has no port and no channels", remedy)
            if not 1 <= block.first_label <= 9_999:
                yield ProfileFault(
                    "driver_maps", key, f"its labels cannot begin with {block.first_label}", "Give 1 or more."
                )
            for port in block.ports:
                if port not in known:
                    remedy = "Name one of its ports, or add that one."
                    yield ProfileFault("driver_maps", key, f"there is no port “{port}”", remedy)
                elif known[port].direction not in (direction, "both"):
                    way = "an input" if known[port].direction == "in" else "an output"
                    remedy = f"It stands among the {direction}puts; name ports of that direction."
                    yield ProfileFault("driver_maps", key, f"“{port}” is {way}", remedy, breaks=False)
            yield from _condition_faults("driver_maps", key, block.when, modes)
        for one, other in combinations(blocks, 2):
            both = set(one.ports) & set(other.ports)
            if both and _at_once(one, other):
                what = f"it overlaps with {other.label}: both number “{min(both)}” at the same time"
                remedy = (
                    "One socket has one number: take it out of one block, or tie the blocks to different modes or"
                    " speeds."
                )
                yield ProfileFault("driver_maps", f"{driver_map.key}/{one.key}", what, remedy, breaks=False)


def _at_once(one: Block, other: Block) -> bool:
    """Say whether two blocks can stand in the map together."""
    if any(other.when.get(mode, position) != position for mode, position in one.when.items()):
        return False
    return bool(set(one.speeds or SPEEDS) & set(other.speeds or SPEEDS))


def _fact_faults(profile: Profile) -> Iterator[ProfileFault]:
    if not profile.rates_hz or not set(profile.rates_hz) <= set(RATES_HZ):
        yield ProfileFault("facts", "rates_hz", "its rates are not studio rates", "Choose among 44.1 to 192 kHz.")
    links = [p.key for p in profile.ports if _AUDIO_LINKS & set(p.carries)]
    if links and not profile.clock_sources:
        what = f"“{links[0]}” carries digital audio, but the box has no clock source at all"
        remedy = "Add the entries of its clock menu; its own crystal is one of them unless it can only follow."
        yield ProfileFault("clock_sources", "", what, remedy, breaks=False)
    for name, value, least, most in (
        ("ppm", profile.ppm, 0.0, 100_000.0),
        ("lock_ppm", profile.lock_ppm, 0.0, 125_000.0),
        ("jitter_ps", profile.jitter_ps, 0.0, 1_000_000.0),
        ("power_w", profile.power_w, 0.0, 100_000.0),
        ("rack_units", profile.rack_units, 0.0, 60.0),
    ):
        if value is not None and not least <= value <= most:
            yield ProfileFault("facts", name, f"{value:g} cannot be", f"Give {least:g} to {most:g}.")
