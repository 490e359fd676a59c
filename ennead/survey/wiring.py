"""The wiring: what of the house is there for one evening; everything else of a survey is worked out from it.

Only here is it read from the document what stands, what is cabled and what is wanted; parts of a survey see these fields alone.
"""

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, Final, NamedTuple, cast

from ennead.studio.house import Cable, Computer, Lead, LineEnd, PortEnd, Settings, SourceEnd, Span, Unit
from ennead.studio.ids import CableId, ComputerId, DestinationId, PlaceId, ProfileId, SessionId, SourceId, UnitId
from ennead.studio.profile import Profile
from ennead.studio.sent import Sent
from ennead.studio.session import Destination, LoopNumbers, PlacedDestination, Session, Source
from ennead.survey.parts import part

if TYPE_CHECKING:
    from ennead.survey.asked import Parts


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
    in_use : map of CableId to Cable
        The house's and the evening's.
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
    in_use: Mapping[CableId, Cable]
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


def _in_use(cables: Mapping[CableId, Cable], at_hand: Session) -> dict[CableId, Cable]:
    listed, evening = frozenset((*at_hand.sources, *at_hand.destinations)), at_hand.id
    found = {}
    for key, cable in cables.items():
        if cable.sessions and evening not in cable.sessions:
            continue
        for plug in cable.plugs:
            if isinstance(plug, LineEnd) and plug.line not in listed:
                break
        else:
            found[key] = cable
    return found


@part
def cables(in_use: Mapping[CableId, Cable]) -> dict[CableId, Span]:
    """Return the cables between two units."""
    return {c.id: cast(Span, c) for c in in_use.values() if isinstance(c.start, PortEnd) and isinstance(c.end, PortEnd)}


@part
def leads(in_use: Mapping[CableId, Cable], standing: tuple[tuple[SourceId, tuple[PortEnd, ...]], ...]) -> dict[tuple[SourceId, int], Lead]:
    """Return the cable each channel of the evening's sources is on: its own, or the house's where it stands wired."""
    found = {(s.source, s.channel): cast(Lead, c) for c in in_use.values() if isinstance(s := c.start, SourceEnd)}
    if standing:
        from_port: dict[PortEnd, Cable] = {}
        for cable in in_use.values():
            if isinstance(cable.start, PortEnd) and isinstance(cable.end, PortEnd):
                from_port.setdefault(cable.start, cable)
        for source, ends in standing:
            for channel, end in enumerate(ends, start=1):
                if (source, channel) not in found and end in from_port:
                    found[source, channel] = cast(Lead, from_port[end])
    return found


@part
def standing(sources: tuple[Source, ...]) -> tuple[tuple[SourceId, tuple[PortEnd, ...]], ...]:
    """Return the sources that are outputs of the house, each with these."""
    return tuple([(s.id, s.at) for s in sources if s.at])


def _sources(sources: Mapping[SourceId, Source], at_hand: Session) -> tuple[Source, ...]:
    return tuple([sources[s] for s in at_hand.sources])


def _heard(destinations: Mapping[DestinationId, Destination], at_hand: Session) -> tuple[Destination, ...]:
    return tuple([destinations[d] for d in at_hand.destinations])


@part
def sent(in_use: Mapping[CableId, Cable], profiles: Mapping[UnitId, Profile]) -> Sent:
    """Return the cables as far as destinations hang on them."""
    return Sent(in_use, profiles)


def placed(survey: "Parts") -> tuple[PlacedDestination, ...]:
    """Return the evening's destinations in the order of their list, each with its sockets."""
    heard: tuple[Destination, ...] = survey.named("heard")
    # Where nobody listens, nobody has to know what hangs on which cable.
    return tuple([survey.sent.of(destination) for destination in heard])


#: How each field is read from the document: the parameters are maps of the studio, and the evening at hand.
FIELDS: Final[dict[str, Callable[..., Any]]] = {
    "units": lambda units: units,
    "shelf": lambda profiles: profiles,
    "profiles": _profiles,
    "settings": _settings,
    "faults": _faults,
    "places": _places,
    "computers": lambda hosts: hosts,
    "in_use": _in_use,
    "sources": _sources,
    "heard": _heard,
    "rate_hz": lambda at_hand: at_hand.rate_hz,
    "pull_ppm": lambda at_hand: at_hand.pull_ppm,
    "evening": lambda at_hand: Evening(at_hand.id, at_hand.spare, at_hand.loop_numbers, at_hand.mains_silent),
}

