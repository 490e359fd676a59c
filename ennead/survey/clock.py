"""The basic clock rule: one leader in a domain, everyone's source really arrives and leads back to it."""

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Literal, NamedTuple

from ennead.studio.house import Computer, Settings
from ennead.studio.ids import CableId, ComputerId, UnitId
from ennead.studio.profile import Profile
from ennead.survey.links import Arrival, Link
from ennead.survey.parts import part
from ennead.survey.unit_view import UnitView

State = Literal["leads", "locked", "silent", "adrift", "ring"]


class UnitClock(NamedTuple):
    """How one unit stands to the clock.

    Parameters
    ----------
    state : State
        *leads* runs on its own crystal; *locked* follows a cable that leads back to a leader; *silent* is
        set to a socket where no clock arrives; *adrift* follows a unit that is not locked itself;
        *ring* follows a unit that, directly or not, follows it.
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
    """Units that exchange digital audio.

    Parameters
    ----------
    possible : map of leader to map of unit to clock menu entry
        Every unit that could lead over the cables that are there, with what each unit must then be set to.
    """

    units: tuple[UnitId, ...]
    leaders: tuple[UnitId, ...]
    possible: Mapping[UnitId, Mapping[UnitId, str]]
    all_locked: bool
    most_hops: int


@dataclass(frozen=True, slots=True)
class Clocks:
    """The clock of the whole house."""

    by_unit: dict[UnitId, UnitClock]
    domains: tuple[Domain, ...]

    @property
    def astray(self) -> Iterator[UnitClock]:
        """The units that are not locked."""
        for domain in self.domains:
            if not domain.all_locked:
                yield from (self.by_unit[u] for u in domain.units if self.by_unit[u].hops < 0)

    def domain_of(self, unit: UnitId) -> Domain:
        """Return the domain a digital unit is in."""
        return next(d for d in self.domains if unit in d.units)


@part
def arrivals(
    links: Mapping[CableId, Link], quiet: frozenset[tuple[UnitId, str, int]]
) -> dict[tuple[UnitId, str], Arrival]:
    """Return where a clock arrives: at each input with an agreeing digital cable from a unit that has one."""
    if quiet:
        links = {k: n for k, n in links.items() if not any((e.unit, e.port, 0) in quiet for e in (n.start, n.end))}
    return dict([link.clock for link in links.values() if link.clock is not None])


@part
def menus(settings: Mapping[UnitId, Settings]) -> dict[UnitId, str]:
    """Return where each unit's clock menu stands."""
    return {u: s.clock_source for u, s in settings.items()}


@part
def switched_off(settings: Mapping[UnitId, Settings]) -> frozenset[UnitId]:
    """Return the units that are switched off: they give no clock and need none."""
    return frozenset([u for u, s in settings.items() if s.off])


@part
def not_running(views: Mapping[UnitId, UnitView]) -> frozenset[UnitId]:
    """Return the units that are switched off, or lack the rate: none of them can lead the others at it."""
    return frozenset([u for u, view in views.items() if not view.runs])


@part
def clocks(
    menus: Mapping[UnitId, str],
    profiles: Mapping[UnitId, Profile],
    arrivals: Mapping[tuple[UnitId, str], Arrival],
    computers: Mapping[ComputerId, Computer],
    switched_off: frozenset[UnitId],
    not_running: frozenset[UnitId],
) -> Clocks:
    """Return the leaders, the followers with the cable of each, and the units out of lock.

    References
    ----------
    AES11: one reference for all equipment that exchanges digital audio.
    """
    digital = {u: p for u, p in profiles.items() if p.clock_sources}
    at: dict[UnitId, list[tuple[str, Arrival]]] = {u: [] for u in digital}
    for end, arrival in arrivals.items():
        at[end[0]].append((end[1], arrival))
    standing: dict[UnitId, UnitClock] = {}
    domains = []
    for members in _components(tuple(digital), _pairs(digital, arrivals, computers, menus, not_running)):
        mine = {u: _off(u, menus) if u in switched_off else _stand(u, menus, digital, arrivals) for u in members}
        locked = all(c.hops >= 0 for c in mine.values())
        leaders = tuple(u for u in members if mine[u].state == "leads")
        possible = _possible(members, digital, at, not_running)
        domains.append(Domain(members, leaders, possible, locked, max(c.hops for c in mine.values())))
        standing |= mine
    return Clocks({u: standing[u] for u in digital}, tuple(domains))


def _off(unit: UnitId, menus: Mapping[UnitId, str]) -> UnitClock:
    """Return the clock state of a unit that is switched off: a domain of its own, so that no rule reports a missing clock on it."""
    return UnitClock(unit, menus[unit], "leads", None, None, unit, 0)


def _stand(
    unit: UnitId,
    menus: Mapping[UnitId, str],
    digital: Mapping[UnitId, Profile],
    arrivals: Mapping[tuple[UnitId, str], Arrival],
) -> UnitClock:
    source = menus[unit]
    seen: list[UnitId] = []
    here = unit
    first: Arrival | None = None
    while here not in seen:
        seen.append(here)
        entry = digital[here].clock_source(menus[here])
        if entry is None or entry.port is None:
            state: State = "leads" if here == unit else "locked"
            return UnitClock(unit, source, state, *_first(first), here, len(seen) - 1)
        link = arrivals.get((here, entry.port))
        if link is None:
            state = "silent" if here == unit else "adrift"
            return UnitClock(unit, source, state, *_first(first), None, -1)
        first = first or link
        here = link.unit
    return UnitClock(unit, source, "ring" if here == unit else "adrift", *_first(first), None, -1)


def _first(link: Arrival | None) -> tuple[CableId | None, UnitId | None]:
    return (link.cable, link.unit) if link else (None, None)


def _pairs(
    digital: Mapping[UnitId, Profile],
    arrivals: Mapping[tuple[UnitId, str], Arrival],
    computers: Mapping[ComputerId, Computer],
    menus: Mapping[UnitId, str],
    not_running: frozenset[UnitId],
) -> list[tuple[UnitId, UnitId]]:
    """Return the pairs of units of one domain: they exchange audio, or one gives a clock alone that the other follows.

    So does a clock box, and a unit that lacks the rate.
    """
    sound = {at: arrival for at, arrival in arrivals.items() if arrival.joins and arrival.unit not in not_running}
    # A fibre each way joins two units once.
    pairs = list(dict.fromkeys([(arrival.unit, unit) for (unit, _), arrival in sound.items()]))
    for (unit, port), arrival in arrivals.items():
        if (unit, port) not in sound and any(
            c.port == port and c.key == menus[unit] for c in digital[unit].clock_sources
        ):
            pairs.append((arrival.unit, unit))
    for computer in computers.values():
        # An interface the computer resamples meets the others at their clock; its own may drift.
        on_it = [
            i for i in computer.interfaces if i in digital and i not in computer.corrected and i not in not_running
        ]
        pairs += list(pairwise(on_it))
    return pairs


def _components(units: tuple[UnitId, ...], pairs: list[tuple[UnitId, UnitId]]) -> list[tuple[UnitId, ...]]:
    """Return the sets that pairs of units make."""
    root: dict[UnitId, UnitId] = {u: u for u in units}

    def find(unit: UnitId) -> UnitId:
        while root[unit] != unit:
            root[unit] = unit = root[root[unit]]
        return unit

    for one, other in pairs:
        if root[one] is not root[other]:
            root[find(one)] = find(other)
    # In the order of the units, within a domain and among them.
    members: dict[UnitId, list[UnitId]] = {}
    for unit in units:
        members.setdefault(find(unit), []).append(unit)
    return [tuple(units) for units in members.values()]


class Leaders(Mapping[UnitId, dict[UnitId, str]]):
    """The units from which the clock can reach all members of a domain, each with what every unit is then set to.

    For each leader the shortest way is taken to every other unit (breadth first).
    """

    def __init__(
        self, members: tuple[UnitId, ...], onward: Mapping[UnitId, list[tuple[UnitId, str]]], own: Mapping[UnitId, str]
    ) -> None:
        self._members, self._onward, self._own = members, onward, own
        self._known: dict[UnitId, dict[UnitId, str]] = {}

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Leaders) and (self._members, self._onward, self._own) == (
            other._members,
            other._onward,
            other._own,
        )

    __hash__ = None  # type: ignore[assignment]

    @cached_property
    def _able(self) -> tuple[UnitId, ...]:
        """Return the units that reach all others: if there is one, the last root of a depth-first search is."""
        seen: set[UnitId] = set()
        root = self._members[0]
        for unit in self._members:
            if unit not in seen:
                root = unit
                seen |= self._reach(unit, self._neighbours, seen)
        if len(self._reach(root, self._neighbours, ())) < len(self._members):
            return ()
        back: dict[UnitId, list[UnitId]] = {u: [] for u in self._members}
        for unit in self._members:
            for there in self._neighbours(unit):
                back[there].append(unit)
        able = self._reach(root, back.__getitem__, ())
        return tuple(u for u in self._members if u in able and u in self._own)

    def _neighbours(self, unit: UnitId) -> list[UnitId]:
        return [there for there, _ in self._onward[unit]]

    @staticmethod
    def _reach(start: UnitId, further: Callable[[UnitId], Iterable[UnitId]], but: Collection[UnitId]) -> set[UnitId]:
        seen, waiting = {start}, [start]
        while waiting:
            for there in further(waiting.pop()):
                if there not in seen and there not in but:
                    seen.add(there)
                    waiting.append(there)
        return seen

    def __getitem__(self, leader: UnitId) -> dict[UnitId, str]:
        if leader not in self._able:
            raise KeyError(leader)
        if leader not in self._known:
            menus = {leader: self._own[leader]}
            queue = [leader]
            for here in queue:
                for there, key in self._onward[here]:
                    if there not in menus:
                        menus[there] = key
                        queue.append(there)
            self._known[leader] = menus
        return self._known[leader]

    def __iter__(self) -> Iterator[UnitId]:
        return iter(self._able)

    def __len__(self) -> int:
        return len(self._able)


def _possible(
    members: tuple[UnitId, ...],
    digital: Mapping[UnitId, Profile],
    at: Mapping[UnitId, list[tuple[str, Arrival]]],
    not_running: Collection[UnitId],
) -> Leaders:
    """Return the possible leaders of a clock domain: for each unit, the units its clock reaches, by the clock source that selects it."""
    onward: dict[UnitId, list[tuple[UnitId, str]]] = {u: [] for u in members}
    own: dict[UnitId, str] = {}
    for unit in members:
        entries = {c.port: c.key for c in digital[unit].clock_sources[::-1]}
        if None in entries and unit not in not_running:
            own[unit] = entries[None]
        for port, arrival in at[unit]:
            if port in entries and arrival.unit in onward and arrival.unit not in not_running:
                onward[arrival.unit].append((unit, entries[port]))
    return Leaders(members, onward, own)
