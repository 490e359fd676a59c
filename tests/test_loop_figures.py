"""Loops worked out by hand: which numbers, how late at three rates, how loud at each stop, whatever way they are wired."""

import tempfile
import unittest
from pathlib import Path

from bench.loop_houses import HOW, loop_house
from bench.verbs import json_of
from ennead.demo.skerry import skerry
from ennead.edits.computer import set_times
from ennead.edits.delays import set_loop_delay, set_stop_delay
from ennead.edits.destinations import change_destination
from ennead.edits.house import remove_unit
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.edits.session import set_missing, set_rate
from ennead.edits.sessions import choose_session, session_named
from ennead.files.studio_path import write_studio
from ennead.planning.routing.bypass_scene import bypass_scene
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.calibration import calibration_steps, reading, tone_dbfs
from ennead.reports.loop_rows import all_figures, boxes_text, figures_of, loop_row, offset_text, open_text
from ennead.standards.levels import dbu_of_dbv, loaded_db
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.loop_use import USUAL
from ennead.studio.profile import Level
from ennead.studio.record import replace
from ennead.survey.bypass_points import bypass_points
from ennead.survey.circuits import circuits
from ennead.survey.loop_time import comb_notches
from ennead.survey.survey import Survey
from tests.builders import read_back
from tests.trials import few

LOOP = DestinationId("D1")


def placed(seed, how):
    """Return a house with one loop, which is left where it stands."""
    studio = loop_house(seed, how)
    survey = Survey(studio)
    return take(survey, allocate(survey)).apply(studio)


def figures(studio):
    survey = Survey(studio)
    (circuit,) = survey.once(circuits)
    return figures_of(survey, circuit)


def chain():
    """Return the chain of the paper: converters behind an optical link, and a box that takes 1.5 ms at 48 kHz."""
    studio = set_rate(placed(1, "converters"), 48_000)
    survey = Survey(studio)
    (circuit,) = survey.once(circuits)
    (channel,) = circuit.channels
    sockets = {at.what: at for at in channel.passed}
    mine = {"D/A": 12, "A/D": 14, "box": 72}
    for at in channel.passed:
        samples = 0.0 if at.what == "link" else mine[at.what] if at is sockets[at.what] else 0.0
        studio = set_stop_delay(studio, PortEnd(at.unit, at.port), samples)
    far = next(at for at in channel.passed if at.what == "D/A").unit
    for at in channel.passed:
        if at.what == "link" and at.unit == far:
            studio = set_stop_delay(studio, PortEnd(at.unit, at.port), 2)
    return set_times(
        studio,
        next(iter(studio.hosts)),
        48_000,
        buffer=64,
        safety_in=20,
        safety_out=12,
        reported_in=96,
        reported_out=90,
    )


class RoundTrip(unittest.TestCase):
    def test_the_chain_of_the_paper_leaves_76_samples(self):
        found = figures(chain())
        self.assertEqual((found.time.round_trip, found.time.reported, found.time.residual), (262, 186, 76))
        self.assertEqual(
            [(p.what, p.samples) for p in found.time.parts],
            [("buffers", 128), ("safety", 32), ("link", 2), ("D/A", 12), ("box", 72), ("A/D", 14), ("link", 2)],
        )
        said = offset_text(found, 48_000)
        self.assertIn("+76 samples (+1.583 ms)", said)
        self.assertIn("316 Hz", said)
        self.assertEqual([round(f) for f in comb_notches(-76, 48_000)], [316, 947, 1579])
        # Two samples apart there is one notch below half the rate, one sample apart none.
        self.assertEqual(
            (comb_notches(2, 48_000), comb_notches(1, 48_000), comb_notches(0, 48_000)), ((12_000,), (), ())
        )

    def test_what_is_not_stated_is_named_and_not_taken_for_nothing(self):
        bare = placed(1, "direct")
        found = figures(bare)
        self.assertEqual([p.what for p in found.time.unstated], ["buffers"])
        self.assertEqual((found.time.round_trip, found.offset), (None, None))
        self.assertIn("not known", offset_text(found, 48_000))
        # What was measured goes before what is stated, and not below zero less than above; at another rate it holds no more.
        held = set_loop_delay(chain(), LOOP, -3.25)
        self.assertEqual(figures(held).offset, -3.25)
        self.assertIn("refuses a negative offset", offset_text(figures(held), 48_000))
        at_96 = figures(set_rate(held, 96_000))
        self.assertEqual((at_96.held, at_96.stale), (None, "rate"))

    def test_the_same_loop_however_it_is_wired(self):
        for seed in range(few(5, 170)):
            rows = {}
            for how in HOW:
                found = figures(placed(seed, how))
                self.assertTrue(found.circuit.closed, (seed, how))
                converted = {p.what: p.samples for p in found.time.parts if p.what in ("D/A", "A/D")}
                rows[how] = (
                    found.sends,
                    found.returns,
                    found.boxes,
                    converted,
                    [s.headroom_db for s in found.levels[0].stops],
                )
            for how in HOW[1:-1]:
                self.assertEqual(rows[how], rows["direct"], (seed, how))
            self.assertEqual(rows["converters"][2], rows["direct"][2])


class Levels(unittest.TestCase):
    def test_references(self):
        self.assertAlmostEqual(dbu_of_dbv(-10), -7.78, places=2)
        self.assertAlmostEqual(loaded_db(600, 600), -6.02, places=2)
        self.assertAlmostEqual(loaded_db(150, 10_000), -0.129, places=3)

    def test_a_staircase_worked_by_hand(self):
        studio = placed(1, "normals")
        box = Survey(studio).destinations[0].boxes[0]
        studio = set_loop_use(studio, LOOP, peak_dbfs=-10.0, send_gain_db=2.5, return_gain_db=-1.5)
        bare = figures(studio).levels[0]
        # 0 dBFS is +20 dBu there; −7.5 dBFS is +12.5 dBu, and 150 ohm into 10 kilohm takes 0.13 dB of it.
        self.assertEqual([round(s.peak_dbu, 2) for s in bare.stops[:2]], [12.5, 12.37])
        self.assertEqual([round(s.headroom_db, 2) for s in bare.stops[:2]], [7.5, 7.63])
        # What comes out of the box is not guessed.
        self.assertEqual(
            ([s.peak_dbu for s in bare.stops[2:]], bare.returned_dbfs, bare.silent_about), ([None] * 2, None, box)
        )
        studio = read_back(set_box_peak(studio, LOOP, box, 21.0))
        stairs = figures(studio).levels[0]
        self.assertEqual([round(s.headroom_db, 2) for s in stairs.stops], [7.5, 7.63, -1.0, -0.87])
        self.assertEqual((stairs.least.at.unit, stairs.least.headroom_db), (box, -1.0))
        self.assertAlmostEqual(stairs.returned_dbfs, 21.0 - 0.129 - 20.0 - 1.5, places=2)
        self.assertIsNone(stairs.silent_about)
        # The box gone, its figure is gone as well; no loop, no use of one.
        self.assertEqual(remove_unit(studio, box).destinations[LOOP].use.peaks_dbu, {})
        self.assertEqual(change_destination(studio, LOOP, kind="cue").destinations[LOOP].use, USUAL)

    def test_slips_of_the_hand_are_refused(self):
        studio = placed(1, "direct")
        for facts in (
            {"peak_dbfs": 3.0},
            {"send_gain_db": float("nan")},
            {"return_gain_db": 61.0},
            {"sent": (0,)},
            {"sent": (1, 2, 3), "returned": ()},
            {"loud": 1},
        ):
            with self.subTest(facts=facts), self.assertRaises(BadValue):
                set_loop_use(studio, LOOP, **facts)
        for dbu in (41.0, float("inf")):
            with self.assertRaises(BadValue):
                set_box_peak(studio, LOOP, UnitId("U2"), dbu)
        with self.assertRaises(BadValue):
            set_loop_use(change_destination(studio, LOOP, kind="cue"), LOOP, parallel=True)


class Away(unittest.TestCase):
    def test_a_box_that_is_away_is_named(self):
        for how in ("direct", "cords", "converters"):
            studio = placed(1, how)
            box = Survey(studio).destinations[0].boxes[0]
            found = figures(set_missing(studio, box, True))
            self.assertEqual((found.circuit.closed, found.away), (False, (studio.units[box].name,)), how)
            self.assertIn("is away on this session", open_text(found))
            self.assertEqual(figures(set_missing(set_missing(studio, box, True), box, False)), figures(studio))


class Calibrating(unittest.TestCase):
    def test_the_tone_is_as_loud_as_every_limit_bears(self):
        studio = chain()
        self.assertEqual(tone_dbfs(figures(studio).levels), -6.0)
        unit = figures(studio).levels[0].stops[-1].at
        profile = studio.profile_of(unit.unit)
        # 0 dBFS is +20 dBu: −6 is +14, −18 is +2, and 3 dB of room are kept.
        for limit, tone in ((17.0, -6.0), (16.9, -18.0), (5.0, -18.0), (4.9, -30.0), (-60.0, -30.0)):
            ports = tuple(replace(p, levels={"line": Level(limit)}) if p.key == unit.port else p for p in profile.ports)
            now = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
            self.assertEqual(tone_dbfs(figures(now).levels), tone, limit)

    def test_what_a_reading_comes_to(self):
        for sent, read, tolerance, trims, apart, good in (
            (-18.0, (-18.0,), 0.1, (0.0,), 0.0, True),
            (-18.0, (-17.9,), 0.1, (-0.1,), 0.0, True),
            (-18.0, (-17.89,), 0.1, (-0.11,), 0.0, False),
            (-18.0, (-18.08, -17.95), 0.1, (0.08, -0.05), 0.13, False),
            (-18.0, (-18.5, -18.5), 0.5, (0.5, 0.5), 0.0, True),
        ):
            found = reading(sent, read, tolerance)
            self.assertEqual((found.trims_db, found.mismatch_db, found.good), (trims, apart, good), read)

    def test_a_box_is_lifted_out_at_the_points_next_to_the_converters(self):
        texts = {}
        for how in ("direct", "normals", "cords", "two bays"):
            studio = placed(1, how)
            steps = calibration_steps(Survey(studio), figures(studio))
            self.assertTrue(steps[0].warns and "monitors" in steps[0].text)
            self.assertTrue(steps[-3].warns and "tone away" in steps[-3].text)
            texts[how] = steps[1].text
        self.assertIn("one cable a channel", texts["direct"])
        for how in ("cords", "two bays"):
            studio = placed(1, how)
            passed = figures(studio).circuit.channels[0].passed
            bays = [p for p in passed if p.unit in studio.bays]
            first, last = (studio.bays[p.unit].point_label(p.port, "") for p in (bays[0], bays[-1]))
            self.assertRegex(texts[how], f"from .*{first}.* to .*{last}")

    def test_a_scene_closes_a_loop_over_bays_past_its_box_and_no_other_cord_is_moved(self):
        for seed in (1, 2, 3):
            for how in ("normals", "cords", "two bays"):
                with self.subTest(how=how, seed=seed):
                    studio = placed(seed, how)
                    whole = figures(studio)
                    points = [bypass_points(Survey(studio), c) for c in whole.circuit.channels]
                    after = read_back(bypass_scene(Survey(studio), whole.circuit).apply(studio))
                    for channel in whole.circuit.channels:
                        out, back = [next(p for p in channel.passed if p.what == what) for what in ("D/A", "A/D")]
                        net = Survey(after).nets[out.unit, out.port, 1]
                        self.assertIn((back.unit, back.port), {contact[:2] for contact in net.contacts})
                        self.assertEqual(len(net.drivers), 1)
                    self.assertEqual(len(after.scenes), len(studio.scenes) + 1)
                    there = {point for pair in points for point in pair}
                    kept = [c.plugs for c in studio.cords if there.isdisjoint(c.plugs)]
                    self.assertEqual([c.plugs for c in after.cords], [*kept, *points])
        with self.assertRaises(BadValue):
            bypass_scene(Survey(placed(1, "direct")), figures(placed(1, "direct")).circuit)


class OnTheCommandLine(unittest.TestCase):
    def test_the_loops_of_the_demo_read_as_they_stand(self):
        demo = skerry()
        survey = Survey(choose_session(demo, session_named(demo, "Mix of the drama")))
        found = {f.loop.name: f for f in all_figures(survey)}
        self.assertEqual(
            {name: boxes_text(f) for name, f in found.items()},
            {
                "Capstan": "Capstan",
                "Tiller": "Tiller",
                "Rudder": "Rudder",
                "Spring tank": "box away",
                "Long echo": "no box",
            },
        )
        row = loop_row(survey, found["Capstan"], ())
        stops = "Harbour · Line out {}", "Capstan · Line in {}", "Capstan · Line out {}", "Buoy · Line in {}"
        self.assertEqual(
            [(s["channel"], s["stop"]) for s in row["stops"]],
            [(n, stop.format(n + at)) for n in (1, 2) for stop, at in zip(stops, (2, 0, 0, 4), strict=True)],
        )
        by_cables = [step.text for step in calibration_steps(survey, found["Rudder"])]
        self.assertFalse([text for text in by_cables if "cord" in text], by_cables)

    def test_the_verb_says_what_to_enter(self):
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "loop.json"
            write_studio(path, chain())
            (row,) = json_of("loops", path)["loops"]
        self.assertEqual((row["send"], row["return"], row["closed"], row["use"]), ([15], [11], True, "insert"))
        self.assertEqual((row["round_trip_samples"], row["residual_samples"], row["offset_samples"]), (262, 76, 76))
        self.assertEqual(len(row["headroom_db"]), len(row["stops"]))
