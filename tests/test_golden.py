"""Every verb and every question on the demo, a house, older forms and random studios: said as it was written down.

A difference that is meant is written down anew with ``python -m bench.answers``, and read through before it is committed.
"""

import hashlib
import json
import os
import random
import unittest
from functools import partialmethod

from bench.answers import FOLDER, NAMED, RANDOM, answers, as_text, digests
from ennead.planning.clock.arborescence import Edge, cheapest_tree
from ennead.planning.clock.tree_search import TreeSearch
from ennead.planning.seating.seat import seat
from tests.test_seating import random_problem, with_mates
from tests.trials import few

#: Whether what is found is written down anew.
_WRITES = os.environ.get("ENNEAD_GOLDEN") == "write"


class Golden(unittest.TestCase):
    maxDiff = 4_000


def _word_by_word(test, name):
    kept = (FOLDER / f"{name}.txt").read_text(encoding="utf-8")
    # Once an older form is read it is a studio like the demo: here it is asked what is in it, by ``make fuzz`` everything.
    in_part = name.startswith("form-") or name == "demo-finished"
    found = answers(NAMED[name](), what_is_there=in_part)
    test.assertEqual(as_text(found), kept[: kept.index("# clock --policy fewest\n")] if in_part else kept)


def _by_digest(test, family, number, kept):
    studio = RANDOM[family][0](int(number))
    test.assertIsNotNone(studio)
    found = digests(answers(studio))
    differ = [question for question in kept if found.get(question) != kept[question]]
    test.assertEqual((differ, sorted(found)), ([], sorted(kept)), f"see python -m bench.answers {family} {number}")


for _name in NAMED:
    setattr(Golden, f"test_{_name.replace('-', '_')}", partialmethod(_word_by_word, _name))
#: How many of each family are asked here; ``make fuzz`` asks all that are written down.
_FEW = {"evening": 2, "odd": 0, "clock": 2, "mixed": 3}
for _family in RANDOM:
    _rows = json.loads((FOLDER / f"{_family}.json").read_text(encoding="utf-8"))
    for _number, _kept in list(_rows.items())[: _FEW[_family]]:
        setattr(Golden, f"test_{_family}_{_number}", partialmethod(_by_digest, _family, _number, _kept))


class Searches(unittest.TestCase):
    """What the searches come to, and with how much work: a start, a price or an order that is off shows in the effort.

    ``ENNEAD_GOLDEN=write`` writes it down anew.
    """

    def assert_as_written(self, name, rows):
        path = FOLDER / f"{name}.json"
        found = [hashlib.sha256(repr(row).encode()).hexdigest()[:10] for row in rows]
        if _WRITES:
            path.write_text(json.dumps(found) + "\n", encoding="utf-8")
        kept = json.loads(path.read_text(encoding="utf-8"))[: len(rows)]
        self.assertEqual([n for n, (a, b) in enumerate(zip(found, kept, strict=True)) if a != b], [], name)

    def test_trees_within_sockets(self):
        self.assert_as_written("trees", [_tree_effort(seed) for seed in range(160 if _WRITES else few(80, 160))])

    def test_seatings(self):
        problems = [
            random_problem(seed) if seed % 3 else with_mates(random_problem(seed), seed)
            for seed in range(240 if _WRITES else few(120, 240))
        ]
        self.assert_as_written("seatings", [(found.seating, found.stages) for found in map(seat, problems)])


def _tree_effort(seed):
    dice = random.Random(seed)
    nodes, grain = dice.randint(7, 14), dice.choice((0, 20))
    edges, sockets = [], []
    for node in range(nodes):
        for _ in range(dice.choice((1, 1, 2))):
            ends = [n for n in range(1, nodes) if n != node and dice.random() < 0.75]
            edges += [
                Edge(node, n, dice.choice((20, 20, 39, 58)) if grain else dice.choice((1, 2, 5, 9, 14)), len(sockets))
                for n in ends
            ]
            sockets.append(dice.choice((1, 1, 2)))
        edges += [Edge(node, n, 0, -1) for n in range(1, nodes) if n != node and dice.random() < 0.06]
    plain = cheapest_tree(nodes, 0, [(e.start, e.end, e.cost, i) for i, e in enumerate(edges)])
    if plain is None:
        return seed, None
    search = TreeSearch(nodes, 0, edges, sockets, dice.choice((None, None, 3)), grain)
    search.mend(plain)
    mended = search.best, search.cost
    search.grow()
    grown = search.best, search.cost
    lowest = search.price_sockets(search.rounded(search.real(plain)))
    proven = search.branch(lowest, 300, lambda: False)
    return mended, grown, lowest, proven, search.best, search.cost, search.looked_at, search.prices
