"""The studio: one frozen value that holds everything a person has said, and nothing worked out from it."""

from collections.abc import Mapping
from functools import cached_property
from typing import Final

from ennead.studio.as_built import AsBuilt, Stood
from ennead.studio.bays import Bay, Cord, CordStock, Scene
from ennead.studio.errors import NoSuchPort, UnknownObject
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, Computer, DestinationEnd, End, LineEnd, Place, PortEnd, Settings, SourceEnd, Unit
from ennead.studio.ids import (
    LETTERS,
    CableId,
    ComputerId,
    DestinationId,
    JobId,
    PlaceId,
    ProfileId,
    RecallId,
    RevisionId,
    SceneId,
    SessionId,
    SourceId,
    UnitId,
)
from ennead.studio.looms import SpareLoom
from ennead.studio.pieces import end_at, joined_lanes, pieces
from ennead.studio.print_job import Printing, PrintJob
from ennead.studio.profile import Port, Profile
from ennead.studio.ranges import in_ranges
from ennead.studio.recall import Recall
from ennead.studio.record import record, replace
from ennead.studio.revision import Revision
from ennead.studio.session import Destination, Session, Source, SourceFacts, Wish, wanted
from ennead.studio.set_aside import SetAside
from ennead.studio.switches import composed

#: The maps of the document in the order of files; every object in them carries its own `id`.
MAPS: Final[tuple[str, ...]] = (
    "profiles",
    "places",
    "units",
    "hosts",
    "cables",
    "sessions",
    "sources",
    "destinations",
    "bays",
    "scenes",
    "recalls",
    "prints",
    "revisions",
)


@record(frozen=True)
class Studio:
    """The whole document.

    Parameters
    ----------
    counters : map of letter to int
        The last number given out for each kind of id; ids are never used again.
    session : SessionId
        The current session.
    stock : tuple of CordStock
        The cords in stock; empty where they have not been counted.
    spares : tuple of SpareLoom
        The looms that lie in a drawer.
    set_aside : tuple of SetAside
        Findings that have been set aside.
    recalls : map of RecallId to Recall
        How boxes stood on a day.
    prints : map of JobId to PrintJob
        What is to be printed through boxes, in the order of its list.
    printing : Printing
        How the passes are planned.
    revisions : map of RevisionId to Revision
        Whole studios kept under a name: they outlive undo.
    prices : map of str to float
        What the user would pay for a type of box or a kind of cable, by its name, in a currency of their own.

    Notes
    -----
    An edit replaces one object; every other object stays the same one, so that what was worked out from
    it can be kept. Profiles are embedded once and shared by the units made from them.
    """

    name: str = "Untitled studio"
    profiles: FrozenMap[ProfileId, Profile] = FrozenMap()
    places: FrozenMap[PlaceId, Place] = FrozenMap()
    units: FrozenMap[UnitId, Unit] = FrozenMap()
    hosts: FrozenMap[ComputerId, Computer] = FrozenMap()
    cables: FrozenMap[CableId, Cable] = FrozenMap()
    sessions: FrozenMap[SessionId, Session] = FrozenMap()
    sources: FrozenMap[SourceId, SourceFacts] = FrozenMap()
    destinations: FrozenMap[DestinationId, Destination] = FrozenMap()
    bays: FrozenMap[UnitId, Bay] = FrozenMap()
    scenes: FrozenMap[SceneId, Scene] = FrozenMap()
    recalls: FrozenMap[RecallId, Recall] = FrozenMap()
    prints: FrozenMap[JobId, PrintJob] = FrozenMap()
    revisions: FrozenMap[RevisionId, Revision] = FrozenMap()
    as_built: AsBuilt = AsBuilt()
    counters: FrozenMap[str, int] = FrozenMap()
    session: SessionId = SessionId("")
    prices: FrozenMap[str, float] = FrozenMap()
    stock: tuple[CordStock, ...] = ()
    spares: tuple[SpareLoom, ...] = ()
    set_aside: tuple[SetAside, ...] = ()
    printing: Printing = Printing()

    # -- reading -------------------------------------------------------------------------------
    def unit(self, unit_id: UnitId) -> Unit:
        """Return a unit.

        Raises
        ------
        UnknownObject
        """
        try:
            return self.units[unit_id]
        except KeyError:
            raise UnknownObject("unit", unit_id) from None

    def source(self, source_id: SourceId) -> Source:
        """Return a source as the current session wants it; one of other sessions without any wish.

        Raises
        ------
        UnknownObject
        """
        try:
            facts = self.sources[source_id]
        except KeyError:
            raise UnknownObject("source", source_id) from None
        return wanted(facts, self.current.wish_of.get(source_id) or Wish(source_id))

    def cable(self, cable_id: CableId) -> Cable:
        """Return a cable.

        Raises
        ------
        UnknownObject
        """
        try:
            return self.cables[cable_id]
        except KeyError:
            raise UnknownObject("cable", cable_id) from None

    def session_of(self, session_id: SessionId) -> Session:
        """Return a session.

        Raises
        ------
        UnknownObject
        """
        try:
            return self.sessions[session_id]
        except KeyError:
            raise UnknownObject("session", session_id) from None

    def has_cable(self, cable_id: CableId) -> bool:
        """Say whether a cable is in the plan, on whatever session."""
        return cable_id in self.cables

    def profile_of(self, unit_id: UnitId) -> Profile:
        """Return the profile a unit was made from.

        Raises
        ------
        UnknownObject
        """
        return self.profiles[self.unit(unit_id).profile]

    def port(self, end: PortEnd) -> Port:
        """Return the port a cable end sits in.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        unit = self.unit(end.unit)
        try:
            return self.profiles[unit.profile].port_by_key[end.port]
        except KeyError:
            raise NoSuchPort(unit.name, end.port) from None

    @property
    def current(self) -> Session:
        """The current session."""
        return self.sessions[self.session]

    @property
    def rate_hz(self) -> int:
        """The current session's sample rate, Hz."""
        return self.current.rate_hz

    @cached_property
    def session_sources(self) -> tuple[Source, ...]:
        """The current session's sources in the order of the input list."""
        return self.current.wanting(self.sources)

    def destination(self, destination_id: DestinationId) -> Destination:
        """Return a destination.

        Raises
        ------
        UnknownObject
        """
        try:
            return self.destinations[destination_id]
        except KeyError:
            raise UnknownObject("destination", destination_id) from None

    @property
    def session_destinations(self) -> tuple[Destination, ...]:
        """The current session's destinations in the order of their list."""
        return tuple([self.destinations[d] for d in self.current.destinations])

    @property
    def scene(self) -> SceneId:
        """The scene in force on the current session; empty for back to normals, no cord at all."""
        return self.current.scene

    @property
    def cords(self) -> tuple[Cord, ...]:
        """The cords of the current scene."""
        return self.scenes[self.scene].cords if self.scene in self.scenes else ()

    @cached_property
    def in_force(self) -> Mapping[UnitId, Settings]:
        """How every box stands on the current session, in its scene: its own settings, and what these two state above them."""
        return self.settings_in(self.current, self.scenes.get(self.scene))

    def settings_in(self, session: Session, scene: Scene | None) -> Mapping[UnitId, Settings]:
        """Return how every box stands on a session, in a scene; of None in back to normals."""
        levels = (session.settings, scene.settings) if scene is not None else (session.settings,)
        return composed(self.units, self.profiles, *levels)

    def settings_of(self, unit_id: UnitId) -> Settings:
        """Return how a unit stands on the current session, in its scene.

        Raises
        ------
        UnknownObject
        """
        self.unit(unit_id)
        return self.in_force[unit_id]

    def is_point(self, end: PortEnd) -> bool:
        """Say whether a socket is a point of a bay."""
        return end.unit in self.bays and end.port in self.bays[end.unit].points

    @property
    def all_cables(self) -> tuple[Cable, ...]:
        """Every cable, of whatever session."""
        return tuple(self.cables.values())

    @cached_property
    def active_cables(self) -> tuple[Cable, ...]:
        """The cables of the house and of the current session."""
        return tuple([c for c in self.cables.values() if self.is_active(c)])

    @cached_property
    def plugs_at(self) -> Mapping[PortEnd, tuple[Cable, ...]]:
        """The active cables in each socket that holds any."""
        found: dict[PortEnd, tuple[Cable, ...]] = {}
        for cable in self.active_cables:
            for plug in cable.plugs:
                if isinstance(plug, PortEnd):
                    found[plug] = (*found.get(plug, ()), cable)
        return found

    def plugged(self, end: PortEnd) -> tuple[Cable, ...]:
        """Return the active cables in a socket."""
        return self.plugs_at.get(end, ())

    @property
    def stood(self) -> Mapping[CableId, Stood]:
        """The cables that stand, as they were last ticked."""
        return self.as_built.cables

    def is_active(self, cable: Cable) -> bool:
        """Say whether a cable is in the current session: those of other sessions, and of their lines, are not."""
        if cable.sessions and self.session not in cable.sessions:
            return False
        return cable.lines <= self._listed

    @cached_property
    def _listed(self) -> frozenset[SourceId | DestinationId]:
        """The current session's lines as a set; asked for once for every cable."""
        return frozenset((*self.current.sources, *self.current.destinations))

    def end_text(self, end: End) -> str:
        """Return a cable end as words: ``Pier · Mic 1``, ``Fiddle``.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        if isinstance(end, PortEnd):
            label, bay = self.port(end).label, self.bays.get(end.unit)
            label = bay.point_label(end.port, label) if bay is not None else label
            return f"{self.units[end.unit].name} · {label}"
        line: SourceFacts | Destination = (
            self.sources[end.source] if isinstance(end, SourceEnd) else self.destinations[end.destination]
        )
        back = ", return" if isinstance(end, DestinationEnd) and end.side else ""
        many = line.channels
        if isinstance(line, Destination) and line.kind == "loop":
            many = line.backs if back else line.channels
        if many == 1:
            return f"{line.name}{back}"
        return f"{line.name}{back} {channel_text(end.channel) if many == 2 else end.channel}"

    def ends_text(self, cable: Cable) -> tuple[str, str]:
        """Return both ends of a cable as words; one straight cable from a socket of two channels brings a line both.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        if not cable.is_plain:
            return self._sides_text(cable)
        start, end = cable.start, cable.end
        if (
            isinstance(start, PortEnd)
            and isinstance(end, DestinationEnd)
            and not cable.wires
            and self.port(start).channels == 2
        ):
            return self.end_text(start), self.destinations[end.destination].name
        return self.end_text(start), self.end_text(end)

    def plugs_text(self, cable: Cable) -> tuple[str, ...]:
        """Return each plug of a cable as words.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        if cable.is_plain:
            return self.ends_text(cable)
        words = []
        for at, plug in enumerate(cable.plugs):
            lanes = sorted({w.a_lane for w in cable.wires if w.a == at} | {w.b_lane for w in cable.wires if w.b == at})
            words.append(
                self.end_text(end_at(plug, lanes[0]))
                if isinstance(plug, PortEnd) or len(lanes) == 1
                else self.line_text(plug)
            )
        return tuple(words)

    def line_text(self, end: LineEnd) -> str:
        """Return a line's end as words, all its channels at once."""
        line = self.sources.get(SourceId(end.line)) or self.destinations[DestinationId(end.line)]
        return f"{line.name}, return" if end.side else line.name

    def _sides_text(self, cable: Cable) -> tuple[str, str]:
        """Return what drives a cable of several plugs, and what takes, as words; an insert jack does both."""
        runs = pieces(cable, self.profile_of)
        return tuple(
            in_ranges([self.end_text(e) for e in dict.fromkeys(ends)])
            for ends in ([p.start for p in runs], [p.end for p in runs])
        )  # type: ignore[return-value]

    def far_text(self, cable: Cable, end: PortEnd) -> str:
        """Return what a cable in a socket runs to, as few words: ``Pier Mic 1``, ``Fiddle``; of several plugs those joined to this one.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        return " ".join([part for part in self.far_parts(cable, end) if part])

    def far_parts(self, cable: Cable, end: PortEnd) -> tuple[str, str]:
        """Return the same in two parts: a box and its socket, or a line alone.

        Raises
        ------
        UnknownObject, NoSuchPort
        """
        here = cable.plugs.index(end)
        if cable.is_plain:
            joined = {(1 - here, 1)}
        else:
            lanes = {
                n for wire in cable.wires for at, n in ((wire.a, wire.a_lane), (wire.b, wire.b_lane)) if at == here
            }
            groups = [g for g in joined_lanes(cable, self.port) if any((here, n) in g for n in lanes)]
            joined = {(at, n) for group in groups for at, n in group if at != here}
        others = sorted(joined)
        at, lane = others[0]
        other = cable.plugs[at]
        if isinstance(other, PortEnd):
            port = self.port(other)
            box, socket = self.units[other.unit].name, port.label
            socket += f" {lane}" if port.channels > 2 and len(others) == 1 else ""
        else:
            box, socket = (self.ends_text(cable)[at > 0] if cable.is_plain else self.line_text(other)), ""
        more = len({plug for plug, _ in others}) - 1
        return box, f"{socket} +{more}".strip() if more else socket

    # -- replacing -----------------------------------------------------------------------------
    def with_counter(self, map_name: str) -> tuple["Studio", str]:
        """Return the studio with the next id of a map given out, and that id."""
        letter = LETTERS[map_name]
        number = self.counters.get(letter, 0) + 1
        return replace(self, counters=self.counters.put(letter, number)), f"{letter}{number}"


def channel_text(channel: int) -> str:
    """Return the side of a stereo source: 1 is L, 2 is R, above that the number."""
    return {1: "L", 2: "R"}.get(channel, str(channel))


def empty_studio(name: str = "Untitled studio", session: str = "First session") -> Studio:
    """Return a studio with one empty session at 48 kHz."""
    first = SessionId("N1")
    return Studio(
        name=name,
        sessions=FrozenMap({first: Session(first, session)}),
        counters=FrozenMap({LETTERS["sessions"]: 1}),
        session=first,
    )
