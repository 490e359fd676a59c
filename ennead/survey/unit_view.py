"""One unit at one rate: what each port carries, how many lanes, and where the unit itself sends them."""

from dataclasses import dataclass, field, replace
from typing import Final

from ennead.standards.links import LINKS, WORD, at_speed
from ennead.standards.rates import Speed, speed_of
from ennead.studio.house import Settings
from ennead.studio.patching import Patched
from ennead.studio.profile import Block, Direction, DriverMap, Port, Profile
from ennead.survey.parts import each

#: A port key and a lane, counted from 1.
PortLane = tuple[str, int]


@dataclass(frozen=True, slots=True)
class UnitChannel:
    """A driver channel within one interface.

    Parameters
    ----------
    index : int
        Number within the interface, from 1; the computer adds the channels of the interfaces before it.
    port : str
        Port key; empty for a channel no socket carries.
    lane : int
        Lane on that port, from 1.
    live : bool
        False for a dead number: a lane lost at this speed whose number a fixed map keeps.
    block_first : int
        Index of the first channel of its block.
    """

    index: int
    port: str
    lane: int
    label: str
    live: bool
    block: Block
    block_first: int
    block_last: int


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
    splits : tuple of tuple of (port key, lane)
        The outputs of every lane that it sends to more than one.
    goes_on : map of port key to tuple of port key
        The outputs that carry what comes in by each input, through an insert jack with nothing in it as well.
    points : set of str
        Its points that take cords.
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
    splits: tuple[tuple[PortLane, ...], ...] = ()
    goes_on: dict[str, tuple[str, ...]] = field(default_factory=dict)
    points: frozenset[str] = frozenset()


@each("views", of={"profile": "profiles", "settings": "settings", "patched": "patched"})
def view_unit(profile: Profile, settings: Settings, rate_hz: int, patched: Patched | None = None) -> UnitView:
    """Return the view of one unit; units of one profile that are set alike share one, which the profile remembers.

    Parameters
    ----------
    rate_hz : int, Hz
    """
    if patched is not None:
        return _laid(view_unit(profile, settings, rate_hz), patched)
    kind = settings.driver_map, tuple(sorted(settings.modes.items())) if settings.modes else (), settings.off, rate_hz
    # Beside the fields of a frozen value, as a cached property is.
    known: dict[object, UnitView] = profile.__dict__.setdefault("_views", {})
    if kind not in known:
        known[kind] = _made(profile, settings, rate_hz)
    return known[kind]


def _made(profile: Profile, settings: Settings, rate_hz: int) -> UnitView:
    speed = speed_of(rate_hz)
    formats = {p.key: at_speed(port_format(p, profile, settings), speed) for p in profile.ports}
    runs = not settings.off and (not profile.is_digital or rate_hz in profile.rates_hz)
    lanes = {p.key: port_lanes(p, formats[p.key], speed) if runs or not p.is_digital else 0 for p in profile.ports}
    inside: dict[PortLane, tuple[PortLane, ...]] = {}
    lost: dict[PortLane, str] = {}
    joined: dict[PortLane, tuple[PortLane, ...]] = {}
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
            inside[begin] = (*inside.get(begin, ()), end)
            if copper:
                one, other = ((k, 0 if ports[k].is_digital else n) for k, n in (begin, end))
                for a, b in ((one, other), (other, one)):
                    if b not in joined.get(a, ()):
                        joined[a] = (*joined.get(a, ()), b)
        for begin in begins[len(ends) :]:
            lost[begin] = path.to_ports[-1]
    inputs: tuple[UnitChannel, ...] = ()
    outputs: tuple[UnitChannel, ...] = ()
    chosen = chosen_map(profile, settings)
    if chosen is not None and runs:
        inputs = number_blocks(chosen, "in", profile, settings, speed)
        outputs = number_blocks(chosen, "out", profile, settings, speed)
    input_at = {(c.port, c.lane): c for c in inputs if c.port and c.live}
    delays: dict[str, float | None] = {}
    for port in profile.ports:
        stated = port.delay_samples(speed)
        delays[port.key] = 0.0 if stated is None and not profile.is_digital else stated
    digital = frozenset(p.key for p in profile.ports if p.is_digital)
    sockets = tuple(p for p in profile.ports if p.direction == "in" and lanes[p.key])
    # One digital lead brings two channels, and both are asked for where no lane is left at the rate.
    line_ins = tuple(
        (p.key, lane) for p in profile.ports if p.direction != "out" and formats[p.key] not in WORD
        for lane in p.lanes_that("in", max(lanes[p.key], 2 if p.is_digital else 1))
    )  # fmt: skip
    inserts = {
        (p.key, out): (p.key, back) for p in profile.ports if p.wiring == "insert" and p.direction == "both"
        for out, back in zip(p.lanes_that("out", lanes[p.key]), p.lanes_that("in", lanes[p.key]), strict=False)
    }  # fmt: skip
    return UnitView(
        profile, rate_hz, speed, formats, lanes, inside, lost, inputs, outputs, input_at, digital, delays, sockets, runs, line_ins,
        joined, inserts, settings.off, frozenset(p.key for p in profile.ports if "headphone" in p.carries), tuple(outs for outs in inside.values() if len(outs) > 1),
        _goes_on(inside, inserts),
    )  # fmt: skip


_Inner = dict[PortLane, tuple[PortLane, ...]]


def _laid(view: UnitView, patched: Patched) -> UnitView:
    """Return a unit's view with what is patched laid over it: a signal at a point goes on by its normals, and leaves by what is plugged there."""
    lanes, leads_to = view.lanes, patched.leads_to
    if not view.inside and all(lanes[p] == 1 for p in patched.points):
        return _laid_alone(view, patched)
    inside: _Inner = {}
    for begin, ends in view.inside.items():
        on = [(there, n) for port, n in ends for there in (*leads_to.get(port, ()), port) if n <= lanes[there]]
        inside[begin] = tuple(dict.fromkeys(on))
    passes = dict(inside)
    for port in patched.points:
        reached = (*leads_to.get(port, ()), port)
        for n in range(1, lanes[port] + 1):
            # At each point a normal leads to, the unit itself may take the signal on: a channel of a console behind its return.
            points = [(there, n) for there in reached if n <= lanes[there]]
            inside[port, n] = tuple(dict.fromkeys([*points, *[out for at in points for out in passes.get(at, ())]]))
    joined = dict(view.joined)
    for a, b in patched.joined:
        for n in range(1, min(lanes[a], lanes[b]) + 1):
            joined[a, n] = (*joined.get((a, n), ()), (b, n))
            joined[b, n] = (*joined.get((b, n), ()), (a, n))
    splits = tuple([outs for outs in inside.values() if len(outs) > 1])
    goes_on = _goes_on(inside, view.inserts)
    return replace(view, points=patched.points, inside=inside, joined=joined, splits=splits, goes_on=goes_on)


def _laid_alone(view: UnitView, patched: Patched) -> UnitView:
    """Return the view of a box that is points and nothing else, of one lane each: most bays are, and they have thousands."""
    known: dict[object, tuple[_Inner, dict[str, tuple[str, ...]]]] = view.profile.__dict__.setdefault("_bare", {})
    bare = known.get(patched.points)
    if bare is None:
        bare = known[patched.points] = (
            {(port, 1): ((port, 1),) for port in patched.points},
            {port: (port,) for port in patched.points},
        )
    inside, goes_on = bare[0].copy(), bare[1].copy()
    splits = []
    for port, ends in patched.leads_to.items():
        goes_on[port] = (*ends, port)
        at = port, 1
        outs = inside[at] = ((ends[0], 1), at) if len(ends) == 1 else (*[(end, 1) for end in ends], at)
        splits.append(outs)
    joined = _joined_alone(view.profile, patched.joined)
    return replace(view, points=patched.points, inside=inside, joined=joined, splits=tuple(splits), goes_on=goes_on)


#: How many ways of joining its points a profile remembers: of bays of one kind most are joined alike.
_MOST_JOINED: Final = 64


def _joined_alone(profile: Profile, pairs: tuple[tuple[str, str], ...]) -> _Inner:
    known: dict[object, _Inner] = profile.__dict__.setdefault("_joined", {})
    joined = known.get(pairs)
    if joined is None:
        if len(known) >= _MOST_JOINED:
            known.clear()
        joined = known[pairs] = {}
        for a, b in pairs:
            one, other = (a, 1), (b, 1)
            joined[one] = (*joined[one], other) if one in joined else (other,)
            joined[other] = (*joined[other], one) if other in joined else (one,)
    return joined


def _goes_on(
    inside: dict[PortLane, tuple[PortLane, ...]], inserts: dict[PortLane, PortLane]
) -> dict[str, tuple[str, ...]]:
    found: dict[str, dict[str, None]] = {}
    for (port, _), outs in inside.items():
        for out in outs:
            for leaves, _ in (out, *inside.get(inserts.get(out, out), ())):
                found.setdefault(port, {})[leaves] = None
    return {port: tuple(outs) for port, outs in found.items()}


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
