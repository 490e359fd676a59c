"""The linear model over classes: how many of each class of demand sit in each pool of sockets, and how switches stand."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

from ennead.planning.seating.interchangeable_slots import (
    CellKind,
    Class,
    LocalFace,
    Mark,
    PairType,
    SlotType,
    class_of,
    find_kinds,
)
from ennead.planning.seating.linear import Line, Model, Watch
from ennead.planning.seating.problem import PRICED, About, Problem, needs_of

#: Sockets that all new demands see alike: trait, and whether 48 V is on (None where it has none).
Pool = tuple[tuple[int, bool | None], ...]

Terms = dict[int, float]


class PairPool(NamedTuple):
    """Pairs that all new demands see alike."""

    left: Pool
    right: Pool
    faces: tuple[tuple[int, int], ...]


class Use(NamedTuple):
    """A column that seats demands, and what it takes.

    Parameters
    ----------
    pools : tuple of Pool
        The pools it takes a slot of.
    traits : tuple of int
        The traits of the sockets it sits on.
    """

    column: int
    of: Class
    pools: tuple[Pool, ...]
    traits: tuple[int, ...]


@dataclass
class Kept:
    """A column for the demands kept on their own places in components of a kind and state."""

    use: Use
    kind: int
    state: tuple[bool, ...]
    mark: Mark
    type: SlotType | PairType


@dataclass
class ClassModel:
    """The model, and what its columns mean.

    Parameters
    ----------
    states : map of (kind, state) to column
        How many cells of a kind are set to a state; kinds with one state have no column.
    broken : map of (kind, state, pair type) to column
        Pairs of which a kept demand holds one side.
    left_out : map of class to column
    at_start : map of column to int
        The values of other columns while all demands are left out.
    """

    problem: Problem
    kinds: list[CellKind]
    model: Model = field(default_factory=Model)
    states: dict[tuple[int, tuple[bool, ...]], int] = field(default_factory=dict)
    broken: dict[tuple[int, tuple[bool, ...], PairType], int] = field(default_factory=dict)
    kept: list[Kept] = field(default_factory=list)
    fresh: dict[tuple[Class, Pool | PairPool, tuple[int, ...]], Use] = field(default_factory=dict)
    left_out: dict[Class, int] = field(default_factory=dict)
    members: dict[Class, list[int]] = field(default_factory=dict)
    stages: list[tuple[About, Line]] = field(default_factory=list)
    at_start: dict[int, int] = field(default_factory=dict)

    @property
    def uses(self) -> Iterator[Use]:
        """Every column that seats demands."""
        yield from (k.use for k in self.kept)
        yield from self.fresh.values()

    def count(self, kind: int, state: tuple[bool, ...]) -> tuple[Terms, float]:
        """Return how many cells of a kind are in a state, as terms and a constant."""
        column = self.states.get((kind, state))
        return ({}, float(len(self.kinds[kind].cells))) if column is None else ({column: 1.0}, 0.0)

    def start(self) -> list[int]:
        """Return a feasible solution: all demands left out, every switch as it is where it may."""
        values = [0] * len(self.model.upper)
        for column, value in self.at_start.items():
            values[column] = value
        for of, column in self.left_out.items():
            values[column] = len(self.members[of])
        for i, kind in enumerate(self.kinds):
            state = kind.now if kind.now in kind.states else kind.states[0]
            if (i, state) in self.states:
                values[self.states[i, state]] = len(kind.cells)
        return values


def build(problem: Problem, watch: Watch) -> ClassModel | None:
    """Return the model of a problem, its aims not yet laid; None where the time was up before it stood."""
    built = ClassModel(problem, find_kinds(problem))
    for i, demand in enumerate(problem.demands):
        if not demand.fixed or demand.home is None:
            built.members.setdefault(class_of(problem, i), []).append(i)
    for members in built.members.values():
        # Of two classes of mates the same ones are then seated, whichever comes first in the list.
        members.sort(key=lambda i: (problem.demands[i].mate or 0, i))
    for i, kind in enumerate(built.kinds):
        _open_kind(built, i, kind)
    pools, pairs = _capacities(built)
    for of in built.members:
        if watch.asks_to_stop(0.0):
            return None
        _open_class(built, of, pools, pairs)
    _limit(built, pools, pairs)
    _balance(built)
    return built


def live_faces(faces: tuple[LocalFace, ...], state: tuple[bool, ...]) -> Pool:
    """Return a slot's sockets in a state of its cell."""
    return tuple((trait, None if bank is None else state[bank]) for trait, bank in faces)


def suits(problem: Problem, kind: int, face: tuple[int, bool | None]) -> bool:
    """Say whether a kind of demand may sit on a socket as it stands."""
    fit = problem.fits.get((kind, face[0]))
    return fit is not None and (fit.wish == 0 or face[1] is None or face[1] == (fit.wish > 0))


def _open_kind(built: ClassModel, index: int, kind: CellKind) -> None:
    """Add the columns of a kind of component: its states, the demands kept in it, and the pairs these break."""
    model, number = built.model, len(kind.cells)
    if len(kind.states) > 1:
        for state in kind.states:
            built.states[index, state] = model.column(number)
        model.row(number, number, {built.states[index, s]: 1.0 for s in kind.states})
    for state in kind.states:
        for pair, positions in kind.pair_types.items():
            pools = live_faces(pair.left, state), live_faces(pair.right, state)
            for mark in pair.marks:
                _keep(built, index, state, mark, pair, pools, len(positions) * number)
            if pair.left_marks or pair.right_marks:
                built.broken[index, state, pair] = model.column(len(positions) * number)
        for slot, places in kind.slot_types.items():
            for mark in slot.marks:
                _keep(built, index, state, mark, slot, (live_faces(slot.faces, state),), len(places) * number)


def _keep(
    built: ClassModel,
    index: int,
    state: tuple[bool, ...],
    mark: Mark,
    kind: SlotType | PairType,
    pools: tuple[Pool, ...],
    most: int,
) -> None:
    """Add the column of the kept demands, where the state admits them."""
    faces = [pool[f] for pool, f in zip(pools, mark.face, strict=True)]
    if all(suits(built.problem, mark.of[0], face) for face in faces):
        column = built.model.column(most)
        use = Use(column, mark.of, pools, tuple(face[0] for face in faces))
        built.kept.append(Kept(use, index, state, mark, kind))


Capacities = dict[Pool, tuple[Terms, float]]
PairCapacities = dict[PairPool, tuple[Terms, float]]


def _capacities(built: ClassModel) -> tuple[Capacities, PairCapacities]:
    """Return how many slots each pool has and how many pairs each pair pool, as terms and a constant."""
    pools: Capacities = {}
    pairs: PairCapacities = {}
    for i, kind in enumerate(built.kinds):
        for state in kind.states:
            terms, constant = built.count(i, state)
            for slot, positions in kind.slot_types.items():
                key = live_faces(slot.faces, state)
                pools[key] = _plus(pools.get(key, ({}, 0.0)), terms, constant, len(positions))
            for pair, places in kind.pair_types.items():
                both = PairPool(live_faces(pair.left, state), live_faces(pair.right, state), pair.faces)
                pairs[both] = _plus(pairs.get(both, ({}, 0.0)), terms, constant, len(places))
    return pools, pairs


def _plus(capacity: tuple[Terms, float], terms: Terms, constant: float, times: int) -> tuple[Terms, float]:
    for column, factor in terms.items():
        capacity[0][column] = capacity[0].get(column, 0.0) + factor * times
    return capacity[0], capacity[1] + constant * times


def _open_class(built: ClassModel, of: Class, pools: Capacities, pairs: PairCapacities) -> None:
    """Add the columns of a class: how many are seated anew in each pool, and how many are left out."""
    problem, model = built.problem, built.model
    kind, number = of[0], len(built.members[of])
    if of[1]:
        for both in pairs:
            for a, b in both.faces:
                left, right = both.left[a], both.right[b]
                if suits(problem, kind, left) and suits(problem, kind, right):
                    use = Use(model.column(number), of, (both.left, both.right), (left[0], right[0]))
                    built.fresh[of, both, (a, b)] = use
    else:
        for pool in pools:
            for f, face in enumerate(pool):
                if suits(problem, kind, face):
                    built.fresh[of, pool, (f,)] = Use(model.column(number), of, (pool,), (face[0],))
    built.left_out[of] = model.column(number)


def _limit(built: ClassModel, pools: Capacities, pairs: PairCapacities) -> None:
    """Add the rows that keep every pool within its slots and every pair whole or broken."""
    model = built.model
    taken: dict[Pool, Terms] = {pool: {} for pool in pools}
    for use in built.uses:
        for pool in use.pools:
            taken[pool][use.column] = taken[pool].get(use.column, 0.0) + 1.0
    for pool, (terms, constant) in pools.items():
        model.at_most(constant, {**taken[pool], **{c: -f for c, f in terms.items()}})
    gone: dict[PairPool, Terms] = {both: {} for both in pairs}
    for (_, place, _), use in built.fresh.items():
        if isinstance(place, PairPool):
            gone[place][use.column] = 1.0
    by_pair: dict[tuple[int, tuple[bool, ...], PairType], Terms] = {}
    by_slot: dict[tuple[int, tuple[bool, ...], SlotType], Terms] = {}
    for kept in built.kept:
        if isinstance(kept.type, PairType):
            by_pair.setdefault((kept.kind, kept.state, kept.type), {})[kept.use.column] = 1.0
        else:
            by_slot.setdefault((kept.kind, kept.state, kept.type), {})[kept.use.column] = 1.0
    for key, column in built.broken.items():
        by_pair.setdefault(key, {})[column] = 1.0
    for (kind, state, pair), columns in by_pair.items():
        both = PairPool(live_faces(pair.left, state), live_faces(pair.right, state), pair.faces)
        gone[both] |= columns
        _within(built, kind, state, len(built.kinds[kind].pair_types[pair]), columns)
    for (kind, state, slot), columns in by_slot.items():
        _within(built, kind, state, len(built.kinds[kind].slot_types[slot]), columns)
        if slot.pair is not None:
            pair_type: PairType = slot.pair[0]  # type: ignore[index]
            sides = 2.0 if pair_type.alike else 1.0
            model.at_most(0.0, {**columns, built.broken[kind, state, pair_type]: -sides})
    for both, (terms, constant) in pairs.items():
        model.at_most(constant, {**gone[both], **{c: -f for c, f in terms.items()}})


def _within(built: ClassModel, kind: int, state: tuple[bool, ...], each: int, columns: Terms) -> None:
    """Add the row that lets no more stay than there are such places in cells of that state."""
    terms, constant = built.count(kind, state)
    built.model.at_most(constant * each, {**columns, **{c: -f * each for c, f in terms.items()}})


def _balance(built: ClassModel) -> None:
    """Add the rows by which every demand sits once or is left out."""
    seats: dict[Class, Terms] = {of: {} for of in built.members}
    for use in built.uses:
        seats[use.of][use.column] = 1.0
    for of, members in built.members.items():
        terms = seats[of]
        terms[built.left_out[of]] = 1.0
        built.model.row(len(members), len(members), terms)
    _mate(built)
    alone: dict[int, Terms] = {}
    for kept in built.kept:
        if kept.mark.alone is not None:
            alone.setdefault(kept.mark.alone, {})[kept.use.column] = 1.0
    for columns in alone.values():
        built.model.at_most(1.0, columns)


def _mate(built: ClassModel) -> None:
    """Add the rows by which of two mates none is left out alone."""
    model, problem = built.model, built.problem
    classes = {
        (class_of(problem, a), class_of(problem, b)) for a, b in problem.mates if problem.mate_keys[a] is not None
    }
    for one, other in sorted(classes, key=repr):
        if one != other:
            model.row(0, 0, {built.left_out[one]: 1.0, built.left_out[other]: -1.0})
            continue
        twos = model.column(len(built.members[one]) // 2)
        model.row(0, 0, {built.left_out[one]: 1.0, twos: -2.0})
        built.at_start[twos] = len(built.members[one]) // 2


def free_needs(built: ClassModel) -> dict[str, int]:
    """Return how many slots there are that could serve each need, those of demands that stay not counted."""
    problem = built.problem
    stays = {slot for d in problem.demands if d.fixed for slot, _ in d.home or ()}
    counts = dict.fromkeys(problem.spare, 0)
    for i, slot in enumerate(problem.slots):
        if i not in stays:
            for need in needs_of(problem, slot) & counts.keys():
                counts[need] += 1
    return counts


def price(problem: Problem, use: Use, aim: str) -> int:
    """Return what one demand costs on the sockets of a use."""
    index = PRICED.index(aim)
    return sum(problem.fits[use.of[0], trait].prices[index] for trait in use.traits)
