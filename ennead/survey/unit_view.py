"""One unit at one rate: what each port carries, how many lanes, and where the unit itself sends them."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ennead.standards.links import LINKS, WORD, at_speed
from ennead.standards.rates import Speed, speed_of
from ennead.studio.house import Settings
from ennead.studio.mixes import lane_name
from ennead.studio.profile import Block, Direction, DriverMap, Port, Profile
from ennead.survey.parts import each
from ennead.survey.played import PlayedLane, Playing, PortLane, UnitChannel, playing


@dataclass(frozen=True, slots=True)
class UnitView:
    """What follows from a profile, a unit's settings and the rate alone.

    Parameters
    ----------
    digital : set of str
        Keys of the ports that carry digital audio or clock.
    delays : map of port key to float or None, samples
        What passing a port adds: nothing in an analogue box, None where a digital one states nothing.
    sockets : tuple of Port
        The inputs that carry audio at this speed.
    runs : bool
        Whether the unit offers the rate at all; where it does not, nothing digital of it carries sound.
    line_ins : tuple of (port key, lane)
        Every lane of an input at which a line could begin.
    joined : map of (port key, lane) to tuple of (port key, lane)
        What it joins in copper, either way; a digital socket is one contact, its lane 0.
    inserts : map of (port key, lane) to (port key, lane)
        The return an insert jack joins each send to while nothing is plugged in.
    off : bool
        Whether it is switched off.
    phones : set of str
        Its headphone sockets.
    sides : map of port key to str
        Whether each socket drives (``out``), listens (``in``), does either lane by lane (``both``), or only joins conductors (empty); an
        inner output drives the point it leads to, as the unit is set.
    back : map of (port key, lane) to tuple of (port key, lane)
        What copper joins each lane to against the order of the inner paths; of analogue sockets alone.
    forks : set of str
        The sockets by which a signal that comes in has more than one way on within the unit.
    goes_on : map of port key to tuple of port key
        The outputs that carry what comes in by each input, not by copper; through an insert jack with nothing in it as well.
    sums : set of str
        Its inputs that are summed with others, as it is set.
    ears : set of str
        Its inputs at which a signal is heard, or is followed no further: those of loudspeakers, and of boxes without any output.
    carrying : set of str
        Its analogue sockets that pass on by copper what comes to them.
    played : tuple of PlayedLane
        Which of its playback channels comes out of which output.
    direct : map of (port key, lane) to tuple of (port key, lane)
        The outputs at which each input is heard by a mix of its own, beside the way through the computer.
    levels : map of ((port key, lane), (port key, lane)) to float, dB
        The noted levels at which inputs are summed onto outputs.
    places : map of port key to int
        The place of each analogue socket, from 1, among those that an inner path takes one by one, or leads to.
    """

    profile: Profile
    rate_hz: int
    speed: Speed
    formats: dict[str, str]
    lanes: dict[str, int]
    inside: dict[PortLane, tuple[PortLane, ...]]
    lost: dict[PortLane, str]
    inputs: tuple[UnitChannel, ...] = ()
    outputs: tuple[UnitChannel, ...] = ()
    input_at: dict[PortLane, UnitChannel] = field(default_factory=dict)
    digital: frozenset[str] = frozenset()
    delays: dict[str, float | None] = field(default_factory=dict)
    sockets: tuple[Port, ...] = ()
    runs: bool = True
    line_ins: tuple[PortLane, ...] = ()
    joined: dict[PortLane, tuple[PortLane, ...]] = field(default_factory=dict)
    inserts: dict[PortLane, PortLane] = field(default_factory=dict)
    off: bool = False
    phones: frozenset[str] = frozenset()
    sides: Mapping[str, str] = field(default_factory=dict)
    back: dict[PortLane, tuple[PortLane, ...]] = field(default_factory=dict)
    forks: frozenset[str] = frozenset()
    goes_on: dict[str, tuple[str, ...]] = field(default_factory=dict)
    sums: frozenset[str] = frozenset()
    ears: frozenset[str] = frozenset()
    carrying: frozenset[str] = frozenset()
    played: tuple[PlayedLane, ...] = ()
    direct: Mapping[PortLane, tuple[PortLane, ...]] = field(default_factory=dict)
    levels: Mapping[tuple[PortLane, PortLane], float] = field(default_factory=dict)
    places: Mapping[str, int] = field(default_factory=dict)


@each("views", of={"profile": "profiles", "settings": "settings", "own": "own_delays"})
def view_unit(profile: Profile, settings: Settings, rate_hz: int, own: Mapping[str, float] | None = None) -> UnitView:
    """Return the view of one unit; units of one profile that are set alike share one, which the profile remembers.

    Parameters
    ----------
    rate_hz : int, Hz
    own : map of port key to float, or None, samples
        What sockets of this very box add, where that is stated or measured.
    """
    kind: tuple[object, ...] = (settings.driver_map, settings.modes, settings.off, rate_hz)
    if settings.mixes or settings.feeds:
        kind = (*kind, settings.mixes, settings.feeds)
    # Beside the fields of a frozen value, as a cached property is.
    known: dict[object, UnitView] = profile.__dict__.setdefault("_views", {})
    if kind not in known:
        known[kind] = _made(profile, settings, rate_hz)
    view = known[kind]
    return replace(view, delays={**view.delays, **own}) if own else view


def _made(profile: Profile, settings: Settings, rate_hz: int) -> UnitView:
    speed = speed_of(rate_hz)
    formats = {p.key: at_speed(port_format(p, profile, settings), speed) for p in profile.ports}
    runs = not settings.off and (not profile.is_digital or rate_hz in profile.rates_hz)
    lanes = {p.key: port_lanes(p, formats[p.key], speed) if runs or not p.is_digital else 0 for p in profile.ports}
    within = _within(profile, settings, speed, lanes)
    inside, joined = within.inside, within.joined
    inputs: tuple[UnitChannel, ...] = ()
    out = Playing()
    chosen = chosen_map(profile, settings)
    if chosen is not None and runs:
        inputs = number_blocks(chosen, "in", profile, settings, speed)
        out = playing(profile, settings, number_blocks(chosen, "out", profile, settings, speed), lanes)
    input_at = {(c.port, c.lane): c for c in inputs if c.port and c.live}
    digital = frozenset(p.key for p in profile.ports if p.is_digital)
    sockets = tuple(p for p in profile.ports if p.direction == "in" and lanes[p.key])
    # One digital lead brings two channels, and both are asked for where no lane is left at the rate.
    line_ins = tuple(
        (p.key, lane)
        for p in profile.ports
        if p.direction != "out" and formats[p.key] not in WORD
        for lane in p.lanes_that("in", max(lanes[p.key], 2 if p.is_digital else 1))
    )
    inserts = _inserts(profile, lanes)
    forks = frozenset(port for (port, _), outs in inside.items() if len(outs) > 1)
    phones = frozenset(p.key for p in profile.ports if "headphone" in p.carries)
    return UnitView(
        profile=profile,
        rate_hz=rate_hz,
        speed=speed,
        formats=formats,
        lanes=lanes,
        inside=inside,
        lost=within.lost,
        inputs=inputs,
        outputs=out.outputs,
        input_at=input_at,
        digital=digital,
        delays=_delays(profile, speed),
        sockets=sockets,
        runs=runs,
        line_ins=line_ins,
        joined=joined,
        inserts=inserts,
        off=settings.off,
        phones=phones,
        sides=_sides(profile, settings),
        back=_back(inside, joined, digital),
        forks=forks,
        goes_on=_goes_on(inside, joined, inserts, out.direct),
        sums=frozenset(within.sums),
        ears=_ears(profile),
        carrying=_carrying(profile, joined, digital),
        played=out.played,
        direct=out.direct,
        levels=within.levels,
        places=_places(profile),
    )


def _places(profile: Profile) -> dict[str, int]:
    found: dict[str, int] = {}
    for path in profile.inner_paths:
        for side in (path.from_ports, path.to_ports):
            for place, key in enumerate(side if len(side) > 1 else (), start=1):
                if not profile.port_by_key[key].is_digital:
                    found.setdefault(key, place)
    return found


def _delays(profile: Profile, speed: Speed) -> dict[str, float | None]:
    stated = {port.key: port.delay_samples(speed) for port in profile.ports}
    return {key: 0.0 if late is None and not profile.is_digital else late for key, late in stated.items()}


def _inserts(profile: Profile, lanes: Mapping[str, int]) -> dict[PortLane, PortLane]:
    return {
        (p.key, out): (p.key, back)
        for p in profile.ports
        if p.wiring == "insert" and p.direction == "both"
        for out, back in zip(p.lanes_that("out", lanes[p.key]), p.lanes_that("in", lanes[p.key]), strict=False)
    }


@dataclass(slots=True)
class _Within:
    """Where the inner paths of a unit lead, as it is set; see `UnitView`."""

    inside: dict[PortLane, tuple[PortLane, ...]] = field(default_factory=dict)
    lost: dict[PortLane, str] = field(default_factory=dict)
    joined: dict[PortLane, tuple[PortLane, ...]] = field(default_factory=dict)
    sums: set[str] = field(default_factory=set)
    levels: dict[tuple[PortLane, PortLane], float] = field(default_factory=dict)


def _within(profile: Profile, settings: Settings, speed: Speed, lanes: Mapping[str, int]) -> _Within:
    found = _Within()
    inside, joined = found.inside, found.joined
    ports = profile.port_by_key
    for path in profile.inner_paths:
        if any(mode_of(profile, settings, mode) != wanted for mode, wanted in path.when.items()):
            continue
        copper = profile.joins(path)
        if settings.off and not copper:
            continue
        begins = [(k, n) for k in path.from_ports for n in ports[k].lanes_that("in", _most_lanes(ports[k], speed))]
        ends = [(k, n) for k in path.to_ports for n in ports[k].lanes_that("out", lanes[k])]
        if path.sums and ends:
            ends = [ends[i % len(ends)] for i in range(len(begins))]
        for begin, end in zip(begins, ends, strict=False):
            if path.sums and settings.mixes and not copper:
                level = settings.mixes.get(lane_name(*end), {}).get(lane_name(*begin))
                if level == "off":
                    continue
                if level is not None:
                    found.levels[begin, end] = level
            if path.sums:
                found.sums.add(begin[0])
            inside[begin] = (*inside.get(begin, ()), end)
            if copper:
                one, other = ((k, 0 if ports[k].is_digital else n) for k, n in (begin, end))
                for a, b in ((one, other), (other, one)):
                    if b not in joined.get(a, ()):
                        joined[a] = (*joined.get(a, ()), b)
        for begin in begins[len(ends) :]:
            found.lost[begin] = path.to_ports[-1]
    return found


def _ears(profile: Profile) -> frozenset[str]:
    if profile.role != "loudspeaker" and (profile.driver_maps or not all(p.direction == "in" for p in profile.ports)):
        return frozenset()
    return frozenset(p.key for p in profile.ports if profile.sides[p.key] == "in")


def _carrying(profile: Profile, joined: Mapping[PortLane, object], digital: frozenset[str]) -> frozenset[str]:
    only = [p.key for p in profile.ports if p.direction == "either" or not profile.sides[p.key]]
    return frozenset({*only, *[port for port, _ in joined]} - digital)


def _goes_on(
    inside: Mapping[PortLane, tuple[PortLane, ...]],
    joined: Mapping[PortLane, tuple[PortLane, ...]],
    inserts: Mapping[PortLane, PortLane],
    direct: Mapping[PortLane, tuple[PortLane, ...]],
) -> dict[str, tuple[str, ...]]:
    found: dict[str, dict[str, None]] = {}
    for at, outs in direct.items():
        found.setdefault(at[0], {}).update(dict.fromkeys([out[0] for out in outs]))
    for at, outs in inside.items():
        copper = joined.get(at, ())
        for out in outs:
            if out not in copper:
                for leaves, _ in (out, *inside.get(inserts.get(out, out), ())):
                    found.setdefault(at[0], {})[leaves] = None
    return {port: tuple(outs) for port, outs in found.items()}


def _back(
    inside: Mapping[PortLane, tuple[PortLane, ...]],
    joined: Mapping[PortLane, tuple[PortLane, ...]],
    digital: frozenset[str],
) -> dict[PortLane, tuple[PortLane, ...]]:
    """Return what copper joins to each analogue lane beside what its inner paths lead to."""
    found = {}
    for at, others in joined.items():
        onward = inside.get(at, ())
        if at[0] not in digital and (against := tuple([other for other in others if other not in onward])):
            found[at] = against
    return found


def _sides(profile: Profile, settings: Settings) -> Mapping[str, str]:
    """Return which way each socket lies as the unit is set; switched off or on, what leads to a point loads it."""
    points = {p.key for p in profile.ports if p.direction == "either"}
    found: dict[str, str] = {}
    for path in profile.inner_paths if points else ():
        if not profile.joins(path) and all(mode_of(profile, settings, mode) == at for mode, at in path.when.items()):
            found |= {key: "in" for key in path.from_ports if key in points and key not in found}
            found |= {key: "out" for key in path.to_ports if key in points}
    return {**profile.sides, **found} if found else profile.sides


def waits_for(profile: Profile, settings: Settings, port: str) -> tuple[str, ...]:
    """Return the modes that every inner path from a socket waits for, as a unit is set; none where one of them is there."""
    lacking = [
        [key for key, wanted in path.when.items() if mode_of(profile, settings, key) != wanted]
        for path in profile.inner_paths
        if port in path.from_ports
    ]
    return tuple([key for key in min(lacking, key=len, default=[]) if all(key in others for others in lacking)])


def mode_of(profile: Profile, settings: Settings, mode: str) -> str:
    """Return the position a mode stands at."""
    found = profile.mode(mode)
    return settings.modes.get(mode, found.default if found else "")


def port_format(port: Port, profile: Profile, settings: Settings) -> str:
    """Return what a port carries as its unit is set: its usual signal, or what its mode chooses."""
    if port.format_mode:
        choice = mode_of(profile, settings, port.format_mode)
        if choice in port.carries:
            return choice
    return port.carries[0]


def port_lanes(port: Port, carried: str, speed: Speed) -> int:
    """Return the audio channels on a port at a speed.

    References
    ----------
    ADAT optical with S/MUX: 8, 4, 2 lanes at single, double, quad speed; others see `LINKS`.
    """
    if port.only_speeds and speed not in port.only_speeds:
        return 0
    if carried not in LINKS:
        return port.channels
    usual = LINKS[carried].lanes[speed]
    stated = port.lanes_at.get(speed, usual)
    # A cue bus is what its maker says. No other link carries more than at single speed, but a box may keep its channels
    # at a speed at which most lose them.
    return stated if carried == "cue" else min(LINKS[carried].lanes["single"], stated)


def _most_lanes(port: Port, speed: Speed) -> int:
    return port_lanes(port, port.carries[0], speed)


def chosen_map(profile: Profile, settings: Settings) -> DriverMap | None:
    """Return the driver map the user chose, or the profile's first; None for a unit that has none."""
    if not profile.driver_maps:
        return None
    return next((m for m in profile.driver_maps if m.key == settings.driver_map), profile.driver_maps[0])


def number_blocks(
    driver_map: DriverMap, direction: Direction, profile: Profile, settings: Settings, speed: Speed
) -> tuple[UnitChannel, ...]:
    """Return the channels of a map's input or output blocks, numbered, as an interface stands.

    A block exists under its modes and speeds. In a *fixed* map a block keeps the numbers it has at single
    speed, and lanes that are lost leave dead ones; in a *collapsing* map what follows moves up.
    """
    channels: list[UnitChannel] = []
    for block in driver_map.inputs if direction == "in" else driver_map.outputs:
        if any(mode_of(profile, settings, mode) != wanted for mode, wanted in block.when.items()):
            continue
        fixed = driver_map.numbering == "fixed"
        if block.speeds and speed not in block.speeds and not fixed:
            continue
        slots = _slots(block, direction, profile, settings, speed, fixed=fixed)
        first = len(channels) + 1
        last = len(channels) + len(slots)
        for offset, (port, lane, live) in enumerate(slots):
            label = (
                f"{block.label} {block.first_label + offset}"
                if len(slots) > 1 or block.first_label > 1
                else block.label
            )
            channels.append(UnitChannel(first + offset, port, lane, label, live, block, first, last))
    return tuple(channels)


def _slots(
    block: Block, direction: Direction, profile: Profile, settings: Settings, speed: Speed, *, fixed: bool
) -> list[tuple[str, int, bool]]:
    if not block.ports:
        here = not block.speeds or speed in block.speeds
        return [("", n, here) for n in range(1, block.channels + 1)]
    slots: list[tuple[str, int, bool]] = []
    for key in block.ports:
        port = profile.port_by_key[key]
        carried = port_format(port, profile, settings)
        now = port_lanes(port, carried, speed)
        if block.speeds and speed not in block.speeds:
            now = 0
        most = max(now, port_lanes(port, carried, "single")) if fixed else now
        slots += [(key, lane, lane <= now) for lane in port.lanes_that(direction, most)]
    return slots
