"""Seats: every input socket a source could sit in, with the driver number at which it would arrive."""

from collections.abc import Collection, Mapping
from operator import itemgetter
from typing import Final, NamedTuple

from ennead.standards.signals import Signal
from ennead.studio.house import Cable, PortEnd, Unit
from ennead.studio.ids import CableId, UnitId
from ennead.studio.profile import Port, Profile
from ennead.survey.numbering import DriverChannel
from ennead.survey.phantom_way import PASSIVE, powered_socket
from ennead.survey.unit_view import UnitView
from ennead.survey.wires import Wires

#: Kinds of input; the same socket may serve several.
NEEDS: Final = ("phantom", "mic", "line", "hiz", "digital", "all")


class InputPoint(NamedTuple):
    """One input socket.

    Parameters
    ----------
    drivers : tuple of DriverChannel
        Where its lanes arrive; a microphone socket has one.
    converter : UnitId
        The unit that turns it into numbers.
    converter_port : str
        The analogue port there: neighbours of a stereo pair are neighbours on it.
    fault : str
        The note of a port out of service, the socket or one on its way to the computer; empty where all are in order.
    powered_unit, powered_port, powered_by : UnitId, str, Profile
        The socket whose 48 V reaches this one, and its unit's profile: behind a panel it is the preamp's.
    """

    unit: UnitId
    port: Port
    profile: Profile
    drivers: tuple[DriverChannel, ...]
    converter: UnitId
    converter_port: str
    fault: str
    powered_unit: UnitId
    powered_port: str
    powered_by: Profile

    @property
    def end(self) -> PortEnd:
        """The socket as a cable end."""
        return PortEnd(self.unit, self.port.key)

    @property
    def number(self) -> int:
        """The first driver number."""
        return self.drivers[0].number


class PointsOf(NamedTuple):
    """The points of one unit, and what they were worked out from.

    Parameters
    ----------
    units : set of UnitId
        Every unit that signals from its sockets pass.
    """

    points: tuple[InputPoint, ...]
    taken: Collection[str]
    faults: Mapping[str, str]
    units: frozenset[UnitId]
    counts: Mapping[str, int]
    numbered: tuple[tuple[int, InputPoint], ...]
    by_socket: Mapping[tuple[UnitId, str], InputPoint]


def taken_inputs(cables: Mapping[CableId, Cable]) -> dict[UnitId, set[str]]:
    """Return the inputs of each unit that hold a cable from another unit."""
    taken: dict[UnitId, set[str]] = {}
    for cable in cables.values():
        if isinstance(cable.start, PortEnd):
            taken.setdefault(cable.end.unit, set()).add(cable.end.port)
    return taken


def find_input_points(
    wires: Wires,
    faults: Mapping[UnitId, Mapping[str, str]],
    taken: Mapping[UnitId, Collection[str]],
    previous: Mapping[UnitId, PointsOf],
) -> dict[UnitId, PointsOf]:
    """Return the sockets of each unit from which a signal reaches the computer at the present rate.

    A socket that holds a cable from another unit is not free to sit in and is left out.

    Parameters
    ----------
    faults : map of UnitId to map of port key to note
        Only units with a port out of service.
    taken : map of UnitId to port keys
        Inputs that hold a cable from another unit.
    """
    found: dict[UnitId, PointsOf] = {}
    changed = wires.changed
    for unit, view in wires.views.items():
        held, broken = taken.get(unit, ()), faults.get(unit, _WHOLE)
        was = previous.get(unit)
        if was is not None and changed is not None and was.faults is broken and was.taken == held and changed.isdisjoint(was.units):
            found[unit] = was if wires.renumbered.isdisjoint(was.units) else _renumbered(wires, unit, was)
        else:
            found[unit] = _seats_of(wires, unit, view, held, broken)
    return found


_WHOLE: Mapping[str, str] = {}


def _seats_of(
    wires: Wires, unit: UnitId, view: UnitView, held: Collection[str], broken: Mapping[str, str]
) -> PointsOf:
    profile, lanes = view.profile, view.lanes
    points = []
    units: set[UnitId] = {unit}
    for port in view.sockets:
        key = port.key
        if key in held:
            continue
        first = way = wires.onward(unit, key, 1)
        units.update(way.units)
        drivers: tuple[DriverChannel, ...] = (way.driver,) if way.driver is not None else ()
        for lane in range(2, lanes[key] + 1):
            way = wires.onward(unit, key, lane)
            units.update(way.units)
            drivers += (way.driver,) if way.driver is not None else ()
        if not drivers:
            continue
        fault = broken.get(key) or wires.fault_on(first.stops)
        converted: tuple[UnitId, str] = (unit, key)
        for stop in way.stops:
            if stop.zone == "converter" and stop.unit:
                converted = (stop.unit, stop.port)
        powered_unit, powered_port, by = unit, key, profile
        if profile.role in PASSIVE:
            powered = powered_socket(wires, PortEnd(unit, key))
            powered_unit, powered_port, by = powered.unit, powered.port, wires.views[powered.unit].profile
        points.append(InputPoint(unit, port, profile, drivers, *converted, fault, powered_unit, powered_port, by))
    whole = tuple(points)
    return PointsOf(whole, held, broken, frozenset(units), count_by_need(whole), *_found_by(unit, whole))


def _found_by(unit: UnitId, points: tuple[InputPoint, ...]) -> tuple[tuple[tuple[int, InputPoint], ...], dict[tuple[UnitId, str], InputPoint]]:
    """Return the points of a unit by number and by socket."""
    return tuple([(point[3][0][0], point) for point in points]), {(unit, point[1].key): point for point in points}


def _renumbered(wires: Wires, unit: UnitId, was: PointsOf) -> PointsOf:
    """Return the points of a unit of which nothing but the driver numbers changed."""
    now = wires.number_now
    points = tuple([_new(InputPoint, (*s[:3], tuple([now(d) for d in s[3]]), *s[4:])) for s in was.points])
    return PointsOf(points, was.taken, was.faults, was.units, was.counts, *_found_by(unit, points))


def in_order(of_units: Mapping[UnitId, PointsOf]) -> tuple[InputPoint, ...]:
    """Return all points by driver number."""
    numbered = [pair for of_unit in of_units.values() for pair in of_unit.numbered]
    numbered.sort(key=_first)
    return tuple(map(_second, numbered))


def points_by_socket(of_units: Mapping[UnitId, PointsOf]) -> dict[tuple[UnitId, str], InputPoint]:
    """Return all points by unit and port key."""
    found: dict[tuple[UnitId, str], InputPoint] = {}
    for of_unit in of_units.values():
        found |= of_unit.by_socket
    return found


def sum_of_needs(of_units: Mapping[UnitId, PointsOf]) -> Mapping[str, int]:
    """Return how many channels each kind of need could use in the whole house."""
    return {need: sum(of_unit.counts[need] for of_unit in of_units.values()) for need in NEEDS}


_first, _second = itemgetter(0), itemgetter(1)
# A named tuple made by its own class costs twice as much.
_new = tuple.__new__


def units_with_faults(units: Mapping[UnitId, Unit]) -> dict[UnitId, Mapping[str, str]]:
    """Return the faults of the units that have any."""
    return {u.id: u.faults for u in units.values() if u.faults}


def input_point_at(points: tuple[InputPoint, ...], end: PortEnd) -> InputPoint | None:
    """Return the point of a socket."""
    return next((s for s in points if s.end == end), None)


def count_by_need(points: tuple[InputPoint, ...]) -> Mapping[str, int]:
    """Return how many channels each kind of need could use: the same socket may serve several."""
    counts = dict.fromkeys(NEEDS, 0)
    # Sockets that can do the same stand beside each other, so that most of them are one more of those before.
    alike: dict[tuple[tuple[Signal, ...], bool, bool], int] = {}
    for point in points:
        if not point.fault:
            port = point.port
            what = port.carries, port.is_digital, point.powered_port in point.powered_by.bank_of_port
            alike[what] = alike.get(what, 0) + len(point.drivers)
    for (carries, digital, phantom), channels in alike.items():
        counts["all"] += channels
        if digital:
            counts["digital"] += channels
        for need in carries:
            if need in ("mic", "line", "hiz"):
                counts[need] += channels
        if phantom and "mic" in carries:
            counts["phantom"] += channels
    return counts
