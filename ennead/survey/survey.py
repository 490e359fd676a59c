"""The survey of one studio: its parts, each worked out when first asked for and kept while what it reads is unchanged."""

from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from ennead.studio.document import Studio
from ennead.studio.house import Cable, PortEnd, Settings
from ennead.studio.ids import CableId, SourceId, UnitId
from ennead.studio.profile import Profile

# Every module with parts is read here, so that each is known by its name.
from ennead.survey import (  # noqa: F401
    balance,
    clock,
    input_points,
    links,
    numbering,
    output_points,
    phantom_way,
    session_runs,
    unit_view,
    ways,
)
from ennead.survey.clock import Clocks
from ennead.survey.input_points import InputPoint
from ennead.survey.links import Link
from ennead.survey.numbering import Numbering
from ennead.survey.output_points import OutputPoint
from ennead.survey.parts import PARTS, Held, Part, work_out
from ennead.survey.passages import Passages
from ennead.survey.runs import Run, Way
from ennead.survey.unit_view import UnitView
from ennead.survey.wiring import FIELDS, Wiring

T = TypeVar("T")


class Survey:
    """Everything that follows from a studio.

    Parameters
    ----------
    studio : Studio
    previous : Survey, optional
        The survey of the studio before an edit. A part is taken over from it when every object it read is
        still the very same object; and a part that comes out as it was stays the very same object, so that
        what reads it is kept as well.
    """

    def __init__(self, studio: Studio, previous: "Survey | None" = None) -> None:
        self.studio = studio
        self._held: dict[Any, Held] = {}
        # What the survey before was not asked for may be older still: it is good as long as its reads are the same.
        self._before: Mapping[Any, Held] = {**previous._before, **previous._held} if previous is not None else {}  # noqa: SLF001

    def part(self, name: Any, reads: tuple[object, ...], make: Callable[[], T]) -> T:
        """Return a part: as it was where all it reads is as it was, else made anew."""
        if name not in self._held:
            self._held[name] = work_out(Part(name, lambda *_: make(), ()), reads, self._before.get(name))
        value: T = self._held[name].value
        return value

    def named(self, name: str) -> Any:
        """Return a part, or a field of the wiring, by its name."""
        held = self._held.get(name)
        if held is None:
            part = FIELD_PARTS.get(name)
            if part is not None:
                studio = self.studio
                reads = tuple([studio.current if r == "evening" else getattr(studio, r) for r in part.reads])
            else:
                part = PARTS[name]
                reads = tuple([self.named(r) for r in part.reads])
            held = self._held[name] = work_out(part, reads, self._before.get(name))
        return held.value

    @property
    def wiring(self) -> Wiring:
        """What of the house is there for the evening."""
        return Wiring(*[self.named(field) for field in FIELDS])

    @property
    def rate_hz(self) -> int:
        """The current session's rate, Hz."""
        return self.studio.rate_hz

    @property
    def pull_ppm(self) -> float:
        """How far the current session's clocks run off its rate, ppm."""
        return self.studio.current.pull_ppm

    @property
    def settings(self) -> Mapping[UnitId, Settings]:
        """The settings of every unit; the same map as before while only names and places change."""
        return self.named("settings")  # type: ignore[no-any-return]

    @property
    def phantom_on(self) -> Mapping[UnitId, tuple[str, ...]]:
        """The phantom banks that are on in each unit."""
        return self.named("phantom_on")  # type: ignore[no-any-return]

    @property
    def profiles(self) -> Mapping[UnitId, Profile]:
        """The profile of every unit."""
        return self.named("profiles")  # type: ignore[no-any-return]

    @property
    def faults(self) -> Mapping[UnitId, Mapping[str, str]]:
        """The ports out of service, of the units that have any."""
        return self.named("faults")  # type: ignore[no-any-return]

    @property
    def views(self) -> Mapping[UnitId, UnitView]:
        """The view of every unit; units of one profile that are set alike share one."""
        return self.named("views")  # type: ignore[no-any-return]

    @property
    def numbering(self) -> Numbering:
        """Every driver channel of the computers."""
        return self.named("numbering")  # type: ignore[no-any-return]

    @property
    def links(self) -> Mapping[CableId, Link]:
        """Every cable between two ports."""
        return self.named("links")  # type: ignore[no-any-return]

    @property
    def leaving(self) -> Mapping[tuple[UnitId, str], tuple[Link, ...]]:
        """The links that leave each output."""
        return self.named("leaving")  # type: ignore[no-any-return]

    @property
    def passages(self) -> Mapping[UnitId, Passages]:
        """What a signal finds in every unit."""
        return self.named("passages")  # type: ignore[no-any-return]

    @property
    def ways(self) -> Mapping[UnitId, Mapping[tuple[str, int], Way]]:
        """The way onward from every lane of every input."""
        return self.named("ways")  # type: ignore[no-any-return]

    @property
    def outward(self) -> Mapping[UnitId, Mapping[tuple[str, int], Way]]:
        """The way to the ear from every driver output in use."""
        return self.named("outward")  # type: ignore[no-any-return]

    @property
    def leads(self) -> Mapping[tuple[SourceId, int], Cable]:
        """The cable each channel of the session's sources is on."""
        return self.named("leads")  # type: ignore[no-any-return]

    @property
    def clocks(self) -> Clocks:
        """Who leads and who follows."""
        return self.named("clocks")  # type: ignore[no-any-return]

    @property
    def runs(self) -> tuple[Run, ...]:
        """The input runs of the current session."""
        return self.named("runs")  # type: ignore[no-any-return]

    @property
    def broken_runs(self) -> tuple[Run, ...]:
        """The input runs that end too early."""
        return self.named("broken_runs")  # type: ignore[no-any-return]

    @property
    def output_runs(self) -> tuple[Run, ...]:
        """The runs of driver outputs that lead anywhere."""
        return self.named("output_runs")  # type: ignore[no-any-return]

    @property
    def input_points(self) -> tuple[InputPoint, ...]:
        """Every input socket from which a signal reaches the computer."""
        return self.named("input_points")  # type: ignore[no-any-return]

    @property
    def input_point_at(self) -> Mapping[tuple[UnitId, str], InputPoint]:
        """The input points by unit and port key."""
        return self.named("input_point_at")  # type: ignore[no-any-return]

    @property
    def output_points(self) -> tuple[OutputPoint, ...]:
        """Every analogue output that a driver number comes out of."""
        return self.named("output_points")  # type: ignore[no-any-return]

    @property
    def taken(self) -> Mapping[UnitId, set[str]]:
        """The inputs of each unit that hold a cable from another unit."""
        return self.named("taken")  # type: ignore[no-any-return]

    @property
    def held_inputs(self) -> Mapping[UnitId, set[str]]:
        """The inputs of each unit into which nothing more goes: another unit's cable is in them, or a source of the session."""
        return self.named("held_inputs")  # type: ignore[no-any-return]

    @property
    def inputs_by_need(self) -> Mapping[str, int]:
        """How many channels each kind of need could use."""
        return self.named("inputs_by_need")  # type: ignore[no-any-return]

    @property
    def wanted_by_need(self) -> balance.Wanted:
        """How many channels of each kind the session needs, and by whom."""
        return self.named("wanted_by_need")  # type: ignore[no-any-return]

    @property
    def powered(self) -> Mapping[tuple[UnitId, str], PortEnd]:
        """The sockets of panels and bays, each with the socket whose 48 V reaches it."""
        return self.named("powered")  # type: ignore[no-any-return]

    def powered_socket(self, end: PortEnd) -> PortEnd:
        """Return the socket whose 48 V reaches a socket: itself, but behind a panel or a bay the preamp's."""
        return self.powered.get((end.unit, end.port), end)

    def way(self, unit: UnitId, port: str, lane: int = 1) -> Way:
        """Return the way onward from a lane of an input."""
        return self.ways[unit][port, lane]


#: The fields of the wiring, read from the document.
FIELD_PARTS: Mapping[str, Part] = {
    name: Part(name, make, tuple(make.__code__.co_varnames[: make.__code__.co_argcount])) for name, make in FIELDS.items()
}
