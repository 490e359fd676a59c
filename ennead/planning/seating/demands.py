"""What a session demands of the sockets: a seat for every source, outputs and returns for every destination."""

from collections.abc import Hashable, Iterable
from dataclasses import dataclass, field
from typing import Literal

from ennead.planning.seating.problem import Demand, Fit, Seats
from ennead.planning.seating.problem_builder import ProblemBuilder, on_several_banks
from ennead.planning.seating.reach import CORD, reach_price
from ennead.planning.seating.studio_problem import DemandOwner
from ennead.planning.seating.wired import stands_wired
from ennead.rules import may_go_out
from ennead.rules.may_sit import obstacles, wanted_of, where_of
from ennead.rules.may_sit_beside import may_come_back
from ennead.rules.phantom_reaches_source import touches_phantom
from ennead.rules.source_fits_port import adapters_needed
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import DestinationId
from ennead.studio.session import PRIORITIES, Destination, PlacedDestination, Source
from ennead.survey.input_points import InputPoint
from ennead.survey.output_points import OutputPoint
from ennead.survey.survey import Survey

Fits = dict[tuple[int, int], Fit]


@dataclass
class Demanded:
    """What is gathered, line by line; lines that are alike are of one kind, and the fits of a kind are found once."""

    ground: ProblemBuilder
    demands: list[Demand] = field(default_factory=list)
    asked: list[DemandOwner] = field(default_factory=list)
    apart: list[DemandOwner] = field(default_factory=list)
    fits: Fits = field(default_factory=dict)
    kinds: dict[Hashable, int] = field(default_factory=dict)
    groups: dict[Hashable, int] = field(default_factory=dict)
    loops: dict[DestinationId, int] = field(default_factory=dict)

    def add_source(self, source: Source) -> None:
        """Add a source: a demand, or one that stays where it is."""
        ground = self.ground
        width = source.channels if source.kind == "digital" else 1
        alike = source.kind, source.di, source.phantom, width, source.place, source.preamp, source.outboard
        if alike not in self.kinds:
            self.fits |= _source_fits(ground, len(self.kinds), source)
        kind = self.kinds.setdefault(alike, len(self.kinds))
        now, built = _source_places(ground, source)
        # A line without a group is grouped with its neighbours in the room.
        set_of = ("group", source.group) if source.group else ("place", source.place) if source.place else None
        family = self.groups.setdefault(set_of, len(self.groups)) if set_of else None
        bundle = family if source.coherent and source.group else None
        pair, fixed = (
            source.channels == 2 and source.kind != "digital",
            source.pinned and now is not None and "pins" not in ground.relaxed,
        )
        demand = Demand(kind, pair, PRIORITIES[::-1].index(source.priority), bundle, family, built or now, now, fixed)
        who = DemandOwner(source.id, "source")
        silent = source.pinned and now is None and any((source.id, c) in ground.survey.leads for c in (1, 2))
        if silent or stands_wired(ground.survey, source):
            self.apart.append(who)
            return
        both = demand.pair and not demand.fixed and "pairs" in ground.relaxed
        self.demands += [_half(demand)] * 2 if both else [_fixed_now(demand) if demand.fixed else demand]
        self.asked += [who] * (1 + both)

    def add_destination(self, destination: PlacedDestination, leg: Literal["out", "return"]) -> None:
        """Add a destination's outputs or its return: a demand, one that stays where it is, or none."""
        ground = self.ground
        if destination.id in ground.standing or (
            leg == "return" and (destination.kind != "loop" or "returns" in ground.relaxed)
        ):
            return
        if destination.id in ground.interrupted:
            # The scene takes it apart; where it stands is where it is wanted.
            return
        ends = destination.outputs if leg == "out" else destination.returns
        who = DemandOwner(destination.id, leg)
        if destination.tap and set(ends) & held_by_others(ground.survey, destination):
            # It hears what another sends, on purpose; a tap that has an output to itself holds it like any destination.
            self.apart.append(who)
            return
        if destination.is_wide:
            # A block of its own was looked for before; where none was found, no half of one is.
            return
        many = destination.channels if leg == "out" else destination.backs
        kind = self.kinds.setdefault((leg, destination.kind, destination.place, many), len(self.kinds))
        self.fits |= _destination_fits(ground, kind, destination, leg)
        now = place_at(ground, ends) if ends else None
        # A loop has both legs or none, whatever its numbers are to be.
        mate = self.loops.setdefault(destination.id, len(self.loops)) if destination.kind == "loop" else None
        fixed = destination.pinned and now is not None
        self.demands.append(Demand(kind, many == 2, 1, None, None, now, now, fixed, mate))
        self.asked.append(who)


def demands_of(ground: ProblemBuilder) -> Demanded:
    """Return what the current session demands, in the order of its lists."""
    found = Demanded(ground)
    for source in ground.survey.studio.session_sources:
        found.add_source(source)
    for destination in ground.survey.destinations:
        found.add_destination(destination, "out")
        found.add_destination(destination, "return")
    return found


def held_by_others(survey: Survey, destination: Destination) -> set[PortEnd]:
    """Return the sockets the other destinations of the session have."""
    return {
        end for other in survey.destinations if other.id != destination.id for end in (*other.outputs, *other.returns)
    }


def _fixed_now(demand: Demand) -> Demand:
    """Return a pinned demand with the place it is plugged in as its home: what is pinned is the plan."""
    return Demand(
        demand.kind,
        demand.pair,
        demand.level,
        demand.bundle,
        demand.family,
        demand.numbered,
        demand.numbered,
        fixed=True,
    )


def _half(demand: Demand) -> Demand:
    """Return one side of a stereo demand as a demand of its own."""
    return Demand(demand.kind, False, demand.level, demand.bundle, demand.family)


def _source_fits(ground: ProblemBuilder, kind: int, source: Source) -> Fits:
    studio, relaxed = ground.survey.studio, ground.relaxed
    wanted = wanted_of(source)
    wishes = {
        "needed": int("48 V needed" not in relaxed),
        "forbidden": -int("48 V forbidden" not in relaxed),
        "tolerated": 0,
    }
    found: Fits = {}
    for trait, point in enumerate(ground.like):
        if not isinstance(point, InputPoint) or len(point.drivers) < (
            source.channels if source.kind == "digital" else 1
        ):
            continue
        if any(o.rule not in relaxed for o in obstacles(wanted, where_of(ground.survey, point))):
            continue
        wish = wishes[source.phantom] if touches_phantom(source, point.port) else 0
        bank = point.powered_by.bank_of_port.get(point.powered_port)
        if wish and bank is not None and (point.powered_unit, bank.key) in ground.torn:
            continue
        if wish < 0 and on_several_banks(ground.survey, point):
            continue
        price = reach_price(source.place, studio.units[point.unit].place) + CORD * (point.end in ground.cords)
        found[kind, trait] = Fit(wish, (price, adapters_needed(source, point.port), trait))
    return found


def _destination_fits(ground: ProblemBuilder, kind: int, destination: Destination, leg: str) -> Fits:
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
            if not may_go_out.obstacles(
                wanted, may_go_out.where_of(ground.survey, socket, back=socket.end in ground.wired_back)
            ):
                standing = socket.feeds not in ("", "other") or "headphone" in socket.port.carries
                price = (0 if standing else reach_price(destination.place, place)) + CORD * len(
                    ground.out_cords.get(socket.end, ())
                )
                found[kind, trait] = Fit(0, (price, 0, low))
        elif may_come_back(socket.port):
            found[kind, trait] = Fit(
                0, (reach_price(destination.place, place), 1 if socket.port.connector == "xlr" else 0, low)
            )
    return found


def _source_places(ground: ProblemBuilder, source: Source) -> tuple[Seats | None, Seats | None]:
    """Return where a source is plugged by the plan, and where it stood when last ticked."""
    survey = ground.survey
    wanted = 1 if source.kind == "digital" else source.channels
    planned = [survey.leads.get((source.id, c)) for c in range(1, wanted + 1)]
    built = [ground.stood.get(SourceEnd(source.id, c)) for c in range(1, wanted + 1)]
    now = place_at(ground, [c.end for c in planned if c is not None]) if all(planned) else None
    was = place_at(ground, [end for end in built if end is not None]) if all(built) else None
    return now, was


def place_at(ground: ProblemBuilder, ends: Iterable[PortEnd]) -> Seats | None:
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
