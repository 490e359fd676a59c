"""Runs against hand-traced ways: numbers, gaps with their cause, delays, outputs."""

import random
import unittest
from dataclasses import replace

from bench.evenings import wired_evening
from ennead.checks.all_checks import find_all
from ennead.edits.cables import connect, disconnect
from ennead.edits.computer import correct_drift, leave_computer, number_at
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import rename_unit
from ennead.edits.session import change_source, set_rate
from ennead.edits.sessions import choose_session
from ennead.edits.settings import set_mode
from ennead.reports.line_rows import line_rows
from ennead.studio.errors import EnneadError
from ennead.survey.parts import PARTS
from ennead.survey.paths_onward import path_onward, remembered
from ennead.survey.paths_out import path_outward
from ennead.survey.survey import Survey, survey_of
from ennead.survey.traces import legs
from ennead.survey.words import gap_text, stop_texts
from tests.builders import EXPANDER, INTERFACE, end, findings, one_fibre, plug, random_edit, random_studio, rig

TWO_OUT = "eight-preamp expander, two optical outputs"
TWO_IN = "eight-preamp interface, two optical pairs"


def arrives(studio):
    return [r.driver.number if r.driver else r.gap.cause for r in Survey(studio).signal_paths]


class InputPaths(unittest.TestCase):
    def full(self):
        studio = one_fibre()
        for n in range(1, 9):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        return studio

    def test_expander_arrives_after_loopback_at_every_speed(self):
        studio = self.full()
        self.assertEqual(arrives(studio), [15, 16, 17, 18, 19, 20, 21, 22])
        self.assertEqual(arrives(set_rate(studio, 96_000)), [15, 16, 17, 18, "lane", "lane", "lane", "lane"])
        self.assertEqual(arrives(set_rate(studio, 176_400)), [15, 16] + ["lane"] * 6)

    def test_two_fibres_keep_eight_at_double_speed(self):
        studio = rig(TWO_IN, TWO_OUT)
        for x in "ab":
            studio = connect(studio, end("U2", f"optical_{x}_out"), end("U1", f"optical_{x}_in"))
        for n in range(1, 9):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        self.assertEqual(arrives(studio), list(range(9, 17)))
        # The map is fixed: 5–8 come in on ADAT B, whose numbers begin at 17.
        self.assertEqual(arrives(set_rate(studio, 96_000)), [9, 10, 11, 12, 17, 18, 19, 20])
        self.assertEqual(arrives(set_rate(studio, 192_000)), [9, 10, 17, 18] + ["lane"] * 4)

    def test_sixteen_channels_take_two_fibres_then_four(self):
        optical = "optical interface, four pairs, no analogue sockets"
        studio = rig(optical, "sixteen-channel line converter, four optical pairs")
        for x in "abcd":
            studio = connect(studio, end("U2", f"optical_{x}_out"), end("U1", f"optical_{x}_in"))
        for n in range(1, 17):
            studio = plug(studio, f"Line {n}", "U2", f"line{n}", kind="line")
        self.assertEqual(arrives(studio), list(range(1, 17)))
        self.assertEqual(arrives(set_rate(studio, 96_000)), list(range(1, 17)))
        self.assertEqual(arrives(set_rate(studio, 192_000)), [*range(1, 9), *["lane"] * 8])

    def test_without_smux_nothing_crosses_above_48(self):
        studio = rig(TWO_IN, "eight-preamp expander, 44.1 and 48 kHz only")
        studio = plug(connect(studio, end("U2", "optical_out"), end("U1", "optical_a_in")), "Mic", "U2", "mic1")
        self.assertEqual(arrives(studio), [9])
        self.assertEqual(arrives(set_rate(studio, 96_000)), ["rate"])

    def test_every_kind_of_gap_has_its_cause(self):
        studio = plug(one_fibre(), "Mic", "U2", "mic3")
        self.assertEqual(arrives(set_mode(studio, "U1", "optical", "spdif-optical")), ["format"])
        self.assertEqual(arrives(disconnect(studio, "C1")), ["no-cable"])
        self.assertEqual(arrives(leave_computer(studio, "U1")), ["no-computer"])
        self.assertEqual(arrives(disconnect(studio, "C2")), ["unplaced"])
        survey = Survey(set_mode(studio, "U1", "optical", "spdif-optical"))
        self.assertEqual(
            gap_text(survey, survey.signal_paths[0]),
            f"{studio.units['U1'].name}'s Optical in is set to S/PDIF, but {studio.units['U2'].name} sends ADAT.",
        )

    def test_what_is_met_in_a_ring_does_not_hang_on_who_asked_first(self):
        # Lanes 1 to 8 go round and round between the bridges; 9 to 16 come from the interface and go back to it.
        bridge = "MADI bridge, eight optical pairs"
        ring = connect(rig(bridge, bridge, INTERFACE), end("U1", "madi_out"), end("U2", "madi_in"))
        for start, into in (
            (("U2", "optical_out1"), ("U1", "optical_in1")),
            (("U3", "optical_out"), ("U1", "optical_in2")),
            (("U2", "optical_out2"), ("U3", "optical_in")),
        ):
            ring = connect(ring, end(*start), end(*into))
        survey = Survey(ring)
        keys = [
            (u, p.key, lane)
            for u, view in survey.views.items()
            for p in view.profile.ports
            if p.is_digital and p.carries[0] != "word"
            for lane in (1, 2, 9, 17)
        ]
        outs = [k for k in keys if survey.studio.port(end(*k[:2])).direction == "out"]
        alone, ask = {}, survey.passages.__getitem__
        for key in keys:
            alone[key] = path_outward(ask, *key) if key in outs else path_onward(ask, *key)
        self.assertTrue(any(way.gap is not None and way.gap.cause == "ring" for way in alone.values()))
        for seed in range(40):
            order = random.Random(seed).sample(keys, len(keys))
            walk = remembered(ask)
            for key in order:
                self.assertEqual(path_outward(walk, *key) if key in outs else path_onward(walk, *key), alone[key])

    def test_ring_of_fibres_ends(self):
        studio = rig("eight-channel line converter, two optical pairs")
        studio = connect(studio, end("U1", "line_out1"), end("U1", "line1"))
        studio = connect(studio, end("U1", "optical_a_out"), end("U1", "optical_a_in"))
        studio = plug(studio, "Keys", "U1", "line2", kind="line")
        self.assertIn(arrives(studio)[0], ("no-cable", "ring"))
        ring = connect(studio, end("U1", "line_out2"), end("U1", "line3"))
        self.assertIsNone(Survey(ring).signal_paths[0].driver)

    def test_preamp_in_front_is_outboard_and_delays_add_up(self):
        studio = rig(INTERFACE, EXPANDER, "two-channel valve preamp")
        studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        studio = connect(studio, end("U3", "line_out2"), end("U2", "mic4"))
        studio = plug(studio, "Narrator", "U3", "mic2")
        run = Survey(studio).signal_paths[0]
        self.assertEqual([s.zone for s in run.stops], ["source", "outboard", "converter", "link", "link"])
        self.assertEqual(run.driver.number, 18)
        self.assertEqual(run.latency_samples, 31 + 1 + 2)

    def test_digital_pair_uses_one_cable(self):
        studio = rig(INTERFACE)
        studio = plug(studio, "Tape", "U1", "spdif_in", kind="digital")
        studio = change_source(studio, "S1", channels=2)
        self.assertEqual(arrives(studio), [9, 10])

    def test_outputs_read_from_driver_to_ear(self):
        studio = rig(INTERFACE, EXPANDER, "active loudspeaker")
        studio = connect(studio, end("U1", "optical_out"), end("U2", "optical_in"))
        studio = connect(studio, end("U2", "line_out3"), end("U3", "line_in"))
        survey = Survey(studio)
        runs = {r.driver.number: r for r in survey.output_paths}
        # Analogue 1–8, phones 9–10, S/PDIF 11–12, ADAT 13–20: lane 3 is 15.
        self.assertTrue(runs[15].complete)
        # Interface's ADAT out 2, expander's ADAT in 1, its D/A 29; a loudspeaker has no clock and adds none.
        self.assertEqual(runs[15].latency_samples, 2 + 1 + 29)
        self.assertIsNone(runs[13].latency_samples)
        self.assertEqual(
            [text.split(" · ")[-1] for text in stop_texts(survey, runs[15])],
            ["driver output 15", "Optical out lane 3", "Optical in lane 3", "Line out 3", "Line in"],
        )
        # Headphones are heard where they are; line outputs without a cable and loopback lead nowhere.
        self.assertEqual(sorted(runs), [9, 10, *range(13, 21)])
        self.assertEqual((runs[9].complete, runs[9].latency_samples), (True, 12.0))
        wrong = set_mode(studio, "U1", "optical", "spdif-optical")
        broken = {r.driver.number: r for r in Survey(wrong).output_paths}
        self.assertEqual({broken[11].gap.cause, broken[12].gap.cause}, {"format"})
        slow = {r.driver.number: r for r in Survey(set_rate(studio, 192_000)).output_paths}
        self.assertEqual(sorted(slow), [9, 10, 13, 14])
        self.assertEqual(runs[15].stops[-1].zone, "ear")
        self.assertFalse(runs[13].complete)

    def test_dead_numbers_and_outputs_into_a_processor(self):
        studio = rig(TWO_IN, "two-channel valve preamp")
        studio = connect(studio, end("U1", "optical_a_out"), end("U1", "optical_b_in"))
        runs = Survey(set_rate(studio, 96_000)).output_paths
        self.assertEqual([r.driver.number for r in runs if r.driver.label.startswith("ADAT A")], [15, 16, 17, 18])
        for run in runs:
            self.assertEqual(run.complete, run.latency_samples is not None)


class Reuse(unittest.TestCase):
    def test_parts_are_kept_while_what_they_read_is_unchanged(self):
        studio = plug(one_fibre(), "Mic", "U2", "mic3")
        before = Survey(studio)
        _ = before.signal_paths, before.input_points, before.clocks, before.numbering
        after = Survey(change_source(studio, "S1", name="Other"), before)
        self.assertIs(after.links, before.links)
        self.assertIs(after.clocks, before.clocks)
        self.assertIs(after.input_points, before.input_points)
        self.assertEqual(after.signal_paths[0].signal, "Other")
        renamed = Survey(rename_unit(after.studio, "U2", "Slipway"), after)
        self.assertTrue(renamed.numbering is after.numbering)
        self.assertTrue(renamed.links is after.links)
        self.assertIn("Slipway", stop_texts(renamed, renamed.signal_paths[0])[1])
        faster = Survey(set_rate(after.studio, 96_000), after)
        self.assertFalse(faster.numbering is after.numbering)

    def test_a_survey_from_before_says_the_same_as_a_fresh_one(self):
        for seed in range(12):
            dice, studio = random.Random(seed), random_studio(seed, 30) if seed % 2 else wired_evening(seed)
            survey = Survey(studio)
            find_all(survey)
            for _ in range(25):
                try:
                    there = choose_session(studio, dice.choice(list(studio.sessions)))
                    studio = random_edit(studio, dice)[1](studio) if dice.random() < 0.9 or there is studio else there
                except EnneadError:
                    continue
                survey = Survey(studio, survey)
                self.assertEqual(
                    *(
                        [(f.key, f.why, f.working, [x.text for x in f.fixes]) for f in find_all(s)]
                        for s in (survey, Survey(studio))
                    )
                )
                fresh = Survey(studio)
                self.assertEqual(
                    *(
                        [
                            (
                                r.signal,
                                r.track,
                                r.channel,
                                r.into,
                                r.way,
                                r.driver,
                                r.out,
                                r.to,
                                stop_texts(s, r),
                                gap_text(s, r),
                            )
                            for r in (*s.signal_paths, *s.output_paths)
                        ]
                        for s in (survey, fresh)
                    )
                )
                for name in PARTS:
                    # Links are known by what they are; what is in them shows in every other part.
                    if name not in ("links", "leaving", "leaving_by_unit", "passages", "link_kinds", "word_lines"):
                        self.assertEqual(survey.named(name), fresh.named(name), name)

    def test_numbers_and_domains_follow_edits_of_an_aggregate(self):
        studio = rig(INTERFACE, TWO_IN, EXPANDER, "active loudspeaker")
        studio = connect(studio, end("U3", "optical_out"), end("U1", "optical_in"))
        studio = connect(studio, end("U2", "line_out1"), end("U4", "line_in"))
        studio = plug(plug(studio, "Fiddle", "U2", "mic2"), "Choir", "U3", "mic1", "mic2")
        after_fibre = disconnect(studio, "C1")
        walk = [
            set_mode(studio, "U1", "optical", "spdif-optical"),
            studio,
            set_rate(studio, 96_000),
            studio,
            number_at(studio, "U2", 1),
            studio,
            after_fibre,
            studio,
            correct_drift(studio, "U2", True),
        ]
        survey = Survey(studio)
        find_all(survey)
        numbers, domains = [], []
        for one in walk:
            survey, fresh = Survey(one, survey), Survey(one)
            self.assertEqual(*([(f.key, f.why, f.working) for f in find_all(s)] for s in (survey, fresh)))
            self.assertEqual(
                (survey.signal_paths, survey.output_paths, survey.input_points),
                (fresh.signal_paths, fresh.output_paths, fresh.input_points),
            )
            self.assertEqual(survey.input_point_at, fresh.input_point_at)
            numbers.append(survey.signal_paths[0].driver.number)
            domains.append(len(survey.clocks.domains))
        # In front of the second interface stand 8 analogue, 2 S/PDIF, 4 loopback and 8 ADAT inputs of the first: 22.
        self.assertEqual(numbers, [16, 24, 20, 24, 2, 24, 24, 24, 24])
        self.assertEqual(domains, [2, 1, 1, 1, 1, 1, 2, 1, 2])


class Legs(unittest.TestCase):
    def test_a_source_that_is_split_arrives_twice_and_a_dead_leg_nowhere(self):
        studio = rig(INTERFACE, "microphone splitter, eight ways", EXPANDER)
        studio = connect(studio, end("U2", "direct1"), end("U1", "mic3"))
        studio = plug(studio, "Fiddle", "U2", "input1")
        alone = Survey(studio)
        self.assertEqual(([r.driver.number for r in alone.signal_paths], legs(alone, alone.signal_paths[0])), ([3], ()))
        # The second leg goes into an expander from which nothing leads on: no arrival, and no fault of the line's.
        dead = connect(studio, end("U2", "isolated1"), end("U3", "mic2"))
        self.assertEqual(legs(Survey(dead), Survey(dead).signal_paths[0]), ())
        both = Survey(connect(dead, end("U3", "optical_out"), end("U1", "optical_in")))
        (other,) = legs(both, both.signal_paths[0])
        self.assertEqual((both.signal_paths[0].driver.number, other.driver.number, other.track), (3, 16, "Fiddle"))
        self.assertEqual(
            [t.split(" · ")[0] for t in stop_texts(both, other)][1:3], [both.units["U2"].name, both.units["U3"].name]
        )
        rows = line_rows(both, both.signal_paths)
        self.assertEqual([(r["leg"], r["driver_number"], r["complete"]) for r in rows], [(1, 3, True), (2, 16, True)])

    def test_an_output_feeds_two_loudspeakers_and_one_behind_an_amplifier(self):
        studio = rig(
            INTERFACE, "active loudspeaker", "active loudspeaker", "two-channel power amplifier", "passive loudspeaker"
        )
        for speaker in ("U2", "U3"):
            studio = connect(studio, end("U1", "line_out1"), end(speaker, "line_in"))
        amplifier, passive = (studio.profile_of(u) for u in ("U4", "U5"))
        ins, outs = ([p.key for p in amplifier.ports if p.direction == way] for way in ("in", "out"))
        studio = connect(studio, end("U1", "line_out2"), end("U4", ins[0]))
        studio = connect(studio, end("U4", outs[0]), end("U5", passive.ports[0].key))
        survey = Survey(studio)
        runs = {r.driver.number: r for r in survey.output_paths}
        self.assertEqual([r.stops[-1].unit for r in (runs[1], *legs(survey, runs[1]))], ["U2", "U3"])
        self.assertEqual(
            ([s.unit for s in runs[2].stops], runs[2].stops[-1].zone, legs(survey, runs[2])),
            ([None, "U1", "U4", "U4", "U5"], "ear", ()),
        )
        mains = send_out(add_destination(studio, "Mains", "mains", channels=1), "D1", [end("U1", "line_out2")])
        self.assertEqual(
            (survey_of(mains).placed("D1").outputs, findings(mains, "output_does_not_suit")),
            ((end("U1", "line_out2"),), []),
        )
        # Said to stand at the loudspeaker itself, it is found behind the amplifier.
        at = replace(mains.destinations["D1"], at=(end("U5", passive.ports[0].key),))
        self.assertEqual(
            survey_of(replace(mains, destinations=mains.destinations.put("D1", at))).placed("D1").outputs,
            (end("U1", "line_out2"),),
        )
