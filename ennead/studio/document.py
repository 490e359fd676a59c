"""The studio: one frozen value that holds everything a person has said, and nothing worked out from it."""

from collections.abc import Mapping
from dataclasses import field, replace
from functools import cached_property
from typing import Final

from ennead.studio.errors import NoSuchPort, UnknownObject
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, Computer, Place, PortEnd, Settings, SourceEnd, Unit
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
from ennead.studio.profile import Port, Profile
from ennead.studio.record import record
from ennead.studio.session import Destination, Session, Source


@record(frozen=True)
class Stood:
    """A cable as it was plugged, with each of its ends in words: it is known still when what it was plugged into is gone.

    Parameters
    ----------
    words : tuple of str
        One a plug, in their order.
    """

    cable: Cable
    words: tuple[str, ...]

    @property
    def id(self) -> CableId:
        """The cable's id."""
        return self.cable.id


@record(frozen=True)
class AsBuilt:
    """What really stands, as last ticked; apart from the plan, so that their difference is the work left.

    No edit of the plan reaches into it: a box that has left the plan may still stand and be plugged.
    """

    cables: Mapping[CableId, Stood] = field(default_factory=FrozenMap)
    settings: Mapping[UnitId, Settings] = field(default_factory=FrozenMap)

    def __post_init__(self) -> None:
        object.__setattr__(self, "cables", FrozenMap.of(self.cables))
        object.__setattr__(self, "settings", FrozenMap.of(self.settings))


#: The maps of the document in the order of files; every object in them carries its own `id`.
MAPS: Final[tuple[str, ...]] = ("profiles", "places", "units", "hosts", "cables", "sessions", "sources", "destinations")


@record(frozen=True)
class Studio:
    """The whole document.

    Parameters
    ----------
    counters : map of letter to int
        The last number given out for each kind of id; ids are never used again.
    session : SessionId
        The current session.
    prices : map of str to float
        What the user would pay for a type of box or a kind of cable, by its name, in a currency of their own.

    Notes
    -----
    An edit replaces one object; every other object stays the same one, so that what was worked out from
    it can be kept. Profiles are embedded once and shared by the units made from them.
    """

    name: str = "Untitled studio"
    profiles: FrozenMap[ProfileId, Profile] = field(default_factory=FrozenMap)
    places: FrozenMap[PlaceId, Place] = field(default_factory=FrozenMap)
    units: FrozenMap[UnitId, Unit] = field(default_factory=FrozenMap)
    hosts: FrozenMap[ComputerId, Computer] = field(default_factory=FrozenMap)
    cables: FrozenMap[CableId, Cable] = field(default_factory=FrozenMap)
    sessions: FrozenMap[SessionId, Session] = field(default_factory=FrozenMap)
    sources: FrozenMap[SourceId, Source] = field(default_factory=FrozenMap)
    destinations: FrozenMap[DestinationId, Destination] = field(default_factory=FrozenMap)
    as_built: AsBuilt = AsBuilt()
    counters: FrozenMap[str, int] = field(default_factory=FrozenMap)
    session: SessionId = SessionId("")
    prices: FrozenMap[str, float] = field(default_factory=FrozenMap)

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
        """Return a source.

        Raises
        ------
        UnknownObject
        """
        try:
            return self.sources[source_id]
        except KeyError:
            raise UnknownObject("source", source_id) from None

    def profile_of(self, unit_id: UnitId) -> Profile:
        """Return the profile a unit was made from."""
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
        return tuple(self.sources[s] for s in self.current.sources)

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

    @cached_property
    def session_destinations(self) -> tuple[Destination, ...]:
        """The current session's destinations in the order of their list."""
        return tuple(self.destinations[d] for d in self.current.destinations)

    def is_active(self, cable: Cable) -> bool:
        """Say whether a cable carries anything in the current session: sources of other sessions do not."""
        return isinstance(cable.start, PortEnd) or cable.start.source in self._listed

    @cached_property
    def _listed(self) -> frozenset[SourceId]:
        """The current session's sources as a set; asked for once for every cable."""
        return frozenset(self.current.sources)

    def end_text(self, end: PortEnd | SourceEnd) -> str:
        """Return a cable end as words: ``Pier · Mic 1``, ``Fiddle``."""
        if isinstance(end, SourceEnd):
            source = self.sources[end.source]
            return source.name if source.channels == 1 else f"{source.name} {channel_text(end.channel)}"
        return f"{self.units[end.unit].name} · {self.port(end).label}"

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
