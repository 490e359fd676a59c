"""Tidying a seating at no cost: low numbers first and the order of the list, among sockets that cannot be told apart."""

from collections.abc import Iterator

from ennead.planning.seating.problem import Fit, Problem, Seating, Seats, banks_wanted, score

#: How often all are looked at; each round only makes numbers smaller or sets two in order.
_ROUNDS = 4


def renumbered(problem: Problem, seating: Seating) -> Seating:
    """Return a seating that costs the same, on lower numbers and nearer to the order of the list.

    Only demands that have no place of their own, or are away from it, are touched.
    """
    floor = _Taken(problem, seating)
    for _ in range(_ROUNDS):
        if not (floor.sink() | floor.set_in_order()):
            break
    floor.pair_numbers()
    return tuple(floor.seated)


class _Taken:
    """The assignment, and what every switch is needed for."""

    def __init__(self, problem: Problem, seating: Seating) -> None:
        self.problem, self.seated = problem, list(seating)
        self.used = {slot for place in seating for slot, _ in place or ()}
        self.stands = {bank: wish > 0 for bank, wish in banks_wanted(problem, seating).items()}
        self.alike: dict[tuple[object, ...], list[Seats]] = {}
        for place in self._every():
            self.alike.setdefault(self._like(place), []).append(place)

    def _every(self) -> Iterator[Seats]:
        problem = self.problem
        for slot, held in sorted(enumerate(problem.slots), key=lambda s: s[1].number):
            yield from (((slot, face),) for face in range(len(held.faces)))
        for pair in sorted(problem.pairs, key=lambda p: problem.slots[p.left].number):
            yield from (((pair.left, a), (pair.right, b)) for a, b in pair.faces)

    def _like(self, place: Seats) -> tuple[object, ...]:
        """Return what a place is like: its sockets, and all others that lead to the same slots."""
        slots = self.problem.slots
        return tuple((slots[s].faces[f].trait, tuple(sorted(x.trait for x in slots[s].faces))) for s, f in place)

    def _suits(self, demand: int, place: Seats) -> bool:
        """Say whether a demand can sit on a place without any switch being set anew."""
        for entry, fit in zip(place, self.problem.fit(self.problem.demands[demand].kind, place) or (), strict=True):
            bank = self.problem.face(entry).bank
            if fit.wish and bank is not None and self.stands.get(bank, self.problem.banks[bank]) != (fit.wish > 0):
                return False
        return True

    def _movable(self) -> list[int]:
        return [
            i
            for i, (d, place) in enumerate(zip(self.problem.demands, self.seated, strict=True))
            if place is not None and not d.fixed and place not in (d.home, d.numbered)
        ]

    def _number(self, place: Seats) -> int:
        return self.problem.slots[place[0][0]].number

    def sink(self) -> bool:
        """Move demands to the lowest free place like theirs; say whether any moved."""
        moved = False
        for demand in self._movable():
            now = self.seated[demand]
            if now is None:
                continue
            for place in self.alike[self._like(now)]:
                if self._number(place) >= self._number(now):
                    break
                free = all(slot not in self.used or (slot, face) in now for slot, face in place)
                if free and self._suits(demand, place):
                    self.used -= {slot for slot, _ in now}
                    self.used |= {slot for slot, _ in place}
                    self.seated[demand] = place
                    moved = True
                    break
        return moved

    def set_in_order(self) -> bool:
        """Exchange demands so that the list's order is the numbers' order, where that costs nothing; say whether any moved."""
        moved = False
        groups: dict[tuple[object, ...], list[int]] = {}
        for demand in self._movable():
            place = self.seated[demand]
            if place is not None:
                traits = [self.problem.traits[self.problem.face(e).trait] for e in place]
                groups.setdefault(tuple((t.chain, t.strip) for t in traits), []).append(demand)
        for demands in groups.values():
            for at, one in enumerate(demands):
                for other in demands[at + 1 :]:
                    mine, theirs = self.seated[one], self.seated[other]
                    if mine is None or theirs is None or self._number(mine) < self._number(theirs):
                        continue
                    if self._may_exchange(one, mine, other, theirs):
                        self.seated[one], self.seated[other] = theirs, mine
                        moved = True
        return moved

    def pair_numbers(self) -> None:
        """Give mates the same number where that costs nothing: either goes to the other's, or both elsewhere."""
        movable = set(self._movable())
        for one, other in self.problem.mates if self.problem.like_numbers else ():
            mine, theirs = self.seated[one], self.seated[other]
            if mine is None or theirs is None or self._number(mine) == self._number(theirs):
                continue
            choices = [
                {self._number(p): p for p in self._places(i) if self._open(p, now)}
                if i in movable
                else {self._number(now): now}
                for i, now in ((one, mine), (other, theirs))
            ]
            price = score(self.problem, tuple(self.seated))
            here = self._number(mine), self._number(theirs)
            for number in sorted(choices[0].keys() & choices[1].keys(), key=lambda n: (n not in here, n)):
                self.seated[one], self.seated[other] = choices[0][number], choices[1][number]
                apart = not {slot for slot, _ in choices[0][number]} & {slot for slot, _ in choices[1][number]}
                if apart and score(self.problem, tuple(self.seated)) <= price:
                    self.used -= {slot for slot, _ in (*mine, *theirs)}
                    self.used |= {slot for slot, _ in (*choices[0][number], *choices[1][number])}
                    break
                self.seated[one], self.seated[other] = mine, theirs

    def _places(self, demand: int) -> list[Seats]:
        return [p for p in self.problem.places(self.problem.demands[demand]) if self._suits(demand, p)]

    def _open(self, place: Seats, now: Seats) -> bool:
        """Say whether a place is free for the demand that sits at another now."""
        return all(slot not in self.used or any(slot == s for s, _ in now) for slot, _ in place)

    def _may_exchange(self, one: int, mine: Seats, other: int, theirs: Seats) -> bool:
        """Say whether two demands may exchange their places without a rule broken or a price raised."""
        fit, kinds = self.problem.fit, [self.problem.demands[i].kind for i in (one, other)]
        before, after = (fit(kinds[0], mine), fit(kinds[1], theirs)), (fit(kinds[0], theirs), fit(kinds[1], mine))
        if None in after or not (self._suits(one, theirs) and self._suits(other, mine)):
            return False
        return _price(before) == _price(after)


def _price(fits: tuple[tuple[Fit, ...] | None, ...]) -> tuple[int, ...]:
    prices = [fit.prices for held in fits for fit in held or ()]
    return tuple(map(sum, zip(*prices, strict=True)))
