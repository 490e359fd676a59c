"""Layouts against the order in which units were added, and against every layout there is on small benches."""

import random
import unittest
from collections.abc import Iterator
from contextlib import suppress
from itertools import permutations

from ennead.checks.all_checks import find_all
from ennead.demo.skerry import skerry
from ennead.edits.as_built import tick_cable, untick_cable
from ennead.edits.bays import add_bay, set_normal
from ennead.edits.cables import connect, disconnect, make_up
from ennead.edits.house import add_unit, mark_fault, remove_unit
from ennead.edits.scenes import add_scene, choose_scene, lay_cord
from ennead.edits.session import add_source
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf_profile
from ennead.planning.bay_layout.bench_of import beside, candidates, ground_of
from ennead.planning.bay_layout.kept import as_kept
from ennead.planning.bay_layout.layout import NoLayout, lay_out
from ennead.planning.bay_layout.layout_texts import layout_text, neighbour_texts
from ennead.planning.bay_layout.local_search import improved, in_blocks
from ennead.planning.bay_layout.neighbours import Awkward, BenchSurroundings, Nature, at_least, awkward, lacking
from ennead.planning.bay_layout.pairing import Bench, in_order, lay, saved_by
from ennead.reports.sheet_of import sheet_of
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import LineEnd, PortEnd, SourceEnd, Wire
from ennead.studio.ids import CableId, SceneId, SourceId, UnitId
from ennead.studio.record import replace
from ennead.survey.paths_out import is_ear
from ennead.survey.survey import Survey
from ennead.survey.walk import reach
from tests.builders import INTERFACE, end, plug, rig
from tests.trials import few

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
            best = max(saved_by(above, below, wishes) for above, below in every_layout(bench))
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


def random_ground(dice: random.Random, bench: Bench, wishes: Wishes) -> BenchSurroundings:
    """Return boxes of all kinds for the sockets of a bench, on one bay or two."""
    natures = {}
    for n, socket in enumerate((*bench.outs, *bench.ins)):
        unit = dice.choice(("U1", "U2", "U3", "U4"))
        natures[socket] = Nature(
            UnitId(unit), "outboard" if unit in ("U2", "U3") else "line", "mic" if unit == "U4" else "line", "row", n
        )
    cut = dice.randint(1, bench.columns)
    others = tuple(
        {c: Nature(UnitId("U9"), "line", "mic", "", 0) for c in shut if dice.random() < 0.5}
        for shut in (bench.shut_above, bench.shut_below)
    )
    wished = frozenset(s for pair in wishes for s in pair)
    return BenchSurroundings(natures, tuple(int(c >= cut) for c in range(bench.columns)), others, wished)


def every_layout(bench: Bench) -> Iterator[tuple[dict[PortEnd, int], dict[PortEnd, int]]]:
    """Yield every layout of a small bench."""
    for places in permutations(range(bench.columns), len(bench.outs)):
        above = dict(zip(bench.outs, places, strict=True))
        if any(above[s] != c for s, c in bench.fixed_outs.items()) or set(places) & bench.shut_above:
            continue
        for under in permutations(range(bench.columns), len(bench.ins)):
            below = dict(zip(bench.ins, under, strict=True))
            if not any(below[s] != c for s, c in bench.fixed_ins.items()) and not set(under) & bench.shut_below:
                yield above, below


class Neighbours(unittest.TestCase):
    def test_small_benches_are_no_more_awkward_than_what_they_begin_with_and_mostly_least_of_all(self) -> None:
        least = several = 0
        for seed in range(120):
            dice = random.Random(9_000 + seed)
            bench, wishes = random_bench(dice, 3, 5)
            ground = random_ground(dice, bench, wishes)
            laid = lay(bench, wishes)
            assert laid is not None
            blocks = in_blocks(bench, ground, wishes, laid, 1)
            starts = [laid] if blocks is None else [laid, blocks]
            found = improved(bench, ground, wishes, starts)
            self.assertEqual(found.weight, awkward(ground, found.laid.above, found.laid.below).weight, seed)
            self.assertLessEqual(found.weight, awkward(ground, laid.above, laid.below).weight)
            self.assertEqual(found.laid.saved, saved_by(found.laid.above, found.laid.below, wishes))
            self.assertGreaterEqual(found.laid.saved, laid.saved)
            self.assertEqual(set(found.laid.above), set(bench.outs))
            self.assertEqual({s: found.laid.below[s] for s in bench.fixed_ins}, dict(bench.fixed_ins))
            self.assertFalse(set(found.laid.above.values()) & bench.shut_above)
            best = min(
                awkward(ground, a, b).weight
                for a, b in every_layout(bench)
                if saved_by(a, b, wishes) >= found.laid.saved
            )
            self.assertLessEqual(found.least, best, seed)
            self.assertLessEqual(best, found.weight, seed)
            several += 1
            least += found.weight == best
        self.assertGreater(least, 0.85 * several, (least, several))

    def test_what_is_awkward_is_counted_as_on_paper(self) -> None:
        """Two mics, an interface's two outputs, a box with one way in and out, on bays of four columns."""
        mic1, mic2, out1, out2, back, send = (
            end("U1", "m1"),
            end("U1", "m2"),
            end("U2", "o1"),
            end("U2", "o2"),
            end("U3", "o"),
            end("U3", "i"),
        )
        natures = {
            s: Nature(s.unit, "outboard" if s.unit == "U3" else "line", "mic" if s.unit == "U1" else "line", row, place)
            for s, row, place in (
                (mic1, "a", 0),
                (mic2, "a", 1),
                (out1, "a", 0),
                (out2, "a", 1),
                (back, "out", 0),
                (send, "in", 0),
            )
        }
        ground = BenchSurroundings(natures, (0, 0, 0, 0, 1, 1, 1, 1), wished=frozenset({out1}))
        for above, below, told in (
            ({mic1: 0, mic2: 1, out1: 2, out2: 3, back: 4}, {send: 4}, Awkward(mics=1, growth=2)),
            ({mic1: 0, mic2: 1, out1: 4, out2: 5, back: 3}, {send: 3}, Awkward(further=1, growth=1 + 2)),
            (
                {mic1: 0, mic2: 2, out1: 4, out2: 7, back: 6},
                {send: 1},
                Awkward(boxes=1, sides=2, mixed=3, further=1, growth=6),
            ),
            ({mic1: 1, mic2: 0, out1: 5, out2: 4}, {}, Awkward(sides=2, further=1)),
        ):
            found = awkward(ground, above, below)
            self.assertEqual(found, told)
        self.assertEqual(Awkward(1, 1, 1, 1, 1, 1, 1).weight, 3 + 2 + 1 + 0.5 + 1 + 0.5 + 0.25)
        line, box, none = frozenset({"line"}), frozenset({"outboard"}), frozenset[str]()
        for kinds, lacks in (
            ([line, line], 2),
            ([line, none, box, none, none], 1),
            ([none, line, none, none, line], 0),
            ([], 0),
        ):
            self.assertEqual(lacking(kinds), lacks)

    def test_nothing_is_below_what_is_soldered_but_a_box_that_may_still_come_together(self) -> None:
        one, two, send = end("U3", "o1"), end("U3", "o2"), end("U3", "i")
        natures = {
            s: Nature(s.unit, "outboard", "line", row, n)
            for s, row, n in ((one, "out", 0), (two, "out", 1), (send, "in", 0))
        }
        for outs, least in (((one,), 2.0), ((one, two), 0.0)):
            ground = BenchSurroundings({s: natures[s] for s in (*outs, send)}, (0,) * 8)
            self.assertEqual(at_least(Bench(outs, (send,), {one: 0}, {send: 7}, 8), ground), least)

    def test_it_can_be_stopped_and_says_how_far_it_is(self) -> None:
        bench, wishes = random_bench(random.Random(5), 40, 48)
        laid = lay(bench, wishes)
        assert laid is not None
        ground, told = random_ground(random.Random(5), bench, wishes), list[float]()
        self.assertEqual(
            improved(bench, ground, wishes, [laid], lambda part: bool(told.append(part))).laid.saved, laid.saved
        )
        self.assertEqual(len(told), 1)
        self.assertTrue(0 < told[0] < 1)


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
            for r in survey.signal_paths
            if r.driver
        }
    return found


def shuffled(dice: random.Random) -> Studio:
    """Return the demo with some rears behind other points, and cords at random in every scene."""
    studio = planned(skerry())
    rears = [
        c
        for c in studio.cables.values()
        if c.is_plain and any(studio.is_point(p) for p in c.plugs if isinstance(p, PortEnd))
    ]
    for cable in dice.sample(rears, dice.randint(0, 12)):
        side = 0 if studio.is_point(cable.plugs[1]) else 1
        bay = dice.choice(list(studio.bays.values()))
        point = PortEnd(bay.id, dice.choice(bay.rows[side]))
        ends = (cable.start, point) if side == 0 else (point, cable.end)
        with suppress(EnneadError):
            studio = connect(disconnect(studio, cable.id), *ends)
    for scene in list(studio.scenes):
        studio = choose_scene(studio, scene)
        for _ in range(dice.randint(0, 3)):
            upper, lower = (dice.choice(list(studio.bays.values())) for _ in range(2))
            with suppress(EnneadError):
                studio = lay_cord(
                    studio, PortEnd(upper.id, dice.choice(upper.rows[0])), PortEnd(lower.id, dice.choice(lower.rows[1]))
                )
    return choose_scene(studio, dice.choice([SceneId(""), *studio.scenes]))


def with_leads_of_lines(studio: Studio, dice: random.Random) -> Studio:
    """Return a studio with four scenes at least, and sources soldered straight to points, some by a lead to two of them."""
    points = [PortEnd(unit, key) for unit, bay in studio.bays.items() for row in bay.rows for key in row]
    while len(studio.scenes) < 4:
        studio = add_scene(studio, f"Scene {len(studio.scenes)}")
        for _ in range(3):
            with suppress(EnneadError):
                studio = lay_cord(studio, *dice.sample(points, 2))
    for n in range(9):
        studio = add_source(studio, f"Line {n}", kind=dice.choice(("dynamic", "line")))
        key = SourceId(f"S{studio.counters['S']}")
        with suppress(EnneadError):
            if n < 5:
                studio = connect(studio, SourceEnd(key), dice.choice(points))
            else:
                lead = [LineEnd(key), *dice.sample(points, 2)]
                studio = make_up(studio, lead, [Wire(0, 1, 1, 1), Wire(0, 1, 2, 1)])
    return choose_scene(studio, dice.choice([SceneId(""), *studio.scenes]))


def sounding(studio: Studio) -> dict[tuple[object, ...], object]:
    """Return for each scene at which number each line arrives, and which ears each analogue output reaches, by all its ways."""
    found: dict[tuple[object, ...], object] = {}
    for scene in ("", *studio.scenes):
        survey = Survey(choose_scene(studio, SceneId(scene)))
        found |= {(scene, r.signal): r.driver.number if r.driver else None for r in survey.signal_paths}
        for unit, here in survey.passages.items():
            for port in here.view.profile.ports if unit not in studio.bays else ():
                for lane in (
                    range(1, here.view.lanes[port.key] + 1) if port.direction == "out" and not port.is_digital else ()
                ):
                    tree = reach(survey.passages.__getitem__, (unit, port.key, lane), is_ear)
                    found[scene, unit, port.key, lane] = {tree.lanes[n] for n in tree.ends}
    return found


class Studios(unittest.TestCase):
    def test_no_line_changes_its_number_and_no_ear_what_it_hears_whatever_leads_there_are(self) -> None:
        # In 59 a source that was silent would arrive by a normal of another scene's pair.
        for seed in (*range(few(1, 300)), 59):
            dice = random.Random(seed)
            studio = with_leads_of_lines(shuffled(dice), dice)
            after = lay_out(studio).change.apply(studio)
            before, now = sounding(studio), sounding(after)
            self.assertEqual({k: now.get(k) for k, was in before.items() if now.get(k) != was}, {}, seed)

    def test_on_shuffled_houses_all_that_arrived_does_so_still_check_finds_no_new_trouble_and_a_second_layout_moves_nothing(
        self,
    ) -> None:
        given_up = 0
        for seed in few((6,), (2, 6, 17, 23, 39, 10_091)):
            studio = shuffled(random.Random(seed))
            if seed % 2:
                # A normal that runs elsewhere than straight below joins whatever comes to its points: nothing may.
                (bay, *_), crossed = studio.bays.values(), random.Random(seed)
                with suppress(EnneadError):
                    studio = set_normal(
                        studio, PortEnd(bay.id, crossed.choice(bay.rows[0])), "half", crossed.choice(bay.rows[1])
                    )
            found = lay_out(studio)
            after = found.change.apply(studio)
            self.assertGreaterEqual(found.saved, found.plain)
            self.assertEqual(lay_out(after).change.steps, (), seed)
            lines, then = arriving(studio), arriving(after)
            for scene in lines:
                self.assertEqual({s: then[scene].get(s) for s in lines[scene]}, lines[scene])
                before, now = (
                    [f.rule for f in find_all(Survey(choose_scene(s, SceneId(scene)))) if f.severity == "trouble"]
                    for s in (studio, after)
                )
                self.assertTrue(
                    all(now.count(rule) <= before.count(rule) for rule in now), (seed, scene, set(now) - set(before))
                )
            given_up += bool(found.given_up)
        self.assertGreater(given_up, 0)

    def test_a_layout_leaves_every_line_as_it_was_in_every_scene(self) -> None:
        demo = planned(skerry())
        for scene in few(list(demo.scenes)[:1], ["", *demo.scenes]):
            studio = choose_scene(demo, SceneId(scene))
            found = lay_out(studio)
            after = found.change.apply(studio)
            self.assertEqual(arriving(after), arriving(studio))
            self.assertLess(found.cords_after, found.cords_before)
            self.assertEqual((found.saved, found.saved >= found.plain), (found.bound, True))
            self.assertEqual(
                [f for f in find_all(Survey(after)) if sheet_of(f) == "Bays" and f.severity == "trouble"], []
            )
            self.assertEqual(after.scene, studio.scene)
            self.assertEqual(lay_out(after).change.steps, ())
            bay = after.bays[UnitId("U19")]
            # A cable that moves is the same one.
            plain = [{c.id: replace(c, plugs=()) for c in of.cables.values()} for of in (studio, after)]
            self.assertEqual(plain[0], plain[1])
            # Labels go with what they name.
            named = [
                {
                    label.first: next((s for p, s in ground_of(of).socket_at.items() if p == PortEnd(b.id, key)), None)
                    for b in of.bays.values()
                    for key, label in b.labels.items()
                }
                for of in (studio, after)
            ]
            self.assertEqual(named[0], named[1])
            label = [label for b in after.bays.values() for label in b.labels.values() if label.first == "Winch out"]
            self.assertEqual((len(label), "Winch out" in [x.first for x in bay.labels.values()]), (1, False))

    def test_a_kept_layout_comes_back_beside_what_has_been_soldered_and_brought_meanwhile(self) -> None:
        studio = add_unit(planned(skerry()), shelf_profile("mono equaliser"), "Davit")
        davit = UnitId(f"U{studio.counters['U']}")
        kept = lay_out(studio, [davit]).change.apply(studio)

        def points(of: Studio) -> dict[PortEnd, PortEnd]:
            return {s: p for p, s in ground_of(of).socket_at.items()}

        again = as_kept(studio, from_json(to_json(kept).encode()))
        after = again.change.apply(studio)
        self.assertEqual(points(after), points(kept))
        self.assertEqual(
            (again.cords_after, again.laid, again.now),
            (lay_out(studio, [davit]).cords_after, 2, as_kept(kept, kept).now),
        )
        self.assertEqual(arriving(after), arriving(studio))
        self.assertEqual(as_kept(kept, kept).change.steps, ())
        with self.assertRaisesRegex(NoLayout, "do not fit on the bays as they are now"):
            full = studio
            for point in [PortEnd(b.id, key) for b in studio.bays.values() for row in b.rows for key in row]:
                full = mark_fault(full, point, "dull")
            as_kept(full, kept)
        # One of the sockets is soldered elsewhere now, a box of the revision has gone, and a point of it is out of service.
        (moved, *_) = [s for s, p in points(studio).items() if points(kept)[s] != p]
        cable = ground_of(studio).cable_of[moved].id
        tight = mark_fault(remove_unit(tick_cable(studio, cable), davit), next(iter(points(kept).values())), "dull")
        found = as_kept(tight, kept)
        there = points(found.change.apply(tight))
        self.assertEqual(there[moved], points(studio)[moved])
        self.assertEqual(set(there), set(points(tight)))
        self.assertGreater(sum(there[s] == points(kept)[s] for s in there), len(there) - 5)

    def test_an_everyday_pair_is_not_given_up_for_cords(self) -> None:
        studio = add_bay(add_unit(empty_studio("Test"), shelf_profile(INTERFACE)), "A", 4, mode="")
        for n in (1, 2):
            studio = connect(studio, end("U1", f"line_out{n}"), end("U2", f"a{n}"))
            studio = connect(studio, end("U2", f"b{n}"), end("U1", f"mic{n}"))
        studio = set_normal(studio, end("U2", "a1"), "full")
        for n in range(5):
            studio = lay_cord(add_scene(studio, f"Scene {n}"), end("U2", "a2"), end("U2", "b1"))
        found = lay_out(studio)
        after = found.change.apply(studio)
        self.assertEqual((found.cords_after, found.saved, found.change.steps), (1, 100.0, ()))
        where = {s.port: p.port[1:] for p, s in ground_of(after).socket_at.items()}
        self.assertEqual(where["line_out1"], where["mic1"])

    def test_where_a_point_fails_a_cord_stands_in_for_its_normal_in_scenes_that_leave_both_ends_free(self) -> None:
        studio = add_bay(add_unit(empty_studio("Test"), shelf_profile(INTERFACE)), "A", 4)
        studio = connect(studio, end("U1", "line_out1"), end("U2", "a1"))
        studio = tick_cable(connect(studio, end("U2", "b1"), end("U1", "mic1")), CableId("C1"))
        studio = add_scene(mark_fault(studio, end("U2", "b1"), "scratchy"), "Free")
        studio = lay_cord(add_scene(studio, "Held"), end("U2", "a1"), None)
        after = lay_out(studio).change.apply(studio)
        (at,) = [p.port for p, s in ground_of(after).socket_at.items() if s.port == "mic1"]
        self.assertNotEqual(at, "b1")
        cords = [[tuple(p.port for p in c.plugs) for c in s.cords] for s in after.scenes.values()]
        self.assertEqual(cords, [[("a1", at)], [("a1",)]])

    def test_what_stands_behind_other_points_is_known_as_mic_or_line_wired_by_a_loom_or_a_lead_of_its_own(self) -> None:
        studio = add_bay(rig("stage box, eight ways to a multipin"), "A", 8)
        plugs = (end("U1", "multipin"), *[end("U2", f"a{n}") for n in (1, 2)])
        studio = make_up(studio, plugs, [Wire(0, n, n, 1) for n in (1, 2)])
        studio = plug(plug(studio, "Voice", "U2", "a4", kind="condenser"), "Keys", "U2", "a5", kind="line")
        upper, lower = beside(studio, ground_of(studio)).others
        self.assertEqual(
            ({c: n.level for c, n in upper.items()}, lower), ({0: "mic", 1: "mic", 3: "mic", 4: "line"}, {})
        )

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
        self.assertIn("2 sockets to bring to the bays, nothing soldered moves", layout_text(found))
        self.assertRegex(neighbour_texts(found)[0], r"Awkward neighbours: \d+ now, \d+ then")
        small = add_bay(
            add_unit(add_unit(empty_studio(), shelf_profile("mono equaliser")), shelf_profile("mono equaliser")), "A", 1
        )
        with self.assertRaisesRegex(NoLayout, "2 outputs and 2 inputs do not fit on 1 columns"):
            lay_out(small, candidates(small))
