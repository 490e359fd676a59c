"""The wiring: what of the house is there for one evening; everything else of a survey is worked out from it.

Only here is it read from the document what stands, what is cabled and what is wanted; parts of a survey see these fields alone.
"""

from collections.abc import Callable, Mapping
from typing import Any, Final, NamedTuple, cast

from ennead.studio.house import Cable, Computer, Lead, PortEnd, Settings, SourceEnd, Span, Unit
from ennead.studio.ids import CableId, ComputerId, DestinationId, PlaceId, ProfileId, SessionId, SourceId, UnitId
from ennead.studio.profile import Profile
from ennead.studio.sent import Sent
from ennead.studio.session import Destination, LoopNumbers, PlacedDestination, Session, Source
from ennead.survey.parts import part


class Evening(NamedTuple):
    """What an evening says beside its sources and destinations."""

    session: SessionId
    spare: Mapping[str, int]
    loop_numbers: LoopNumbers
    mains_silent: bool


class Wiring(NamedTuple):
    """One evening laid onto the house.

    Parameters
    ----------
    units : map of UnitId to Unit
        With their names; whoever reads one of the following instead is not asked again after a renaming.
    shelf : map of ProfileId to Profile
        The types of box of this house.
    profiles, settings, faults, places : map of UnitId
        Of every unit that is there; faults only of units that have any.
    every_cable, cables : map of CableId to Cable
        All there are, and those between two units.
    leads : map of (SourceId, channel) to Cable
        Those of the evening's sources.
    sources, heard : tuple
        The evening's sources and destinations, in the order of its lists.
    rate_hz, pull_ppm : int, Hz; float, ppm
    """

    units: Mapping[UnitId, Unit]
    shelf: Mapping[ProfileId, Profile]
    profiles: Mapping[UnitId, Profile]
    settings: Mapping[UnitId, Settings]
    faults: Mapping[UnitId, Mapping[str, str]]
    places: Mapping[UnitId, PlaceId | None]
    computers: Mapping[ComputerId, Computer]
    every_cable: Mapping[CableId, Cable]
    cables: Mapping[CableId, Span]
    leads: Mapping[tuple[SourceId, int], Lead]
    sources: tuple[Source, ...]
    heard: tuple[Destination, ...]
    rate_hz: int
    pull_ppm: float
    evening: Evening


def _profiles(units: Mapping[UnitId, Unit], profiles: Mapping[ProfileId, Profile]) -> dict[UnitId, Profile]:
    return {u.id: profiles[u.profile] for u in units.values()}


def _settings(units: Mapping[UnitId, Unit]) -> dict[UnitId, Settings]:
    return {u.id: u.settings for u in units.values()}


def _faults(units: Mapping[UnitId, Unit]) -> dict[UnitId, Mapping[str, str]]:
    return {u.id: u.faults for u in units.values() if u.faults}


def _places(units: Mapping[UnitId, Unit]) -> dict[UnitId, PlaceId | None]:
    return {u.id: u.place for u in units.values()}


def _cables(cables: Mapping[CableId, Cable]) -> dict[CableId, Span]:
    return {c.id: cast(Span, c) for c in cables.values() if isinstance(c.start, PortEnd) and isinstance(c.end, PortEnd)}


def _leads(cables: Mapping[CableId, Cable], at_hand: Session) -> dict[tuple[SourceId, int], Lead]:
    listed = frozenset(at_hand.sources)
    return {(s.source, s.channel): cast(Lead, c) for c in cables.values() if isinstance(s := c.start, SourceEnd) and s.source in listed}


def _sources(sources: Mapping[SourceId, Source], at_hand: Session) -> tuple[Source, ...]:
    return tuple([sources[s] for s in at_hand.sources])


def _heard(destinations: Mapping[DestinationId, Destination], at_hand: Session) -> tuple[Destination, ...]:
    return tuple([destinations[d] for d in at_hand.destinations])


@part
def sent(every_cable: Mapping[CableId, Cable], profiles: Mapping[UnitId, Profile]) -> Sent:
    """Return the cables as far as destinations hang on them."""
    return Sent(every_cable, profiles)


@part
def destinations(heard: tuple[Destination, ...], sent: Sent) -> tuple[PlacedDestination, ...]:
    """Return the evening's destinations in the order of their list, each with its sockets."""
    return tuple([sent.of(destination) for destination in heard])


#: How each field is read from the document: the parameters are maps of the studio, and the evening at hand.
FIELDS: Final[dict[str, Callable[..., Any]]] = {
    "units": lambda units: units,
    "shelf": lambda profiles: profiles,
    "profiles": _profiles,
    "settings": _settings,
    "faults": _faults,
    "places": _places,
    "computers": lambda hosts: hosts,
    "every_cable": lambda cables: cables,
    "cables": _cables,
    "leads": _leads,
    "sources": _sources,
    "heard": _heard,
    "rate_hz": lambda at_hand: at_hand.rate_hz,
    "pull_ppm": lambda at_hand: at_hand.pull_ppm,
    "evening": lambda at_hand: Evening(at_hand.id, at_hand.spare, at_hand.loop_numbers, at_hand.mains_silent),
}

