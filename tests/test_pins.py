"""Small figures and edges that planted faults once got past, each against a value worked by hand."""

import ast
import random
import unittest
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from bench.mutants import places, turned
from bench.nonsense import every_verb, nonsense
from bench.verbs import json_of
from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.session import add_source, join_pair, set_rate
from ennead.edits.settings import set_clock_source, set_mode, set_pad, set_phantom
from ennead.files.studio_path import write_studio
from ennead.planning.boxes.describing import Answers, describe_box
from ennead.planning.clock.clock_plan import clock_change, plan_clock
from ennead.planning.growing.expansion import CannotExpand, connect_expander
from ennead.planning.growing.remedies import find_remedies
from ennead.planning.seating.linear import Watch
from ennead.planning.seating.problem import Demand, Face, Fit, Problem, Slot, Trait, is_legal, score
from ennead.planning.seating.seat import seat
from ennead.planning.seating.standing import as_it_stands
from ennead.rules.may_sit_beside import is_output_pair, is_pair
from ennead.standards.levels import microphone_dbu
from ennead.studio.errors import BadValue, EnneadError
from ennead.studio.ids import UnitId
from ennead.survey.levels import into_socket, peak_working
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey
from ennead.survey.unit_view import view_unit
from tests.builders import EXPANDER, INTERFACE, SCRATCH, end, findings, one_fibre, plug, rig
from tests.trials import few

GENERATOR = "word-clock generator, six outputs"


def late(studio, unit, port, samples):
    """Return the studio in which a port adds a delay."""
    profile = studio.profile_of(UnitId(unit))
    ports = tuple(replace(p, latency_samples=samples, latency_at={}) if p.key == port else p for p in profile.ports)
    return replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))


class Edges(unittest.TestCase):
    def test_a_pair_is_of_one_row_and_one_converter(self):
        survey = Survey(rig(INTERFACE, INTERFACE))
        by = {(s.unit, s.port.key): s for s in survey.input_points}
        pair = by["U1", "mic3"], by["U1", "mic4"]
        self.assertTrue(is_pair(*pair))
        for other in (
            replace(pair[1], converter=UnitId("U2")),
            replace(pair[1], seat=("others", 3)),
            by["U1", "mic5"],
            by["U1", "mic2"],
        ):
            self.assertFalse(is_pair(pair[0], other))
        self.assertFalse(is_pair(by["U1", "mic4"], by["U1", "mic5"]))
        # In front of the converter they may be on two panels.
        self.assertTrue(is_pair(replace(pair[0], unit=UnitId("U8")), replace(pair[1], unit=UnitId("U9"))))
        outs = {(s.unit, s.port.key, s.lane): s for s in survey.output_points}
        left, right = outs["U1", "line_out3", 1], outs["U1", "line_out4", 1]
        self.assertEqual(
            [
                is_output_pair(left, right),
                is_output_pair(left, right._replace(unit=UnitId("U2"))),
                is_output_pair(right, left),
            ],
            [True, False, False],
        )
        self.assertTrue(is_output_pair(outs["U1", "phones", 1], outs["U1", "phones", 2]))

    def test_skew_of_exactly_one_sample_is_told_and_less_is_not(self):
        for samples, told in ((15.0, 1), (14.99, 0), (13.0, 1), (14.0, 0)):
            studio = late(
                plug(rig(INTERFACE), "Kit 1", "U1", "mic3", group="Kit", coherent=True), "U1", "mic4", samples
            )
            studio = plug(studio, "Kit 2", "U1", "mic4", group="Kit", coherent=True)
            self.assertEqual(len(findings(studio, "group_out_of_step")), told, samples)

    def test_a_placed_important_source_is_silent_and_one_left_over_is_not(self):
        studio = plug(plug(rig(INTERFACE), "A", "U1", "mic3"), "Lead", "U1", "mic4", priority="must")
        self.assertEqual(findings(studio, "important_not_placed"), [])
        self.assertEqual(len(findings(add_source(studio, "Late", priority="must"), "important_not_placed")), 1)
        self.assertEqual(findings(add_source(rig(INTERFACE), "Late", priority="must"), "important_not_placed"), [])

    def test_a_pad_that_is_on_already_is_not_offered_again(self):
        loud = plug(rig(INTERFACE), "Kick", "U1", "mic3", level_dbu=14.0)
        self.assertEqual(findings(loud, "input_overloaded"), [])
        over = plug(rig(INTERFACE), "Kick", "U1", "mic3", level_dbu=14.1)
        (found,) = findings(over, "input_overloaded")
        self.assertEqual(len(found.fixes), 1)
        far = set_pad(plug(rig(INTERFACE), "Kick", "U1", "mic3", level_dbu=34.1), "U1", "mic3", on=True)
        (found,) = findings(far, "input_overloaded")
        self.assertEqual(found.fixes, ())
        self.assertIn("Put a pad into the line", found.why)
        self.assertEqual(findings(set_pad(over, "U1", "mic3", on=True), "input_overloaded"), [])

    def test_the_microphone_s_level_shows_its_working(self):
        studio = plug(rig(INTERFACE), "Kick", "U1", "mic3", sensitivity_mv_pa=20.0, loudest_db_spl=130.0)
        source, unit = studio.source("S1"), studio.units["U1"]
        into = into_socket(source, studio.port(end("U1", "mic3")), unit.settings)
        # 130 dB is 63.2 Pa; 20 mV/Pa makes 1265 mV of it, 4.3 dBu above 0.7746 V.
        self.assertAlmostEqual(into.peak_dbu, microphone_dbu(20.0, 130.0))
        first, second, third = peak_working(source, into)
        self.assertIn("63.25 Pa", first)
        self.assertIn("= 1265 mV = +4.3 dBu", second)
        self.assertIn("headroom +9.7 dB", third)

    def test_the_last_stop_of_an_output_is_the_ear_it_reaches(self):
        studio = rig(INTERFACE, "headphone amplifier, four outputs", "active loudspeaker")
        amp, box = (studio.profile_of(u).ports[0].key for u in ("U2", "U3"))
        studio = connect(
            connect(studio, end("U1", "line_out3"), end("U2", amp)), end("U1", "line_out5"), end("U3", box)
        )
        zones = {r.into.port: [s.zone for s in r.stops] for r in Survey(studio).output_paths}
        self.assertEqual(
            (zones["line_out3"][-1], zones["line_out5"][-1], zones["phones"][-1]), ("ear", "ear", "converter")
        )

    def test_hi_z_and_s_pdif_alone_when_a_box_is_described(self):
        carries = {
            p.key: "hiz" in p.carries
            for p in describe_box(Answers("b", mics=2, lines=2, hiz=3)).profile.ports
            if p.direction == "in"
        }
        self.assertEqual(carries, {"mic1": True, "mic2": True, "line_in1": True, "line_in2": False})
        box = describe_box(Answers("e", mics=2, spdif="both", on_computer=False)).profile
        self.assertEqual(
            (box.role, view_unit(box, rig(INTERFACE).settings_of("U1"), 48_000).inside["mic2", 1]),
            ("expander", (("spdif_out", 2),)),
        )
        bare = describe_box(Answers("p", mics=2, line_outs=2, phones=0, on_computer=False)).profile
        self.assertEqual((bare.role, bare.clock_sources), ("preamp", ()))

    def test_expansion_and_remedies_say_what_they_take(self):
        studio = rig(INTERFACE, EXPANDER)
        found = connect_expander(Survey(studio), "U1", "U2", both_ways=True)
        self.assertEqual((found.cables, found.clocked), (2, True))
        self.assertIn("2 cables to run: 1 towards the computer, 1 back.", found.said)
        self.assertIn("Eight-preamp optical expander's inputs are driver inputs 15–22 at 48 kHz.", found.said)
        old = rig(INTERFACE, "eight-preamp expander, 44.1 and 48 kHz only")
        with self.assertRaises(CannotExpand) as caught:
            connect_expander(Survey(set_rate(old, 96_000)), "U1", "U2")
        self.assertIn("does not run at 96 kHz. Go to 48 kHz first.", str(caught.exception))
        crowd = rig("two-preamp interface, optical in only")
        for n in range(4):
            crowd = add_source(crowd, f"Mic {n}")
        best = find_remedies(Survey(crowd), [p for p in studio.profiles.values() if p.role == "expander"])[0]
        self.assertEqual((best.left, best.buys, best.clocked), (0, 2, True))
        self.assertIn("one outlet", " ".join(best.parts))


class Seating(unittest.TestCase):
    """Small problems of two sockets behind one switch."""

    def problem(self, demands, *, held=None, on=False):
        slots = tuple(Slot((Face(0, 0),), n) for n in (1, 2))
        fits = {(0, 0): Fit(1), (1, 0): Fit(-1), (2, 0): Fit(0)}
        return Problem((Trait(),), slots, (), (on,), tuple(demands), fits, held=held or {})

    def test_a_held_switch_decides_who_may_sit(self):
        both = [Demand(0), Demand(1)]
        for on, seated in ((True, 0), (False, 1)):
            problem = self.problem(both, held={0: on}, on=on)
            found = seat(problem)
            self.assertEqual([p is not None for p in found.seating], [i == seated for i in range(2)])
            self.assertTrue(is_legal(problem, found.seating) and found.proven)
            self.assertEqual(score(problem, found.seating)[problem.stages.index("switches")], 0)

    def test_what_stands_is_kept_where_the_search_is_stopped(self):
        at = (((0, 0),), ((1, 0),))
        demands = [Demand(0, level=1, home=at[0], numbered=at[0]), Demand(1, level=2, home=at[1], numbered=at[1])]
        problem = self.problem(demands)
        # They cannot both stay; the more important one does.
        self.assertEqual(as_it_stands(problem), (None, at[1]))
        stopped = seat(problem, Watch(lambda _: False))
        self.assertEqual((stopped.seating, stopped.proven), ((None, at[1]), False))
        pinned = [replace(demands[0], fixed=True), demands[1]]
        self.assertEqual(as_it_stands(self.problem(pinned)), (at[0], None))
        loop = [Demand(2, home=at[0], numbered=at[0], mate=1), Demand(2, mate=1)]
        self.assertEqual(as_it_stands(self.problem(loop)), (None, None))


class FewerCables(unittest.TestCase):
    def test_of_two_plans_that_weigh_the_same_the_one_with_fewer_cables_wins_and_what_is_pulled_is_named(self):
        studio = rig(
            GENERATOR, "eight-preamp interface, two optical pairs", "eight-preamp expander, two optical outputs"
        )
        for n, unit in ((1, "U2"), (2, "U3")):
            studio = set_clock_source(connect(studio, end("U1", f"word_out{n}"), end(unit, "word_in")), unit, "word")
        studio = connect(studio, end("U3", "optical_a_out"), end("U2", "optical_a_in"))
        survey = Survey(studio)
        plan = plan_clock(survey, survey.clocks.domain_of("U2"))
        moved = [a for a in plan.alternatives if any(w.pulls for w in a.added)]
        for alternative in moved:
            after = clock_change(survey, alternative).apply(studio)
            self.assertTrue(all(w.pulls not in after.cables for w in alternative.added if w.pulls))
        with TemporaryDirectory(dir=SCRATCH) as held:
            write_studio(Path(held) / "a.json", studio)
            rows = json_of("clock", Path(held) / "a.json")["alternatives"]
        self.assertEqual(sum(bool(r["cables_to_pull"]) for r in rows), len(moved))
        for row in rows:
            for text in row["cables_to_pull"]:
                self.assertIn("word clock", text)
                self.assertTrue(any(text in said for said in row["consequences"]))


class Rehearsed(unittest.TestCase):
    def test_cues_and_loops_that_fall_silent_or_move_are_told(self):
        studio = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        studio = send_out(
            add_destination(studio, "Singer", "cue"), "D1", (end("U2", "line_out7"), end("U2", "line_out8"))
        )
        studio = send_out(
            add_destination(studio, "Ears", "cue"), "D2", (end("U2", "line_out1"), end("U2", "line_out2"))
        )
        studio = send_out(
            add_destination(studio, "Squash", "loop", channels=1), "D3", (end("U1", "line_out3"),), (end("U2", "mic6"),)
        )
        before = Survey(studio)
        told = rehearse(before, Survey(set_rate(studio, 96_000)))
        self.assertEqual([h.name for h in told.silent], ["Singer L", "Singer R", "Squash, return"])
        self.assertEqual(told.heard_elsewhere, ())
        spdif = rehearse(before, Survey(set_mode(studio, "U1", "optical", "spdif-optical")))
        self.assertEqual([h.name for h in spdif.silent], ["Singer L", "Singer R", "Ears L", "Ears R", "Squash, return"])
        fewer = rehearse(Survey(set_rate(studio, 96_000)), before)
        self.assertEqual([h.before for h in fewer.heard if h.name == "Singer L"], [None])


class Pairs(unittest.TestCase):
    def test_two_mono_sources_become_one_with_both_plugs(self):
        studio = plug(plug(set_phantom(rig(INTERFACE), "U1", "a", on=True), "OH L", "U1", "mic1"), "OH R", "U1", "mic2")
        joined = join_pair(studio, "S1", "S2", "OH")
        self.assertEqual([(c.start.source, c.start.channel) for c in joined.cables.values()], [("S1", 1), ("S1", 2)])
        self.assertRaises(BadValue, join_pair, joined, "S1", "S1", "OH")
        self.assertRaises(BadValue, join_pair, add_source(joined, "x"), "S1", "S3", "OH")
        self.assertRaises(BadValue, join_pair, studio, "S1", "S1", "OH")


class Tools(unittest.TestCase):
    def test_planted_faults_change_one_place_and_can_be_read(self):
        path = Path(__file__).resolve().parent.parent / "ennead" / "rules" / "may_sit_beside.py"
        source = path.read_text(encoding="utf-8")
        kinds = set()
        for index in range(len(list(places(path)))):
            node, kind = list(places(path))[index]
            text = turned(source, node, kind)
            self.assertNotEqual(ast.dump(ast.parse(text)), ast.dump(ast.parse(source)))
            kinds.add(kind)
        self.assertGreaterEqual(kinds, {"compare", "binary", "connective", "constant"})

    def test_odd_but_readable_studios_work_in_every_verb(self):
        dice, read = random.Random(38), 0
        with TemporaryDirectory(dir=SCRATCH) as held:
            path = Path(held) / "odd.json"
            for _ in range(60):
                if read > few(4, 9):
                    break
                path.write_bytes(nonsense(b"", dice))
                try:
                    every_verb(path)
                except EnneadError:
                    continue
                read += 1
        self.assertGreater(read, few(4, 9))
