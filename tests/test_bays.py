"""Patch bays: what normals and cords join, against a model in which every spring and every plug is a contact of its own."""

import random
import unittest
from itertools import count, product

from ennead.edits.bays import add_bay, label_point, set_normal, straight_below
from ennead.edits.cables import connect, make_up, move_plugs
from ennead.edits.destinations import add_destination
from ennead.edits.house import add_unit, remove_unit
from ennead.edits.scenes import add_scene, choose_scene, lay_cord, move_plug, pull_cord, scene_named, stand_cord
from ennead.edits.session import add_source
from ennead.edits.settings import switch_off
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf_profile
from ennead.studio.bays import NORMAL_MODES, carries
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import BadValue, EnneadError, SocketsDoNotFit, SocketTaken
from ennead.studio.house import PortEnd, SourceEnd, Wire
from ennead.studio.ids import SceneId, SourceId, UnitId
from ennead.studio.record import replace
from ennead.survey.survey import Survey, survey_of, wiring
from ennead.survey.traces import trace
from ennead.survey.view import View
from tests.builders import INTERFACE, end
from tests.trials import few

#: As the field's table has it: no plug, a plug above, a plug below, both.
TRUTH = {
    "full": (True, False, False, False),
    "half": (True, True, False, False),
    "parallel": (True, True, True, True),
}


def random_bays(dice: random.Random, sizes: tuple[int, ...] = (2, 3, 4), most: int = 3) -> Studio:
    """Return a studio of bays with random normals, rears, tie lines, looms and cords; sources come in by rears, an interface takes."""
    studio = add_unit(empty_studio("Test"), shelf_profile(INTERFACE))
    bays = dice.randint(1, most)
    for n in range(bays):
        studio = add_bay(
            studio,
            "ABC"[n],
            dice.choice(sizes),
            rows=dice.choice((1, 2, 2, 2, 3)),
            mode=dice.choice(("", *NORMAL_MODES)),
        )
    points = [PortEnd(unit, key) for unit, bay in studio.bays.items() for row in bay.rows for key in row]
    for point in dice.sample(points, dice.randint(0, len(points))):
        try:
            other = dice.choice([p.port for p in points if p.unit == point.unit])
            studio = set_normal(studio, point, dice.choice(("", *NORMAL_MODES)), dice.choice(("", other)))
        except EnneadError:
            pass
    rears = dice.sample(points, len(points))
    for n in range(dice.randint(1, 3)):
        if not rears:
            break
        studio = add_source(studio, f"Voice {n}", kind="dynamic")
        studio = connect(studio, SourceEnd(SourceId(f"S{studio.counters['S']}")), rears.pop())
    for port in dice.sample([f"mic{n}" for n in range(1, 9)], dice.randint(1, 5)):
        if rears:
            studio = connect(studio, rears.pop(), end("U1", port))
    for _ in range(dice.randint(0, 2)):
        if len(rears) > 4 and dice.random() < 0.3:
            plugs = [rears.pop() for _ in range(4)]
            studio = make_up(studio, plugs, (Wire(0, 1, 2, 1), Wire(1, 1, 3, 1)))
        elif len(rears) > 1:
            studio = connect(studio, rears.pop(), rears.pop())
    studio = add_scene(studio, "Tonight")
    fronts = dice.sample(points, len(points))
    for _ in range(dice.randint(0, 4)):
        if len(fronts) > 1:
            studio = lay_cord(studio, fronts.pop(), fronts.pop() if dice.random() < 0.9 else None)
    return studio


def flooded(studio: Studio) -> dict[object, set[object]]:
    """Return what each contact is joined to: rears, springs, plugs and cable ends, each a contact of its own."""
    near: dict[object, set[object]] = {}

    def join(a: object, b: object) -> None:
        near.setdefault(a, {a}).add(b)
        near.setdefault(b, {b}).add(a)

    fronts = {plug for cord in studio.cords for plug in cord.plugs}
    for unit, bay in studio.bays.items():
        for key in bay.points:
            point = PortEnd(unit, key)
            near.setdefault(("rear", point), {("rear", point)})
            # A plug lifts the spring off the contact and touches the contact itself.
            join(("rear", point), ("plug" if point in fronts else "spring", point))
        for normal in bay.normals:
            start, far = PortEnd(unit, normal.start), PortEnd(unit, normal.end)
            join(
                ("spring" if normal.mode == "full" else "rear", start),
                ("rear" if normal.mode == "parallel" else "spring", far),
            )
    for cord in studio.cords:
        if len(cord.plugs) == 2:
            join(("plug", cord.plugs[0]), ("plug", cord.plugs[1]))
    for cable in studio.cables.values():
        wired = [(w.a, w.b) for w in cable.wires] or [(0, 1)]
        for a, b in wired:
            join(
                *[
                    ("rear", p) if isinstance(p := cable.plugs[at], PortEnd) and studio.is_point(p) else p
                    for at in (a, b)
                ]
            )
    met: dict[object, set[object]] = {}
    for first in near:
        if first not in met:
            group = {first}
            waiting = [first]
            while waiting:
                new = near[waiting.pop()] - group
                group |= new
                waiting += new
            met |= dict.fromkeys(group, group)
    return met


class SamePoint(unittest.TestCase):
    def test_a_cable_does_not_run_from_a_point_to_itself(self) -> None:
        studio = add_bay(empty_studio(), "A", 2)
        with self.assertRaisesRegex(SocketsDoNotFit, "the same socket"):
            connect(studio, end("U1", "a1"), end("U1", "a1"))

    def test_plugs_change_places_all_at_once_or_not_at_all(self) -> None:
        studio = add_bay(add_unit(empty_studio(), shelf_profile(INTERFACE)), "A", 4)
        for n in (1, 2, 3):
            studio = connect(studio, end("U1", f"line_out{n}"), end("U2", f"a{n}"), 2.0)
        swap = [("C1", end("U2", "a1"), end("U2", "a2")), ("C2", end("U2", "a2"), end("U2", "a1"))]
        after = move_plugs(studio, swap)
        self.assertEqual(
            [(c.id, c.end.port, c.length_m) for c in after.cables.values()],
            [("C1", "a2", 2.0), ("C2", "a1", 2.0), ("C3", "a3", 2.0)],
        )
        self.assertEqual(move_plugs(after, [(c, new, old) for c, old, new in swap]), studio)
        with self.assertRaises(SocketTaken):
            move_plugs(studio, [("C1", end("U2", "a1"), end("U2", "a3"))])
        with self.assertRaisesRegex(BadValue, "it ends in an output"):
            move_plugs(studio, [("C1", end("U2", "a1"), end("U1", "line_out4"))])


class NormalsTest(unittest.TestCase):
    def test_the_truth_table_of_normals(self) -> None:
        for mode, wanted in TRUTH.items():
            plugged = [(False, False), (True, False), (False, True), (True, True)]
            self.assertEqual(tuple(carries(mode, start=a, end=b) for a, b in plugged), wanted, mode)  # type: ignore[arg-type]

    def test_a_pair_in_each_mode_with_each_plug_is_followed_as_the_table_says(self) -> None:
        for mode, (above, below) in product(("", *NORMAL_MODES), product((False, True), repeat=2)):
            studio = add_unit(empty_studio("Test"), shelf_profile(INTERFACE))
            studio = add_bay(studio, "A", 1, mode=mode)
            studio = add_source(studio, "Voice", kind="dynamic")
            studio = connect(studio, SourceEnd(SourceId("S1")), end("U2", "a1"))
            studio = add_scene(connect(studio, end("U2", "b1"), end("U1", "mic3")), "Tonight")
            for plugged, port in ((above, "a1"), (below, "b1")):
                studio = lay_cord(studio, end("U2", port), None) if plugged else studio
            (run,) = Survey(studio).signal_paths
            arrives = mode != "" and TRUTH[mode][2 * below + above]
            self.assertEqual(
                run.driver is not None and run.driver.number, 3 if arrives else False, (mode, above, below)
            )

    def test_what_is_joined_and_where_signals_arrive_agrees_with_contacts_flooded(self) -> None:
        several = arrived = 0
        for seed in range(few(800, 2500)):
            studio = random_bays(random.Random(seed))
            survey, model = Survey(studio), flooded(studio)
            nets = survey.nets
            for unit, bay in studio.bays.items():
                for key in bay.points:
                    group = model["rear", PortEnd(unit, key)]
                    net = nets.get((unit, key, 1))
                    if net is None:
                        # Normals between points at which no cable and no cord is are not written down.
                        self.assertFalse([c for c in group if not isinstance(c, tuple)])
                        continue
                    found = set(net.contacts)
                    points = {
                        (p.unit, p.port, 1) for kind, p in (c for c in group if isinstance(c, tuple)) if kind == "rear"
                    }
                    others = {c for c in group if not isinstance(c, tuple)}
                    far = {(p.unit, p.port, 1) if isinstance(p, PortEnd) else (p.line, p.side, 1) for p in others}  # type: ignore[attr-defined]
                    self.assertEqual(found, points | far, (seed, key))
            reached: dict[int, set[object]] = {}
            for run in survey.signal_paths:
                (lead,) = [c for c in studio.cables.values() if run.source in c.lines]
                group = model["rear", lead.plugs[1]]
                takes = {p for p in group if isinstance(p, PortEnd)}
                legs = [] if run.gap is not None else trace(survey, run).legs
                found = {PortEnd(leg.run.way.lands[0], leg.run.way.lands[1].port) for leg in legs}  # type: ignore[index]
                self.assertLessEqual(found, takes, seed)
                reached[id(group)] = reached.get(id(group), set()) | found
                arrived += bool(found)
                several += len(legs) > 1
                if sum(not isinstance(p, tuple | PortEnd) for p in group) == 1:
                    self.assertEqual(found, takes, seed)
            for group in {id(g): g for g in model.values()}.values():
                if id(group) in reached:
                    self.assertEqual(reached[id(group)], {p for p in group if isinstance(p, PortEnd)}, seed)
        self.assertGreater(min(several, arrived // 10), few(30, 100))


class BayEditsTest(unittest.TestCase):
    def setUp(self) -> None:
        studio = add_unit(empty_studio("Test"), shelf_profile(INTERFACE))
        self.studio = add_bay(add_bay(studio, "A", 24), "B", 24, mode="full")

    def test_a_loudspeaker_on_the_house_is_found_behind_a_bay(self) -> None:
        studio = add_unit(self.studio, shelf_profile("active loudspeaker"), "Tower")
        studio = connect(studio, end("U1", "line_out1"), end("U2", "a5"))
        studio = connect(studio, end("U3", "b7"), end("U4", "line_in"))
        studio = connect(studio, end("U2", "b5"), end("U3", "a2"))
        studio = add_destination(studio, "Mains", "mains", channels=1)
        key = studio.current.destinations[0]
        studio = replace(
            studio,
            destinations=studio.destinations.put(key, replace(studio.destinations[key], at=(end("U4", "line_in"),))),
        )
        self.assertEqual(survey_of(studio).placed(key).outputs, ())
        studio = lay_cord(add_scene(studio, "Tonight"), end("U3", "a2"), end("U3", "b7"))
        self.assertEqual(survey_of(studio).placed(key).outputs, (end("U1", "line_out1"),))
        (run,) = [r for r in Survey(studio).output_paths if r.to == key]
        self.assertEqual([s.unit for s in run.stops][-1], "U4")
        self.assertIsNone(run.gap)

    def test_scenes_are_named_chosen_copied_and_go_with_a_bay_that_is_removed(self) -> None:
        studio = lay_cord(add_scene(self.studio, "Drama"), end("U2", "a3"), end("U3", "b5"))
        studio = add_scene(studio, "Quartet", SceneId("K1"))
        self.assertEqual([c.plugs for c in studio.cords], [(end("U2", "a3"), end("U3", "b5"))])
        self.assertNotEqual(studio.cords[0].id, studio.scenes[SceneId("K1")].cords[0].id)
        studio = move_plug(studio, studio.cords[0].id, 2, end("U3", "b6"))
        self.assertEqual(studio.cords[0].plugs[1].port, "b6")
        self.assertEqual(studio.scenes[SceneId("K1")].cords[0].plugs[1].port, "b5")
        for wrong in (end("U2", "a3"), end("U2", "a99"), end("U1", "mic1")):
            with self.assertRaises(EnneadError):
                lay_cord(studio, wrong, end("U2", "a9"))
        self.assertEqual(choose_scene(studio, scene_named(studio, "back to normals")).cords, ())
        with self.assertRaises(EnneadError):
            add_scene(studio, "drama")
        gone = remove_unit(studio, UnitId("U3"))
        self.assertEqual((gone.cords, list(gone.bays)), ((), ["U2"]))
        self.assertEqual(pull_cord(studio, studio.cords[0].id).cords, ())
        for each in (studio, gone, stand_cord(studio, studio.cords[0])):
            self.assertEqual(from_json(to_json(each).encode()), each)

    def test_what_stands_is_followed_whatever_scene_is_chosen(self) -> None:
        studio = lay_cord(add_scene(self.studio, "Drama"), end("U2", "a3"), end("U3", "b5"))
        stands = stand_cord(studio, studio.cords[0])
        self.assertEqual(wiring(choose_scene(stands, SceneId("")), View(standing=True)).cords, studio.cords)
        self.assertEqual(wiring(studio, View(standing=True)).cords, ())
        self.assertEqual(wiring(choose_scene(studio, SceneId("")), View(scene=SceneId("K1"))).cords, studio.cords)

    def test_a_bay_built_into_a_console_joins_with_the_console_switched_off(self) -> None:
        studio = add_unit(
            add_unit(empty_studio("Test"), shelf_profile(INTERFACE), "Pier"),
            shelf_profile("console, eight channels, bay built in"),
            "Bridge",
        )
        bay = studio.bays[UnitId("U2")]
        self.assertEqual([len(row) for row in bay.rows], [8, 8, 8])
        self.assertEqual({(n.start[:6], n.end[:7], n.mode) for n in bay.normals}, {("return", "channel", "half")})
        studio = add_source(studio, "Tape", kind="line")
        studio = connect(studio, SourceEnd(SourceId("S1")), end("U2", "return3"))
        studio = connect(
            connect(studio, end("U2", "direct3"), end("U1", "mic3")), end("U2", "return8"), end("U1", "mic8")
        )

        def number(there: Studio) -> int | None:
            (run,) = Survey(there).signal_paths
            return run.driver.number if run.driver else None

        # By its normal into the channel, out by the direct output; a cord past the console needs no power.
        self.assertEqual(number(studio), 3)
        off = switch_off(studio, UnitId("U2"), off=True)
        self.assertIsNone(number(off))
        corded = lay_cord(add_scene(off, "Past it"), end("U2", "return3"), end("U2", "return8"))
        self.assertEqual(number(corded), 8)
        # What a channel sends to its direct output goes on by a cord from there.
        direct = lay_cord(add_scene(studio, "Direct"), end("U2", "direct3"), end("U2", "return8"))
        (run,) = Survey(direct).signal_paths
        self.assertEqual({leg.run.driver.number for leg in trace(Survey(direct), run).legs if leg.run.driver}, {3, 8})
        self.assertEqual(from_json(to_json(direct).encode()), direct)

    def test_what_no_bay_can_be_is_refused_in_a_sentence(self) -> None:
        for wrong in (
            {"across": 0},
            {"across": 10_000},
            {"across": 8, "rows": 0},
            {"across": 8, "connector": "sc"},
            {"across": 8, "pitch_mm": float("nan")},
            {"across": 8, "mode": "x"},
        ):
            with self.assertRaises(EnneadError) as caught:
                add_bay(self.studio, "C", **wrong)
            self.assertRegex(str(caught.exception), r"^“.+” cannot be .+\. .+\.$")
        for text in ("x" * 10_000, "x" * 61):
            with self.assertRaises(EnneadError):
                label_point(self.studio, end("U2", "a1"), first=text)
        bay = self.studio.bays[UnitId("U2")]
        self.assertEqual([straight_below(bay, k) for k in ("a24", "b1")], ["b24", ""])

    def test_files_with_bays_and_scenes_that_cannot_be_are_refused_where(self) -> None:
        studio = lay_cord(add_scene(self.studio, "Drama"), end("U2", "a3"), end("U3", "b5"))
        text = to_json(stand_cord(studio, studio.cords[0]))
        said = count()
        for old, new, place in (
            ('"port": "b5"', '"port": "b55"', "scenes.K1"),
            ('"scene": "K1"', '"scene": "K7"', "sessions.N1: there is no scene"),
            ('"pitch_mm": 17.9', '"pitch_mm": 0.1', "bays.U2"),
            ('"end": "b1"', '"end": "b99"', "bays.U2"),
            ('"end": "b2"', '"end": "a2"', "bays.U2"),
            ('"W": 1', '"W": 0', "scenes.K1"),
        ):
            self.assertIn(old, text)
            with self.assertRaises(EnneadError) as caught:
                from_json(text.replace(old, new, 1).encode())
            self.assertIn(place, str(caught.exception))
            next(said)
        self.assertEqual(next(said), 6)
