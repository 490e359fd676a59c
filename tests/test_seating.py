"""Seating against brute force with a second, plainer reading of rules and aims; and what it promises of bounds."""

import random
import unittest
from dataclasses import replace
from itertools import product
from unittest.mock import patch

from ennead.planning.seating import linear
from ennead.planning.seating.linear import Watch
from ennead.planning.seating.problem import AIMS, Demand, Face, Fit, Pair, Problem, Slot, Trait, is_legal, score
from ennead.planning.seating.renumbering import renumbered
from ennead.planning.seating.seat import seat
from ennead.planning.seating.variants import held_to, kept_from
from tests.trials import few


def random_slots(dice, traits, banks):
    """Return slots, some with two sockets, whose banks come in twos, cross pairs, or are missing."""
    slots, bank, crossed = [], None, dice.random() < 0.2
    for i in range(dice.randint(2, 8)):
        if i % 2 == 0 or crossed:
            bank = dice.randrange(banks) if banks and dice.random() < 0.7 else None
        trait = dice.randrange(traits) if i % 2 == 0 or dice.random() < 0.3 else slots[-1].faces[0].trait
        faces = [Face(trait, bank)]
        if dice.random() < 0.15:
            faces.append(Face(dice.randrange(traits)))
        slots.append(Slot(tuple(faces), i + 1))
    pairs = []
    for i in range(0, len(slots) - 1, 2):
        ways = [(a, b) for a in range(len(slots[i].faces)) for b in range(len(slots[i + 1].faces))]
        if dice.random() < 0.8:
            pairs.append(Pair(i, i + 1, tuple(sorted(dice.sample(ways, dice.randint(1, len(ways)))))))
    return tuple(slots), tuple(pairs)


def random_problem(seed):
    dice = random.Random(seed)
    traits = tuple(
        Trait(dice.randint(0, 1), dice.randint(0, 1), tuple(dice.sample(("mic", "line"), dice.randint(0, 2))))
        for _ in range(dice.randint(1, 3))
    )
    banks = tuple(dice.random() < 0.4 for _ in range(dice.randint(0, 3)))
    slots, pairs = random_slots(dice, len(traits), len(banks))
    kinds = dice.randint(1, 3)
    fits = {
        (k, t): Fit(dice.choice((0, 0, 1, -1)), (dice.randint(0, 2), dice.randint(0, 1), dice.randint(0, 2)))
        for k in range(kinds)
        for t in range(len(traits))
        if dice.random() < 0.8
    }
    bare = Problem(traits, slots, pairs, banks, (), fits)
    demands, taken, forced = [], set(), {}
    for _ in range(dice.randint(1, 5)):
        kind, pair = dice.randrange(kinds), dice.random() < 0.35
        facts = dice.choice((0, 0, 1)), dice.choice((None, None, 0, 1)), dice.choice((None, 0, 1))
        places = bare.places(Demand(kind, pair))
        home = numbered = None
        fixed = False
        if places and dice.random() < 0.6:
            place = dice.choice(places)
            if not taken & {slot for slot, _ in place}:
                home, numbered = place, place if dice.random() < 0.8 else dice.choice(places)
                taken |= {slot for slot, _ in place}
                wishes = wanted(bare, kind, place)
                if (
                    dice.random() < 0.2
                    and wishes is not None
                    and all(forced.get(b, on) == on for b, on in wishes.items())
                ):
                    fixed = True
                    forced |= wishes
        elif places and dice.random() < 0.2:
            numbered = dice.choice(places)
        demands.append(Demand(kind, pair, *facts, home, numbered, fixed))
    aims = dice.sample(AIMS, len(AIMS))
    spare = {need: dice.randint(0, 3) for need in ("mic", "line") if dice.random() < 0.5}
    return replace(bare, demands=tuple(demands), spare=spare, aims=tuple(aims))


def wanted(problem, kind, place):
    """Return how each switch must stand for a kind on a place, or None where its two sides disagree."""
    found = {}
    for slot, face in place:
        socket = problem.slots[slot].faces[face]
        wish = problem.fits[kind, socket.trait].wish
        if wish and socket.bank is not None and found.setdefault(socket.bank, wish > 0) != (wish > 0):
            return None
    return found


def options(problem, demand, shut=frozenset(), only=None):
    if only is not None:
        return [only]
    if demand.fixed:
        return [demand.home]
    able = {k[1] for k in problem.fits if k[0] == demand.kind}
    sockets = [
        (i, f)
        for i, s in enumerate(problem.slots)
        for f, face in enumerate(s.faces)
        if face.trait in able and i not in shut
    ]
    if not demand.pair:
        return [None, *[(socket,) for socket in sockets]]
    pairs = {(p.left, p.right): p.faces for p in problem.pairs}
    return [None, *[(x, y) for x in sockets for y in sockets if (x[1], y[1]) in pairs.get((x[0], y[0]), ())]]


def with_mates(problem, seed):
    """Return a problem whose slots have each number twice, with up to two twos of demands that must share one."""
    dice = random.Random(seed)
    half = (len(problem.slots) + 1) // 2
    slots = tuple(s._replace(number=i % half + 1) for i, s in enumerate(problem.slots))
    demands = list(problem.demands)
    free = dice.sample(range(len(demands)), len(demands))
    for mate in range(min(2, len(demands) // 2)):
        level = demands[free[-1]].level
        for _ in range(2):
            i = free.pop()
            # Both legs of a loop matter as much as the loop.
            demands[i] = replace(demands[i], mate=mate, level=level)
    return replace(problem, slots=slots, demands=tuple(demands), same_numbers=True)


def halved(problem, seated):
    """Say whether of two mates one has a place and the other none; who stays is not asked."""
    for mate in {d.mate for d in problem.demands} - {None}:
        both = [(d, p) for d, p in zip(problem.demands, seated, strict=True) if d.mate == mate]
        if len({p is None for _, p in both}) == 2 and not any(d.fixed for d, _ in both):
            return True
    return False


def parted(problem, seated):
    """Say whether mates have two numbers, or one of them a place and the other none; who stays is not asked."""
    for mate in {d.mate for d in problem.demands} - {None}:
        both = [(d, p) for d, p in zip(problem.demands, seated, strict=True) if d.mate == mate]
        numbers = [problem.slots[p[0][0]].number if p else None for _, p in both]
        stay = [d.fixed for d, _ in both]
        if all(stay) or numbers[0] == numbers[1] or (any(stay) and None in numbers):
            continue
        return True
    return False


def least(problem, who=None, **but):
    """Try every seating; return the least cost, stage by stage, with one demand kept from some slots or on one place only."""
    best = None
    every = [options(problem, d, **(but if i == who else {})) for i, d in enumerate(problem.demands)]

    def go_on(seated, used, switches):
        nonlocal best
        if len(seated) == len(every):
            if halved(problem, seated) or (problem.same_numbers and parted(problem, seated)):
                return
            value = cost(problem, seated, switches)
            best = value if best is None or value < best else best
            return
        for place in every[len(seated)]:
            slots = {slot for slot, _ in place or ()}
            asks = wanted(problem, problem.demands[len(seated)].kind, place) if place else {}
            if used & slots or asks is None or any(switches.get(b, on) != on for b, on in asks.items()):
                continue
            go_on([*seated, place], used | slots, {**switches, **asks})

    go_on([], set(), {})
    return best


def cost(problem, seated, switches):
    pairs = list(zip(problem.demands, seated, strict=True))

    def trait(entry):
        return problem.slots[entry[0]].faces[entry[1]].trait

    def spread(key, value):
        sets = {}
        for demand, place in pairs:
            if getattr(demand, key) is not None:
                sets.setdefault(getattr(demand, key), set()).update(
                    getattr(problem.traits[trait(e)], value) for e in place or ()
                )
        return sum(max(0, len(held) - 1) for held in sets.values())

    free = [s for i, s in enumerate(problem.slots) if not any(place and i in dict(place) for _, place in pairs)]
    left = {
        need: sum(any(need in problem.traits[f.trait].needs for f in s.faces) for s in free) for need in problem.spare
    }
    aims = {
        "moves": sum(d.home is not None and d.home != p for d, p in pairs),
        "numbers": sum(d.numbered is not None and d.numbered != p for d, p in pairs),
        "skew": spread("bundle", "chain"),
        "together": spread("family", "strip"),
        "wiring": sum(problem.fits[d.kind, trait(e)].prices[0] for d, p in pairs if p and p != d.home for e in p),
        "adapters": sum(problem.fits[d.kind, trait(e)].prices[1] for d, p in pairs if p for e in p),
        "order": sum(problem.fits[d.kind, trait(e)].prices[2] for d, p in pairs if p for e in p),
        "spare": sum(max(0, want - left[need]) for need, want in problem.spare.items()),
        "switches": sum(problem.banks[b] != on for b, on in switches.items()),
    }
    # A loop is left out once, not leg by leg; one of which a leg stays whatever happens is none.
    whole = [
        d.mate for d, _ in pairs if d.mate is not None and any(o.fixed and o.home for o, _ in pairs if o.mate == d.mate)
    ]
    gone = {
        (d.level, ("leg", i) if d.mate is None or d.mate in whole else ("loop", d.mate))
        for i, (d, p) in enumerate(pairs)
        if p is None
    }
    out = [sum(at == level for at, _ in gone) for level in sorted({d.level for d in problem.demands})[::-1]]
    return (*out, *(aims[a] for a in problem.aims))


class AgainstBruteForce(unittest.TestCase):
    def test_every_stage_of_small_cases(self):
        for seed in range(few(70, 500)):
            problem = random_problem(seed)
            found = seat(problem)
            value = tuple(stage.value for stage in found.stages)
            self.assertEqual(value, least(problem), seed)
            self.assertEqual(value, score(problem, found.seating), seed)
            self.assertTrue(found.proven and is_legal(problem, found.seating), seed)
            self.assertEqual(score(problem, renumbered(problem, found.seating)), value, seed)

    def test_stages_that_are_minimised_as_one_come_to_the_same(self):
        # So large models are searched; of these there is no table.
        with patch.object(linear, "_LARGE", 0):
            for seed in range(few(35, 300)):
                problem = random_problem(seed)
                found = seat(problem)
                self.assertEqual(tuple(stage.value for stage in found.stages), least(problem), seed)
                self.assertTrue(found.proven and is_legal(problem, found.seating), seed)
            for seed, calls in product(range(12), (0, 2, 5)):
                problem, left = random_problem(seed), iter(range(calls))
                found = seat(problem, Watch(keep_going=lambda _, left=left: next(left, None) is not None))
                for stage, value in zip(found.stages, least(problem), strict=True):
                    self.assertLessEqual(stage.bound, value)
                    if stage.value != value:
                        break

    def test_mates_have_one_number_whatever_it_costs(self):
        told = 0
        for seed in range(few(60, 120)):
            problem = with_mates(random_problem(seed), seed)
            found = seat(problem)
            value = tuple(stage.value for stage in found.stages)
            self.assertEqual(value, least(problem), seed)
            self.assertEqual(value, score(problem, found.seating), seed)
            self.assertFalse(parted(problem, found.seating), seed)
            self.assertTrue(found.proven and is_legal(problem, found.seating), seed)
            told += value != tuple(s.value for s in seat(replace(problem, same_numbers=False)).stages)
        # Often enough it costs something, or nothing would be tested.
        self.assertGreater(told, few(11, 25))

    def test_no_mate_has_a_place_alone(self):
        told = 0
        for seed in range(300, few(357, 450)):
            problem = replace(with_mates(random_problem(seed), seed), same_numbers=False)
            found = seat(problem)
            value = tuple(stage.value for stage in found.stages)
            self.assertEqual((value, value), (least(problem), score(problem, found.seating)), seed)
            self.assertFalse(halved(problem, found.seating), seed)
            self.assertTrue(found.proven and is_legal(problem, found.seating), seed)
            alone = replace(problem, demands=tuple(replace(d, mate=None) for d in problem.demands))
            told += value != tuple(s.value for s in seat(alone).stages)
        self.assertGreater(told, few(4, 15))

    def test_stopped_while_mates_are_looked_for_nobody_is_parted_and_bounds_are_true(self):
        for seed in range(20):
            problem = with_mates(random_problem(seed), seed)
            best = least(problem)
            for calls in (0, 4, 12):
                left = iter(range(calls))
                found = seat(problem, Watch(keep_going=lambda _, left=left: next(left, None) is not None))
                self.assertFalse(parted(problem, found.seating), seed)
                self.assertTrue(is_legal(problem, found.seating), seed)
                self.assertGreaterEqual(tuple(s.value for s in found.stages), best)
                for stage, value in zip(found.stages, best, strict=True):
                    self.assertLessEqual(stage.bound, value)
                    if stage.value != value:
                        break

    def test_one_kept_from_its_slots_or_held_to_a_place(self):
        asked = 0
        for seed in range(few(65, 150)):
            problem, dice = random_problem(seed), random.Random(seed)
            base = seat(problem).seating
            who = dice.randrange(len(base))
            if base[who] is None or problem.demands[who].fixed:
                continue
            slots = {slot for slot, _ in base[who]}
            away = seat(kept_from(problem, who, sorted(slots))).seating
            self.assertFalse(slots & {slot for slot, _ in away[who] or ()}, seed)
            self.assertEqual(score(problem, away), least(problem, who, shut=slots), seed)
            place = dice.choice(problem.places(problem.demands[who]))
            stays = [d for d in problem.demands if d.fixed]
            if any({s for s, _ in place} & {s for s, _ in d.home} for d in stays) or not goes_with(problem, who, place):
                continue
            held = seat(held_to(problem, who, place)).seating
            self.assertEqual((held[who], score(problem, held)), (place, least(problem, who, only=place)), seed)
            asked += 1
        self.assertGreater(asked, few(15, 40))


def goes_with(problem, who, place):
    """Say whether a place needs its switches as those who stay do, and both its sides alike."""
    asks = wanted(problem, problem.demands[who].kind, place)
    for demand in problem.demands:
        if demand.fixed and asks is not None:
            theirs = wanted(problem, demand.kind, demand.home) or {}
            if any(asks.get(bank, on) != on for bank, on in theirs.items()):
                return False
    return asks is not None


class Stopped(unittest.TestCase):
    def crowd(self):
        """Forty demands, twenty of them wanting 48 V, on eight banks of four of which pairs cross none."""
        slots = tuple(Slot((Face(i // 16, i // 4),), i + 1) for i in range(32))
        pairs = tuple(Pair(i, i + 1) for i in range(0, 32, 2))
        fits = {(0, 0): Fit(1, (1, 0, 0)), (0, 1): Fit(1, (3, 0, 1)), (1, 0): Fit(-1, (2, 0, 0)), (1, 1): Fit(-1)}
        demands = tuple(Demand(i % 2, i % 5 == 0, bundle=i // 6, family=i // 4) for i in range(40))
        return Problem((Trait(0, 0), Trait(1, 1)), slots, pairs, (False,) * 8, demands, fits)

    def test_stopped_at_once_it_leaves_everybody_out_and_claims_nothing(self):
        problem = self.crowd()
        found = seat(problem, Watch(keep_going=lambda _: False))
        self.assertEqual(found.stages[0].value, 40)
        self.assertEqual(found.stages[0].bound, 0)
        self.assertFalse(found.proven)

    def test_stopped_half_way_every_bound_is_true_and_every_rule_kept(self):
        problem = self.crowd()
        whole = seat(problem)
        self.assertTrue(whole.proven)
        # 32 slots, 8 of the 40 stereo: each pair seats one of those or two mono ones, so 8 at least are left out.
        self.assertEqual(whole.stages[0].value, 8)
        for share in (0.1, 0.2, 0.4, 0.7):
            found = seat(problem, Watch(keep_going=lambda part, s=share: part < s))
            self.assertTrue(is_legal(problem, found.seating))
            for stage, best in zip(found.stages, whole.stages, strict=True):
                self.assertLessEqual(stage.bound, stage.value)
                if not stage.proven:
                    break
                self.assertEqual(stage.value, best.value)

    def test_a_limit_leaves_what_is_there_with_bounds_that_could_be(self):
        for limit_s in (0.0, 0.01, 0.05):
            found = seat(self.crowd(), Watch(limit_s=limit_s))
            self.assertTrue(is_legal(self.crowd(), found.seating))
            self.assertTrue(all(0 <= stage.bound <= stage.value for stage in found.stages))
        self.assertFalse(seat(self.crowd(), Watch(limit_s=0.0)).proven)
