"""Faults: single things gone wrong, each a small change of entries of the wiring; nothing of the studio itself is changed."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any, Final, NamedTuple

from ennead.studio.bays import Bay, Cord, Normal
from ennead.studio.errors import UnknownObject
from ennead.studio.house import Cable, Computer, Plug, PortEnd, Settings, Wire
from ennead.studio.ids import CableId, ComputerId, CordId, SourceId, UnitId
from ennead.studio.pieces import joined_lanes
from ennead.studio.profile import Profile
from ennead.studio.record import record, replace
from ennead.studio.switches import Switch, switched

#: The lane that stands for a whole socket, its clock included.
WHOLE: Final = 0
#: Entries by field of the wiring; None takes an entry away. A field that is no map is given as a whole.
Changes = Mapping[str, Any]
#: What a fault is read against: any field of the wiring by its name.
Read = Callable[[str], Any]


@record(frozen=True)
class DeadCable:
    """A cable in which nothing passes any more."""

    cable: CableId


@record(frozen=True)
class DeadCord:
    """A cord in which nothing passes any more."""

    cord: CordId


@record(frozen=True)
class DeadLane:
    """One line of a cable that is broken.

    Parameters
    ----------
    plug : int
        Of which plug the lane is, from 0.
    """

    cable: CableId
    lane: int
    plug: int = 0


@record(frozen=True)
class DeadContact:
    """One lane of a socket, or of a point, that makes no contact."""

    end: PortEnd
    lane: int = 1


@record(frozen=True)
class DeadPort:
    """A socket at which nothing passes, clock included."""

    end: PortEnd


@record(frozen=True)
class Muted:
    """A socket that is muted: what it carries goes no further, its clock does."""

    end: PortEnd


@record(frozen=True)
class PlugsExchanged:
    """Two cables, each with one plug where the other's belongs.

    Parameters
    ----------
    one, other : pair of CableId and int
        A cable, and which of its plugs, from 0.
    """

    one: tuple[CableId, int]
    other: tuple[CableId, int]


@record(frozen=True)
class OneSocketOff:
    """A plug that is in another socket than it belongs in.

    Parameters
    ----------
    plug : int
        Which of the cable's, from 0.
    """

    cable: CableId
    plug: int
    into: PortEnd


@record(frozen=True)
class NormalOpen:
    """A normal that does not make: its two points are never joined."""

    unit: UnitId
    start: str
    end: str


@record(frozen=True)
class NormalStuck:
    """A normal that no plug breaks."""

    unit: UnitId
    start: str
    end: str


@record(frozen=True)
class UnitOff:
    """A box that has no power."""

    unit: UnitId


@record(frozen=True)
class WrongSwitch:
    """A switch or menu that stands otherwise: a mode, a rate, a clock source, a 48 V switch."""

    switch: Switch


@record(frozen=True)
class WrongNumber:
    """A driver number picked in the recording software that is not the line's."""

    source: SourceId
    channel: int
    number: int


@record(frozen=True)
class DriverMissing:
    """An interface that the computer does not see."""

    unit: UnitId


Fault = (
    DeadCable | DeadCord | DeadLane | DeadContact | DeadPort | Muted | PlugsExchanged | OneSocketOff | NormalOpen | NormalStuck
    | UnitOff | WrongSwitch | WrongNumber | DriverMissing
)  # fmt: skip


class _Kind(NamedTuple):
    fields: tuple[str, ...]
    changes: Callable[[Any, Read], Changes]


def changed(fault: Fault, field: str, value: Any, read: Read) -> Any:
    """Return a field of the wiring with the entries that a fault changes in it; the very same value where it changes none.

    Raises
    ------
    UnknownObject
        If what is to be at fault is not there.
    """
    kind = _KINDS[type(fault)]
    if field not in kind.fields:
        return value
    new = kind.changes(fault, read)[field]
    if not isinstance(value, Mapping):
        return new
    # In the order of the map: the first cable of a line is the one that is followed.
    return {key: entry for key, entry in {**value, **new}.items() if entry is not None}


def _cable(read: Read, key: CableId) -> Cable:
    found: Cable | None = read("in_use").get(key)
    if found is None:
        raise UnknownObject("cable", key)
    return found


def _dead_cable(fault: DeadCable, read: Read) -> Changes:
    _cable(read, fault.cable)
    return {"in_use": {fault.cable: None}}


def _dead_cord(fault: DeadCord, read: Read) -> Changes:
    cords: tuple[Cord, ...] = read("cords")
    if all(cord.id != fault.cord for cord in cords):
        raise UnknownObject("cord", fault.cord)
    return {"cords": tuple([cord for cord in cords if cord.id != fault.cord])}


def _dead_lane(fault: DeadLane, read: Read) -> Changes:
    cable, profiles = _cable(read, fault.cable), read("profiles")
    groups = joined_lanes(cable, lambda end: profiles[end.unit].port_by_key[end.port])
    left = [group for group in groups if (fault.plug, fault.lane) not in group]
    if len(left) == len(groups):
        raise UnknownObject("line of a cable", f"{fault.cable} {fault.lane}")
    wires = tuple([w for group in left for w in _wires(sorted(group))])
    return {"in_use": {fault.cable: replace(cable, wires=wires) if wires else None}}


def _wires(group: list[tuple[int, int]]) -> Iterator[Wire]:
    (a, lane), *others = group
    for b, other in others:
        yield Wire(a, lane, b, other)


def _silent(read: Read, ends: list[tuple[UnitId, str, int]]) -> Changes:
    for unit, port, _ in ends:
        if unit not in read("profiles") or port not in read("profiles")[unit].port_by_key:
            raise UnknownObject("socket", f"{unit} {port}")
    return {"silent": frozenset({*read("silent"), *ends})}


def _lanes(end: PortEnd, read: Read) -> list[tuple[UnitId, str, int]]:
    profile: Profile | None = read("profiles").get(end.unit)
    if profile is None or end.port not in profile.port_by_key:
        raise UnknownObject("socket", f"{end.unit} {end.port}")
    return [(end.unit, end.port, lane) for lane in range(1, _MOST_LANES + 1)]


#: Of one socket: MADI at single speed.
_MOST_LANES: Final = 64


def _exchanged(fault: PlugsExchanged, read: Read) -> Changes:
    (one, at), (other, there) = fault.one, fault.other
    first, second = _cable(read, one), _cable(read, other)
    new = _with_plug(first, at, second.plugs[there]), _with_plug(second, there, first.plugs[at])
    return {"in_use": {one: new[0], other: new[1]}}


def _with_plug(cable: Cable, at: int, plug: Plug) -> Cable:
    return replace(cable, plugs=tuple([plug if n == at else p for n, p in enumerate(cable.plugs)]))


def _normal(fault: NormalOpen | NormalStuck, read: Read) -> tuple[Bay, Normal]:
    bay: Bay | None = read("bays").get(fault.unit)
    found = next((n for n in bay.normals if (n.start, n.end) == (fault.start, fault.end)), None) if bay else None
    if bay is None or found is None:
        raise UnknownObject("normal", f"{fault.unit} {fault.start} {fault.end}")
    return bay, found


def _open(fault: NormalOpen, read: Read) -> Changes:
    bay, normal = _normal(fault, read)
    return {"bays": {fault.unit: replace(bay, normals=tuple([n for n in bay.normals if n is not normal]))}}


def _stuck(fault: NormalStuck, read: Read) -> Changes:
    bay, normal = _normal(fault, read)
    stays = tuple([replace(n, mode="parallel") if n is normal else n for n in bay.normals])
    return {"bays": {fault.unit: replace(bay, normals=stays)}}


def _settings(read: Read, unit: UnitId) -> Settings:
    found: Settings | None = read("settings").get(unit)
    if found is None:
        raise UnknownObject("unit", unit)
    return found


def _switch(fault: WrongSwitch, read: Read) -> Changes:
    unit = fault.switch.unit
    return {"settings": {unit: switched(_settings(read, unit), read("profiles")[unit], fault.switch)}}


def _driver_missing(fault: DriverMissing, read: Read) -> Changes:
    computers: Mapping[ComputerId, Computer] = read("computers")
    key = next((k for k, c in computers.items() if fault.unit in c.interfaces), None)
    if key is None:
        raise UnknownObject("interface", fault.unit)
    left = tuple([u for u in computers[key].interfaces if u != fault.unit])
    return {"computers": {key: replace(computers[key], interfaces=left)}}


_KINDS: Final[dict[type, _Kind]] = {
    DeadCable: _Kind(("in_use",), _dead_cable),
    DeadCord: _Kind(("cords",), _dead_cord),
    DeadLane: _Kind(("in_use",), _dead_lane),
    DeadContact: _Kind(("silent",), lambda fault, read: _silent(read, [(fault.end.unit, fault.end.port, fault.lane)])),
    DeadPort: _Kind(
        ("silent",),
        lambda fault, read: _silent(read, [(fault.end.unit, fault.end.port, WHOLE), *_lanes(fault.end, read)]),
    ),
    Muted: _Kind(("silent",), lambda fault, read: _silent(read, _lanes(fault.end, read))),
    PlugsExchanged: _Kind(("in_use",), _exchanged),
    OneSocketOff: _Kind(
        ("in_use",),
        lambda fault, read: {"in_use": {fault.cable: _with_plug(_cable(read, fault.cable), fault.plug, fault.into)}},
    ),
    NormalOpen: _Kind(("bays",), _open),
    NormalStuck: _Kind(("bays",), _stuck),
    UnitOff: _Kind(
        ("settings",), lambda fault, read: {"settings": {fault.unit: replace(_settings(read, fault.unit), off=True)}}
    ),
    WrongSwitch: _Kind(("settings",), _switch),
    WrongNumber: _Kind(("picked",), lambda fault, _: {"picked": {(fault.source, fault.channel): fault.number}}),
    DriverMissing: _Kind(("computers",), _driver_missing),
}
