"""What stands in the house: places, units, computers and the cables between ports."""

from collections.abc import Mapping
from functools import cached_property
from typing import TYPE_CHECKING, Any, ClassVar, Final, Literal

from ennead.standards.computer_ports import SocketKind
from ennead.studio.computer_names import SystemNames
from ennead.studio.delays import StopDelay
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import (
    LETTERS,
    CableId,
    ComputerId,
    DestinationId,
    PlaceId,
    ProfileId,
    SessionId,
    SourceId,
    UnitId,
)
from ennead.studio.looms import Loom
from ennead.studio.record import record


@record(frozen=True)
class Place:
    """A room, rack or desk."""

    id: PlaceId
    name: str


#: What an output may be other than on.
OutputState = Literal["off", "fixed"]


@record(frozen=True)
class Settings:
    """How one unit's switches and menus stand.

    Parameters
    ----------
    modes : map of mode to position
        Only modes that differ from the profile's default need an entry.
    phantom : tuple of str
        Keys of the phantom banks that are on.
    clock_source : str
        Key of the clock menu entry; empty for a unit without a clock.
    driver_map : str
        Key of the chosen driver map; empty for the profile's first.
    terminated : tuple of str
        Keys of the word-clock inputs that close their line: switched on, or by a T-piece with a terminator on the socket.
    rate_hz : int, Hz
        Where its own rate switch stands; None where it goes with the session.
    stored : bool
        Whether what its profile wants stored in it once has been.
    pads : tuple of str
        Keys of the inputs that have their pad switched on.
    off : bool
        Whether the unit is switched off: what it joins in copper stays joined, all else stands still.
    gains : map of port key to float, dB
        The noted gains of inputs; an input without an entry has none noted.
    outputs : map of port key to "off" or "fixed"
        Outputs that are switched off, or that give full level whatever the volume control says; all others are on.
    mixes : map of mix to map of lane to float, dB, or "off"
        The noted levels of what is in each mix, or on each output on which the unit sums; see `studio/mixes`. On an output that sums,
        what has no entry is heard at a level that is not noted; a mix of an interface holds only what has one.
    feeds : map of output lane to lane
        What feeds an output where that is not its own playback channel: another's, a side of a mix, or ``nothing``.
    """

    modes: Mapping[str, str] = FrozenMap()
    phantom: tuple[str, ...] = ()
    clock_source: str = ""
    driver_map: str = ""
    terminated: tuple[str, ...] = ()
    rate_hz: int | None = None
    stored: bool = False
    pads: tuple[str, ...] = ()
    off: bool = False
    gains: Mapping[str, float] = FrozenMap()
    outputs: Mapping[str, OutputState] = FrozenMap()
    mixes: Mapping[str, Mapping[str, float | Literal["off"]]] = FrozenMap()
    feeds: Mapping[str, str] = FrozenMap()

    def __post_init__(self) -> None:
        for name in ("modes", "gains", "outputs", "feeds"):
            object.__setattr__(self, name, FrozenMap.of(getattr(self, name)))
        object.__setattr__(self, "mixes", FrozenMap.of({k: FrozenMap.of(v) for k, v in self.mixes.items()}))


@record(frozen=True)
class Unit:
    """One physical box: an instance of a profile, with its settings and its faulty ports.

    Parameters
    ----------
    faults : map of port key to str
        Ports out of service, each with a note.
    delays : map of port key to tuple of StopDelay
        What passing a socket of this very box adds, one a rate, where it is otherwise than its profile says.
    """

    id: UnitId
    name: str
    profile: ProfileId
    place: PlaceId | None = None
    settings: Settings = Settings()
    faults: Mapping[str, str] = FrozenMap()
    delays: Mapping[str, tuple[StopDelay, ...]] = FrozenMap()

    def __post_init__(self) -> None:
        object.__setattr__(self, "faults", FrozenMap.of(self.faults))
        object.__setattr__(self, "delays", FrozenMap.of(self.delays))


@record(frozen=True)
class Attachment:
    """How an interface hangs on its computer.

    Parameters
    ----------
    socket : SocketKind
        The socket of the computer it is plugged into.
    adapters : tuple of str
        Keys of the adapters between, from the interface on.
    behind : UnitId or None
        The box it is chained to, by the second socket of that box; the chain's first box takes the computer's.
    """

    socket: SocketKind
    adapters: tuple[str, ...] = ()
    behind: UnitId | None = None


#: What a box on a computer is that is none of its numbered interfaces: the device of its system sound, or there only
#: while it is being set up.
Beside = Literal["sound", "setup"]


#: Longer than any buffer or driver keeps, samples. House default.
MOST_SAMPLES: Final = 1_000_000


@record(frozen=True)
class AudioTimes:
    """How late a computer is at one rate, as its driver and its software state it; None where it is not known.

    Parameters
    ----------
    buffer : int or None, samples
    safety_in, safety_out : int or None, samples
        What the driver keeps in hand beside the buffer.
    reported_in, reported_out : int or None, samples
        The latency that the driver reports to the software, each way; what of the interface it holds is the driver's own affair.
    """

    buffer: int | None = None
    safety_in: int | None = None
    safety_out: int | None = None
    reported_in: int | None = None
    reported_out: int | None = None


@record(frozen=True)
class Computer:
    """A computer and the interfaces on it, in the order in which it numbers them.

    Parameters
    ----------
    sockets : map of SocketKind to int
        How many of each socket it has; empty when not stated.
    attachments : map of UnitId to Attachment
        Only interfaces with a chosen socket.
    corrected : tuple of UnitId
        Interfaces that the computer resamples (drift correction) instead of their following a cable.
    system : str
        Version of its system, such as 14.2; empty when not stated.
    driver_notes : str
        What to remember about drivers and settings on this computer.
    beside : map of UnitId to Beside
        Boxes plugged into it that are none of its interfaces: they have no numbers in the recording software.
    times : map of rate to AudioTimes
        By the rate in Hz, as text.
    names : map of rate to SystemNames
        By the rate in Hz, as text.
    """

    id: ComputerId
    name: str
    interfaces: tuple[UnitId, ...] = ()
    sockets: Mapping[SocketKind, int] = FrozenMap()
    attachments: Mapping[UnitId, Attachment] = FrozenMap()
    corrected: tuple[UnitId, ...] = ()
    system: str = ""
    driver_notes: str = ""
    beside: Mapping[UnitId, Beside] = FrozenMap()
    times: Mapping[str, AudioTimes] = FrozenMap()
    names: Mapping[str, SystemNames] = FrozenMap()

    def names_at(self, rate_hz: int) -> SystemNames:
        """Return what it called its numbers at a rate."""
        return self.names.get(str(rate_hz), SystemNames())

    def times_at(self, rate_hz: int) -> AudioTimes:
        """Return how late it is at a rate."""
        return self.times.get(str(rate_hz), AudioTimes())

    def __post_init__(self) -> None:
        object.__setattr__(self, "times", FrozenMap.of(self.times))
        object.__setattr__(self, "names", FrozenMap.of(self.names))
        object.__setattr__(self, "sockets", FrozenMap.of(self.sockets))
        object.__setattr__(self, "attachments", FrozenMap.of(self.attachments))
        object.__setattr__(self, "beside", FrozenMap.of(self.beside))


@record(frozen=True)
class PortEnd:
    """The end of a cable that sits in a unit's port."""

    unit: UnitId
    port: str


@record(frozen=True)
class LineEnd:
    """The end of a cable at a source or a destination; its lanes are the line's channels.

    Parameters
    ----------
    side : "" or "return"
        ``return`` where a loop comes back.
    """

    line: SourceId | DestinationId
    side: Literal["", "return"] = ""


@record(frozen=True)
class SourceEnd:
    """One channel (from 1) of a source of a session, as a lead of its own has it."""

    source: SourceId
    channel: int = 1


@record(frozen=True)
class DestinationEnd:
    """One channel (from 1) of a destination of a session, as a lead of its own has it; or where a loop comes back."""

    destination: DestinationId
    channel: int = 1
    side: Literal["", "return"] = ""


@record(frozen=True)
class Wire:
    """What one lane of a plug of a cable is joined to: plugs by their place in the cable from 0, lanes from 1."""

    a: int
    a_lane: int
    b: int
    b_lane: int


Plug = PortEnd | LineEnd
Runs = Literal["between units", "from a source", "at a destination", "in pieces"]
Grade = Literal["", "good"]


@record(frozen=True)
class Cable:
    """A cable with its plugs; of two the first drives, of more those that sit in outputs do.

    Parameters
    ----------
    plugs : tuple of Plug
        Two or more: a loom, a Y lead, an insert lead and a multipin are one cable each.
    wires : tuple of Wire
        None where it is straight: lane by lane, as many as both plugs carry now.
    sessions : tuple of SessionId
        The sessions it serves; none where it belongs to the house.
    length_m : float, m
        None when it has not been measured.
    grade : Grade
        ``good`` for glass or selected fibre and low-loss coaxial cable.
    loom : Loom or None
        How it is made up, where it is a loom of which that has been stated.
    """

    id: CableId
    plugs: tuple[Plug, ...]
    wires: tuple[Wire, ...] = ()
    sessions: tuple[SessionId, ...] = ()
    length_m: float | None = None
    note: str = ""
    grade: Grade = ""
    loom: Loom | None = None

    @cached_property
    def start(self) -> PortEnd | SourceEnd | DestinationEnd:
        """The output, or the channel of a source or of a loop's return, at which a cable of two plugs begins."""
        first = self.plugs[0]
        if isinstance(first, PortEnd):
            return first
        channel = self.wires[0].a_lane if self.wires else 1
        if first.line[:1] == LETTERS["destinations"]:
            return DestinationEnd(DestinationId(first.line), channel, first.side)
        return SourceEnd(SourceId(first.line), channel)

    @cached_property
    def end(self) -> PortEnd | DestinationEnd:
        """The input, or the channel of a destination, at which a cable of two plugs ends."""
        last = self.plugs[-1]
        if isinstance(last, PortEnd):
            return last
        return DestinationEnd(DestinationId(last.line), self.wires[0].b_lane if self.wires else 1, last.side)

    @cached_property
    def runs(self) -> Runs:
        """What it runs between; of more than two plugs, or with wires of its own, piece by piece."""
        if not self.is_plain:
            return "in pieces"
        first, last = (isinstance(p, PortEnd) for p in self.plugs)
        if first and last:
            return "between units"
        return "from a source" if isinstance(self.start, SourceEnd) else "at a destination"

    @cached_property
    def lines(self) -> frozenset[SourceId | DestinationId]:
        """The sources and destinations it has a plug at."""
        return frozenset([plug.line for plug in self.plugs if isinstance(plug, LineEnd)])

    @cached_property
    def places(self) -> tuple["Seat", ...]:
        """What each end of a plain cable sits in, or each wired lane of any other."""
        if self.is_plain:
            return place_of(self.start), place_of(self.end)
        wired = {(w.a, w.a_lane) for w in self.wires} | {(w.b, w.b_lane) for w in self.wires}
        return tuple(
            {
                (p.unit, p.port) if isinstance(p := self.plugs[at], PortEnd) else (p.line, lane, p.side)
                for at, lane in wired
            }
        )

    @cached_property
    def is_plain(self) -> bool:
        """Whether it has two plugs and joins them lane by lane, or one channel of a line to a socket."""
        if len(self.plugs) != 2:
            return False
        first, last = self.plugs
        if isinstance(first, LineEnd) and first.line[:1] == LETTERS["destinations"] and not first.side:
            return False
        if isinstance(last, LineEnd) and (last.side or last.line[:1] == LETTERS["sources"]):
            return False
        if not self.wires:
            return True
        only, lead = self.wires[0], isinstance(first, LineEnd)
        at_socket = only.b_lane if lead else only.a_lane
        return len(self.wires) == 1 and lead != isinstance(last, LineEnd) and (only.a, only.b, at_socket) == (0, 1, 1)

    #: Which lane of its end each lane of its start comes to, as a `Piece` has it; of a plain cable, lane by lane.
    crosses: ClassVar[Mapping[int, int] | None] = None
    #: The lane of the socket in which a source's plain lead ends.
    lane: ClassVar[int] = 1


@record(frozen=True)
class Piece:
    """What runs within a cable from one of its plugs to another; a cable that is not plain has one or more.

    Parameters
    ----------
    id : CableId
        The cable's.
    crosses : map of int to int
        Which lane of the end each lane of the start comes to; a line's start has one, its channel.
    """

    id: CableId
    start: "PortEnd | SourceEnd | DestinationEnd"
    end: "PortEnd | DestinationEnd"
    crosses: Mapping[int, int]
    length_m: float | None = None
    note: str = ""
    grade: Grade = ""

    @property
    def lane(self) -> int:
        """The lane of the socket in which a source's lead ends."""
        return next(iter(self.crosses.values()))


#: What a cable of two plugs begins or ends at.
End = PortEnd | SourceEnd | DestinationEnd

#: What a plug sits in, as a plain key: a unit and a port, or a line, its channel and its side.
Seat = tuple[str, str] | tuple[str, int, str]


def place_of(end: End) -> Seat:
    """Return what an end sits in."""
    if isinstance(end, PortEnd):
        return end.unit, end.port
    return (end.source, end.channel, "") if isinstance(end, SourceEnd) else (end.destination, end.channel, end.side)


def two_plugs(start: End, end: End) -> dict[str, Any]:
    """Return the plugs and wires of a cable between two ends: a line's second channel is wired to the first lane of the socket."""
    channels = [1 if isinstance(e, PortEnd) else e.channel for e in (start, end)]
    wires = () if channels == [1, 1] else (Wire(0, channels[0], 1, channels[1]),)
    return {"plugs": (_plug(start), _plug(end)), "wires": wires}


def _plug(end: End) -> Plug:
    if isinstance(end, PortEnd):
        return end
    return LineEnd(end.source) if isinstance(end, SourceEnd) else LineEnd(end.destination, end.side)


if TYPE_CHECKING:

    class Span(Cable):
        """A cable that runs from an output to an input."""

        @cached_property
        def start(self) -> PortEnd: ...
        @cached_property
        def end(self) -> PortEnd: ...

    class Lead(Cable):
        """A cable that runs from a channel of a source to an input."""

        @cached_property
        def start(self) -> SourceEnd: ...
        @cached_property
        def end(self) -> PortEnd: ...

else:
    Span = Lead = Cable
