"""Large seating problems: boxes of eight with banks and pairs, sources in rooms with groups; from a seed, always the same."""

import random
from dataclasses import replace

from ennead.planning.seating.problem import Demand, Face, Fit, Pair, Problem, Seats, Slot, Trait, is_legal

#: Box type: (share, ports by (kind of socket, how many), size of its 48 V banks, chain).
_BOXES = (
    (6, (("hiz", 2), ("mic", 6)), 4, 0),
    (5, (("mic", 8),), 4, 1),
    (3, (("mic", 8),), 8, 1),
    (2, (("mic", 8),), 1, 2),
    (4, (("line", 8),), 0, 2),
)
_SUITS = {
    "condenser": ("mic", "hiz"),
    "dynamic": ("mic", "hiz"),
    "ribbon": ("mic", "hiz"),
    "line": ("line", "mic", "hiz"),
    "instrument": ("hiz",),
}
_WISH = {"condenser": 1, "ribbon": -1}
_NEEDS = {"mic": ("mic", "line"), "hiz": ("mic", "line", "hiz"), "line": ("line",)}
_ROOMS = 4


def large_case(seed: int, sources: int, inputs: int) -> Problem:
    """Return a problem with nobody placed yet."""
    dice = random.Random(seed)
    traits: dict[tuple[str, int, int], int] = {}
    slots: list[Slot] = []
    pairs: list[Pair] = []
    banks: list[bool] = []
    while len(slots) < inputs:
        ports, size, chain = dice.choices([b[1:] for b in _BOXES], [b[0] for b in _BOXES])[0]
        room = dice.randrange(_ROOMS)
        for i, socket in enumerate(s for s, many in ports for _ in range(many)):
            if size and i % size == 0:
                banks.append(dice.random() < 0.3)
            trait = traits.setdefault((socket, room, chain), len(traits))
            slots.append(Slot((Face(trait, len(banks) - 1 if size else None),), len(slots) + 1))
            if i % 2:
                pairs.append(Pair(len(slots) - 2, len(slots) - 1))
    kinds = [(kind, room) for kind in _SUITS for room in range(_ROOMS)]
    fits = {}
    for k, (kind, room) in enumerate(kinds):
        for (socket, there, _), trait in traits.items():
            if socket in _SUITS[kind]:
                wish = 0 if socket == "line" else _WISH.get(kind, 0)
                adapter = int(kind == "line" and socket == "mic")
                fits[k, trait] = Fit(wish, (1 if room == there else 3, adapter, trait))
    strips: dict[tuple[int, int], int] = {}
    every = tuple(Trait(chain, strips.setdefault((room, chain), len(strips)), _NEEDS[s]) for s, room, chain in traits)
    problem = Problem(
        every, tuple(slots), tuple(pairs), tuple(banks), (), fits, {"mic": inputs // 16, "line": inputs // 8}
    )
    return replace(problem, demands=tuple(_sources(dice, kinds, sources)))


def _sources(dice: random.Random, kinds: list[tuple[str, int]], channels: int) -> list[Demand]:
    """Return sources of about so many channels, in groups that stand in one room each; a third of the groups are coherent."""
    found: list[Demand] = []
    group = left = room = 0
    total = 0
    coherent = False
    while total < channels:
        if not left:
            group, left, room, coherent = group + 1, dice.randint(3, 10), dice.randrange(_ROOMS), dice.random() < 0.34
        kind = dice.choices(list(_SUITS), (40, 25, 8, 20, 7))[0]
        pair = dice.random() < 0.2 and total + 2 <= channels
        level = 1 if dice.random() < 0.1 else 0
        found.append(Demand(kinds.index((kind, room)), pair, level, group if coherent else None, group))
        left, total = left - 1, total + 1 + pair
    return found


def in_order(problem: Problem) -> tuple[Seats | None, ...]:
    """Return how sources are filled in by hand: in the order of the list, each on the first sockets that suit it."""
    seating: list[Seats | None] = [d.home if d.fixed else None for d in problem.demands]
    used = {slot for place in seating for slot, _ in place or ()}
    stands: dict[int, int] = {}

    def wishes(demand: Demand, place: Seats) -> dict[int, int] | None:
        found: dict[int, int] = {}
        for entry, fit in zip(place, problem.fit(demand.kind, place) or (), strict=True):
            bank = problem.face(entry).bank
            if fit.wish and bank is not None:
                if found.get(bank, fit.wish) != fit.wish or stands.get(bank, fit.wish) != fit.wish:
                    return None
                found[bank] = fit.wish
        return found

    for i, demand in enumerate(problem.demands):
        if seating[i] is not None:
            stands |= wishes(demand, seating[i] or ()) or {}
    for i, demand in enumerate(problem.demands):
        if seating[i] is not None:
            continue
        first = [demand.home] if demand.home is not None else []
        for place in (*first, *problem.places(demand)):
            asked = wishes(demand, place)
            if asked is not None and not used & {slot for slot, _ in place}:
                seating[i] = place
                used |= {slot for slot, _ in place}
                stands |= asked
                break
    return tuple(seating)


def half_kept(problem: Problem, seed: int) -> Problem:
    """Return the problem with half of the sources wired where filling in order has put them."""
    dice = random.Random(seed)
    seating = in_order(problem)
    if not is_legal(problem, seating):
        raise AssertionError("filling in order has broken a rule")
    demands = [
        replace(d, home=place, numbered=place) if place is not None and dice.random() < 0.5 else d
        for d, place in zip(problem.demands, seating, strict=True)
    ]
    return replace(problem, demands=tuple(demands))
