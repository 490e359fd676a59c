"""Seats: every input socket a source could sit in, with the driver number at which it would arrive."""

from collections.abc import Mapping
from dataclasses import dataclass

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port, Profile
from ennead.survey.numbering import DriverChannel
from ennead.survey.phantom_way import powered_socket
from ennead.survey.runs import Ground, trace_port


@dataclass(frozen=True, slots=True)
class Seat:
    """One input socket.

    Parameters
    ----------
    drivers : tuple of DriverChannel
        Where its lanes arrive; a microphone socket has one.
    converter : UnitId
        The unit that turns it into numbers.
    converter_port : str
        The analogue port there: neighbours of a stereo pair are neighbours on it.
    powered, powered_by : PortEnd, Profile
        The socket whose 48 V reaches this one, and its unit's profile: behind a panel it is the preamp's.
    """

    end: PortEnd
    port: Port
    profile: Profile
    drivers: tuple[DriverChannel, ...]
    converter: UnitId
    converter_port: str
    fault: str
    powered: PortEnd
    powered_by: Profile

    @property
    def number(self) -> int:
        """The first driver number."""
        return self.drivers[0].number


def find_seats(ground: Ground) -> tuple[Seat, ...]:
    """Return every socket from which a signal reaches the computer at the present rate, by driver number.

    A socket that holds a cable from another unit is not free to sit in and is left out.
    """
    wired = {c.end for c in ground.studio.cables.values() if isinstance(c.start, PortEnd)}
    seats = []
    for unit in ground.studio.units.values():
        view = ground.views[unit.id]
        for port in view.profile.ports:
            end = PortEnd(unit.id, port.key)
            if port.direction != "in" or end in wired or view.lanes[port.key] == 0:
                continue
            drivers = []
            converted = (unit.id, port.key)
            for lane in range(1, view.lanes[port.key] + 1):
                stops, driver, _ = trace_port(ground, unit.id, port.key, lane)
                if driver is not None:
                    drivers.append(driver)
                    last = next((s for s in reversed(stops) if s.zone == "converter" and s.unit), None)
                    converted = (last.unit, last.port) if last and last.unit else converted
            if drivers:
                fault = unit.faults.get(port.key, "")
                powered = powered_socket(ground, end)
                by = ground.views[powered.unit].profile
                seats.append(Seat(end, port, view.profile, tuple(drivers), *converted, fault, powered, by))
    return tuple(sorted(seats, key=lambda s: (s.drivers[0].number, s.end.unit, s.end.port)))


def seat_at(seats: tuple[Seat, ...], end: PortEnd) -> Seat | None:
    """Return the seat of a socket."""
    return next((s for s in seats if s.end == end), None)


def count_by_need(seats: tuple[Seat, ...]) -> Mapping[str, int]:
    """Return how many channels each kind of need could use: the same socket may serve several."""
    good = [s for s in seats if not s.fault]
    return {
        "phantom": sum(1 for s in good if "mic" in s.port.carries and s.powered.port in s.powered_by.bank_of_port),
        "mic": sum(1 for s in good if "mic" in s.port.carries),
        "line": sum(1 for s in good if "line" in s.port.carries),
        "hiz": sum(1 for s in good if "hiz" in s.port.carries),
        "digital": sum(len(s.drivers) for s in good if s.port.is_digital),
        "all": sum(len(s.drivers) for s in good),
    }
