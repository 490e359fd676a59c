"""The seating problem as plain numbers: slots, pairs, banks, demands, and what each seating costs."""

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final, NamedTuple


class LeftOut(NamedTuple):
    """The stage of the demands left out on one level of priority.

    Parameters
    ----------
    level : int
        See `Demand`.
    """

    level: int


#: What a stage is about: the demands left out on a level, or one of the aims.
About = LeftOut | str


#: The soft aims, in their default order of importance.
AIMS: Final = ("moves", "skew", "numbers", "wiring", "adapters", "spare", "together", "switches", "order")

#: Aims that are sums of what each demand costs where it sits.
PRICED: Final = ("wiring", "adapters", "order")


class Face(NamedTuple):
    """One socket that leads to a slot.

    Parameters
    ----------
    trait : int
        Sockets of one trait suit the same demands at the same prices.
    bank : int or None
        The 48 V switch that decides whether it is live; None where there is none.
    """

    trait: int
    bank: int | None = None


class Slot(NamedTuple):
    """One driver channel, with the sockets that lead to it; only one of them can be used at a time."""

    faces: tuple[Face, ...]
    number: int = 0


class Pair(NamedTuple):
    """Two neighbouring slots that a stereo demand may take, and the sockets by which.

    Parameters
    ----------
    faces : tuple of (int, int)
        Which socket of the left slot goes with which of the right.
    """

    left: int
    right: int
    faces: tuple[tuple[int, int], ...] = ((0, 0),)


class Trait(NamedTuple):
    """What sockets of one kind have in common beside what suits them.

    Parameters
    ----------
    chain : int
        Sockets of one chain hear the same instant at the same sample.
    strip : int
        Sockets of one strip stand together: one kind of box in one place.
    needs : tuple of str
        Kinds of need a free socket could still serve.
    """

    chain: int = 0
    strip: int = 0
    needs: tuple[str, ...] = ()


class Fit(NamedTuple):
    """How a kind of demand sits on a trait of socket.

    Parameters
    ----------
    wish : int
        1 where 48 V must be on, -1 where it must be off, else 0.
    prices : tuple of int
        Its cost in each of the priced aims.
    """

    wish: int = 0
    prices: tuple[int, ...] = (0,) * len(PRICED)


#: Where a demand sits: (slot, face) once, or twice for a pair.
Seats = tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True)
class Demand:
    """One source or destination to be seated.

    Parameters
    ----------
    kind : int
        Demands of one kind suit the same sockets at the same prices.
    level : int
        Importance: demands of a higher level are left out last.
    bundle : int or None
        The phase-coherent set it belongs to.
    family : int or None
        The set it is read with.
    home : Seats or None
        Where it is wired now.
    numbered : Seats or None
        Where it had the number it is known by.
    fixed : bool
        Whether it stays at home whatever happens.
    mate : int or None
        Two demands of one mate should have the same number where that costs nothing: a loop's send and its return.
    """

    kind: int
    pair: bool = False
    level: int = 0
    bundle: int | None = None
    family: int | None = None
    home: Seats | None = None
    numbered: Seats | None = None
    fixed: bool = False
    mate: int | None = None


@dataclass(frozen=True)
class Problem:
    """Everything that decides where demands may sit and what it costs.

    Parameters
    ----------
    banks : tuple of bool
        Whether each 48 V switch is on now.
    fits : map of (kind, trait) to Fit
        Where there is none, the kind cannot sit on the trait.
    spare : map of need to int
        How many free slots that could serve a need are wished for.
    aims : tuple of str
        The soft aims in their order of importance.
    same_numbers : bool
        Whether mates must have the same number, whatever it costs.
    like_numbers : bool
        Whether mates are given the same number where that costs nothing.
    held : map of int to bool
        Switches that must stand as given in every assignment; `banks` says so of them already.
    """

    traits: tuple[Trait, ...]
    slots: tuple[Slot, ...]
    pairs: tuple[Pair, ...]
    banks: tuple[bool, ...]
    demands: tuple[Demand, ...]
    fits: Mapping[tuple[int, int], Fit]
    spare: Mapping[str, int] = field(default_factory=dict)
    aims: tuple[str, ...] = AIMS
    same_numbers: bool = False
    held: Mapping[int, bool] = field(default_factory=dict)
    like_numbers: bool = True

    @cached_property
    def levels(self) -> tuple[int, ...]:
        """The levels of importance there are, the highest first."""
        return tuple(sorted({d.level for d in self.demands}, reverse=True))

    @cached_property
    def mates(self) -> tuple[tuple[int, int], ...]:
        """The demands that are mates, two by two."""
        by_mate: dict[int, list[int]] = {}
        for i, demand in enumerate(self.demands):
            if demand.mate is not None:
                by_mate.setdefault(demand.mate, []).append(i)
        return tuple((both[0], both[1]) for both in by_mate.values() if len(both) == 2)

    @cached_property
    def mate_keys(self) -> tuple[Hashable, ...]:
        """What tells each demand with a mate from others: neither of two finds a place without the other.

        Two that have no place of their own are like all such two; one that stays whatever happens asks for nothing.
        """
        keys: list[Hashable] = [None] * len(self.demands)
        for mates in self.mates:
            one, other = (self.demands[i] for i in mates)
            if any(d.fixed and d.home is not None for d in (one, other)):
                continue
            own = any(d.home is not None or d.numbered is not None for d in (one, other))
            alike = sorted(map(_likeness, (one, other)))
            keys[mates[0]] = keys[mates[1]] = mates if own else tuple(alike)
        return tuple(keys)

    @cached_property
    def counted_mates(self) -> tuple[tuple[int, int], ...]:
        """The mates that are left out together and count once, the one that counts first; of likes the first in the list."""
        found = []
        for one, other in self.mates:
            if self.mate_keys[one] is not None:
                a, b = (_likeness(self.demands[i]) for i in (one, other))
                found.append((one, other) if a <= b else (other, one))
        return tuple(found)

    @property
    def stages(self) -> tuple[About, ...]:
        """What is minimised one after the other: demands left out level by level, then the aims."""
        return (*map(LeftOut, self.levels), *self.aims)

    def face(self, entry: tuple[int, int]) -> Face:
        """Return the socket of one entry of a place."""
        return self.slots[entry[0]].faces[entry[1]]

    def fit(self, kind: int, place: Seats) -> tuple[Fit, ...] | None:
        """Return how a kind sits on each socket of a place, or None where it cannot."""
        found = []
        for entry in place:
            fit = self.fits.get((kind, self.face(entry).trait))
            if fit is None:
                return None
            found.append(fit)
        return tuple(found)

    def places(self, demand: Demand) -> list[Seats]:
        """Return where a demand may sit by itself, in the order of the slots."""
        if demand.fixed:
            return [demand.home] if demand.home is not None else []
        if demand.pair:
            every: Sequence[Seats] = [((p.left, a), (p.right, b)) for p in self.pairs for a, b in p.faces]
        else:
            every = [((s, f),) for s, slot in enumerate(self.slots) for f in range(len(slot.faces))]
        return [place for place in every if self.fit(demand.kind, place) is not None]


def _likeness(demand: Demand) -> tuple[int, bool, int, str, str]:
    """Return what two demands without a place of their own must share to be alike, as something that can be put in order."""
    return demand.kind, demand.pair, demand.level, repr(demand.bundle), repr(demand.family)


#: Where each demand sits; None for one that is left out.
Seating = tuple[Seats | None, ...]


def banks_wanted(problem: Problem, seating: Seating) -> dict[int, int]:
    """Return the switches that some demand needs on (1) or off (-1); 0 where demands disagree."""
    wanted = {bank: 1 if on else -1 for bank, on in problem.held.items()}
    for demand, place in zip(problem.demands, seating, strict=True):
        for entry, fit in zip(place or (), problem.fit(demand.kind, place or ()) or (), strict=False):
            bank = problem.face(entry).bank
            if fit.wish and bank is not None:
                wanted[bank] = fit.wish if wanted.get(bank, fit.wish) == fit.wish else 0
    return wanted


def is_legal(problem: Problem, seating: Seating) -> bool:
    """Say whether a seating breaks no hard rule."""
    used: set[int] = set()
    for demand, place in zip(problem.demands, seating, strict=True):
        if place is None:
            continue
        if place not in problem.places(demand):
            return False
        for slot, _ in place:
            if slot in used:
                return False
            used.add(slot)
    return 0 not in banks_wanted(problem, seating).values()


def score(problem: Problem, seating: Seating) -> tuple[int, ...]:
    """Return what a seating costs in each stage."""
    demands = list(zip(problem.demands, seating, strict=True))
    out = [p is None for p in seating]
    for one, other in problem.counted_mates:
        out[one], out[other] = out[one] or out[other], False
    found: dict[About, int] = {
        LeftOut(level): sum(d.level == level and gone for d, gone in zip(problem.demands, out, strict=True))
        for level in problem.levels
    }
    found["moves"] = sum(d.home is not None and p != d.home for d, p in demands)
    found["numbers"] = sum(d.numbered is not None and p != d.numbered for d, p in demands)
    found["skew"] = _spread(
        [(d.bundle, problem.traits[problem.face(e).trait].chain) for d, p in demands for e in p or ()]
    )
    found["together"] = _spread(
        [(d.family, problem.traits[problem.face(e).trait].strip) for d, p in demands for e in p or ()]
    )
    for i, aim in enumerate(PRICED):
        found[aim] = sum(
            fit.prices[i] for d, p in demands if costs(aim, d, p) for fit in problem.fit(d.kind, p or ()) or ()
        )
    used = {slot for _, p in demands for slot, _ in p or ()}
    free = [needs_of(problem, slot) for i, slot in enumerate(problem.slots) if i not in used]
    found["spare"] = sum(max(0, want - sum(need in needs for needs in free)) for need, want in problem.spare.items())
    found["switches"] = sum(
        wish != 0 and (wish > 0) != problem.banks[bank] for bank, wish in banks_wanted(problem, seating).items()
    )
    return tuple(found[stage] for stage in problem.stages)


def costs(aim: str, demand: Demand, place: Seats | None) -> bool:
    """Say whether a demand costs anything where it sits: one kept where it is wired needs no new cable."""
    return place is not None and not (aim == "wiring" and place == demand.home)


def needs_of(problem: Problem, slot: Slot) -> frozenset[str]:
    """Return every kind of need a slot could serve by one of its sockets."""
    return frozenset(need for face in slot.faces for need in problem.traits[face.trait].needs)


def _spread(sits: list[tuple[int | None, int]]) -> int:
    """Return how many more values than sets there are."""
    held = {(key, value) for key, value in sits if key is not None}
    return len(held) - len({key for key, _ in held})
