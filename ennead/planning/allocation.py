"""A first plain allocation: in the order of the list, each source to the first driver number that suits it.

Hard rules are never broken. Where a source finds no free socket, sources placed in the same pass make room
for it if they can (an augmenting path), so that an instrument late in the list still gets its Hi-Z input.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from itertools import pairwise

from ennead.edits.cables import connect, disconnect
from ennead.edits.change import Change, Edit, step
from ennead.edits.settings import set_phantom
from ennead.rules.pair_sits_together import is_pair
from ennead.rules.phantom_reaches_source import has_phantom, is_live, touches_phantom, wants_phantom
from ennead.rules.source_fits_port import signal_wanted, why_unfit
from ennead.standards.rates import rate_text
from ennead.studio.house import Cable, PortEnd, SourceEnd
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.session import Source
from ennead.survey.seats import Seat
from ennead.survey.survey import Survey

Option = tuple[Seat, ...]
BankKey = tuple[UnitId, str]

#: Sources that may be asked in turn to make room for one.
DEEPEST = 4


@dataclass(frozen=True, slots=True)
class Placement:
    """One source and the sockets proposed for it."""

    source: SourceId
    seats: Option
    numbers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Proposal:
    """What an allocation proposes.

    Parameters
    ----------
    placements : tuple of Placement
        Only sources that would be plugged anew or moved.
    moves : int
        How many of these are plugged somewhere already.
    unplaced : map of source to str
        Why nothing was found.
    """

    placements: tuple[Placement, ...]
    moves: int
    unplaced: dict[SourceId, str]

    def numbers_of(self, source: SourceId) -> tuple[int, ...]:
        """Return the driver numbers proposed for a source; empty where it stays."""
        return next((p.numbers for p in self.placements if p.source == source), ())


@dataclass
class Table:
    """The table on which sources are pushed about."""

    options: dict[SourceId, tuple[Option, ...]]
    sources: dict[SourceId, Source]
    fixed: frozenset[SourceId]
    placed: dict[SourceId, Option] = field(default_factory=dict)
    taken: dict[PortEnd, SourceId] = field(default_factory=dict)

    def sit(self, source: SourceId, option: Option) -> None:
        self.placed[source] = option
        for seat in option:
            self.taken[seat.end] = source

    def rise(self, source: SourceId) -> Option:
        option = self.placed.pop(source)
        for seat in option:
            del self.taken[seat.end]
        return option

    def blockers(self, source: SourceId, option: Option) -> set[SourceId]:
        """Return who sits there already, or sits in the same phantom bank with the contrary wish."""
        found = {self.taken[s.end] for s in option if s.end in self.taken}
        wish = _phantom_wish(self.sources[source], option)
        if wish:
            banks = set(_banks(option))
            for other, sits in self.placed.items():
                if banks & set(_banks(sits)) and _phantom_wish(self.sources[other], sits) == -wish:
                    found.add(other)
        return found - {source}


def _phantom_wish(source: Source, option: Option) -> int:
    """Return 1 where 48 V must be on for a source in these sockets, -1 where it must be off, else 0."""
    if not any(touches_phantom(source, s.port) for s in option):
        return 0
    return {"needed": 1, "forbidden": -1, "tolerated": 0}[source.phantom]


def _banks(option: Option) -> Iterable[BankKey]:
    for seat in option:
        bank = seat.powered_by.bank_of_port.get(seat.powered_port)
        if bank is not None:
            yield (seat.powered_unit, bank.key)


def options_for(source: Source, seats: tuple[Seat, ...]) -> tuple[Option, ...]:
    """Return the sockets, or pairs of sockets, a source may sit in by the hard rules, by driver number."""
    good = [
        s
        for s in seats
        if not s.fault
        and not why_unfit(source, s.port)
        and not (wants_phantom(source) and not has_phantom(s.powered_port, s.powered_by))
    ]
    if source.kind == "digital":
        return tuple((s,) for s in good if len(s.drivers) >= source.channels)
    if source.channels == 1:
        return tuple((s,) for s in good)
    return tuple((left, right) for left, right in pairwise(good) if is_pair(left, right))


def allocate(survey: Survey, *, keep_going: Callable[[float], bool] = lambda _: True) -> Proposal:
    """Propose a place for every source that has none, or whose place does not work.

    Parameters
    ----------
    keep_going : callable
        Told the part done, 0 to 1; when it answers False the search stops with what it has.
    """
    studio = survey.studio
    staying = {s.id for s in studio.session_sources if _sits_well(survey, s)}
    desk = set_table(survey, frozenset(staying))
    waiting = [s for s in studio.session_sources if s.id not in desk.placed]
    unplaced: dict[SourceId, str] = {}
    for done, source in enumerate(waiting):
        if not keep_going(done / len(waiting)):
            unplaced[source.id] = "the search was stopped"
        elif not place_one(desk, source.id, set(), DEEPEST):
            unplaced[source.id] = why_not(survey, source, desk)
    return _proposal(survey, desk, staying, unplaced)


def set_table(survey: Survey, fixed: frozenset[SourceId], *, avoid: PortEnd | None = None) -> Table:
    """Return the table with every source in `fixed` on the sockets it sits in now."""
    studio = survey.studio
    sources = {s.id: s for s in studio.session_sources}
    free = tuple(s for s in survey.seats if s.end != avoid)
    options = {s.id: options_for(s, free) for s in sources.values() if s.id not in fixed}
    desk = Table(options, sources, fixed)
    by_end = {s.end: s for s in survey.seats}
    for source in sources.values():
        if source.id in fixed:
            ends = [c.end for c in _cables(survey, source)]
            desk.sit(source.id, tuple(by_end[e] for e in ends if e in by_end))
    return desk


def _cables(survey: Survey, source: Source) -> list[Cable]:
    found = [survey.source_cables.get((source.id, c)) for c in range(1, source.channels + 1)]
    return [c for c in found if c is not None]


def _sits_well(survey: Survey, source: Source) -> bool:
    """Say whether a source is plugged in whole, arrives, and breaks no hard rule; or is pinned where it is."""
    cables = _cables(survey, source)
    wanted = 1 if source.kind == "digital" else source.channels
    if source.pinned and cables:
        return True
    if len(cables) != wanted or any(r.gap for r in survey.runs if r.source == source.id):
        return False
    by_end = {s.end: s for s in survey.seats}
    for cable in cables:
        seat = by_end.get(cable.end)
        if seat is None or seat.fault or why_unfit(source, seat.port):
            return False
        live = is_live(seat.powered_port, seat.powered_by, survey.studio.units[seat.powered_unit].settings.phantom)
        if source.phantom == "forbidden" and live and touches_phantom(source, seat.port):
            return False
        if wants_phantom(source) and not has_phantom(seat.powered_port, seat.powered_by):
            return False
    return True


def place_one(desk: Table, source: SourceId, visited: set[tuple[SourceId, PortEnd]], depth: int) -> bool:
    """Find a place for a source, asking at most `depth` sources in turn to make room; say whether it was found."""
    options = desk.options.get(source, ())
    for option in options:
        if not desk.blockers(source, option):
            desk.sit(source, option)
            return True
    if depth == 0:
        return False
    for option in options:
        key = (source, option[0].end)
        blockers = desk.blockers(source, option)
        if key in visited or blockers & desk.fixed:
            continue
        visited.add(key)
        before = dict(desk.placed), dict(desk.taken)
        for other in blockers:
            desk.rise(other)
        desk.sit(source, option)
        if all(place_one(desk, other, visited, depth - 1) for other in sorted(blockers, key=_list_order(desk))):
            return True
        desk.placed, desk.taken = before
    return False


def _list_order(desk: Table) -> Callable[[SourceId], int]:
    order = {s: i for i, s in enumerate(desk.sources)}
    return lambda source: order[source]


def why_not(survey: Survey, source: Source, desk: Table) -> str:
    """Return why no place was found for a source."""
    rate = rate_text(survey.rate_hz)
    kind = {
        "mic": "microphone input", "line": "line input", "hiz": "Hi-Z input", "digital": "digital input",
    }[signal_wanted(source)]  # fmt: skip
    volts = " with 48 V" if wants_phantom(source) else " without 48 V" if source.phantom == "forbidden" else ""
    pair = "pair of " if source.channels == 2 and source.kind != "digital" else ""
    kind += "s" if pair else ""
    there = len(desk.options[source.id])
    if not there:
        return f"there is no {pair}{kind}{volts} at {rate}"
    return f"no {pair}{kind}{volts} is left at {rate}; {there} could serve and all are taken"


def _proposal(
    survey: Survey, desk: Table, staying: set[SourceId], unplaced: dict[SourceId, str]
) -> Proposal:
    placements, moves = [], 0
    for source in survey.studio.session_sources:
        option = desk.placed.get(source.id)
        if option is None or source.id in staying:
            continue
        numbers = tuple(d.number for s in option for d in s.drivers)[: source.channels]
        placements.append(Placement(source.id, option, numbers))
        moves += bool(_cables(survey, source))
    return Proposal(tuple(placements), moves, unplaced)


def take(survey: Survey, proposal: Proposal, only: Iterable[SourceId] | None = None) -> Change:
    """Return the change that carries out a proposal, or the part of it for some sources.

    Old cables are pulled first, then new ones plugged; 48 V follows what now sits in each bank.
    """
    studio = survey.studio
    wanted = set(only) if only is not None else {p.source for p in proposal.placements}
    chosen = [p for p in proposal.placements if p.source in wanted]
    pulls: list[Edit] = []
    plugs: list[Edit] = []
    for placement in chosen:
        source = studio.sources[placement.source]
        pulls += [step(disconnect, c.id) for c in _cables(survey, source)]
        for channel, seat in enumerate(placement.seats, start=1):
            plugs.append(step(connect, SourceEnd(source.id, channel), seat.end))
    name = studio.sources[chosen[0].source].name if len(chosen) == 1 else f"{len(chosen)} sources"
    return Change(f"Place {name}", (*pulls, *plugs, *_switch_phantom(survey, chosen)))


def _switch_phantom(survey: Survey, chosen: list[Placement]) -> list[Edit]:
    """Return the edits that switch each touched bank as the sources now in it need."""
    studio = survey.studio
    moved = {p.source for p in chosen}
    sits: dict[SourceId, Option] = {p.source: p.seats for p in chosen}
    by_end = {s.end: s for s in survey.seats}
    for source in studio.session_sources:
        if source.id not in moved:
            sits[source.id] = tuple(by_end[c.end] for c in _cables(survey, source) if c.end in by_end)
    wishes: dict[BankKey, set[int]] = {}
    for source_id, option in sits.items():
        for key in _banks(option):
            wishes.setdefault(key, set()).add(_phantom_wish(studio.sources[source_id], option))
    touched = {key for p in chosen for key in _banks(p.seats)}
    edits = []
    for unit, bank in sorted(touched):
        on = bank in studio.units[unit].settings.phantom
        if 1 in wishes[unit, bank] and -1 not in wishes[unit, bank] and not on:
            edits.append(step(set_phantom, unit, bank, on=True))
        elif -1 in wishes[unit, bank] and 1 not in wishes[unit, bank] and on:
            edits.append(step(set_phantom, unit, bank, on=False))
    return edits
