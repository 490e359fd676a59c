"""From a studio to its seating problem: what may sit where by the hard rules, and what each place is like."""

from collections.abc import Hashable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final, Literal, NamedTuple

from ennead.planning.seating.problem import Demand, Face, Fit, Pair, Place, Problem, Slot, Trait
from ennead.planning.seating.reach import reach_price
from ennead.planning.seating.switching import fed_by_phantom, wishes
from ennead.planning.seating.wired import Ways, made_up_ends, standing_loops, stands_wired, wired_back
from ennead.rules import may_go_out
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.rules.may_sit import obstacles, wanted_of, where_of
from ennead.rules.may_sit_beside import is_output_pair, is_pair, may_come_back
from ennead.rules.phantom_reaches_source import touches_phantom
from ennead.rules.source_fits_port import adapters_needed
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.studio.session import AIM_LABELS, PRIORITIES, Destination, Source
from ennead.survey.input_points import InputPoint
from ennead.survey.output_points import OutputPoint
from ennead.survey.survey import Survey

#: Up to so many boxes each is a strip of its own; beyond, boxes of one kind in one place are one.
MOST_STRIPS: Final = 16

Socket = InputPoint | OutputPoint


class Asked(NamedTuple):
    """Whose demand it is: a source's, a destination's output, or a loop's return."""

    key: SourceId | DestinationId
    leg: Literal["source", "out", "return"]


@dataclass
class Posed:
    """A seating problem with what its numbers stand for.

    Parameters
    ----------
    sockets : list of list of Socket
        By slot and face.
    apart : tuple of Asked
        Demands that stay where they are although no signal of theirs arrives: pinned, and left alone.
    standing : map of DestinationId to outputs and returns
        Loops whose cables stand in the house.
    """

    problem: Problem
    asked: tuple[Asked, ...]
    sockets: list[list[Socket]]
    apart: tuple[Asked, ...] = ()
    standing: Mapping[DestinationId, Ways] = field(default_factory=dict)

    def ends(self, place: Place) -> tuple[PortEnd, ...]:
        """Return the sockets of a place."""
        return tuple(self.sockets[slot][face].end for slot, face in place)

    def numbers(self, place: Place) -> tuple[int, ...]:
        """Return the driver numbers of a place."""
        return tuple(n for slot, face in place for n in numbers_of(self.sockets[slot][face]))


def numbers_of(socket: Socket) -> tuple[int, ...]:
    """Return the driver numbers a socket's lanes have."""
    return tuple(d.number for d in socket.drivers) if isinstance(socket, InputPoint) else (socket.number,)


#: Hard rules that can be looked away from, to see which of them bind.
RULES: Final = ("48 V needed", "48 V forbidden", "pairs", "kinds of input", "wishes", "pins", "faults", "returns", "same numbers")


@dataclass
class _Ground:
    """What is gathered on the way from the studio to the problem."""

    survey: Survey
    relaxed: frozenset[str] = frozenset()
    sockets: list[list[Socket]] = field(default_factory=list)
    faces: list[list[Face]] = field(default_factory=list)
    at: dict[tuple[PortEnd, int], tuple[int, int]] = field(default_factory=dict)
    traits: dict[Hashable, int] = field(default_factory=dict)
    like: list[Socket] = field(default_factory=list)
    trait_list: list[Trait] = field(default_factory=list)
    chains: dict[Hashable, int] = field(default_factory=dict)
    strips: dict[Hashable, int] = field(default_factory=dict)
    banks: dict[tuple[UnitId, str], int] = field(default_factory=dict)
    loose: DestinationId | None = None

    @cached_property
    def standing(self) -> dict[DestinationId, Ways]:
        """The loops that stand wired in the house."""
        return standing_loops(self.survey.studio)

    @cached_property
    def wired_back(self) -> frozenset[PortEnd]:
        """The outputs behind which a box stands that is wired back."""
        return wired_back(self.survey.studio)

    @cached_property
    def stood(self) -> dict[SourceEnd, PortEnd]:
        """Where each channel of a source stood when last ticked."""
        cables = [stood.cable for stood in self.survey.studio.stood.values()]
        return {c.start: c.end for c in cables if isinstance(c.start, SourceEnd) and isinstance(c.end, PortEnd)}


def pose(
    survey: Survey, *, without: Iterable[PortEnd] = (), aims: tuple[str, ...] = (), relaxed: frozenset[str] = frozenset(),
    loose: DestinationId | None = None,
) -> Posed:  # fmt: skip
    """Return the seating problem of the current session.

    Parameters
    ----------
    without : iterable of PortEnd
        Sockets to do without.
    aims : tuple of str
        The order of the aims; empty for the session's own.
    relaxed : set of str
        Hard rules, of `RULES`, to look away from.
    loose : DestinationId, optional
        A loop that is placed like any other although it could stand in the house.
    """
    ground = _Ground(survey, relaxed)
    if loose is not None:
        ground.standing.pop(loose, None)
        ground.loose = loose
    shut = {*without, *_held_apart(survey)} if "pins" not in relaxed else set(without)
    shut |= set(made_up_ends(survey))
    shut |= {end for ways in ground.standing.values() for ends in ways for end in ends}
    _gather_inputs(ground, shut)
    _gather_outputs(ground, shut)
    pairs = _pairs(ground)
    slots = tuple(Slot(tuple(faces), numbers_of(held[0])[0]) for faces, held in zip(ground.faces, ground.sockets, strict=True))
    units = survey.studio.units
    banks = tuple(bank in units[unit].settings.phantom for unit, bank in ground.banks)
    demands, asked, apart, fits = _demands(ground)
    session = survey.studio.current
    order = aims or session.aims or tuple(AIM_LABELS)
    same = session.loop_numbers == "always" and "same numbers" not in relaxed
    held = _held_switches(ground, apart)
    # Nobody pays for what has to be set anew whoever sits where.
    banks = tuple(held.get(number, on) for number, on in enumerate(banks))
    problem = Problem(tuple(ground.trait_list), slots, pairs, banks, demands, fits, dict(session.spare), order, same, held)
    return Posed(problem, asked, ground.sockets, apart, ground.standing)


def _held_apart(survey: Survey) -> Iterator[PortEnd]:
    """Yield the sockets of pinned sources that do not arrive whole: nobody else may have them."""
    for source in survey.studio.session_sources:
        if source.pinned:
            ends = [c.end for key, c in survey.leads.items() if key[0] == source.id]
            points = [survey.input_point_at.get((e.unit, e.port)) for e in ends]
            wanted = 1 if source.kind == "digital" else source.channels
            if len(ends) < wanted or any(point is None or point.fault for point in points):
                yield from ends


def _held_switches(ground: _Ground, apart: tuple[Asked, ...]) -> dict[int, bool]:
    """Return how 48 V switches must stand for what no demand speaks of: boxes that run on it, and who stays apart where they are.

    A switch that cannot suit them all stays as it is, and so does one that cannot suit all who are pinned behind it.
    """
    survey, studio = ground.survey, ground.survey.studio
    asked: dict[tuple[UnitId, str], set[int]] = {bank: {1} for bank in fed_by_phantom(survey)}
    silent = {who.key for who in apart if who.leg == "source"}
    pinned: dict[tuple[UnitId, str], set[int]] = {}
    for source in studio.session_sources:
        if not source.pinned and source.id not in silent:
            continue
        ends = [c.end for key, c in survey.leads.items() if key[0] == source.id]
        for bank, wish in wishes(survey, source, ends):
            if source.pinned:
                pinned.setdefault(bank, set()).add(wish)
            if source.id in silent:
                asked.setdefault(bank, set()).add(wish)
    held: dict[int, bool] = {}
    for switch, number in ground.banks.items():
        wanted = asked.get(switch, set()), pinned.get(switch, set())
        if len(wanted[0] | wanted[1]) == 2:
            held[number] = switch[1] in studio.units[switch[0]].settings.phantom
        elif wanted[0]:
            held[number] = 1 in wanted[0]
    return held


# -- sockets -----------------------------------------------------------------------------------
def _gather_inputs(ground: _Ground, shut: set[PortEnd]) -> None:
    survey = ground.survey
    asked = {s.outboard for s in survey.studio.session_sources if s.outboard is not None}
    by_drivers: dict[tuple[int, ...], int] = {}
    for point in survey.input_points:
        if (point.fault and "faults" not in ground.relaxed) or point.end in shut:
            continue
        way = survey.way(point.unit, point.port.key)
        bank = point.powered_by.bank_of_port.get(point.powered_port)
        chain = _chain(ground, point.converter, way.delay, point.port.key)
        port = point.port
        like = (
            "in", port.carries, port.connector, port.is_digital, len(point.drivers), bank is not None, port.phantom_on_xlr_only,
            chain, _strip(ground, point), survey.studio.units[point.unit].place, point.profile.id, point.powered_by.id,
            point.unit if any(s.preamp == point.unit for s in survey.studio.session_sources) else None,
            frozenset(asked.intersection(way.passes)),
        )  # fmt: skip
        slot = by_drivers.setdefault(numbers_of(point), len(ground.sockets))
        switch = None if bank is None else ground.banks.setdefault((point.powered_unit, bank.key), len(ground.banks))
        _add(ground, slot, point, like, chain, switch, _needs(point, live=bank is not None))


def _needs(point: InputPoint, *, live: bool) -> tuple[str, ...]:
    """Return the kinds of spare input a socket counts as."""
    found = ["all", *(n for n in ("mic", "line", "hiz") if n in point.port.carries)]
    return (*found, "phantom") if live and "mic" in point.port.carries else tuple(found)


def _gather_outputs(ground: _Ground, shut: set[PortEnd]) -> None:
    survey = ground.survey
    if not survey.studio.current.destinations:
        return
    by_number: dict[int, int] = {}
    first = len(ground.sockets)
    session, destinations = survey.studio.current, survey.studio.session_destinations
    kept = kept_for_mains(session, destinations, survey.output_points)
    for point in survey.output_points:
        where = may_go_out.where_of(survey, point, back=point.end in ground.wired_back, kept=point.number in kept)
        if where.kept or where.fault or point.end in shut:
            continue
        unit = survey.studio.units[point.unit]
        chain = _chain(ground, point.unit, point.delay, point.port.key)
        like = ("out", where, point.port.connector, point.port.channels, chain, _strip(ground, point), unit.place)
        slot = by_number.setdefault(point.number, max(first, len(ground.sockets)))
        _add(ground, slot, point, like, chain, None, ())


def _add(ground: _Ground, slot: int, socket: Socket, like: Hashable, chain: int, bank: int | None, needs: tuple[str, ...]) -> None:
    if slot == len(ground.sockets):
        ground.sockets.append([])
        ground.faces.append([])
    trait = ground.traits.setdefault(like, len(ground.trait_list))
    if trait == len(ground.trait_list):
        ground.trait_list.append(Trait(chain, _strip(ground, socket), needs))
        ground.like.append(socket)
    lane = socket.lane if isinstance(socket, OutputPoint) else 1
    ground.at[socket.end, lane] = slot, len(ground.faces[slot])
    ground.sockets[slot].append(socket)
    ground.faces[slot].append(Face(trait, bank))


def _chain(ground: _Ground, converter: str, delay: float | None, port: str) -> int:
    """Return what time a socket's signal arrives at: units in step with equal stated delays hear the same instant."""
    survey = ground.survey
    clocks = survey.clocks.by_unit
    leader = clocks[converter].leader if converter in clocks else None  # type: ignore[index]
    when: Hashable = delay if delay is not None else (survey.profiles[converter].id, port[:3])  # type: ignore[index]
    return ground.chains.setdefault((leader or converter, when), len(ground.chains))


def _strip(ground: _Ground, socket: Socket) -> int:
    studio = ground.survey.studio
    if len(studio.units) <= MOST_STRIPS:
        key: Hashable = socket.unit
    else:
        key = socket.profile.id, studio.units[socket.unit].place
    return ground.strips.setdefault(key, len(ground.strips))


def _pairs(ground: _Ground) -> tuple[Pair, ...]:
    """Return the pairs of neighbouring slots, with the sockets by which they are one."""
    by_first = {numbers_of(held[0])[0]: i for i, held in enumerate(ground.sockets) if isinstance(held[0], InputPoint)}
    by_out = {held[0].number: i for i, held in enumerate(ground.sockets) if isinstance(held[0], OutputPoint)}
    pairs = []
    for left, held in enumerate(ground.sockets):
        numbers = numbers_of(held[0])
        right = (by_first if isinstance(held[0], InputPoint) else by_out).get(numbers[-1] + 1)
        if right is None:
            continue
        ways = tuple(
            (a, b)
            for a, one in enumerate(held)
            for b, other in enumerate(ground.sockets[right])
            if _make_pair(one, other)
        )
        if ways:
            pairs.append(Pair(left, right, ways))
    return tuple(pairs)


def _make_pair(one: Socket, other: Socket) -> bool:
    if isinstance(one, InputPoint) and isinstance(other, InputPoint):
        return len(one.drivers) == 1 == len(other.drivers) and is_pair(one, other)
    return isinstance(one, OutputPoint) and isinstance(other, OutputPoint) and is_output_pair(one, other)


# -- demands -----------------------------------------------------------------------------------
Fits = dict[tuple[int, int], Fit]


def _demands(ground: _Ground) -> tuple[tuple[Demand, ...], tuple[Asked, ...], tuple[Asked, ...], Fits]:
    studio = ground.survey.studio
    kinds: dict[Hashable, int] = {}
    fits: Fits = {}
    demands: list[Demand] = []
    asked: list[Asked] = []
    apart: list[Asked] = []
    groups: dict[Hashable, int] = {}
    loops: dict[DestinationId, int] = {}
    for source in studio.session_sources:
        alike = (
            source.kind, source.di, source.phantom, source.channels if source.kind == "digital" else 1, source.place,
            source.preamp, source.outboard,
        )  # fmt: skip
        if alike not in kinds:
            fits |= _source_fits(ground, len(kinds), source)
        kind = kinds.setdefault(alike, len(kinds))
        now, built = _source_places(ground, source)
        # Who is in no group is read with the neighbours in the room.
        set_of = ("group", source.group) if source.group else ("place", source.place) if source.place else None
        family = groups.setdefault(set_of, len(groups)) if set_of else None
        demand = Demand(
            kind, source.channels == 2 and source.kind != "digital", PRIORITIES[::-1].index(source.priority),
            family if source.coherent and source.group else None, family, built or now, now,
            source.pinned and now is not None and "pins" not in ground.relaxed,
        )  # fmt: skip
        who = Asked(source.id, "source")
        if stands_wired(ground.survey, source):
            apart.append(who)
            continue
        if source.pinned and now is None and any((source.id, c) in ground.survey.leads for c in (1, 2)):
            apart.append(who)
            continue
        both = demand.pair and not demand.fixed and "pairs" in ground.relaxed
        demands += [_half(demand)] * 2 if both else [_fixed_now(demand) if demand.fixed else demand]
        asked += [who] * (1 + both)
    for destination in studio.session_destinations:
        for leg, ends in (("out", destination.outputs), ("return", destination.returns)):
            if destination.id in ground.standing:
                continue
            if leg == "return" and (destination.kind != "loop" or "returns" in ground.relaxed):
                continue
            if destination.tap and set(ends) & held_by_others(studio, destination):
                # It hears what another sends, on purpose; a tap that has an output to itself holds it like anybody.
                apart.append(Asked(destination.id, leg))  # type: ignore[arg-type]
                continue
            kind = kinds.setdefault((leg, destination.kind, destination.place, destination.channels), len(kinds))
            fits |= _destination_fits(ground, kind, destination, leg)
            now = _place_at(ground, ends) if ends else None
            mate = loops.setdefault(destination.id, len(loops)) if destination.kind == "loop" and studio.current.loop_numbers != "free" else None
            demands.append(Demand(kind, destination.channels == 2, 1, None, None, now, now, destination.pinned and now is not None, mate))
            asked.append(Asked(destination.id, leg))  # type: ignore[arg-type]
    return tuple(demands), tuple(asked), tuple(apart), fits


def held_by_others(studio: Studio, destination: Destination) -> set[PortEnd]:
    """Return the sockets the other destinations of the session have."""
    return {end for other in studio.session_destinations if other.id != destination.id for end in (*other.outputs, *other.returns)}


def _fixed_now(demand: Demand) -> Demand:
    """Return a pinned demand with the place it is plugged in as its home: what is pinned is the plan."""
    return Demand(demand.kind, demand.pair, demand.level, demand.bundle, demand.family, demand.numbered, demand.numbered, fixed=True)


def _half(demand: Demand) -> Demand:
    """Return one side of a stereo demand as a demand of its own."""
    return Demand(demand.kind, False, demand.level, demand.bundle, demand.family)


def _source_fits(ground: _Ground, kind: int, source: Source) -> Fits:
    studio, relaxed = ground.survey.studio, ground.relaxed
    wanted = wanted_of(source)
    wishes = {"needed": int("48 V needed" not in relaxed), "forbidden": -int("48 V forbidden" not in relaxed), "tolerated": 0}
    found: Fits = {}
    for trait, point in enumerate(ground.like):
        if not isinstance(point, InputPoint) or len(point.drivers) < (source.channels if source.kind == "digital" else 1):
            continue
        if any(o.rule not in relaxed for o in obstacles(wanted, where_of(ground.survey, point))):
            continue
        wish = wishes[source.phantom] if touches_phantom(source, point.port) else 0
        price = reach_price(source.place, studio.units[point.unit].place)
        found[kind, trait] = Fit(wish, (price, adapters_needed(source, point.port), trait))
    return found


def _destination_fits(ground: _Ground, kind: int, destination: Destination, leg: str) -> Fits:
    studio = ground.survey.studio
    found: Fits = {}
    for trait, socket in enumerate(ground.like):
        if isinstance(socket, OutputPoint) != (leg == "out"):
            continue
        place = studio.units[socket.unit].place
        # The same number out and in is worth more to a loop than a low one.
        low = 0 if destination.kind == "loop" else trait
        if isinstance(socket, OutputPoint):
            wanted = may_go_out.wanted_of(destination, by_hand=destination.id == ground.loose)
            if not may_go_out.obstacles(wanted, may_go_out.where_of(ground.survey, socket, back=socket.end in ground.wired_back)):
                standing = socket.feeds not in ("", "other") or "headphone" in socket.port.carries
                found[kind, trait] = Fit(0, (0 if standing else reach_price(destination.place, place), 0, low))
        elif may_come_back(socket.port):
            found[kind, trait] = Fit(0, (reach_price(destination.place, place), 1 if socket.port.connector == "xlr" else 0, low))
    return found


def _source_places(ground: _Ground, source: Source) -> tuple[Place | None, Place | None]:
    """Return where a source is plugged by the plan, and where it stood when last ticked."""
    survey = ground.survey
    wanted = 1 if source.kind == "digital" else source.channels
    planned = [survey.leads.get((source.id, c)) for c in range(1, wanted + 1)]
    built = [ground.stood.get(SourceEnd(source.id, c)) for c in range(1, wanted + 1)]
    now = _place_at(ground, [c.end for c in planned if c is not None]) if all(planned) else None
    was = _place_at(ground, [end for end in built if end is not None]) if all(built) else None
    return now, was


def _place_at(ground: _Ground, ends: Iterable[PortEnd]) -> Place | None:
    """Return the place some sockets make, or None where one of them leads nowhere."""
    lanes: dict[PortEnd, int] = {}
    entries = []
    for end in ends:
        lanes[end] = lanes.get(end, 0) + 1
        entry = ground.at.get((end, lanes[end]))
        if entry is None:
            return None
        entries.append(entry)
    return tuple(entries)
