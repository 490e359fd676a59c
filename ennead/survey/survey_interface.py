"""The questions a survey answers: directly, or through a reading that notes what was asked for."""

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from ennead.studio.bays import Bay, Cord
from ennead.studio.document import channel_text
from ennead.studio.house import Cable, Computer, End, Lead, LineEnd, Piece, PortEnd, Settings, SourceEnd, Span, Unit
from ennead.studio.ids import LETTERS, CableId, ComputerId, DestinationId, ProfileId, SourceId, UnitId
from ennead.studio.profile import Port, Profile
from ennead.studio.session import Destination, PlacedDestination, Source
from ennead.survey.balance import WantedByNeed
from ennead.survey.behind import Behind, Point
from ennead.survey.clock import Clocks
from ennead.survey.destination_leads import Leads
from ennead.survey.input_points import InputPoint
from ennead.survey.links import Link
from ennead.survey.loops import WiredLoop
from ennead.survey.nets import Contact, Net
from ennead.survey.numbering import DriverChannel, Numbering
from ennead.survey.output_points import OutputPoint
from ennead.survey.passages import Passages
from ennead.survey.paths_onward import path_from
from ennead.survey.placed import placed
from ennead.survey.session_paths import destinations_by_id, output_paths
from ennead.survey.signal_paths import PathOnward, SignalPath
from ennead.survey.sorted_cables import SpanKey
from ennead.survey.unit_view import UnitView
from ennead.survey.wiring import FIELDS, AtTheBays, SessionFacts, Wiring

T = TypeVar("T")


class Parts(ABC):
    """The parts of a survey by name."""

    @abstractmethod
    def named(self, name: str) -> Any:
        """Return a part, or a field of the wiring, by its name."""

    @abstractmethod
    def once(self, make: Callable[["Parts"], T]) -> T:
        """Return what a function makes of the parts, made anew only where one that it asked for is another."""

    @property
    def wiring(self) -> Wiring:
        """What of the house is there for the session."""
        return Wiring(*[self.named(field) for field in FIELDS])

    @property
    def rate_hz(self) -> int:
        """The current session's rate, Hz."""
        return self.named("rate_hz")  # type: ignore[no-any-return]

    @property
    def pull_ppm(self) -> float:
        """How far the current session's clocks run off its rate, ppm."""
        return self.named("pull_ppm")  # type: ignore[no-any-return]

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
    def links(self) -> Mapping[SpanKey, Link]:
        """Every cable between two ports."""
        return self.named("links")  # type: ignore[no-any-return]

    @property
    def leaving_by_unit(self) -> Mapping[UnitId, Mapping[str, tuple[Link, ...]]]:
        """The links that leave each output of each unit."""
        return self.named("leaving_by_unit")  # type: ignore[no-any-return]

    @property
    def passages(self) -> Mapping[UnitId, Passages]:
        """What a signal finds in every unit."""
        return self.named("passages")  # type: ignore[no-any-return]

    @property
    def paths_onward(self) -> Mapping[UnitId, Mapping[tuple[str, int], PathOnward]]:
        """The way onward from every lane of every input."""
        return self.named("paths_onward")  # type: ignore[no-any-return]

    @property
    def outward(self) -> Mapping[UnitId, Mapping[tuple[str, int], PathOnward]]:
        """The way to the ear from every driver output in use."""
        return self.named("outward")  # type: ignore[no-any-return]

    @property
    def leads(self) -> Mapping[tuple[SourceId, int], Lead]:
        """The cable each channel of the session's sources is on; of several, the first."""
        return self.named("leads")  # type: ignore[no-any-return]

    @property
    def further_leads(self) -> Mapping[tuple[SourceId, int], tuple[Lead, ...]]:
        """What each channel of the session's sources is plugged into besides: a split lead, a second cable."""
        return self.named("further_leads")  # type: ignore[no-any-return]

    @property
    def clocks(self) -> Clocks:
        """The clock domains with their leaders and followers."""
        return self.named("clocks")  # type: ignore[no-any-return]

    @property
    def signal_paths(self) -> tuple[SignalPath, ...]:
        """The input runs of the current session."""
        return self.named("signal_paths")  # type: ignore[no-any-return]

    @property
    def broken_paths(self) -> tuple[SignalPath, ...]:
        """The input runs that end too early."""
        return self.named("broken_paths")  # type: ignore[no-any-return]

    @property
    def output_paths(self) -> tuple[SignalPath, ...]:
        """The runs of driver outputs that lead anywhere."""
        return self.once(output_paths)

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
    def at_copper(self) -> list[Cable]:
        """The straight cables that have an end in a panel or a bay."""
        return self.named("at_copper")  # type: ignore[no-any-return]

    @property
    def held_inputs(self) -> Mapping[UnitId, set[str]]:
        """The inputs of each unit into which nothing more goes: another unit's cable is in them, or a source of the session."""
        return self.named("held_inputs")  # type: ignore[no-any-return]

    @property
    def inputs_by_need(self) -> Mapping[str, int]:
        """How many channels each kind of need could use."""
        return self.named("inputs_by_need")  # type: ignore[no-any-return]

    @property
    def wanted_by_need(self) -> WantedByNeed:
        """How many channels of each kind the session needs, and for which sources."""
        return self.named("wanted_by_need")  # type: ignore[no-any-return]

    @property
    def held_inside(self) -> frozenset[SourceId]:
        """The sources that come in by driver numbers without a socket."""
        return self.named("held_inside")  # type: ignore[no-any-return]

    @property
    def output_paths_of(self) -> Mapping[UnitId, tuple[tuple[SignalPath, ...], dict[int, int]]]:
        """The runs of the driver outputs of each interface, destinations left aside, and the place of each by its channel."""
        return self.named("output_paths_of")  # type: ignore[no-any-return]

    @property
    def forks(self) -> tuple[UnitId, ...]:
        """The units by which a signal may have more than one way on."""
        return self.named("forks")  # type: ignore[no-any-return]

    @property
    def behind(self) -> Mapping[Point, tuple[Behind, ...]]:
        """What is wired behind each point of a bay, cable by cable."""
        return self.named("behind")  # type: ignore[no-any-return]

    @property
    def fed_sockets(self) -> Mapping[UnitId, Mapping[str, set[tuple[UnitId, str]]]]:
        """To which inputs what comes into each input goes on."""
        return self.named("fed_sockets")  # type: ignore[no-any-return]

    @property
    def each_net(self) -> tuple[Net, ...]:
        """Every net once."""
        return self.named("each_net")  # type: ignore[no-any-return]

    @property
    def nets(self) -> Mapping[Contact, Net]:
        """The net of every contact that copper joins to more than the far end of one cable."""
        return self.named("nets")  # type: ignore[no-any-return]

    @property
    def powered(self) -> Mapping[tuple[UnitId, str], tuple[PortEnd, ...]]:
        """The sockets that feed 48 V to each socket of a panel, of a bay or of a split lead."""
        return self.named("powered")  # type: ignore[no-any-return]

    def powered_sockets(self, end: PortEnd) -> tuple[PortEnd, ...]:
        """Return the sockets that feed 48 V to a socket: itself, but behind a panel or a bay the preamp's, or several preamps'."""
        return self.powered.get((end.unit, end.port), (end,))

    def arrival(self, end: PortEnd) -> DriverChannel | None:
        """Return the driver input at which a signal into a socket arrives, whatever else is plugged there; None where it does not."""
        way = self.way(end.unit, end.port)
        return None if way.lands is None else self.numbering.input_at(way.lands)

    def way(self, unit: UnitId, port: str, lane: int = 1) -> PathOnward:
        """Return the way onward from a lane of an input."""
        return path_from(self.paths_onward, self.passages, unit, port, lane)

    @property
    def units(self) -> Mapping[UnitId, Unit]:
        """Every unit that is there, with its name."""
        return self.named("units")  # type: ignore[no-any-return]

    @property
    def sources(self) -> tuple[Source, ...]:
        """The session's sources in the order of the input list."""
        return self.named("sources")  # type: ignore[no-any-return]

    @property
    def destinations(self) -> tuple[PlacedDestination, ...]:
        """The session's destinations in the order of their list."""
        return self.once(placed)

    @property
    def computers(self) -> Mapping[ComputerId, Computer]:
        """The computers."""
        return self.named("computers")  # type: ignore[no-any-return]

    @property
    def spans(self) -> Mapping[SpanKey, Span]:
        """The cables between two units, piece by piece."""
        return self.named("spans")  # type: ignore[no-any-return]

    @property
    def in_use(self) -> Mapping[CableId, Cable]:
        """Every cable that is there: the house's and the session's."""
        return self.named("in_use")  # type: ignore[no-any-return]

    @property
    def made_up(self) -> Mapping[CableId, tuple[Piece, ...]]:
        """The cables of more than two plugs, or with wires of their own, in pieces."""
        return self.named("made_up")  # type: ignore[no-any-return]

    @property
    def bays(self) -> Mapping[UnitId, Bay]:
        """The patch bays."""
        return self.named("bays")  # type: ignore[no-any-return]

    @property
    def cords(self) -> tuple[Cord, ...]:
        """The cords of the scene."""
        return self.named("cords")  # type: ignore[no-any-return]

    @property
    def at_the_bays(self) -> AtTheBays:
        """What is said of scenes beside their cords."""
        return self.named("at_the_bays")  # type: ignore[no-any-return]

    @property
    def session_facts(self) -> SessionFacts:
        """What the session says beside its sources and destinations."""
        return self.named("session_facts")  # type: ignore[no-any-return]

    @property
    def source_by_id(self) -> Mapping[SourceId, Source]:
        """The session's sources by id."""
        return self.named("source_by_id")  # type: ignore[no-any-return]

    @property
    def destination_by_id(self) -> Mapping[DestinationId, PlacedDestination]:
        """The session's destinations by id."""
        return self.once(destinations_by_id)

    @property
    def shelf(self) -> Mapping[ProfileId, Profile]:
        """The types of box of this house."""
        return self.named("shelf")  # type: ignore[no-any-return]

    @property
    def destination_leads(self) -> Leads:
        """The sockets in which the leads of destinations sit."""
        return self.named("destination_leads")  # type: ignore[no-any-return]

    def cables_at(self, end: PortEnd) -> tuple[Cable, ...]:
        """Return the cables in a socket, for lists and for moving plugs; where a signal goes is asked of the walker."""
        return self.named("cables_in").get(end, ())  # type: ignore[no-any-return]

    @property
    def every_cable(self) -> Mapping[CableId, Cable]:
        """The cables of every session."""
        return self.named("every_cable")  # type: ignore[no-any-return]

    @property
    def plugs(self) -> frozenset[PortEnd]:
        """The sockets that hold a plug of a cable; what is plugged in the front of a point is none."""
        return self.named("plugs")  # type: ignore[no-any-return]

    @property
    def at_lines(self) -> Mapping[Contact, tuple[tuple[Contact, CableId], ...]]:
        """The sockets that each channel of a line on several leads is joined to, each with its cable."""
        return self.named("at_lines")  # type: ignore[no-any-return]

    @property
    def wired_loops(self) -> tuple[WiredLoop, ...]:
        """The boxes that are wired out of computers and back, whether a destination of the session is meant by them or not."""
        return self.named("wired_loops")  # type: ignore[no-any-return]

    def port(self, end: PortEnd) -> Port:
        """Return the port a cable end sits in."""
        return self.profiles[end.unit].port_by_key[end.port]

    def end_text(self, end: End) -> str:
        """Return a cable end as words: ``Pier · Mic 1``, ``Fiddle``."""
        if isinstance(end, PortEnd):
            label, bay = self.port(end).label, self.bays.get(end.unit)
            label = bay.point_label(end.port, label) if bay is not None else label
            return f"{self.units[end.unit].name} · {label}"
        if isinstance(end, SourceEnd):
            source = self.source_by_id[end.source]
            return source.name if source.channels == 1 else f"{source.name} {channel_text(end.channel)}"
        return self.destination_by_id[end.destination].name

    def contact_text(self, contact: Contact) -> str:
        """Return a contact as words: a socket, or the channel of a line."""
        key, port, lane = contact
        if key[:1] == LETTERS["units"]:
            return self.end_text(PortEnd(UnitId(key), port))
        return self.line_text(LineEnd(key, "return" if port else ""), lane)  # type: ignore[arg-type]

    def plug_text(self, cable: Cable, plug: int) -> str:
        """Return a plug of a cable as words; of a lead of a source's own, with the channel it carries."""
        end = cable.plugs[plug]
        if isinstance(end, PortEnd):
            return self.end_text(end)
        lanes = {w.a_lane for w in cable.wires if w.a == plug} | {w.b_lane for w in cable.wires if w.b == plug}
        # A straight cable from a socket of two channels brings a line both.
        both = not cable.wires and any(isinstance(p, PortEnd) and self.port(p).channels == 2 for p in cable.plugs)
        return self.line_text(end, 0 if both or len(lanes) > 1 else min(lanes, default=1))

    def cable_text(self, cable: Cable) -> str:
        """Return a cable as words, plug after plug."""
        return " → ".join(self.plug_text(cable, at) for at in range(len(cable.plugs)))

    def line_text(self, end: LineEnd, channel: int) -> str:
        """Return a line's end as words; channel 0 for the whole of it."""
        line = self.source_by_id.get(SourceId(end.line)) or self.destination_by_id[DestinationId(end.line)]
        back = ", return" if end.side else ""
        many = line.backs if end.side and isinstance(line, Destination) else line.channels
        if many == 1 or not channel:
            return f"{line.name}{back}"
        return f"{line.name}{back} {channel_text(channel) if many == 2 else channel}"
