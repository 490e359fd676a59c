"""The basic clock rule: one leader in a domain, everyone's source really arrives and leads back to it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from ennead.studio.house import Host, Unit
from ennead.studio.ids import CableId, HostId, ProfileId, UnitId
from ennead.studio.profile import Profile
from ennead.survey.links import Link

State = Literal["leads", "locked", "silent", "adrift", "ring"]


@dataclass(frozen=True, slots=True)
class UnitClock:
    """How one unit stands to the clock.

    Parameters
    ----------
    state : State
        *leads* runs on its own crystal; *locked* follows a cable that leads back to a leader; *silent* is
        set to a socket where no clock arrives; *adrift* follows a unit that is not locked itself;
        *ring* follows somebody who, in the end, follows it.
    hops : int
        Cables between it and the leader; -1 when it is not locked.
    """

    unit: UnitId
    source: str
    state: State
    via: CableId | None
    from_unit: UnitId | None
    leader: UnitId | None
    hops: int


@dataclass(frozen=True, slots=True)
class Domain:
    """Units whose audio meets in digital form.

    Parameters
    ----------
    possible : map of leader to map of unit to clock menu entry
        Every unit that could lead over the cables that are there, with what each unit must then be set to.
    """

    units: tuple[UnitId, ...]
    leaders: tuple[UnitId, ...]
    possible: Mapping[UnitId, Mapping[UnitId, str]]


@dataclass(frozen=True, slots=True)
class Clocks:
    """The clock of the whole house."""

    by_unit: dict[UnitId, UnitClock]
    domains: tuple[Domain, ...]

    def domain_of(self, unit: UnitId) -> Domain:
        """Return the domain a digital unit is in."""
        return next(d for d in self.domains if unit in d.units)


def survey_clock(
    units: Mapping[UnitId, Unit],
    profiles: Mapping[ProfileId, Profile],
    links: Iterable[Link],
    hosts: Mapping[HostId, Host],
) -> Clocks:
    """Return who leads, who follows over which cable, and who does not.

    References
    ----------
    AES11: one reference for all equipment whose digital audio meets.
    """
    digital = {u.id: profiles[u.profile] for u in units.values() if profiles[u.profile].is_digital}
    arrivals = {
        (link.end.unit, link.end.port): link
        for link in links
        if link.digital and link.agrees and link.start.unit in digital and link.end.unit in digital
    }
    clocks: dict[UnitId, UnitClock] = {}
    for unit in digital:
        clocks[unit] = _stand(unit, units, digital, arrivals)
    domains = []
    for members in _components(digital, arrivals.values(), hosts):
        leaders = tuple(u for u in members if clocks[u].state == "leads")
        domains.append(Domain(members, leaders, possible_leaders(members, digital, arrivals.values())))
    return Clocks(clocks, tuple(domains))


def _stand(
    unit: UnitId,
    units: Mapping[UnitId, Unit],
    digital: Mapping[UnitId, Profile],
    arrivals: Mapping[tuple[UnitId, str], Link],
) -> UnitClock:
    source = units[unit].settings.clock_source
    seen: list[UnitId] = []
    here = unit
    first: Link | None = None
    while here not in seen:
        seen.append(here)
        entry = digital[here].clock_source(units[here].settings.clock_source)
        if entry is None or entry.port is None:
            state: State = "leads" if here == unit else "locked"
            return UnitClock(unit, source, state, *_first(first), here, len(seen) - 1)
        link = arrivals.get((here, entry.port))
        if link is None:
            state = "silent" if here == unit else "adrift"
            return UnitClock(unit, source, state, *_first(first), None, -1)
        first = first or link
        here = link.start.unit
    return UnitClock(unit, source, "ring" if here == unit else "adrift", *_first(first), None, -1)


def _first(link: Link | None) -> tuple[CableId | None, UnitId | None]:
    return (link.cable, link.start.unit) if link else (None, None)


def _components(
    digital: Mapping[UnitId, Profile], links: Iterable[Link], hosts: Mapping[HostId, Host]
) -> list[tuple[UnitId, ...]]:
    joined: dict[UnitId, set[UnitId]] = {u: {u} for u in digital}
    pairs = [(link.start.unit, link.end.unit) for link in links]
    for host in hosts.values():
        # An interface the computer resamples meets the others at their clock; its own may drift.
        on_it = [i for i in host.interfaces if i in digital and i not in host.corrected]
        pairs += list(pairwise(on_it))
    for one, other in pairs:
        if joined[one] is not joined[other]:
            both = joined[one] | joined[other]
            for unit in both:
                joined[unit] = both
    done: set[UnitId] = set()
    components = []
    for unit in digital:
        if unit not in done:
            done |= joined[unit]
            components.append(tuple(u for u in digital if u in joined[unit]))
    return components


def possible_leaders(
    members: tuple[UnitId, ...], digital: Mapping[UnitId, Profile], links: Iterable[Link]
) -> dict[UnitId, dict[UnitId, str]]:
    """Return every unit from which the clock can reach all members over the links that are there.

    For each such leader the shortest way is taken to every other unit (breadth first), and the clock menu
    entry that each must be set to.
    """
    onward: dict[UnitId, list[tuple[UnitId, str]]] = {u: [] for u in members}
    for link in links:
        if link.start.unit not in onward or link.end.unit not in onward:
            continue
        entry = next((c for c in digital[link.end.unit].clock_sources if c.port == link.end.port), None)
        if entry is not None:
            onward[link.start.unit].append((link.end.unit, entry.key))
    found: dict[UnitId, dict[UnitId, str]] = {}
    for leader in members:
        own = next((c.key for c in digital[leader].clock_sources if c.port is None), None)
        if own is None:
            continue
        settings = {leader: own}
        queue = [leader]
        for here in queue:
            for there, key in onward[here]:
                if there not in settings:
                    settings[there] = key
                    queue.append(there)
        if len(settings) == len(members):
            found[leader] = settings
    return found
