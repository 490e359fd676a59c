"""The wiring: what of the house is there for one session; everything else of a survey is worked out from it.

Only here is it read from the document what stands, what is cabled and what is wanted; parts of a survey see these fields alone.
"""

from collections.abc import Callable, Mapping
from typing import Any, Final, NamedTuple

from ennead.studio.as_built import AsBuilt
from ennead.studio.bays import Bay, Cord, CordStock, Scene
from ennead.studio.house import Cable, Computer, PortEnd, Settings, Unit
from ennead.studio.ids import (
    CableId,
    ComputerId,
    DestinationId,
    PlaceId,
    ProfileId,
    SceneId,
    SessionId,
    SourceId,
    UnitId,
)
from ennead.studio.profile import Profile
from ennead.studio.record import replace
from ennead.studio.session import Destination, LoopNumbers, Session, Source, SourceFacts
from ennead.studio.switches import composed
from ennead.studio.tracks import Track
from ennead.survey.parts import Held, changed_keys, in_that_order, part
from ennead.survey.view import Standing


class SessionFacts(NamedTuple):
    """What a session says beside its sources and destinations."""

    session: SessionId
    spare: Mapping[str, int]
    loop_numbers: LoopNumbers
    mains_silent: bool
    missing: tuple[UnitId, ...] = ()


class AtTheBays(NamedTuple):
    """What is said of scenes beside their cords.

    Parameters
    ----------
    scene : str
        The name of the one chosen; empty for back to normals.
    of : SessionId
        The session it is for; empty for any.
    stock : tuple of CordStock
    standing : tuple of Cord
        The cords that stand, as last ticked.
    """

    scene: str
    of: SessionId
    stock: tuple[CordStock, ...]
    standing: tuple[Cord, ...]


class Wiring(NamedTuple):
    """One session laid onto the house.

    Parameters
    ----------
    units : map of UnitId to Unit
        With their names; a part that reads one of the following instead is not computed again after a renaming.
    shelf : map of ProfileId to Profile
        The types of box of this house.
    profiles, settings, faults, places : map of UnitId
        Of every unit that is there; faults only of units that have any.
    own_delays : map of UnitId to map of port key to float, samples
        What sockets add at the rate, of units of which that is stated or measured.
    in_use, every_cable : map of CableId to Cable
        The house's and the session's; and those of every session.
    sources, heard : tuple
        The session's sources and destinations, in the order of its lists.
    bays : map of UnitId to Bay
    cords : tuple of Cord
        Those of the scene.
    rate_hz, pull_ppm : int, Hz; float, ppm
    silent : set of Contact
        Contacts at which nothing passes, on account of faults alone; lane 0 is the whole socket, its clock included.
    tracks : map of SourceId or DestinationId to Track
        What is stated of what the software does with sources.
    picked : map of (SourceId, channel) to int
        The driver numbers picked in the software, where they are stated.
    corded_elsewhere : set of PortEnd
        The fronts that hold a plug in another scene.
    """

    units: Mapping[UnitId, Unit]
    shelf: Mapping[ProfileId, Profile]
    profiles: Mapping[UnitId, Profile]
    settings: Mapping[UnitId, Settings]
    faults: Mapping[UnitId, Mapping[str, str]]
    own_delays: Mapping[UnitId, Mapping[str, float]]
    places: Mapping[UnitId, PlaceId | None]
    computers: Mapping[ComputerId, Computer]
    in_use: Mapping[CableId, Cable]
    every_cable: Mapping[CableId, Cable]
    sources: tuple[Source, ...]
    heard: tuple[Destination, ...]
    bays: Mapping[UnitId, Bay]
    cords: tuple[Cord, ...]
    at_the_bays: AtTheBays
    rate_hz: int
    pull_ppm: float
    session_facts: SessionFacts
    silent: frozenset[tuple[UnitId, str, int]]
    tracks: Mapping[SourceId | DestinationId, Track]
    picked: Mapping[tuple[SourceId, int], int]
    corded_elsewhere: frozenset[PortEnd]


def _profiles(units: Mapping[UnitId, Unit], profiles: Mapping[ProfileId, Profile]) -> dict[UnitId, Profile]:
    return {u.id: profiles[u.profile] for u in units.values()}


def _settings(
    units: Mapping[UnitId, Unit],
    profiles: Mapping[ProfileId, Profile],
    at_hand: Session,
    at_scene: Scene | None,
    standing_now: Standing | None,
) -> dict[UnitId, Settings]:
    planned = composed(units, profiles, at_hand.settings, at_scene.settings if at_scene is not None else {})
    if standing_now is not None:
        # Switches that were never ticked stand as planned.
        planned = {u: standing_now.built.settings.get(u, s) for u, s in planned.items()}
    return {**planned, **{u: replace(planned[u], off=True) for u in at_hand.missing if u in planned}}


def _faults(units: Mapping[UnitId, Unit]) -> dict[UnitId, Mapping[str, str]]:
    return {u.id: u.faults for u in units.values() if u.faults}


def _own_delays(units: Mapping[UnitId, Unit], at_hand: Session, rate: int | None) -> dict[UnitId, dict[str, float]]:
    now = rate or at_hand.rate_hz
    found = {
        u.id: {key: d.samples for key, several in u.delays.items() for d in several if d.rate_hz == now}
        for u in units.values()
        if u.delays
    }
    return {unit: delays for unit, delays in found.items() if delays}


def _places(units: Mapping[UnitId, Unit]) -> dict[UnitId, PlaceId | None]:
    return {u.id: u.place for u in units.values()}


def _every_cable(cables: Mapping[CableId, Cable], standing_now: Standing | None) -> Mapping[CableId, Cable]:
    return cables if standing_now is None else standing_now.cables


def _in_use(cables: Mapping[CableId, Cable], at_hand: Session, standing_now: Standing | None) -> dict[CableId, Cable]:
    listed, here = frozenset((*at_hand.sources, *at_hand.destinations)), at_hand.id
    found = {
        key: cable
        for key, cable in _every_cable(cables, standing_now).items()
        if (not cable.sessions or here in cable.sessions) and (not (lines := cable.lines) or lines <= listed)
    }
    return found if not at_hand.missing else _without(found, frozenset(at_hand.missing))


def _in_use_again(
    was: Held, cables: Mapping[CableId, Cable], at_hand: Session, standing_now: Standing | None
) -> dict[CableId, Cable] | None:
    """Return the cables of a session after an edit of some of them."""
    then, hand, standing = was.reads
    if at_hand is not hand or at_hand.missing or standing_now is not None or standing is not None:
        return None
    turned, in_order = changed_keys(cables, then), in_that_order(then, cables)
    here = _in_use({key: cables[key] for key in turned if key in cables}, at_hand, None)
    if in_order and not here and turned.isdisjoint(was.value):
        return was.value  # type: ignore[no-any-return]
    left = {**was.value, **here}
    for key in turned - here.keys():
        left.pop(key, None)
    # In the order of the document, which is another where a cable is new.
    if in_order and here.keys() <= was.value.keys():
        return left
    return {key: cable for key, cable in cables.items() if key in left}


def _without(cables: Mapping[CableId, Cable], missing: frozenset[UnitId]) -> dict[CableId, Cable]:
    """Return cables without the plugs that hang loose because their box is missing; one of which a single plug is left joins nothing."""
    found = {}
    for key, cable in cables.items():
        left = [n for n, p in enumerate(cable.plugs) if not isinstance(p, PortEnd) or p.unit not in missing]
        if len(left) == len(cable.plugs):
            found[key] = cable
            continue
        wires = tuple([replace(w, a=left.index(w.a), b=left.index(w.b)) for w in cable.wires if {w.a, w.b} <= {*left}])
        plugs = tuple([cable.plugs[n] for n in left])
        if wires and len({n for w in wires for n in (w.a, w.b)}) == len(plugs):
            found[key] = replace(cable, plugs=plugs, wires=wires)
    return found


def _computers(hosts: Mapping[ComputerId, Computer], at_hand: Session) -> Mapping[ComputerId, Computer]:
    if not at_hand.missing:
        return hosts
    return {
        key: replace(c, interfaces=tuple([u for u in c.interfaces if u not in at_hand.missing]))
        for key, c in hosts.items()
    }


@part
def quiet(
    silent: frozenset[tuple[UnitId, str, int]], settings: Mapping[UnitId, Settings]
) -> frozenset[tuple[UnitId, str, int]]:
    """Return the contacts at which nothing passes: on account of faults, and of outputs that are switched off."""
    off = [(u, key) for u, s in settings.items() if s.outputs for key, state in s.outputs.items() if state == "off"]
    if not off:
        return silent
    return silent.union([(unit, key, lane) for unit, key in off for lane in range(1, _MOST_LANES + 1)])


#: Of an analogue output.
_MOST_LANES: Final = 2


@part
def silent_in(quiet: frozenset[tuple[UnitId, str, int]]) -> dict[UnitId, frozenset[tuple[str, int]]]:
    """Return the lanes of each unit at which nothing passes."""
    return {unit: frozenset([(p, n) for u, p, n in quiet if u == unit]) for unit in {u for u, _, _ in quiet}}


def _sources(sources: Mapping[SourceId, SourceFacts], at_hand: Session) -> tuple[Source, ...]:
    wanted = at_hand.wanting(sources)
    if not at_hand.missing:
        return wanted
    gone = frozenset(at_hand.missing)
    return tuple(
        [
            replace(
                s,
                at=() if any(e.unit in gone for e in s.at) else s.at,
                inside=tuple([c for c in s.inside if c.unit not in gone]),
            )
            if not gone.isdisjoint([*[e.unit for e in s.at], *[c.unit for c in s.inside]])
            else s
            for s in wanted
        ]
    )


def _heard(destinations: Mapping[DestinationId, Destination], at_hand: Session) -> tuple[Destination, ...]:
    heard = tuple([destinations[d] for d in at_hand.destinations])
    if not at_hand.missing:
        return heard
    return tuple([replace(d, at=()) if any(e.unit in at_hand.missing for e in d.at) else d for d in heard])


def _cords(at_scene: Scene | None, standing_now: Standing | None, at_hand: Session) -> tuple[Cord, ...]:
    planned = at_scene.cords if at_scene is not None else ()
    cords = tuple(standing_now.built.cords.values()) if standing_now is not None else planned
    if not at_hand.missing:
        return cords
    left = [replace(c, plugs=tuple([p for p in c.plugs if p.unit not in at_hand.missing])) for c in cords]
    return tuple([c for c in left if c.plugs])


def _at_the_bays(
    at_scene: Scene | None, stock: tuple[CordStock, ...], as_built: AsBuilt, standing_now: Standing | None
) -> AtTheBays:
    name, session = (at_scene.name, at_scene.session) if at_scene is not None else ("", SessionId(""))
    if standing_now is not None:
        name, session = "what stands", SessionId("")
    return AtTheBays(name, session, stock, tuple(as_built.cords.values()))


def _silent() -> frozenset[tuple[UnitId, str, int]]:
    return frozenset()


def _tracks(at_hand: Session, at_scene: Scene | None) -> dict[SourceId | DestinationId, Track]:
    found = {track.line: track for track in at_hand.tracks}
    listed = {*at_hand.wish_of, *at_hand.destinations}
    return found | {t.line: t for t in (at_scene.tracks if at_scene is not None else ()) if t.line in listed}


def _picked(at_hand: Session, at_scene: Scene | None) -> dict[tuple[SourceId, int], int]:
    tracks = _tracks(at_hand, at_scene)
    return {
        (SourceId(key), n): number for key, track in tracks.items() for n, number in enumerate(track.picked, start=1)
    }


def _corded_elsewhere(scenes: Mapping[SceneId, Scene], at_scene: Scene | None) -> frozenset[PortEnd]:
    here = at_scene.id if at_scene is not None else None
    return frozenset([plug for key, scene in scenes.items() if key != here for c in scene.cords for plug in c.plugs])


#: How a field is brought up to date after an edit, as `renews` does it for parts.
RENEWED_FIELDS: Final[dict[str, Callable[..., Any]]] = {"in_use": _in_use_again}

#: How each field is read from the document: the parameters are maps of the studio, the session and the scene at hand, what stands where
#: that is to be seen, and the rate where it is another.
FIELDS: Final[dict[str, Callable[..., Any]]] = {
    "units": lambda units: units,
    "shelf": lambda profiles: profiles,
    "profiles": _profiles,
    "settings": _settings,
    "faults": _faults,
    "own_delays": _own_delays,
    "places": _places,
    "computers": _computers,
    "in_use": _in_use,
    "every_cable": _every_cable,
    "sources": _sources,
    "heard": _heard,
    "bays": lambda bays: bays,
    "cords": _cords,
    "at_the_bays": _at_the_bays,
    "rate_hz": lambda at_hand, rate: rate or at_hand.rate_hz,
    "pull_ppm": lambda at_hand: at_hand.pull_ppm,
    "session_facts": lambda at_hand: SessionFacts(
        at_hand.id, at_hand.spare, at_hand.loop_numbers, at_hand.mains_silent, at_hand.missing
    ),
    "silent": _silent,
    "tracks": _tracks,
    "picked": _picked,
    "corded_elsewhere": _corded_elsewhere,
}
