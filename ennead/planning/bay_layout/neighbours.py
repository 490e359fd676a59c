"""Adjacency penalties of a bay layout: microphones beside lines, boxes torn apart, kinds mixed."""

from collections.abc import Mapping, Sequence
from typing import Final, NamedTuple

from ennead.planning.bay_layout.pairing import Bench, Column
from ennead.standards.bays import NEAR_POINTS
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId

#: What each awkward thing weighs. House defaults: a hand that misses by one point is worse than a strip that reads badly.
MIC_BESIDE_LINE: Final = 3.0
BOX_APART: Final = 2.0
LEFT_FROM_RIGHT: Final = 1.0
OUT_OF_ORDER: Final = 0.5
KINDS_MIXED: Final = 1.0
NO_ROOM_TO_GROW: Final = 0.5
FURTHER_BAY: Final = 0.25

#: Free columns wanted beside each kind, for what comes next year. House default.
ROOM: Final = 2


class Nature(NamedTuple):
    """What a socket is, as far as its neighbours mind.

    Parameters
    ----------
    kind : "line" or "outboard"
    level : "mic" or "line"
    row : str
        Of its box; sockets of a row are told apart by `place`, from 0.
    """

    unit: UnitId
    kind: str
    level: str
    row: str
    place: int


class BenchSurroundings(NamedTuple):
    """What a layout stands on.

    Parameters
    ----------
    natures : map of PortEnd to Nature
        Of every socket that is laid out.
    bay_of : tuple of int
        On which bay each column is, from 0, the nearest first.
    others : pair of map of Column to Nature
        What is behind upper and lower points already and is no part of the layout.
    wished : frozenset of PortEnd
        Sockets that everyday pairs or cords of a scene want.
    seats : map of PortEnd to Column
        Where sockets are now that have a point.
    """

    natures: Mapping[PortEnd, Nature]
    bay_of: tuple[int, ...]
    others: tuple[Mapping[Column, Nature], Mapping[Column, Nature]] = ({}, {})
    wished: frozenset[PortEnd] = frozenset()
    seats: Mapping[PortEnd, Column] = {}


class Awkward(NamedTuple):
    """How often each awkward thing is there.

    Parameters
    ----------
    growth : int
        Free columns that lack beside a kind.
    further : int
        Bays that wished sockets are away from the first, all together.
    """

    mics: int = 0
    boxes: int = 0
    sides: int = 0
    order: int = 0
    mixed: int = 0
    growth: int = 0
    further: int = 0

    @property
    def total(self) -> int:
        """All of them counted."""
        return self.mics + self.boxes + self.sides + self.order + self.mixed + self.growth + self.further

    @property
    def weight(self) -> float:
        """All of them weighed."""
        return (
            self.mics * MIC_BESIDE_LINE
            + self.boxes * BOX_APART
            + self.sides * LEFT_FROM_RIGHT
            + self.order * OUT_OF_ORDER
            + self.mixed * KINDS_MIXED
            + self.growth * NO_ROOM_TO_GROW
            + self.further * FURTHER_BAY
        )


def awkward(ground: BenchSurroundings, above: Mapping[PortEnd, Column], below: Mapping[PortEnd, Column]) -> Awkward:
    """Return how often each awkward thing is there in a layout."""
    natures, bay_of = ground.natures, ground.bay_of
    rows: list[list[Nature | None]] = []
    for side, laid in enumerate((above, below)):
        row: list[Nature | None] = [ground.others[side].get(c) for c in range(len(bay_of))]
        for socket, column in laid.items():
            row[column] = natures[socket]
        rows.append(row)
    mics = mixed = 0
    kinds = [frozenset([n.kind for n in pair if n is not None]) for pair in zip(*rows, strict=True)]
    for at in range(1, len(bay_of)):
        if bay_of[at] == bay_of[at - 1]:
            for points in rows:
                one, other = points[at - 1], points[at]
                mics += one is not None and other is not None and one.level != other.level
            mixed += bool(kinds[at] and kinds[at - 1]) and kinds[at] != kinds[at - 1]
    laid_at, counts = (above, below), [0, 0]
    for (way, first), second in links(ground).items():
        if first in laid_at[way] and second in laid_at[way]:
            counts[natures[first].place % 2] += torn(ground, laid_at[way][first], laid_at[way][second])
    far = sum(
        apart(ground, [above[s] for s in outs], [below[s] for s in ins])
        for outs, ins in boxes(ground, laid_at).values()
    )
    further = sum(bay_of[c] for laid in laid_at for s, c in laid.items() if s in ground.wished)
    growth = sum(
        lacking([k for k, here in zip(kinds, bay_of, strict=True) if here == bay]) for bay in dict.fromkeys(bay_of)
    )
    return Awkward(mics, far, counts[0], counts[1], mixed, growth, further)


def links(ground: BenchSurroundings) -> dict[tuple[int, PortEnd], PortEnd]:
    """Return which socket follows which in the row of its box; upper ones are of side 0."""
    by_place = {(n.unit, n.row, n.place): s for s, n in ground.natures.items()}
    return {
        (side, s): by_place[n.unit, n.row, n.place + 1]
        for s, n in ground.natures.items()
        if (n.unit, n.row, n.place + 1) in by_place
        for side in (0, 1)
    }


def torn(ground: BenchSurroundings, first: Column, second: Column) -> bool:
    """Say whether two that follow one another do not stand side by side."""
    return second != first + 1 or ground.bay_of[first] != ground.bay_of[second]


def boxes(
    ground: BenchSurroundings, laid: tuple[Mapping[PortEnd, Column], Mapping[PortEnd, Column]]
) -> dict[UnitId, tuple[list[PortEnd], list[PortEnd]]]:
    """Return the outboard that has outputs above and inputs below, with these."""
    found: dict[UnitId, tuple[list[PortEnd], list[PortEnd]]] = {}
    for side in (0, 1):
        for socket in laid[side]:
            nature = ground.natures[socket]
            if nature.kind == "outboard":
                found.setdefault(nature.unit, ([], []))[side].append(socket)
    return {unit: both for unit, both in found.items() if both[0] and both[1]}


def apart(ground: BenchSurroundings, outs: Sequence[Column], ins: Sequence[Column]) -> bool:
    """Say whether no output of a box stands near an input of it."""
    bay_of = ground.bay_of
    return not any(abs(a - b) <= NEAR_POINTS and bay_of[a] == bay_of[b] for a in outs for b in ins)


def lacking(kinds: Sequence[frozenset[str]]) -> int:
    """Return how many free columns lack beside each kind on one bay, by what its columns hold; a free one serves the kind before it."""
    room: dict[str, int] = {}
    last, run = frozenset[str](), 0
    for held in kinds:
        if held:
            last, run = held, 0
            for kind in held:
                room.setdefault(kind, 0)
        elif run < ROOM:
            run += 1
            for kind in last:
                room[kind] += 1
    return sum(max(0, ROOM - count) for count in room.values())


def at_least(bench: Bench, ground: BenchSurroundings) -> float:
    """Return what no layout is below: what is awkward among that which is soldered already."""
    fixed = bench.fixed_outs, bench.fixed_ins
    there = {s for laid in fixed for s in laid}
    # A box of which one output may still move might come together again.
    whole = {
        unit: both
        for unit, both in boxes(ground, fixed).items()
        if all(s in there for s, n in ground.natures.items() if n.unit == unit)
    }
    far = sum(apart(ground, [fixed[0][s] for s in outs], [fixed[1][s] for s in ins]) for outs, ins in whole.values())
    return awkward(ground, *fixed)._replace(growth=0, boxes=far).weight
