"""What a seating problem stands on: the sockets by slot and face, alike ones told once, and the pairs they make."""

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final

from ennead.planning.seating.corded import Cords
from ennead.planning.seating.corded_outs import OutCords
from ennead.planning.seating.problem import Face, Pair, Trait
from ennead.planning.seating.studio_problem import Point, numbers_of
from ennead.planning.seating.switching import banks_behind, wishes
from ennead.planning.seating.wired import Ways, standing_loops, stands_wired, wired_back
from ennead.rules import may_go_out
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.rules.may_sit_beside import is_output_pair, is_pair
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.survey.input_points import InputPoint
from ennead.survey.interrupted import interruption
from ennead.survey.output_points import OutputPoint
from ennead.survey.survey import Survey

#: Up to so many boxes each is a strip of its own; beyond, boxes of one kind in one place are one.
MOST_STRIPS: Final = 16


@dataclass
class ProblemBuilder:
    """What is gathered on the way from the studio to the problem."""

    survey: Survey
    relaxed: frozenset[str] = frozenset()
    cords: Cords = field(default_factory=dict)
    out_cords: OutCords = field(default_factory=dict)
    sockets: list[list[Point]] = field(default_factory=list)
    faces: list[list[Face]] = field(default_factory=list)
    at: dict[tuple[PortEnd, int], tuple[int, int]] = field(default_factory=dict)
    traits: dict[Hashable, int] = field(default_factory=dict)
    like: list[Point] = field(default_factory=list)
    trait_list: list[Trait] = field(default_factory=list)
    chains: dict[Hashable, int] = field(default_factory=dict)
    strips: dict[Hashable, int] = field(default_factory=dict)
    banks: dict[tuple[UnitId, str], int] = field(default_factory=dict)
    loose: DestinationId | None = None

    @cached_property
    def standing(self) -> dict[DestinationId, Ways]:
        """The loops that stand wired in the house."""
        return standing_loops(self.survey)

    @cached_property
    def interrupted(self) -> frozenset[DestinationId]:
        """The loops at a box of their own that the scene alone takes apart."""
        open_now = [d for d in self.survey.destinations if d.at and not (d.outputs and d.returns)]
        return frozenset([d.id for d in open_now if interruption(self.survey, d) is not None])

    @cached_property
    def wired_back(self) -> frozenset[PortEnd]:
        """The outputs behind which a box stands that is wired back."""
        return wired_back(self.survey)

    @cached_property
    def theirs(self) -> frozenset[PortEnd]:
        """The outputs of destinations that no loop of theirs holds in place; and of the loop that is to go where it is told."""
        there = [d for d in self.survey.destinations if d.id not in self.standing]
        found = {end for d in there for end in d.outputs}
        if self.loose is not None:
            found |= {PortEnd(way.output[0], way.output[1]) for loop in self.survey.wired_loops for way in loop.ways}
        return frozenset(found)

    @cached_property
    def torn(self) -> frozenset[tuple[UnitId, str]]:
        """The 48 V switches that standing wiring needs both on and off: a source with a need of 48 V is better placed elsewhere."""
        survey, wanted = self.survey, dict[tuple[UnitId, str], set[int]]()
        for source in survey.studio.session_sources:
            if stands_wired(survey, source):
                held = [survey.leads.get((source.id, c)) for c in range(1, source.channels + 1)]
                more = [
                    lead for c in range(1, source.channels + 1) for lead in survey.further_leads.get((source.id, c), ())
                ]
                ends = [lead.end for lead in (*held, *more) if lead is not None]
                for bank, wish in wishes(survey, source, ends):
                    wanted.setdefault(bank, set()).add(wish)
        return frozenset([bank for bank, asked in wanted.items() if len(asked) == 2])

    @cached_property
    def stood(self) -> dict[SourceEnd, PortEnd]:
        """Where each channel of a source stood when last ticked."""
        cables = [stood.cable for stood in self.survey.studio.stood.values()]
        return {c.start: c.end for c in cables if isinstance(c.start, SourceEnd) and isinstance(c.end, PortEnd)}


def gather_inputs(ground: ProblemBuilder, shut: set[PortEnd]) -> None:
    """Gather the inputs a source or a return could have; those that are shut are left out."""
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
            "in",
            point.carries,
            port.connector,
            port.is_digital,
            len(point.drivers),
            bank is not None,
            port.phantom_on_xlr_only,
            chain,
            _strip(ground, point),
            survey.studio.units[point.unit].place,
            point.profile.id,
            point.powered_by.id,
            point.unit if any(s.preamp == point.unit for s in survey.studio.session_sources) else None,
            frozenset(asked.intersection(way.passes)),
            point.end in ground.cords,
            bank is not None and (point.powered_unit, bank.key) in ground.torn,
            on_several_banks(survey, point),
        )
        slot = by_drivers.setdefault(numbers_of(point), len(ground.sockets))
        switch = None if bank is None else ground.banks.setdefault((point.powered_unit, bank.key), len(ground.banks))
        _add(ground, slot, point, like, chain, switch, _needs(point, live=bank is not None))


def on_several_banks(survey: Survey, point: InputPoint) -> bool:
    """Say whether several 48 V switches reach a socket, by a lead that is split to preamps: all would have to be off for a source that forbids it."""
    return point.powered_unit != point.unit and len(set(banks_behind(survey, point.end))) > 1


def _needs(point: InputPoint, *, live: bool) -> tuple[str, ...]:
    """Return the kinds of spare input a socket counts as."""
    found = ["all", *(n for n in ("mic", "line", "hiz") if n in point.carries)]
    return (*found, "phantom") if live and "mic" in point.carries else tuple(found)


def gather_outputs(ground: ProblemBuilder, shut: set[PortEnd]) -> None:
    """Gather the outputs a destination could have; those kept for the monitors, out of service or shut are left out."""
    survey = ground.survey
    if not survey.studio.current.destinations:
        return
    by_number: dict[int, int] = {}
    first = len(ground.sockets)
    session, destinations = survey.studio.current, survey.destinations
    kept = kept_for_mains(session, destinations, survey.output_points)
    busy = _busy(ground)
    for point in survey.output_points:
        if (point.driver.unit, point.driver.channel.index) in busy and point.end not in ground.theirs:
            continue
        where = may_go_out.where_of(survey, point, back=point.end in ground.wired_back, kept=point.number in kept)
        if where.kept or where.fault or point.end in shut:
            continue
        unit = survey.studio.units[point.unit]
        chain = _chain(ground, point.unit, point.delay, point.port.key)
        like = (
            "out",
            where,
            point.port.connector,
            point.port.channels,
            chain,
            _strip(ground, point),
            unit.place,
            point.end in ground.out_cords,
        )
        slot = by_number.setdefault(point.number, max(first, len(ground.sockets)))
        _add(ground, slot, point, like, chain, None, ())


def _busy(ground: ProblemBuilder) -> set[tuple[UnitId, int]]:
    """Return the driver channels on which loops run that stand, claimed or not: all sockets of them are in use, mirrored ones too."""
    return {(way.interface, way.number) for loop in ground.survey.wired_loops for way in loop.ways}


def _add(
    ground: ProblemBuilder,
    slot: int,
    socket: Point,
    like: Hashable,
    chain: int,
    bank: int | None,
    needs: tuple[str, ...],
) -> None:
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


def _chain(ground: ProblemBuilder, converter: str, delay: float | None, port: str) -> int:
    """Return what time a socket's signal arrives at: units in step with equal stated delays hear the same instant."""
    survey = ground.survey
    clocks = survey.clocks.by_unit
    leader = clocks[converter].leader if converter in clocks else None  # type: ignore[index]
    when: Hashable = delay if delay is not None else (survey.profiles[converter].id, port[:3])  # type: ignore[index]
    return ground.chains.setdefault((leader or converter, when), len(ground.chains))


def _strip(ground: ProblemBuilder, socket: Point) -> int:
    studio = ground.survey.studio
    if len(studio.units) <= MOST_STRIPS:
        key: Hashable = socket.unit
    else:
        key = socket.profile.id, studio.units[socket.unit].place
    return ground.strips.setdefault(key, len(ground.strips))


def neighbours(ground: ProblemBuilder) -> tuple[Pair, ...]:
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


def _make_pair(one: Point, other: Point) -> bool:
    if isinstance(one, InputPoint) and isinstance(other, InputPoint):
        return len(one.drivers) == 1 == len(other.drivers) and is_pair(one, other)
    return isinstance(one, OutputPoint) and isinstance(other, OutputPoint) and is_output_pair(one, other)
