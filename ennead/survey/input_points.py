"""Input points: every socket a source could sit in, with the driver number at which it would arrive."""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from typing import Final

from ennead.standards.signals import Signal
from ennead.studio.house import Lead, PortEnd, Span
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.profile import Port, Profile
from ennead.survey.numbering import DriverChannel
from ennead.survey.parts import Held, changed_keys, each, kept, part, renews
from ennead.survey.passages import Passages
from ennead.survey.signal_paths import PathOnward
from ennead.survey.sorted_cables import SpanKey

#: Kinds of input; the same socket may serve several.
NEEDS: Final = ("phantom", "mic", "line", "hiz", "digital", "all")


@dataclass(slots=True)
class InputPoint:
    """One input socket.

    Parameters
    ----------
    drivers : tuple of DriverChannel
        Where its lanes arrive; a microphone socket has one.
    converter : UnitId
        The unit that turns it into numbers.
    converter_port : str
        The analogue port there.
    seat : pair of str and int
        The row of that port and its place in it from 0: the sides of a stereo pair are an even one and the next.
    fault : str
        The note of a port out of service, the socket or one on its way to the computer; empty where all are in order.
    powered_unit, powered_port, powered_by : UnitId, str, Profile
        The socket that feeds 48 V to this one, and its unit's profile: behind a panel it is the preamp's.
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
    seat: tuple[str, int]

    @property
    def end(self) -> PortEnd:
        """The socket as a cable end."""
        return PortEnd(self.unit, self.port.key)

    @property
    def carries(self) -> tuple[Signal, ...]:
        """What may come in by it: behind a panel, what the input takes to which its conductors lead."""
        if self.powered_unit == self.unit:
            return self.port.carries
        behind = self.powered_by.port_by_key[self.powered_port].carries
        return tuple([signal for signal in self.port.carries if signal in behind])

    @property
    def number(self) -> int:
        """The first driver number."""
        return self.drivers[0].number


@part
def taken(spans: Mapping[SpanKey, Span]) -> dict[UnitId, set[str]]:
    """Return the inputs of each unit that hold a cable from another unit."""
    found: dict[UnitId, set[str]] = {}
    for cable in spans.values():
        end = cable.end
        if end.unit in found:
            found[end.unit].add(end.port)
        else:
            found[end.unit] = {end.port}
    return found


@renews(taken)
def _taken_again(was: Held, spans: Mapping[SpanKey, Span]) -> dict[UnitId, set[str]]:
    """Return them, those of the units at which cables end that are new, gone or another found again."""
    then = was.reads[0]
    turned = {of[key].end.unit for key in changed_keys(spans, then) for of in (spans, then) if key in of}
    again = taken({key: cable for key, cable in spans.items() if cable.end.unit in turned})
    return _put(was.value, turned, again)


def _put(was: dict[UnitId, set[str]], turned: set[UnitId], again: dict[UnitId, set[str]]) -> dict[UnitId, set[str]]:
    left = {unit: ports for unit, ports in was.items() if unit not in turned or unit in again}
    found = {**left, **{unit: kept(was.get(unit, _NO_PORTS), ports) for unit, ports in again.items()}}
    return was if len(found) == len(was) and all(found.get(unit) is ports for unit, ports in was.items()) else found


_NO_PORTS: Final[set[str]] = set()


@part
def held_inputs(
    taken: Mapping[UnitId, set[str]],
    leads: Mapping[tuple[SourceId, int], Lead],
    further_leads: Mapping[tuple[SourceId, int], tuple[Lead, ...]],
) -> dict[UnitId, set[str]]:
    """Return the inputs of each unit into which nothing more goes: another unit's cable is in them, or a source of the session."""
    held: dict[UnitId, set[str]] = {}
    for lead in [*leads.values(), *[lead for several in further_leads.values() for lead in several]]:
        end = lead.end
        if (ports := held.get(end.unit)) is None:
            ports = held[end.unit] = set(taken.get(end.unit, ()))
        ports.add(end.port)
    return {**taken, **held}


@renews(held_inputs)
def _held_again(
    was: Held,
    taken: Mapping[UnitId, set[str]],
    leads: Mapping[tuple[SourceId, int], Lead],
    further_leads: Mapping[tuple[SourceId, int], tuple[Lead, ...]],
) -> dict[UnitId, set[str]] | None:
    """Return them, those of the units in which other cables or leads end found again."""
    had, led, further = was.reads
    if further_leads or further:
        return None
    turned = set(changed_keys(taken, had))
    turned |= {of[key].end.unit for key in changed_keys(leads, led) for of in (leads, led) if key in of}
    these = {key: lead for key, lead in leads.items() if lead.end.unit in turned}
    return _put(was.value, turned, held_inputs({unit: taken[unit] for unit in turned if unit in taken}, these, {}))


@each(
    "points_of",
    of={"unit": "unit_ids", "here": "passages", "found": "paths_onward", "held": "taken", "powered": "powered_of"},
    at={"drivers": "driver_inputs", "profile": "profiles"},
)
def points_of(
    unit: UnitId,
    here: Passages,
    found: Mapping[tuple[str, int], PathOnward],
    held: Collection[str] | None,
    powered: Mapping[str, tuple[PortEnd, ...]] | None,
    drivers: Callable[[UnitId], tuple[DriverChannel, ...]],
    profile: Callable[[UnitId], Profile],
) -> tuple[InputPoint, ...]:
    """Return the inputs of one unit from which a signal reaches the computer at the present rate.

    A socket that holds a cable from another unit is not free to sit in and is left out, and so is a multipin, which takes a loom.
    """
    points = []
    known: dict[UnitId, tuple[DriverChannel, ...]] = {}
    mine, lanes = here.view.profile, here.view.lanes
    for port in here.view.sockets:
        key = port.key
        if (held is not None and key in held) or port.wiring == "multi":
            continue
        first = found[key, 1]
        numbers: tuple[DriverChannel, ...] = ()
        more = [found[key, lane].lands for lane in range(2, lanes[key] + 1)] if lanes[key] > 1 else ()
        for landing in (first.lands, *more) if more else (first.lands,):
            if landing is not None:
                there, channel = landing
                if there not in known:
                    known[there] = drivers(there)
                numbers += (known[there][channel.index - 1],)
        if not numbers:
            continue
        converter, into = unit, key
        for stop in first.stops:
            if stop.zone == "converter" and stop.unit:
                converter, into = stop.unit, stop.port
        fault = here.faults.get(key) or first.fault
        box = mine if converter == unit else profile(converter)
        seat = box.port_by_key[into].row, box.place_in_row.get(into, -1)
        by = powered.get(key) if powered else None
        if by is None:
            points.append(InputPoint(unit, port, mine, numbers, converter, into, fault, unit, key, mine, seat))
        else:
            # Where several preamps stand on one line, the first can give it 48 V.
            points.append(
                InputPoint(
                    unit, port, mine, numbers, converter, into, fault, by[0].unit, by[0].port, profile(by[0].unit), seat
                )
            )
    return tuple(points)


@part
def input_points(points_of: Mapping[UnitId, tuple[InputPoint, ...]]) -> tuple[InputPoint, ...]:
    """Return every input socket from which a signal reaches the computer, by number."""
    return tuple(
        sorted([point for points in points_of.values() for point in points], key=lambda p: p.drivers[0].number)
    )


@part
def input_point_at(points_of: Mapping[UnitId, tuple[InputPoint, ...]]) -> dict[tuple[UnitId, str], InputPoint]:
    """Return the input points by unit and port key."""
    return {(point.unit, point.port.key): point for points in points_of.values() for point in points}


@part
def inputs_by_need(input_points: tuple[InputPoint, ...]) -> Mapping[str, int]:
    """Return how many channels each kind of need could use in the whole house."""
    return count_by_need(input_points)


def count_by_need(points: tuple[InputPoint, ...]) -> Mapping[str, int]:
    """Return how many channels each kind of need could use: the same socket may serve several."""
    counts = dict.fromkeys(NEEDS, 0)
    # Boxes of one type share their ports; behind a panel it is the preamp's 48 V that counts.
    alike: dict[object, int] = {}
    one_of: dict[object, InputPoint] = {}
    what: object
    for point in points:
        if not point.fault:
            what = (
                id(point.port)
                if point.powered_by is point.profile
                else (id(point.port), id(point.powered_by), point.powered_port)
            )
            alike[what] = alike.get(what, 0) + len(point.drivers)
            one_of[what] = point
    for what, channels in alike.items():
        point = one_of[what]
        carries, digital, phantom = (
            point.carries,
            point.port.is_digital,
            point.powered_port in point.powered_by.bank_of_port,
        )
        counts["all"] += channels
        if digital:
            counts["digital"] += channels
        for need in carries:
            if need in ("mic", "line", "hiz"):
                counts[need] += channels
        if phantom and "mic" in carries:
            counts["phantom"] += channels
    return counts
