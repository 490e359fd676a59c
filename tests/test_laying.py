"""Layouts against the order in which units were added, and against every layout there is on small benches."""

import random
import unittest
from itertools import permutations

from ennead.checks.all_checks import find_all
from ennead.demo.skerry import skerry
from ennead.edits.as_built import untick_cable
from ennead.edits.bays import add_bay
from ennead.edits.house import add_unit
from ennead.edits.scenes import choose_scene
from ennead.files.profiles import shelf_profile
from ennead.planning.laying.layout import NoLayout, candidates, lay_out, layout_text
from ennead.planning.laying.pairing import Bench, in_order, lay, saved_by
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import SceneId, UnitId
from ennead.survey.survey import Survey
from tests.builders import end

Wishes = dict[tuple[PortEnd, PortEnd], float]


def random_bench(dice: random.Random, most: int, columns: int) -> tuple[Bench, Wishes]:
    """Return sockets of which some are soldered, points of which some are shut, and wishes of tonight and of other evenings."""
    outs = tuple(end("U1", f"o{n}") for n in range(dice.randint(0, most)))
    ins = tuple(end("U2", f"i{n}") for n in range(dice.randint(0, most)))
    wide = dice.randint(max(len(outs), len(ins), 1), columns)
    fixed = []
    for sockets in (outs, ins):
        places = dice.sample(range(wide), wide)
        fixed.append({s: places.pop() for s in sockets if dice.random() < 0.35})
    room = [wide - len(outs), wide - len(ins)]
    shut = []
    for held, left in zip(fixed, room, strict=True):
        free = [c for c in range(wide) if c not in held.values()]
        shut.append(frozenset(dice.sample(free, dice.randint(0, min(1, left)))))
    wishes = {(o, i): float(dice.choice((1, 1, 2, 3))) for o in outs for i in ins if dice.random() < 0.4}
    return Bench(outs, ins, fixed[0], fixed[1], wide, shut[0], shut[1]), wishes


class Laying(unittest.TestCase):
    def check(self, bench: Bench, above: dict[PortEnd, int], below: dict[PortEnd, int]) -> None:
        for sockets, held, fixed, shut in (
            (bench.outs, above, bench.fixed_outs, bench.shut_above),
            (bench.ins, below, bench.fixed_ins, bench.shut_below),
        ):
            self.assertEqual(set(held), set(sockets))
            self.assertEqual(len(set(held.values())), len(held))
            self.assertLessEqual(set(held.values()), set(range(bench.columns)) - shut)
            self.assertEqual({s: held[s] for s in fixed}, dict(fixed))

    def test_small_benches_save_what_the_best_of_all_layouts_saves(self) -> None:
        proven = 0
        for seed in range(250):
            bench, wishes = random_bench(random.Random(seed), 4, 5)
            laid = lay(bench, wishes)
            assert laid is not None
            self.check(bench, dict(laid.above), dict(laid.below))
            best = 0.0
            for places in permutations(range(bench.columns), len(bench.outs)):
                above = dict(zip(bench.outs, places, strict=True))
                if any(above[s] != c for s, c in bench.fixed_outs.items()) or set(places) & bench.shut_above:
                    continue
                for under in permutations(range(bench.columns), len(bench.ins)):
                    below = dict(zip(bench.ins, under, strict=True))
                    if not any(below[s] != c for s, c in bench.fixed_ins.items()) and not set(under) & bench.shut_below:
                        best = max(best, saved_by(above, below, wishes))
            self.assertLessEqual(laid.saved, best)
            self.assertGreaterEqual(laid.bound, best, seed)
            if laid.saved == laid.bound:
                proven += 1
                self.assertEqual(laid.saved, best)
        self.assertGreater(proven, 225)

    def test_never_worse_than_the_order_in_which_units_were_added(self) -> None:
        better = 0
        for seed in range(200):
            bench, wishes = random_bench(random.Random(1_000 + seed), 40, 48)
            laid, plain = lay(bench, wishes), in_order(bench)
            assert laid is not None
            assert plain is not None
            self.check(bench, dict(laid.above), dict(laid.below))
            self.assertGreaterEqual(laid.saved, saved_by(plain.above, plain.below, wishes))
            better += laid.saved > saved_by(plain.above, plain.below, wishes)
        self.assertGreater(better, 150)
        crowded = Bench((end("U1", "a"), end("U1", "b")), (), {}, {}, 1)
        self.assertEqual((lay(crowded, {}), in_order(crowded)), (None, None))


def planned(studio: Studio) -> Studio:
    """Return the demo with nothing soldered behind its points yet."""
    for key in list(studio.as_built.cables):
        if key in studio.cables and any(
            isinstance(p, PortEnd) and p.unit in studio.bays for p in studio.cables[key].plugs
        ):
            studio = untick_cable(studio, key)
    return studio


def arriving(studio: Studio) -> dict[str, dict[str, tuple[str, ...]]]:
    """Return for each scene, and for none, which boxes every source passes on its way to which driver input."""
    found = {}
    for scene in ("", *studio.scenes):
        survey = Survey(choose_scene(studio, SceneId(scene)))
        found[scene] = {
            str(r.source): (*(s.unit for s in r.stops if s.unit and s.unit not in studio.bays), str(r.driver.number))
            for r in survey.runs
            if r.driver
        }
    return found


class Studios(unittest.TestCase):
    def test_a_layout_leaves_every_line_as_it_was_in_every_scene(self) -> None:
        demo = planned(skerry())
        for scene in ("", *demo.scenes):
            studio = choose_scene(demo, SceneId(scene))
            found = lay_out(studio)
            after = found.change.apply(studio)
            self.assertEqual(arriving(after), arriving(studio))
            self.assertLess(found.cords_after, found.cords_before)
            self.assertEqual((found.saved, found.saved >= found.plain), (found.bound, True))
            self.assertEqual([f for f in find_all(Survey(after)) if f.sheet == "Bays" and f.severity == "trouble"], [])
            self.assertEqual(after.scene, studio.scene)
            self.assertEqual(lay_out(after).change.steps, ())
            bay = after.bays[UnitId("U19")]
            label = [label for b in after.bays.values() for label in b.labels.values() if label.first == "Winch out"]
            self.assertEqual((len(label), "Winch out" in [x.first for x in bay.labels.values()]), (1, False))

    def test_what_is_soldered_stays_and_boxes_are_brought(self) -> None:
        self.assertEqual(lay_out(skerry()).change.steps, ())
        studio = add_unit(skerry(), shelf_profile("mono equaliser"), "Davit")
        davit = UnitId(f"U{studio.counters['U']}")
        self.assertEqual(candidates(studio), (davit,))
        found = lay_out(studio, [davit])
        after = found.change.apply(studio)
        self.assertEqual((found.moved, found.laid), (0, 2))
        self.assertEqual(len(after.cables) - len(studio.cables), 2)
        self.assertTrue(all(studio.cables[c] is after.cables[c] for c in studio.cables))
        self.assertEqual(arriving(after), arriving(studio))
        self.assertIn("2 sockets come to the bays, nothing soldered moves", layout_text(found))
        small = add_bay(
            add_unit(add_unit(empty_studio(), shelf_profile("mono equaliser")), shelf_profile("mono equaliser")), "A", 1
        )
        with self.assertRaisesRegex(NoLayout, "2 outputs and 2 inputs do not fit on 1 columns"):
            lay_out(small, candidates(small))
