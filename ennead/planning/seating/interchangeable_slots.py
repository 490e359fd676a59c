"""Cells: slots that hang together by a 48 V switch or a pair; cells built alike are interchangeable."""

from collections.abc import Hashable, Iterable, Mapping
from dataclasses import dataclass, field
from itertools import product
from typing import Final, NamedTuple

from ennead.planning.seating.problem import Pair, Problem, Seats

#: Switches that pairs may tie together; a pair that would tie more is not offered.
MOST_SWITCHES: Final = 6

#: What tells one demand from another before it is known where it sits.
Class = tuple[int, bool, int, int | None, int | None, Hashable]


class Mark(NamedTuple):
    """Slots that one demand prefers (its current ones): demands with equal marks are symmetric within one class of components.

    Parameters
    ----------
    home, numbered : bool
        Whether it is wired there, and whether its number is from there.
    face : tuple of int
        The socket of each slot of the place.
    alone : int or None
        The demand itself where it has two places of its own, so that it is like no other.
    """

    of: Class
    home: bool
    numbered: bool
    face: tuple[int, ...]
    alone: int | None


#: A socket as seen from its cell: trait, and which of the cell's switches it hangs on.
LocalFace = tuple[int, int | None]


class SlotType(NamedTuple):
    """Slots of a cell that cannot be told apart."""

    faces: tuple[LocalFace, ...]
    marks: tuple[Mark, ...]
    pair: Hashable


class PairType(NamedTuple):
    """Pairs of a cell that cannot be told apart."""

    left: tuple[LocalFace, ...]
    right: tuple[LocalFace, ...]
    faces: tuple[tuple[int, int], ...]
    marks: tuple[Mark, ...]
    left_marks: tuple[Mark, ...]
    right_marks: tuple[Mark, ...]

    @property
    def alike(self) -> bool:
        """Whether its two sides cannot be told apart."""
        return (self.left, self.left_marks) == (self.right, self.right_marks)


class Cell(NamedTuple):
    """The slots of one cell and its switches, in the order of their numbers."""

    slots: tuple[int, ...]
    banks: tuple[int, ...]


@dataclass
class CellKind:
    """Cells that are built alike.

    Parameters
    ----------
    now : tuple of bool
        How the switches stand.
    states : tuple of tuple of bool
        How they may be set; only such as suit what stays whatever happens.
    slot_types, pair_types : map
        Positions within a cell, by what cannot be told apart.
    """

    now: tuple[bool, ...]
    states: tuple[tuple[bool, ...], ...]
    slot_types: dict[SlotType, list[int]]
    pair_types: dict[PairType, list[tuple[int, int]]]
    cells: list[Cell] = field(default_factory=list)


def class_of(problem: Problem, index: int) -> Class:
    """Return what tells a demand from others, wherever it sits."""
    demand = problem.demands[index]
    return demand.kind, demand.pair, demand.level, demand.bundle, demand.family, problem.mate_keys[index]


def find_kinds(problem: Problem) -> list[CellKind]:
    """Return the kinds of cells, with their cells in the order of the slots."""
    stays = {slot for d in problem.demands if d.fixed for slot, _ in d.home or ()}
    pairs, cells = _tie(problem)
    slot_marks, pair_marks = _marks(problem, pairs)
    forced = forced_banks(problem)
    kinds: dict[Hashable, CellKind] = {}
    for cell in cells:
        inside = [p for p in pairs if p.left in cell.slots and not {p.left, p.right} & stays]
        key, kind = _describe(problem, cell, inside, stays, slot_marks, pair_marks, forced)
        kinds.setdefault(key, kind).cells.append(cell)
    return list(kinds.values())


def forced_banks(problem: Problem) -> dict[int, bool]:
    """Return how switches must stand: those that are held, and for the demands that stay, of which the first decides."""
    forced = dict(problem.held)
    for demand in problem.demands:
        if demand.fixed and demand.home is not None:
            for entry, fit in zip(demand.home, problem.fit(demand.kind, demand.home) or (), strict=False):
                bank = problem.face(entry).bank
                if fit.wish and bank is not None:
                    forced.setdefault(bank, fit.wish > 0)
    return forced


def _tie(problem: Problem) -> tuple[list[Pair], list[Cell]]:
    """Return the pairs that are offered, and the slots tied together by switches and pairs."""
    root = list(range(len(problem.slots)))

    def find(slot: int) -> int:
        while root[slot] != slot:
            root[slot] = slot = root[root[slot]]
        return slot

    first: dict[int, int] = {}
    for i, slot in enumerate(problem.slots):
        for face in slot.faces:
            if face.bank is not None:
                root[find(i)] = find(first.setdefault(face.bank, i))
    held: dict[int, set[int]] = {}
    for bank, slot_index in first.items():
        held.setdefault(find(slot_index), set()).add(bank)
    pairs = []
    for pair in problem.pairs:
        one, other = find(pair.left), find(pair.right)
        banks = held.get(one, set()) | held.get(other, set())
        if one != other and len(banks) > MOST_SWITCHES:
            continue
        pairs.append(pair)
        root[one] = other
        held[other] = banks
    members: dict[int, list[int]] = {}
    for i in range(len(problem.slots)):
        members.setdefault(find(i), []).append(i)
    return pairs, [Cell(tuple(slots), _banks_of(problem, slots)) for slots in members.values()]


def _banks_of(problem: Problem, slots: Iterable[int]) -> tuple[int, ...]:
    return tuple(dict.fromkeys(f.bank for s in slots for f in problem.slots[s].faces if f.bank is not None))


def own_places(problem: Problem, index: int) -> dict[Seats, tuple[bool, bool]]:
    """Return a demand's own places that it may really take, each with whether it is its home and its number's."""
    demand = problem.demands[index]
    if demand.fixed:
        return {}
    own: dict[Seats, tuple[bool, bool]] = {}
    for place in (demand.home, demand.numbered):
        if place is not None and len(place) == 1 + demand.pair and problem.fit(demand.kind, place) is not None:
            own[place] = place == demand.home, place == demand.numbered
    return own


Marks = tuple[dict[int, list[Mark]], dict[tuple[int, int], list[Mark]]]


def _marks(problem: Problem, pairs: list[Pair]) -> Marks:
    """Return the marks of slots and of pairs."""
    offered = {((p.left, a), (p.right, b)) for p in pairs for a, b in p.faces}
    on_slots: dict[int, list[Mark]] = {}
    on_pairs: dict[tuple[int, int], list[Mark]] = {}
    for i, demand in enumerate(problem.demands):
        own = own_places(problem, i)
        two = demand.home is not None and demand.numbered is not None and demand.home != demand.numbered
        for place, (home, numbered) in own.items():
            mark = Mark(class_of(problem, i), home, numbered, tuple(f for _, f in place), i if two else None)
            if not demand.pair:
                on_slots.setdefault(place[0][0], []).append(mark)
            elif place in offered:
                on_pairs.setdefault((place[0][0], place[1][0]), []).append(mark)
    return on_slots, on_pairs


def _describe(
    problem: Problem,
    cell: Cell,
    pairs: list[Pair],
    stays: set[int],
    slot_marks: Mapping[int, list[Mark]],
    pair_marks: Mapping[tuple[int, int], list[Mark]],
    forced: Mapping[int, bool],
) -> tuple[Hashable, CellKind]:
    """Return what a cell is like, and the kind it would found."""
    at = {slot: i for i, slot in enumerate(cell.slots)}
    bank_at = {bank: i for i, bank in enumerate(cell.banks)}
    faces = {
        s: tuple((f.trait, None if f.bank is None else bank_at[f.bank]) for f in problem.slots[s].faces)
        for s in cell.slots
    }
    marks = {s: tuple(sorted(slot_marks.get(s, ()), key=repr)) for s in cell.slots}
    pair_of: dict[int, tuple[PairType, str]] = {}
    pair_types: dict[PairType, list[tuple[int, int]]] = {}
    for pair in pairs:
        own = tuple(sorted(pair_marks.get((pair.left, pair.right), ()), key=repr))
        kind = PairType(faces[pair.left], faces[pair.right], pair.faces, own, marks[pair.left], marks[pair.right])
        pair_types.setdefault(kind, []).append((at[pair.left], at[pair.right]))
        pair_of[pair.left], pair_of[pair.right] = (
            (kind, "" if kind.alike else "left"),
            (kind, "" if kind.alike else "right"),
        )
    slot_types: dict[SlotType, list[int]] = {}
    for slot in cell.slots:
        if slot not in stays:
            slot_types.setdefault(SlotType(faces[slot], marks[slot], pair_of.get(slot)), []).append(at[slot])
    now = tuple(problem.banks[b] for b in cell.banks)
    must = tuple(forced.get(b) for b in cell.banks)
    states = tuple(
        s
        for s in product((False, True), repeat=len(now))
        if all(m in (None, on) for m, on in zip(must, s, strict=True))
    )
    key = (
        now,
        must,
        tuple((t, tuple(p)) for t, p in slot_types.items()),
        tuple((t, tuple(p)) for t, p in pair_types.items()),
    )
    return key, CellKind(now, states, slot_types, pair_types)
