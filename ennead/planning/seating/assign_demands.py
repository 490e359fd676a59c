"""Expand a solution over classes: from the count of each class in each pool to a socket for each demand."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ennead.planning.seating.class_model import ClassModel, Kept, PairPool, Pool, live_faces
from ennead.planning.seating.interchangeable_slots import Class, Mark, PairType, class_of, own_places
from ennead.planning.seating.problem import Seating, Seats


class _Wait(NamedTuple):
    """One demand that is to be seated anew in a pool."""

    demand: int
    pools: tuple[Pool, ...]
    pair: PairPool | None
    faces: tuple[int, ...]


class _Assignment:
    """The assignment so far, and the state of every component of slots."""

    def __init__(self, built: ClassModel, values: Sequence[int]) -> None:
        self.built, self.values = built, values
        self.seated: dict[int, Seats] = {}
        self.used: set[int] = set()
        self.state: dict[int, tuple[int, tuple[bool, ...]]] = {}
        self.kept: dict[tuple[int, tuple[bool, ...]], list[Kept]] = {}
        for kept in built.kept:
            if values[kept.use.column]:
                self.kept.setdefault((kept.kind, kept.state), []).append(kept)
        self._cell_of = {slot: cell for kind in built.kinds for cell in kind.cells for slot in cell.slots}
        problem = built.problem
        for i, demand in enumerate(problem.demands):
            if demand.fixed and demand.home is not None:
                self.sit(i, demand.home)

    def sit(self, demand: int, place: Seats) -> None:
        self.seated[demand] = place
        self.used.update(slot for slot, _ in place)

    def stay(self, owners: Mapping[tuple[Seats, Mark], int], slot: int, mark: Mark) -> None:
        """Assign a slot to the demand that has its own mono place on it."""
        place: Seats = ((slot, mark.face[0]),)
        self.sit(owners[place, mark], place)

    def pool_of(self, slot: int) -> Pool:
        """Return the pool a slot belongs to as its cell is set."""
        _, state = self.state[slot]
        at = {bank: i for i, bank in enumerate(self._cell_of[slot].banks)}
        faces = tuple((f.trait, None if f.bank is None else at[f.bank]) for f in self.built.problem.slots[slot].faces)
        return live_faces(faces, state)


def assign_demands(built: ClassModel, values: Sequence[int]) -> Seating:
    """Return a seating with the counts of the model.

    A demand that keeps its own place is assigned to it; the others are assigned in the order of the list on the
    lowest numbers of their pool, so that neighbours in the list are neighbours on the strip.
    """
    floor = _Assignment(built, values)
    owners = _owners(built)
    for index in range(len(built.kinds)):
        _seat_kept(floor, index, owners)
    _seat_fresh(floor)
    return tuple(floor.seated.get(i) for i in range(len(built.problem.demands)))


def _owners(built: ClassModel) -> dict[tuple[Seats, Mark], int]:
    """Return the demand that has a place as its own, by the place's mark."""
    problem = built.problem
    found = {}
    for i, demand in enumerate(problem.demands):
        two = demand.home is not None and demand.numbered is not None and demand.home != demand.numbered
        for place, (home, numbered) in own_places(problem, i).items():
            mark = Mark(class_of(problem, i), home, numbered, tuple(f for _, f in place), i if two else None)
            found[place, mark] = i
    return found


def _seat_kept(floor: _Assignment, index: int, owners: dict[tuple[Seats, Mark], int]) -> None:
    """Set the states of the components of a kind and assign the demands kept in them."""
    built, values = floor.built, floor.values
    kind = built.kinds[index]
    waiting = list(kind.cells)
    # Cells that stay as they are come first: they lie lowest.
    for state in sorted(kind.states, key=lambda s: s != kind.now):
        terms, constant = built.count(index, state)
        number = round(constant + sum(values[c] for c in terms))
        mine, waiting = waiting[:number], waiting[number:]
        for cell in mine:
            floor.state.update(dict.fromkeys(cell.slots, (index, state)))
        for pair, positions in kind.pair_types.items():
            places = [(cell.slots[a], cell.slots[b]) for cell in mine for a, b in positions]
            _seat_pairs(floor, index, state, pair, places, owners)
        for slot, spots in kind.slot_types.items():
            if slot.pair is None:
                single = [cell.slots[a] for cell in mine for a in spots]
                for kept in floor.kept.get((index, state), ()):
                    if kept.type == slot:
                        for _ in range(values[kept.use.column]):
                            floor.stay(owners, single.pop(0), kept.mark)


def _seat_pairs(
    floor: _Assignment,
    index: int,
    state: tuple[bool, ...],
    pair: PairType,
    places: list[tuple[int, int]],
    owners: dict[tuple[Seats, Mark], int],
) -> None:
    """Seat the stereo demands that keep a pair, then the mono ones that keep a side of one."""
    built, values = floor.built, floor.values
    here = floor.kept.get((index, state), [])
    for kept in (k for k in here if k.type == pair):
        for _ in range(values[kept.use.column]):
            left, right = places.pop(0)
            place = ((left, kept.mark.face[0]), (right, kept.mark.face[1]))
            floor.sit(owners[place, kept.mark], place)
    broken = places[: values[built.broken[index, state, pair]]] if (index, state, pair) in built.broken else []
    left_side, right_side = [p[0] for p in broken], [p[1] for p in broken]
    both = [slot for p in broken for slot in p]
    for kept in here:
        slot_pair = getattr(kept.type, "pair", None)
        if slot_pair is None or slot_pair[0] != pair:
            continue
        side = both if pair.alike else left_side if slot_pair[1] == "left" else right_side
        for _ in range(values[kept.use.column]):
            floor.stay(owners, side.pop(0), kept.mark)


def _seat_fresh(floor: _Assignment) -> None:
    """Assign all other demands, in the order of the list, lowest numbers first; mono ones leave pairs to stereo ones."""
    built, problem = floor.built, floor.built.problem
    waits = sorted(_waits(floor))
    free: dict[Pool, list[int]] = {}
    for i in sorted(range(len(problem.slots)), key=lambda s: (problem.slots[s].number, s)):
        if i not in floor.used and i in floor.state:
            free.setdefault(floor.pool_of(i), []).append(i)
    whole: dict[PairPool, list[tuple[int, int]]] = {}
    pair_of: dict[int, tuple[PairPool, tuple[int, int]]] = {}
    offered = {
        (c.slots[a], c.slots[b]): t.faces
        for k in built.kinds
        for t, ps in k.pair_types.items()
        for c in k.cells
        for a, b in ps
    }
    for (left, right), faces in sorted(offered.items(), key=lambda p: problem.slots[p[0][0]].number):
        if not {left, right} & floor.used:
            both = PairPool(floor.pool_of(left), floor.pool_of(right), faces)
            whole.setdefault(both, []).append((left, right))
            pair_of[left] = pair_of[right] = both, (left, right)
    owed: dict[PairPool, int] = {}
    for wait in waits:
        if wait.pair is not None:
            owed[wait.pair] = owed.get(wait.pair, 0) + 1
    for wait in waits:
        if wait.pair is not None:
            left, right = whole[wait.pair].pop(0)
            owed[wait.pair] -= 1
            place: Seats = ((left, wait.faces[0]), (right, wait.faces[1]))
            free[wait.pair.left].remove(left)
            free[wait.pair.right].remove(right)
        else:
            slot = _lowest(free[wait.pools[0]], pair_of, whole, owed)
            free[wait.pools[0]].remove(slot)
            if slot in pair_of and pair_of[slot][1] in whole[pair_of[slot][0]]:
                whole[pair_of[slot][0]].remove(pair_of[slot][1])
            place = ((slot, wait.faces[0]),)
        floor.sit(wait.demand, place)


def _lowest(
    free: list[int],
    pair_of: dict[int, tuple[PairPool, tuple[int, int]]],
    whole: dict[PairPool, list[tuple[int, int]]],
    owed: dict[PairPool, int],
) -> int:
    """Return the lowest free slot that takes no pair from the stereo demands still to come."""
    for slot in free:
        if slot not in pair_of:
            return slot
        both, pair = pair_of[slot]
        if pair not in whole[both] or len(whole[both]) > owed.get(both, 0):
            return slot
    raise AssertionError("the counts of the model leave no slot")


def _waits(floor: _Assignment) -> list[_Wait]:
    """Return the demands newly assigned to each pool, in the order of the list."""
    built, values = floor.built, floor.values
    waiting: dict[Class, list[int]] = {of: [i for i in m if i not in floor.seated] for of, m in built.members.items()}
    found = []
    for (of, place, faces), use in built.fresh.items():
        count = values[use.column]
        mine, waiting[of] = waiting[of][:count], waiting[of][count:]
        pair = place if isinstance(place, PairPool) else None
        found += [_Wait(i, use.pools, pair, faces) for i in mine]
    return found
