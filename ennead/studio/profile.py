"""A profile: what a type of box has on its rear, and how it numbers, routes and clocks its channels."""

from collections.abc import Mapping
from functools import cached_property
from typing import Final, Literal

from ennead.standards.computer_ports import Bus
from ennead.standards.links import DIGITAL
from ennead.standards.rates import RATES_HZ, Speed
from ennead.standards.signals import Connector, Signal
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import ProfileId
from ennead.studio.record import record

#: Which way a socket lies; ``either`` where it only joins conductors, so that what is plugged there decides: a point of a bay.
Direction = Literal["in", "out", "both", "either"]

Role = Literal[
    "interface", "expander", "converter", "preamp", "clock", "processor", "monitor", "loudspeaker",
    "panel", "bay", "di", "instrument", "console", "cue",
]  # fmt: skip

#: Roles of boxes that only join conductors, unless they say otherwise.
PASSIVE: Final = ("panel", "bay")

#: How an output is driven, which decides what an unbalanced plug does to it.
OutputStage = Literal["", "unbalanced", "symmetrical", "impedance-balanced", "transformer", "cross-coupled"]

#: How the contacts of an analogue plug are used: one jack may carry a pair, or a send and a return.
Contacts = Literal["", "balanced", "unbalanced", "stereo", "insert", "multi"]

#: Whether an inner path is copper or not; empty for what is usual in such a box.
PathKind = Literal["", "joins", "passes"]

#: Whether a word-clock input closes its line with 75 ohm.
Termination = Literal["", "fixed", "switchable", "none"]
Fibre = Literal["", "multimode", "single-mode"]


@record(frozen=True)
class Level:
    """How strong a signal a port makes or takes.

    Parameters
    ----------
    max_dbu : float, dBu
        The strongest signal: what clips an input at its least gain, what an output gives at full scale.
    nominal_dbu : float or None, dBu
        +4 for professional, −7.8 (−10 dBV) for domestic gear.
    impedance_ohm : float or None, ohm
        Source impedance of an output, load of an input.
    """

    max_dbu: float
    nominal_dbu: float | None = None
    impedance_ohm: float | None = None


@record(frozen=True)
class Port:
    """One connector.

    Parameters
    ----------
    carries : tuple of Signal
        What it can carry; the first is the usual one. With `format_mode` that mode chooses among them.
    channels : int
        Channels of an analogue port (two for a headphone jack). A digital port's follow from its format.
    only_speeds : tuple of Speed
        Speeds at which it carries audio; empty means all of them.
    latency_samples : float, samples
        Converter or link delay added where a signal passes this port; None when not stated.
    latency_at : map of Speed to float, samples
        The delay at speeds where it differs from `latency_samples`.
    phantom_on_xlr_only : bool
        True where 48 V does not reach the jack contacts of a combo socket.
    levels : map of Signal to Level
        By what the port carries: a combo socket takes a microphone and a line each at a level of its own.
    stage : OutputStage
        How an analogue output is driven; empty when not stated.
    lanes_at : map of Speed to int
        Channels at speeds where the box carries fewer than its format could, such as none without S/MUX.
    termination : Termination
        Of a word-clock input: always on, switched, or absent; empty when not stated.
    fibre : Fibre
        The kind of glass a MADI socket is made for; empty when not stated.
    asynchronous : bool
        Whether an asynchronous sample-rate converter stands behind this input: it need not be in step.
    pad_db : float or None, dB
        What its pad takes off when it is switched on; None where it has none.
    wiring : Contacts
        How its contacts are used; empty when not stated. An ``insert`` jack joins its send to its return while nothing is plugged in.
    level_mode, levels_at : str, map of position to Level
        A mode that chooses between +4 dBu and −10 dBV, and the line's level by its position, before what `levels` says.
    lane_directions : tuple of "in" or "out"
        Of a port of both directions, lane by lane: an insert jack sends on the tip and comes back on the ring, or the other way round.
    mirrors : tuple of str
        Outputs with which it shares driver channels, one a channel: phones that share numbers with line outputs.
    """

    key: str
    label: str
    direction: Direction
    connector: Connector
    carries: tuple[Signal, ...]
    row: str = ""
    channels: int = 1
    format_mode: str | None = None
    only_speeds: tuple[Speed, ...] = ()
    latency_samples: float | None = None
    latency_at: Mapping[Speed, float] = FrozenMap()
    phantom_on_xlr_only: bool = True
    levels: Mapping[Signal, Level] = FrozenMap()
    stage: OutputStage = ""
    lanes_at: Mapping[Speed, int] = FrozenMap()
    termination: Termination = ""
    fibre: Fibre = ""
    asynchronous: bool = False
    pad_db: float | None = None
    mirrors: tuple[str, ...] = ()
    wiring: Contacts = ""
    lane_directions: tuple[Literal["in", "out"], ...] = ()
    level_mode: str = ""
    levels_at: Mapping[str, Level] = FrozenMap()

    def __post_init__(self) -> None:
        object.__setattr__(self, "levels_at", FrozenMap.of(self.levels_at))
        object.__setattr__(self, "lanes_at", FrozenMap.of(self.lanes_at))
        object.__setattr__(self, "latency_at", FrozenMap.of(self.latency_at))
        object.__setattr__(self, "levels", FrozenMap.of(self.levels))

    def levels_as_set(self, modes: Mapping[str, str]) -> Mapping[Signal, Level]:
        """Return its levels as the modes of its box stand."""
        level = self.levels_at.get(modes.get(self.level_mode, ""))
        return {**self.levels, "line": level} if level is not None else self.levels

    def delay_samples(self, speed: Speed) -> float | None:
        """Return the delay a signal meets here at a speed, samples; None when not stated."""
        return self.latency_at.get(speed, self.latency_samples)

    @property
    def at_mic_level(self) -> bool:
        """Whether what it usually carries is as weak as a microphone."""
        return self.carries[0] == "mic"

    @cached_property
    def is_digital(self) -> bool:
        """Whether the port carries digital audio or clock."""
        return self.carries[0] in DIGITAL

    def lanes_that(self, direction: Direction, most: int) -> range | tuple[int, ...]:
        """Return those of its first lanes that lie one way, counted from 1; of a port of one direction they all do."""
        if self.direction != "both":
            return range(1, most + 1)
        return tuple([n for n, way in enumerate(self.lane_directions[:most], start=1) if way == direction])


@record(frozen=True)
class Bank:
    """Ports with one 48 V switch."""

    key: str
    label: str
    ports: tuple[str, ...]


@record(frozen=True)
class Choice:
    """One position of a mode."""

    key: str
    label: str


@record(frozen=True)
class Mode:
    """A switch or menu entry that changes what ports carry or how channels are numbered."""

    key: str
    label: str
    choices: tuple[Choice, ...]

    @property
    def default(self) -> str:
        """The position a new unit stands at: the first."""
        return self.choices[0].key

    def label_of(self, choice: str) -> str:
        """Return the label of a position."""
        return next((c.label for c in self.choices if c.key == choice), choice)


@record(frozen=True)
class Block:
    """A stretch of consecutive driver channels.

    Parameters
    ----------
    ports : tuple of str
        Ports in order; the block is as long as their channels at the rate. Empty for channels that no
        socket carries (loopback, talkback), which then state `channels`.
    when : map of mode to position
        Modes under which the block exists.
    speeds : tuple of Speed
        Speeds at which it exists; empty means all.
    first_label : int
        The number its first channel bears in its name: 5 where the driver lists Line 5 first.
    """

    key: str
    label: str
    ports: tuple[str, ...] = ()
    channels: int = 0
    when: Mapping[str, str] = FrozenMap()
    speeds: tuple[Speed, ...] = ()
    first_label: int = 1

    def __post_init__(self) -> None:
        object.__setattr__(self, "when", FrozenMap.of(self.when))


@record(frozen=True)
class DriverMap:
    """The numbers under which the computer sees an interface.

    Parameters
    ----------
    numbering : "collapsing" or "fixed"
        Whether lanes lost at a higher speed free their numbers or leave dead ones.
    """

    key: str
    label: str
    numbering: Literal["collapsing", "fixed"]
    inputs: tuple[Block, ...]
    outputs: tuple[Block, ...]


@record(frozen=True)
class InnerPath:
    """Channels of some ports that the unit itself carries, in order, to the lanes of others.

    Parameters
    ----------
    sums : bool
        Whether all channels go onto the lanes of `to_ports` in turn: odd ones left, even ones right.
    when : map of mode to position
        Modes under which the path exists.
    kind : PathKind
        ``joins`` where it is copper, so that 48 V and load come through and it holds with the box switched off; ``passes``
        everywhere else, powered or not.
    """

    from_ports: tuple[str, ...]
    to_ports: tuple[str, ...]
    sums: bool = False
    when: Mapping[str, str] = FrozenMap()
    kind: PathKind = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "when", FrozenMap.of(self.when))


@record(frozen=True)
class Mix:
    """A mix that an interface makes by itself, of inputs and of what the computer plays, without the way through the software.

    Parameters
    ----------
    from_ports : tuple of str
        The inputs that it can hold.
    to_ports : tuple of str
        The outputs that it can feed.
    inputs_only : bool
        Whether it can hold no playback channels.
    channels : int
        1, or 2 where it has a left and a right side.
    latency_samples : float, samples
        What it adds beside the converters; None when not stated.
    """

    key: str
    label: str
    from_ports: tuple[str, ...]
    to_ports: tuple[str, ...]
    inputs_only: bool = False
    channels: int = 2
    latency_samples: float | None = None


@record(frozen=True)
class ClockSource:
    """An entry of the unit's clock menu; `port` is None for its own crystal."""

    key: str
    label: str
    port: str | None = None


@record(frozen=True)
class Profile:
    """A type of box.

    Parameters
    ----------
    ppm : float, ppm
        Stated tolerance of its own clock; None when not stated.
    jitter_ps : float, ps
        Stated jitter of its own clock; None when not stated.
    lock_ppm : float, ppm
        How far off the nominal rate a clock may be for it to lock; None when not stated.
    rates_hz : tuple of int, Hz
    rack_units : float, RU
    supply : str
        ``mains`` and ``adapter`` need an outlet; ``bus`` is fed by the computer, ``phantom`` by a preamp.
    power_w : float, W
        What it draws in use; None when not stated.
    bus : Bus
        How it hangs on a computer; empty for a box that never does.
    last_system : str
        The last version of the computer's system its driver supports; empty when no end is stated.
    cautions : tuple of str
        What the user should mind before plugging or switching it.
    setup : tuple of str
        What must be stored in the unit once before it works as described.
    lock_light : str
        How it shows that it is locked.
    """

    id: ProfileId
    name: str
    role: Role
    summary: str
    ports: tuple[Port, ...]
    modes: tuple[Mode, ...] = ()
    banks: tuple[Bank, ...] = ()
    driver_maps: tuple[DriverMap, ...] = ()
    inner_paths: tuple[InnerPath, ...] = ()
    clock_sources: tuple[ClockSource, ...] = ()
    rates_hz: tuple[int, ...] = RATES_HZ
    ppm: float | None = None
    jitter_ps: float | None = None
    lock_ppm: float | None = None
    rack_units: float = 0.0
    supply: Literal["mains", "adapter", "bus", "phantom", "battery", "none"] = "mains"
    power_w: float | None = None
    bus: Bus = ""
    last_system: str = ""
    cautions: tuple[str, ...] = ()
    setup: tuple[str, ...] = ()
    lock_light: str = "steady when locked, blinking when not"
    mixes: tuple[Mix, ...] = ()

    @cached_property
    def port_by_key(self) -> dict[str, Port]:
        """Ports by key, worked out once."""
        return {p.key: p for p in self.ports}

    @cached_property
    def bank_of_port(self) -> dict[str, Bank]:
        """The phantom bank each port belongs to."""
        return {port: bank for bank in self.banks for port in bank.ports}

    @cached_property
    def loud_outputs(self) -> tuple[Port, ...]:
        """Its outputs of loudspeaker level."""
        return tuple([p for p in self.ports if p.direction == "out" and "speaker" in p.carries])

    @cached_property
    def place_in_row(self) -> dict[str, int]:
        """How many inputs of its row stand before each input port."""
        counts: dict[str, int] = {}
        places = {}
        for port in self.ports:
            if port.direction == "in":
                places[port.key] = counts.get(port.row, 0)
                counts[port.row] = places[port.key] + 1
        return places

    def joins(self, path: InnerPath) -> bool:
        """Say whether a path is copper: as it states, else in a panel or a bay, but not where a transformer stands before the output."""
        if path.kind:
            return path.kind == "joins"
        ports = self.port_by_key
        return (
            self.role in PASSIVE
            and not path.sums
            and all(ports[k].stage != "transformer" for k in path.to_ports if k in ports)
        )

    @cached_property
    def joins_any(self) -> bool:
        """Whether it joins conductors at all, be it at sockets that something else drives as well."""
        return any(self.joins(path) for path in self.inner_paths) or any(p.direction == "either" for p in self.ports)

    @cached_property
    def copper_ports(self) -> frozenset[str]:
        """Its sockets that only join conductors, under whatever mode: an input may feed a transformer beside, an output may not."""
        joined = {k for path in self.inner_paths if self.joins(path) for k in (*path.from_ports, *path.to_ports)}
        driven = {k for path in self.inner_paths if not self.joins(path) for k in path.to_ports}
        return frozenset(joined - driven).union(p.key for p in self.ports if p.direction == "either")

    @cached_property
    def sides(self) -> Mapping[str, str]:
        """Whether each socket drives (``out``), listens (``in``), does either lane by lane (``both``), or only joins (empty)."""
        return {p.key: "" if p.key in self.copper_ports else p.direction for p in self.ports}

    @cached_property
    def fed_digitally(self) -> tuple[frozenset[str], int]:
        """The digital inputs that feed outputs of its own, in whatever mode, and how many of these outputs there are."""
        fed = {k for path in self.inner_paths for k in path.to_ports if not self.port_by_key[k].is_digital}
        feeds = {k for path in self.inner_paths if set(path.to_ports) & fed for k in path.from_ports}
        return frozenset(k for k in feeds if self.port_by_key[k].is_digital), len(fed)

    @cached_property
    def single_contacts(self) -> frozenset[str]:
        """The keys of its analogue ports of one lane."""
        return frozenset([p.key for p in self.ports if p.channels == 1 and not p.is_digital])

    @cached_property
    def has_digital_sockets(self) -> bool:
        """Whether any socket carries digital sound or a clock."""
        return any(port.is_digital for port in self.ports)

    @property
    def is_digital(self) -> bool:
        """Whether the unit runs on a sample clock at all."""
        return bool(self.clock_sources)

    @property
    def is_outboard(self) -> bool:
        """Whether a line is sent through it on cords: a processor, or a preamp, that stays analogue."""
        return self.role in ("processor", "preamp") and not self.converts

    @property
    def converts(self) -> bool:
        """Whether it turns sound into numbers or back: a loop begins and ends at such a one."""
        return bool(self.driver_maps) or self.is_digital

    def mode(self, key: str) -> Mode | None:
        """Return a mode by key."""
        return next((m for m in self.modes if m.key == key), None)

    def clock_source(self, key: str) -> ClockSource | None:
        """Return an entry of the clock menu by key."""
        return self._clock_by_key.get(key)

    @cached_property
    def _clock_by_key(self) -> dict[str, ClockSource]:
        return {c.key: c for c in reversed(self.clock_sources)}
