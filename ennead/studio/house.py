"""What stands in the house: places, units, computers and the cables between ports."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ennead.standards.computer_ports import Socket
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import CableId, ComputerId, PlaceId, ProfileId, SourceId, UnitId
from ennead.studio.record import record


@record(frozen=True)
class Place:
    """A room, rack or desk."""

    id: PlaceId
    name: str


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
        Keys of the inputs whose pad is switched on.
    """

    modes: Mapping[str, str] = field(default_factory=FrozenMap)
    phantom: tuple[str, ...] = ()
    clock_source: str = ""
    driver_map: str = ""
    terminated: tuple[str, ...] = ()
    rate_hz: int | None = None
    stored: bool = False
    pads: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "modes", FrozenMap.of(self.modes))


@record(frozen=True)
class Unit:
    """One physical box: an instance of a profile, with its settings and its faulty ports.

    Parameters
    ----------
    faults : map of port key to str
        Ports out of service, each with a note.
    """

    id: UnitId
    name: str
    profile: ProfileId
    place: PlaceId | None = None
    settings: Settings = Settings()
    faults: Mapping[str, str] = field(default_factory=FrozenMap)

    def __post_init__(self) -> None:
        object.__setattr__(self, "faults", FrozenMap.of(self.faults))


@record(frozen=True)
class Attachment:
    """How an interface hangs on its computer.

    Parameters
    ----------
    socket : Socket
        The socket of the computer it is plugged into.
    adapters : tuple of str
        Keys of the adapters between, from the interface on.
    behind : UnitId or None
        The box whose second socket it is chained to; the chain's first box takes the computer's.
    """

    socket: Socket
    adapters: tuple[str, ...] = ()
    behind: UnitId | None = None


#: What a box on a computer is that is none of its numbered interfaces: the device of its system sound, or there only
#: while it is being set up.
Beside = Literal["sound", "setup"]


@record(frozen=True)
class Computer:
    """A computer and the interfaces on it, in the order in which it numbers them.

    Parameters
    ----------
    sockets : map of Socket to int
        How many of each socket it has; empty when nobody has counted them.
    attachments : map of UnitId to Attachment
        Only interfaces whose socket has been chosen.
    corrected : tuple of UnitId
        Interfaces that the computer resamples (drift correction) instead of their following a cable.
    system : str
        Version of its system, such as 14.2; empty when not stated.
    driver_notes : str
        What to remember about drivers and settings on this computer.
    beside : map of UnitId to Beside
        Boxes plugged into it that are none of its interfaces: they have no numbers in the recording software.
    """

    id: ComputerId
    name: str
    interfaces: tuple[UnitId, ...] = ()
    sockets: Mapping[Socket, int] = field(default_factory=FrozenMap)
    attachments: Mapping[UnitId, Attachment] = field(default_factory=FrozenMap)
    corrected: tuple[UnitId, ...] = ()
    system: str = ""
    driver_notes: str = ""
    beside: Mapping[UnitId, Beside] = field(default_factory=FrozenMap)

    def __post_init__(self) -> None:
        object.__setattr__(self, "sockets", FrozenMap.of(self.sockets))
        object.__setattr__(self, "attachments", FrozenMap.of(self.attachments))
        object.__setattr__(self, "beside", FrozenMap.of(self.beside))


@dataclass(frozen=True, slots=True)
class PortEnd:
    """The end of a cable that sits in a unit's port."""

    unit: UnitId
    port: str


@dataclass(frozen=True, slots=True)
class SourceEnd:
    """The end of a cable at one channel (from 1) of a source of a session."""

    source: SourceId
    channel: int = 1


Grade = Literal["", "good"]


@record(frozen=True)
class Cable:
    """A cable from an output, or a source, to an input.

    Parameters
    ----------
    length_m : float, m
        None when nobody has measured it.
    grade : Grade
        ``good`` for glass or selected fibre and low-loss coaxial cable.
    """

    id: CableId
    start: PortEnd | SourceEnd
    end: PortEnd
    length_m: float | None = None
    note: str = ""
    grade: Grade = ""
