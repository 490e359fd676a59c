"""Loops of every width and wiring against a model written apart; loops made of boxes; routes through the software; scenes that interrupt."""

import random
import unittest

from bench.loop_model import LOOP, random_loop, unjoined
from bench.wired_loops import otherwise
from ennead.edits.bays import add_bay, set_normals
from ennead.edits.cables import connect
from ennead.edits.delays import set_loop_delay
from ennead.edits.destinations import add_destination, change_destination, send_out, set_width
from ennead.edits.loop_use import set_box_peak
from ennead.edits.scenes import add_scene, choose_scene, lay_cord
from ennead.edits.settings import set_clock_source, set_mode
from ennead.edits.tracks import set_track
from ennead.planning.routing.loop_making import make_loop, widths_of
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.loop_rows import figures_of, numbers_text, open_text, software_lines
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId, SceneId, SourceId, UnitId
from ennead.studio.widths import side_text, width_of, width_text
from ennead.survey.circuits import circuits
from ennead.survey.software_routes import software_rings
from ennead.survey.survey import Survey
from tests.builders import end, findings, plug, read_back, rig
from tests.trials import few

LINES = "twelve-line interface"
REVERB = UnitId("U2")


def troubles(studio):
    return [f.message for f in findings(studio) if f.severity == "trouble"]


class AgainstTheModel(unittest.TestCase):
    def test_numbers_boxes_delay_and_headroom_are_the_models(self):
        for seed in range(few(45, 1000)):
            studio, expected = random_loop(seed)
            survey = Survey(studio)
            after = read_back(take(survey, allocate(survey)).apply(studio))
            with self.subTest(seed=seed):
                self.assertEqual(otherwise(expected, Survey(after)), "")
                self.assertFalse(allocate(Survey(after)).changes)

    def test_boxes_are_made_a_loop_by_cables_or_by_cords(self):
        for seed in range(few(18, 300)):
            studio, boxes, (out, back), on_bay = unjoined(seed)
            after = read_back(make_loop(Survey(studio), "Squash", boxes, out, back).apply(studio))
            survey = Survey(after)
            (circuit,) = survey.once(circuits)
            with self.subTest(seed=seed):
                self.assertTrue(circuit.closed)
                self.assertEqual((len(circuit.sends), len(circuit.returns)), (out, back))
                self.assertEqual({c.boxes for c in circuit.channels}, {tuple(boxes)})
                new = len(after.cables) - len(studio.cables)
                self.assertEqual((bool(new), bool(survey.cords)), (not on_bay, on_bay))
                self.assertEqual(troubles(after), [])
                self.assertTrue({1, 2}.isdisjoint([d.number for d in circuit.sends]), "those stay with the mains")
                self.assertFalse(allocate(survey).changes)


class Widths(unittest.TestCase):
    def test_a_width_is_typed_and_said(self):
        for typed, width in (("stereo", (2, 2)), ("mono out, stereo back", (1, 2)), ("16 → 2", (16, 2)), ("8", (8, 8))):
            self.assertEqual(width_of(typed), width)
        for typed in ("", "33", "0 out", "1 2 3", "wide", "99999999999 out"):
            with self.assertRaises(BadValue):
                width_of(typed)
        self.assertEqual([side_text(many, 2) for many in (1, 2, 3)], ["", "R", "2"])
        self.assertEqual(numbers_text((1, 2, 3, 7, 9, 10)), "1–3, 7, 9–10")

    def test_another_width_lets_go_and_other_kinds_have_none(self):
        studio = rig(LINES, "tape echo, two inputs mixed")
        self.assertEqual(widths_of(Survey(studio), REVERB), (2, 2))
        studio = make_loop(Survey(studio), "Echo", [REVERB], 1, 2).apply(studio)
        placed = Survey(studio).destinations[0]
        self.assertEqual(
            (len(placed.outputs), len(placed.returns), width_text(placed)), (1, 2, "mono out, stereo back")
        )
        (circuit,) = Survey(studio).once(circuits)
        said = software_lines(Survey(studio), figures_of(Survey(studio), circuit))
        self.assertIn("Send: mono, output 3 (Line 3).", said)
        self.assertIn("Return: stereo, input 3–4 (Line 3, Line 4), as an insert.", said)
        self.assertEqual(Survey(set_width(studio, LOOP, "stereo")).destinations[0].outputs, ())
        cue = change_destination(set_width(studio, LOOP, "6 out, 2 back"), LOOP, kind="cue").destinations[LOOP]
        self.assertEqual((cue.channels, cue.back, cue.backs), (2, 0, 0))
        with self.assertRaises(BadValue):
            change_destination(studio, LOOP, channels=33)
        with self.assertRaises(BadValue):
            add_destination(studio, "Cue", "cue", channels=3)

    def test_what_a_box_does_not_give_is_refused(self):
        studio = rig(LINES, "mono compressor", "tape echo, two inputs mixed")
        with self.assertRaisesRegex(BadValue, "another box or width"):
            make_loop(Survey(studio), "Squash", [UnitId("U2")], 1, 2)
        # The one before it is mono, the last makes two of it.
        after = make_loop(Survey(studio), "Chain", [UnitId("U2"), UnitId("U3")], 1, 2).apply(studio)
        self.assertEqual(troubles(after), [])


class InNumbers(unittest.TestCase):
    def test_a_box_by_its_digital_sockets(self):
        studio = rig(LINES, "digital reverb, S/PDIF and lines")
        after = read_back(make_loop(Survey(studio), "Hall", [REVERB], 2, digital=True).apply(studio))
        after = set_box_peak(after, LOOP, REVERB, -3.5)
        survey = Survey(after)
        (circuit,) = survey.once(circuits)
        found = figures_of(survey, circuit)
        self.assertEqual((found.sends, found.returns, troubles(after)), ((15, 16), (13, 14), []))
        # Sent at its usual peak and no gain: what arrives in numbers is what was sent, and full scale the limit.
        stairs = found.levels[0]
        self.assertEqual([(s.dbfs, s.headroom_db) for s in stairs.stops], [(-6.0, 6.0), (-3.5, 3.5)])
        self.assertEqual(stairs.returned_dbfs, -3.5)
        # 2 samples each way of the interface, 44 within the box.
        self.assertEqual(sum(p.samples for p in found.time.parts if p.unit), 48.0)
        self.assertFalse(allocate(survey).changes)
        own = set_clock_source(after, REVERB, "internal")
        self.assertEqual(len(findings(own, "loop_box_not_locked")), 1)
        self.assertEqual(findings(after, "loop_box_not_locked"), [])
        with self.assertRaisesRegex(BadValue, "free digital"):
            make_loop(Survey(rig(LINES, "mono compressor")), "X", [REVERB], 1, digital=True)

    def test_a_switch_chooses_the_working_level(self):
        studio = rig(LINES, "tape echo, two inputs mixed")
        studio = make_loop(Survey(studio), "Echo", [REVERB], 1, 2).apply(studio)
        self.assertEqual(findings(studio, "loop_levels_apart"), [])
        low = set_mode(studio, REVERB, "level", "home")
        (found,) = findings(low, "loop_levels_apart")
        self.assertEqual([f.text for f in found.fixes], ["Set Tape echo, two inputs mixed to +4 dBu"])
        self.assertEqual(found.fixes[0].does.apply(low), set_mode(low, REVERB, "level", "pro"))
        # 20 dBu at full scale, 6 below it, and 150 ohm into 20,000: 13.94 into an input that takes 6.2.
        (circuit,) = Survey(low).once(circuits)
        self.assertAlmostEqual(figures_of(Survey(low), circuit).levels[0].stops[1].headroom_db, 6.2 - 13.935, places=3)

    def test_channels_measured_apart_are_told(self):
        studio = rig(LINES, "stereo bus compressor")
        studio = make_loop(Survey(studio), "Glue", [REVERB], 2).apply(studio)
        for right, many in ((41.2, 0), (41.5, 1)):
            noted = read_back(set_loop_delay(studio, LOOP, 41.3, by_channel=(41.1, right)))
            self.assertEqual(len(findings(noted, "loop_channels_late_apart")), many)
        with self.assertRaises(BadValue):
            set_loop_delay(studio, LOOP, 41.3, by_channel=(41.1, float("nan")))


class Interrupted(unittest.TestCase):
    def setUp(self):
        studio = rig(LINES, "mono compressor", "microphone panel, twelve ways")
        studio = add_bay(studio, "A", 24)
        bay = self.bay = list(studio.units)[-1]
        studio = set_normals(studio, bay, [f"a{n}" for n in range(1, 25)], "half")
        for start, stop in (
            (end("U1", "line_out3"), end(bay, "a1")),
            (end(bay, "b1"), end("U2", "line1")),
            (end("U2", "line_out1"), end(bay, "a2")),
            (end(bay, "b2"), end("U1", "line3")),
            (end("U3", "tail1"), end(bay, "a10")),
        ):
            studio = connect(studio, start, stop)
        studio = add_destination(studio, "Squash", "loop", channels=1)
        studio = send_out(studio, LOOP, [end("U1", "line_out3")], [end("U1", "line3")])
        self.studio = add_scene(plug(studio, "Keys", "U3", "wall1", kind="line"), "Tracking")

    def test_while_tracking_over_its_return_a_loop_is_no_trouble(self):
        tracking = lay_cord(self.studio, end(self.bay, "a10"), end(self.bay, "b2"))
        (found,) = findings(tracking, "loop_interrupted")
        self.assertEqual((found.severity, troubles(tracking)), ("note", []))
        self.assertEqual(findings(tracking, "destination_not_placed"), [])
        self.assertFalse(allocate(Survey(tracking)).changes, "the loop stays where it stands")
        (circuit,) = Survey(tracking).once(circuits)
        self.assertIn("a cord sits at A · 2 below", open_text(figures_of(Survey(tracking), circuit)))
        # A cord on its way out does the same; with none it is whole.
        out = lay_cord(self.studio, end(self.bay, "a10"), end(self.bay, "b1"))
        self.assertEqual([f.rule for f in findings(out) if "loop" in f.rule and f.severity == "trouble"], [])
        self.assertEqual(findings(self.studio, "loop_interrupted"), [])

    def test_a_loop_patched_in_another_scene_is_no_trouble_in_this_one(self):
        studio = set_normals(self.studio, self.bay, ["a2"], "")
        patched = lay_cord(studio, end(self.bay, "a2"), end(self.bay, "b2"))
        self.assertEqual(findings(patched, "loop_interrupted"), [])
        bare = choose_scene(patched, SceneId(""))
        self.assertIn("laid in another scene", findings(bare, "loop_interrupted")[0].message)
        self.assertNotIn("loop_wired_otherwise", [f.rule for f in findings(bare)])
        # No scene patches it: then nothing brings it back, in any.
        self.assertEqual(len(findings(choose_scene(studio, SceneId("")), "loop_wired_otherwise")), 1)


class ThroughTheSoftware(unittest.TestCase):
    def house(self, dice):
        """Three boxes, each from an output to an input; three sources on inputs of their own."""
        studio = rig(LINES, *["mono compressor"] * 3)
        outs, ins = dice.sample(range(3, 13), 3), dice.sample(range(1, 10), 6)
        for n in range(3):
            box = f"U{n + 2}"
            studio = connect(studio, end("U1", f"line_out{outs[n]}"), end(box, "line1"))
            studio = connect(studio, end(box, "line_out1"), end("U1", f"line{ins[n]}"))
            studio = add_destination(studio, f"Loop {n}", "loop", channels=1)
            sockets = [end("U1", f"line_out{outs[n]}")], [end("U1", f"line{ins[n]}")]
            studio = send_out(studio, DestinationId(f"D{n + 1}"), *sockets)
            studio = plug(studio, f"Line {n}", "U1", f"line{ins[n + 3]}", kind="line")
        return studio, outs, ins

    def test_rings_are_those_of_a_search_by_hand(self):
        some = 0
        for seed in range(few(60, 2000)):
            dice = random.Random(seed)
            studio, outs, ins = self.house(dice)
            edges = {(("out", o), ("in", i)) for o, i in zip(outs, ins, strict=False)}
            for n, line in enumerate([f"D{k}" for k in (1, 2, 3)] + [f"S{k}" for k in (1, 2, 3)]):
                monitored, insert = dice.random() < 0.5, dice.choice((None, None, 0, 1, 2))
                to = dice.sample([1, 2, *outs], dice.choice((0, 1, 1, 2)))
                loop = DestinationId(f"D{insert + 1}") if insert is not None else None
                studio = set_track(studio, line, monitored=monitored, outputs=tuple(to), insert=loop)
                if monitored:
                    ahead = [outs[insert]] if insert is not None else to
                    edges |= {(("in", ins[n]), ("out", o)) for o in ahead}
                if insert is not None:
                    edges |= {(("in", ins[insert]), ("out", o)) for o in to}
            nodes = {node for edge in edges for node in edge}
            far = {a: {b for x, b in edges if x == a} for a in nodes}
            for _ in nodes:
                far = {a: ahead.union(*[far[b] for b in ahead]) for a, ahead in far.items()}
            rings = {frozenset(b for b in nodes if b in far[a] and a in far[b]) for a in nodes if a in far[a]}
            found = Survey(read_back(studio)).once(software_rings)
            some += bool(rings)
            self.assertEqual(
                {frozenset([("in", n) for n in r.inputs] + [("out", n) for n in r.outputs]) for r in found}, rings, seed
            )
        self.assertGreater(some, few(60, 2000) // 4)

    def test_a_track_that_monitors_its_own_return_is_told_and_mended(self):
        studio, outs, ins = self.house(random.Random(1))
        printed = DestinationId("D1")
        ring = set_track(studio, printed, monitored=True, insert=printed)
        (found,) = findings(ring, "ring_through_software")
        self.assertIn(f"what comes in by {ins[0]} goes out by {outs[0]}", found.message)
        self.assertEqual(findings(found.fixes[0].does.apply(ring), "ring_through_software"), [])
        # Armed alone it is none, and an insert on a source that comes in elsewhere is none.
        self.assertEqual(findings(set_track(studio, printed, armed=True, insert=printed), "ring_through_software"), [])
        proper = set_track(studio, SourceId("S1"), monitored=True, insert=printed, outputs=(1, 2))
        self.assertEqual(findings(proper, "ring_through_software"), [])
        twice = set_track(proper, printed, monitored=True, outputs=(1, 2))
        (found,) = findings(twice, "return_heard_twice")
        self.assertEqual(findings(found.fixes[0].does.apply(twice), "return_heard_twice"), [])
        self.assertEqual(findings(set_track(twice, printed, outputs=(5,)), "return_heard_twice"), [])

    def test_a_printed_track_goes_with_its_loop(self):
        studio, _, _ = self.house(random.Random(1))
        stated = set_track(studio, DestinationId("D1"), monitored=True)
        self.assertEqual(change_destination(stated, DestinationId("D1"), kind="cue").current.tracks, ())
        with self.assertRaises(BadValue):
            set_track(studio, DestinationId("D1"), picked=(1,))
        cue = add_destination(studio, "Cue", "cue")
        with self.assertRaises(BadValue):
            set_track(cue, DestinationId("D4"), monitored=True)
