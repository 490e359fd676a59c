"""Links and clock: the figures of the standards, each rule with its fix, expansion, rehearsal, stand-in units."""

import random
import unittest
from dataclasses import replace

from ennead.checks.all_checks import CHECKS
from ennead.edits.as_built import tick_cable
from ennead.edits.cables import connect, disconnect, set_grade, set_length
from ennead.edits.change import Change
from ennead.edits.computer import join_computer, leave_computer
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import add_unit, rename_unit
from ennead.edits.session import add_source, set_rate
from ennead.edits.settings import set_clock_source, set_mode, set_own_rate, set_stored, set_termination
from ennead.files.profiles import shelf_profile
from ennead.planning.growing.expansion import CannotExpand, connect_expander, spans
from ennead.reports.cable_schedule import cable_rows
from ennead.reports.clock_rows import clock_rows
from ennead.reports.lane_rows import link_lanes
from ennead.reports.link_rows import link_rows
from ennead.reports.sheet_of import sheet_of
from ennead.standards.clock import INPUT_WINDOW, OUTPUT_WINDOW, frame_us, slip_s, wire_delay_us
from ennead.standin.clock_units import POWER_UP_S, TRUST_S, heard, play
from ennead.studio.errors import BadValue, SocketTaken
from ennead.studio.ids import ComputerId
from ennead.studio.profile import ClockSource
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, findings, one_fibre, plug, rig
from tests.test_clock import random_house

TWO_PAIRS = "eight-preamp interface, two optical pairs"
TWO_OUT = "eight-preamp expander, two optical outputs"
GENERATOR = "word-clock generator, six outputs"
MASTERING = "stereo converter, AES3, with a rate converter"
BRIDGE, MADI = "MADI bridge, eight optical pairs", "MADI interface, one optical and one coaxial pair"
SINGLE = "eight-preamp expander, 44.1 and 48 kHz only"
EITHER = "eight-preamp interface or expander, by mode"


def word(studio, *units, start="U1", port="word_out1"):
    """Put units on one word-clock line, in order, and let them follow it."""
    for unit in units:
        studio = connect(studio, end(start, port), end(unit, "word_in"))
        studio = set_clock_source(studio, unit, "word")
    return studio


def closed(studio, *units):
    for unit in units:
        studio = set_termination(studio, unit, "word_in", on=True)
    return studio


class Figures(unittest.TestCase):
    def lanes(self, studio, rate):
        return [row["channels_capacity"] for row in link_rows(Survey(set_rate(studio, rate)))]

    def test_lanes_on_one_fibre_on_two_and_on_madi(self):
        self.assertEqual([self.lanes(one_fibre(), r) for r in (48_000, 96_000, 192_000)], [[8], [4], [2]])
        two = connect(rig(TWO_PAIRS, TWO_OUT), end("U2", "optical_a_out"), end("U1", "optical_a_in"))
        two = connect(two, end("U2", "optical_b_out"), end("U1", "optical_b_in"))
        self.assertEqual(sum(self.lanes(two, 96_000)), 8)
        for mode, wanted in (("madi", [64, 32, 16]), ("madi-56", [56, 28, 14]), ("madi-48k", [64, 32, 16])):
            studio = connect(rig(MADI, BRIDGE), end("U2", "madi_out"), end("U1", "madi_a_in"))
            for unit in ("U1", "U2"):
                studio = set_mode(studio, unit, "madi", mode)
            self.assertEqual([self.lanes(studio, r)[0] for r in (44_100, 88_200, 176_400)], wanted)

    def test_madi_between_rooms_through_an_interface_s_router(self):
        router = "interface with optical and MADI, and a router"
        studio = rig(router, router, EXPANDER)
        studio = leave_computer(set_mode(studio, "U1", "router", "through"), "U1")
        studio = connect(studio, end("U3", "optical_out"), end("U1", "optical_in"))
        studio = connect(studio, end("U1", "madi_out"), end("U2", "madi_in"), 60.0)
        studio = plug(studio, "Far mic", "U3", "mic2")
        (run,) = Survey(studio).signal_paths
        self.assertEqual(run.driver.number, 4 + 8 + 2)
        self.assertFalse(Survey(set_mode(studio, "U1", "router", "computer")).signal_paths[0].complete)

    def test_numbers_behind_spdif_and_loopback_and_behind_another_interface(self):
        def adat(studio, rate):
            return spans(
                sorted(
                    d.number for s in Survey(set_rate(studio, rate)).input_points if s.unit == "U2" for d in s.drivers
                )
            )

        self.assertEqual((adat(one_fibre(), 48_000), adat(one_fibre(), 96_000)), ("15–22", "15–18"))
        studio = rig(INTERFACE, EXPANDER)
        studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        ten = replace(shelf_profile(INTERFACE), name="ten in")
        ten = replace(ten, driver_maps=tuple(replace(m, inputs=m.inputs[:2]) for m in ten.driver_maps))
        studio = add_unit(studio, ten, "Ten")
        computer = ComputerId("H1")
        order = (studio.hosts[computer].interfaces[-1], *studio.hosts[computer].interfaces[:-1])
        studio = replace(studio, hosts=studio.hosts.put(computer, replace(studio.hosts[computer], interfaces=order)))
        self.assertEqual(len([d for d in Survey(studio).numbering.inputs if d.unit == "U3"]), 10)
        self.assertEqual(adat(studio, 48_000), "25–32")

    def test_alignment_and_drift(self):
        self.assertAlmostEqual(frame_us(48_000), 20.83, 2)
        self.assertAlmostEqual(INPUT_WINDOW * frame_us(48_000), 5.21, 2)
        self.assertAlmostEqual(wire_delay_us(1_042), 5.21, 2)
        self.assertAlmostEqual((INPUT_WINDOW - OUTPUT_WINDOW) * frame_us(48_000) / wire_delay_us(1), 833, 0)
        self.assertAlmostEqual(slip_s(48_000, 100), 0.208, 3)
        self.assertAlmostEqual(slip_s(44_100, 51), 0.4446, 4)


class InWords(unittest.TestCase):
    """Lanes, cascade and list rows against what one reads off the boxes."""

    def test_lanes_say_who_sends_and_where_it_arrives(self):
        studio = plug(one_fibre(), "Kick", "U2", "mic3", track="Kick in")
        back = connect(studio, end("U1", "optical_out"), end("U2", "optical_in"))
        survey = Survey(back)
        there, home = link_lanes(survey)["C1"], link_lanes(survey)["C3"]
        self.assertEqual([lane.sent for lane in there], [str(n) for n in range(1, 9)])
        self.assertEqual([lane.arrives for lane in there], [str(n) for n in range(15, 23)])
        self.assertEqual([(lane.number, lane.track) for lane in there if lane.state == "used"], [(3, "Kick in")])
        outs = [d.number for d in survey.numbering.outputs if d.channel.port == "optical_out"]
        self.assertEqual([lane.sent for lane in home], [str(n) for n in outs])
        self.assertEqual([lane.arrives for lane in home], [str(n) for n in range(1, 9)])
        # In use is what a line of the session runs on: nobody is heard over there yet.
        self.assertEqual({lane.state for lane in home}, {"free"})
        self.assertEqual(
            (len(there), link_rows(survey)[0]["channels_used"], link_rows(survey)[1]["channels_used"]), (8, 1, 0)
        )
        cue = send_out(add_destination(back, "Singer", "cue"), "D1", (end("U2", "line_out3"), end("U2", "line_out4")))
        self.assertEqual(
            [(n.number, n.track) for n in link_lanes(Survey(cue))["C3"] if n.state == "used"],
            [(3, "Singer"), (4, "Singer")],
        )
        loop = add_destination(back, "Squash", "loop", channels=1)
        loop = send_out(loop, "D1", (end("U1", "line_out3"),), (end("U2", "mic5"),))
        self.assertEqual(
            [(n.number, n.track) for n in link_lanes(Survey(loop))["C1"] if n.state == "used"],
            [(3, "Kick in"), (5, "Squash")],
        )
        fast = link_lanes(Survey(set_rate(back, 96_000)))["C1"]
        self.assertEqual([lane.state for lane in fast], ["free", "free", "used", "free", *["lost"] * 4])
        self.assertEqual([lane.arrives for lane in fast], ["15", "16", "17", "18", "", "", "", ""])
        generator = connect(rig(GENERATOR, TWO_PAIRS), end("U1", "word_out1"), end("U2", "word_in"))
        self.assertEqual(dict(link_lanes(Survey(generator))), {})

    def test_the_cascade_in_words(self):
        chain = word(word(rig(GENERATOR, TWO_PAIRS, TWO_PAIRS), "U2"), "U3", start="U2", port="word_out")
        (domain,) = Survey(chain).clocks.domains
        rows = clock_rows(Survey(chain), domain)
        self.assertEqual(
            [(r.unit, r.depth, r.parent, r.word) for r in rows],
            [("U1", 0, None, "leads"), ("U2", 1, "U1", "locked"), ("U3", 2, "U2", "locked")],
        )
        self.assertEqual(
            [r.medium for r in rows],
            [
                "own crystal, ±1 ppm",
                "word clock from Word-clock generator, six outputs over C1, hop 1",
                "word clock from Eight-preamp interface, two optical pairs over C2, hop 2",
            ],
        )
        other = connect(disconnect(chain, "C1"), end("U3", "spdif_out"), end("U2", "spdif_in"))
        rows = {r.unit: r for d in Survey(other).clocks.domains for r in clock_rows(Survey(other), d)}
        self.assertEqual(rows["U2"].reason, "no cable arrives at Word clock in")
        wrong = set_clock_source(set_mode(one_fibre(), "U1", "optical", "spdif-optical"), "U1", "optical")
        rows = {r.unit: r for d in Survey(wrong).clocks.domains for r in clock_rows(Survey(wrong), d)}
        self.assertEqual(rows["U1"].reason, "ADAT arrives at Optical in, set to S/PDIF")
        cut = disconnect(chain, "C1")
        by_unit = {r.unit: r for d in Survey(cut).clocks.domains for r in clock_rows(Survey(cut), d)}
        self.assertEqual((by_unit["U2"].word, by_unit["U2"].reason), ("no clock", "no cable arrives at Word clock in"))
        self.assertEqual((by_unit["U3"].word, by_unit["U3"].reason), ("adrift", "whom it follows is not locked itself"))
        ring = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        ring = set_clock_source(set_clock_source(ring, "U1", "optical"), "U2", "optical")
        (domain,) = Survey(ring).clocks.domains
        self.assertEqual(
            [(r.word, r.depth, r.locked) for r in clock_rows(Survey(ring), domain)], [("in a ring", 0, False)] * 2
        )

    def test_many_hops_names_the_farthest_and_its_way(self):
        chain = rig(GENERATOR, *[TWO_PAIRS] * 5)
        chain = word(chain, "U2")
        for above, unit in (("U2", "U3"), ("U3", "U4"), ("U4", "U5")):
            chain = word(chain, unit, start=above, port="word_out")
        chain = rename_unit(rename_unit(word(chain, "U6", port="word_out2"), "U5", "Last"), "U1", "First")
        (found,) = findings(chain, "many_hops")
        self.assertTrue(found.message.startswith("Last is 4 hops from First, which leads, and 1 more are beyond 2."))
        self.assertTrue(found.working[0].startswith("First → ") and found.working[0].endswith(" → Last"))
        self.assertEqual(found.working[0].count("→"), 4)


class Rules(unittest.TestCase):
    """Each rule: a house in which it speaks, words it says, a fix that ends it; and a neighbour that is silent."""

    def speaks(self, rule, studio, *words, severity, silent=None, fixed=True):
        found = findings(studio, rule)
        self.assertTrue(found, rule)
        text = " ".join((found[0].message, found[0].why, *found[0].working))
        for wanted in words:
            self.assertIn(wanted, text)
        self.assertEqual(found[0].severity, severity)
        self.assertIn(sheet_of(found[0]), ("Links", "Clock"))
        if fixed:
            self.assertIsInstance(found[0].fixes[0].does, Change)
            after = found[0].fixes[0].does.apply(studio)
            self.assertLess(len(findings(after, rule)), len(found), rule)
        else:
            self.assertEqual(found[0].fixes, ())
        if silent is not None:
            self.assertEqual(findings(silent, rule), [], rule)
        return found[0]

    def test_word_lines(self):
        one = word(rig(GENERATOR, TWO_PAIRS, TWO_OUT), "U2")
        self.speaks("word_line_open", one, "ends open", "75 ohm once", severity="trouble", silent=closed(one, "U2"))
        two = word(one, "U3")
        self.speaks(
            "word_line_open", closed(two, "U2"), "Word clock in ends open", severity="trouble", silent=closed(two, "U3")
        )
        self.speaks(
            "word_line_closed_twice",
            closed(two, "U2", "U3"),
            "though it goes on",
            severity="trouble",
            silent=closed(two, "U3"),
        )
        self.speaks(
            "word_line_shared", closed(two, "U3"), "T-pieces", severity="note", silent=closed(one, "U2"), fixed=False
        )
        absent = word(rig(GENERATOR, "eight-preamp optical expander with word clock"), "U2")
        found = self.speaks("word_line_open", absent, "ends open", severity="trouble", silent=closed(absent, "U2"))
        self.assertIn("Put a T-piece with a 75 ohm terminator on", found.fixes[0].text)
        self.assertEqual((found.subject.key, set(found.concerns)), ("U2", {"C1", "U1", "U2"}))
        fixed = word(rig(GENERATOR, "optical interface, four pairs, no analogue sockets", TWO_PAIRS), "U2", "U3")
        found = self.speaks(
            "word_line_closed_twice", closed(fixed, "U3"), "cannot be switched off", severity="trouble", fixed=False
        )
        self.assertEqual(found.subject.key, "U2")

    def test_an_output_drives_three_on_a_line_and_no_more(self):
        studio = word(rig(GENERATOR, *[TWO_PAIRS] * 4), "U2", "U3", "U4")
        with self.assertRaises(SocketTaken):
            connect(studio, end("U1", "word_out1"), end("U5", "word_in"))
        with self.assertRaises(SocketTaken):
            connect(
                connect(rig(TWO_PAIRS, TWO_PAIRS, TWO_PAIRS), end("U1", "spdif_out"), end("U2", "spdif_in")),
                end("U1", "spdif_out"),
                end("U3", "spdif_in"),
            )

    def test_hops_hands_and_switches(self):
        chain = rig(GENERATOR, *[TWO_PAIRS] * 3)
        chain = word(word(word(chain, "U2"), "U3", start="U2", port="word_out"), "U4", start="U3", port="word_out")
        self.speaks("many_hops", chain, "3 hops from", severity="note", silent=disconnect(chain, "C3"), fixed=False)
        self.speaks(
            "rate_by_hand",
            word(rig(GENERATOR, TWO_PAIRS), "U2"),
            "set 48 kHz by hand",
            "2. software",
            severity="note",
            silent=rig(TWO_PAIRS),
            fixed=False,
        )
        off = set_own_rate(one_fibre(), "U2", 44_100)
        self.assertIn("As the leader it pulls everybody", findings(off, "rate_switch_differs")[0].why)
        follows = set_clock_source(set_own_rate(one_fibre(), "U1", 44_100), "U1", "optical")
        self.assertIn("It cannot lock", findings(follows, "rate_switch_differs")[0].why)
        self.speaks(
            "rate_switch_differs",
            off,
            "stands at 44.1 kHz",
            "no slip time",
            severity="trouble",
            silent=set_own_rate(off, "U2", 48_000),
        )
        self.assertRaises(BadValue, set_own_rate, rig(SINGLE), "U1", 96_000)

    def test_lock_is_not_agreement(self):
        fast = set_rate(connect(rig(TWO_PAIRS, SINGLE), end("U1", "optical_a_out"), end("U2", "optical_in")), 96_000)
        self.speaks(
            "locks_but_wrong",
            fast,
            "locked? yes",
            "same rate? no",
            "frames at 48 kHz",
            severity="trouble",
            silent=set_rate(fast, 48_000),
        )
        madi = set_mode(
            connect(rig(MADI, BRIDGE), end("U2", "madi_out"), end("U1", "madi_a_in")), "U2", "madi", "madi-56"
        )
        self.speaks(
            "locks_but_wrong",
            madi,
            "same rate? yes",
            "same mode? no",
            "MADI 56",
            severity="trouble",
            silent=set_mode(madi, "U1", "madi", "madi-56"),
        )
        self.assertEqual(findings(madi, "formats_disagree"), [])
        framed = set_mode(set_mode(madi, "U1", "madi", "madi-48k"), "U2", "madi", "madi")
        self.assertEqual(findings(framed, "locks_but_wrong"), [])
        self.assertTrue(findings(set_rate(framed, 96_000), "locks_but_wrong"))

    def test_stored_adapters_second_fibre(self):
        routed = connect(
            rig(INTERFACE, "eight-preamp expander with a routing table"),
            end("U2", "optical_out"),
            end("U1", "optical_in"),
        )
        self.speaks(
            "routing_not_stored",
            routed,
            "stored once",
            "1. Connect it",
            severity="note",
            silent=set_stored(routed, "U2", True),
        )
        mixed = connect(rig(MASTERING, INTERFACE), end("U1", "id_out"), end("U2", "spdif_in"))
        self.speaks(
            "adapter_doubtful", mixed, "RCA–BNC adapter", "0.5 V", severity="caution", silent=one_fibre(), fixed=False
        )
        self.assertEqual([r["adapters"] for r in cable_rows(Survey(mixed))], ["RCA–BNC adapter"])
        half = connect(rig(TWO_PAIRS, TWO_OUT), end("U2", "optical_a_out"), end("U1", "optical_a_in"))
        for n in range(1, 9):
            half = plug(half, f"Mic {n}", "U2", f"mic{n}")
        self.speaks(
            "second_fibre_missing",
            set_rate(half, 96_000),
            "4 channels have no way",
            "carries 4 channels at 96 kHz",
            severity="trouble",
            silent=half,
        )
        stray = plug(add_source(set_rate(half, 96_000), "Nowhere yet"), "Elsewhere", "U1", "mic1")
        (found,) = findings(stray, "second_fibre_missing")
        # Its four sources, and no other that does not arrive.
        self.assertEqual(set(found.concerns), {"U2", "U1", "C1", "S5", "S6", "S7", "S8"})

    def test_boxes_that_hear_nothing_or_are_not_seen(self):
        pure = "optical interface, four pairs, no analogue sockets"
        fed = connect(rig(pure, EXPANDER), end("U2", "optical_out"), end("U1", "optical_a_in"))
        self.assertEqual(findings(rig(INTERFACE), "nothing_behind_optical"), [])
        self.speaks(
            "nothing_behind_optical", rig(pure), "no socket for a microphone", severity="note", silent=fed, fixed=False
        )
        either = set_mode(rig(INTERFACE, EITHER), "U2", "role", "expander")
        self.speaks(
            "expander_on_computer",
            either,
            "the computer does not see it",
            severity="trouble",
            silent=rig(INTERFACE, EITHER),
        )
        crystal = replace(shelf_profile(EXPANDER), name="crystal only", clock_sources=(ClockSource("own", "Own"),))
        deaf = add_unit(add_unit(rig(TWO_PAIRS), crystal, "One"), crystal, "Two")
        deaf = connect(
            connect(deaf, end("U2", "optical_out"), end("U1", "optical_a_in")),
            end("U3", "optical_out"),
            end("U1", "optical_b_in"),
        )
        self.speaks(
            "two_cannot_follow",
            deaf,
            "One and Two can follow nobody",
            severity="trouble",
            silent=disconnect(deaf, "C2"),
            fixed=False,
        )

    def test_resampled_late_and_forgotten(self):
        any_rate = connect(rig(MASTERING, MASTERING), end("U2", "aes_out"), end("U1", "any_in"))
        self.speaks(
            "input_resampled",
            any_rate,
            "may keep its own clock",
            "60 samples late",
            severity="note",
            silent=connect(rig(MASTERING, MASTERING), end("U2", "aes_out"), end("U1", "aes_in")),
            fixed=False,
        )
        self.assertEqual(len(Survey(any_rate).clocks.domains), 2)
        long = connect(rig(MADI, BRIDGE), end("U2", "madi_out"), end("U1", "madi_a_in"), 834.0)
        self.speaks(
            "clock_arrives_late",
            long,
            "834 m × 5 ns/m",
            severity="caution",
            silent=set_length(long, "C1", 833.0),
            fixed=False,
        )
        forgotten = connect(rig(GENERATOR, TWO_PAIRS), end("U1", "word_out1"), end("U2", "word_in"))
        self.speaks(
            "generator_not_followed",
            forgotten,
            "follows Internal instead",
            severity="note",
            silent=set_clock_source(forgotten, "U2", "word"),
        )
        self.assertEqual(findings(forgotten, "two_leaders"), [])

    def test_a_digital_box_without_any_clock_source_is_named(self):
        bare = add_unit(rig(INTERFACE), replace(shelf_profile(EXPANDER), name="bare", clock_sources=()), "Bare")
        found = self.speaks(
            "no_clock_menu",
            connect(bare, end("U2", "optical_out"), end("U1", "optical_in")),
            "Bare carries digital sound",
            severity="trouble",
            silent=bare,
            fixed=False,
        )
        self.assertEqual((found.subject.key, found.concerns), ("U2", ("U2", "C1")))

    def test_how_far_each_medium_reaches(self):
        for start, into, boxes, reach, good in (
            ("optical_out", "optical_in", (INTERFACE, EXPANDER), 5, 10),
            ("madi_out", "madi_a_in", (MADI, BRIDGE), 2_000, 2_000),
            ("madi_b_out", "madi_b_in", (MADI, MADI), 50, 100),
        ):
            studio = connect(rig(*boxes), end("U2", start), end("U1", into), reach)
            self.assertEqual(findings(studio, "cable_too_long"), [])
            self.assertTrue(findings(set_length(studio, "C1", reach + 1), "cable_too_long"), start)
            better = set_grade(set_length(studio, "C1", good), "C1", "good")
            self.assertEqual(findings(better, "cable_too_long"), [])
        self.assertRaises(BadValue, set_grade, one_fibre(), "C1", "gold")

    def test_there_are_enough_of_them(self):
        self.assertGreaterEqual(sum(len(CHECKS[s]) for s in ("clock", "links")), 20)


class Expanding(unittest.TestCase):
    def joined(self, *boxes, rate=48_000, **how):
        studio = set_rate(rig(*boxes), rate)
        found = connect_expander(Survey(studio), "U1", "U2", **how)
        self.assertEqual(found.change.apply(studio), found.after)
        clocks = Survey(found.after).clocks
        self.assertTrue(clocks.domain_of("U2").all_locked)
        self.assertEqual(
            [f for f in findings(found.after) if f.severity == "trouble" and f.rule != "rate_not_offered"], []
        )
        return found, " ".join(found.said)

    def test_one_way_the_expander_leads_and_two_ways_the_interface_does(self):
        one, said = self.joined(INTERFACE, EXPANDER)
        self.assertEqual((one.cables, Survey(one.after).clocks.by_unit["U2"].state), (1, "leads"))
        self.assertIn("driver inputs 15–22 at 48 kHz", said)
        self.assertIn("set by hand", said)
        self.assertIn("Cable: TOSLINK fibre, Eight-preamp optical expander · Optical out → ", said)
        self.assertIn("one optical pair's clock to Optical.", said)
        # What is set already is not said: the expander led before and leads now.
        self.assertEqual(said.count("'s clock to "), 1)
        two, said = self.joined(INTERFACE, EXPANDER, both_ways=True)
        self.assertEqual((two.cables, Survey(two.after).clocks.by_unit["U1"].state), (2, "leads"))
        self.assertIn("The rate follows the software", said)

    def test_double_speed_takes_two_fibres_and_modes_are_set(self):
        two, said = self.joined(TWO_PAIRS, TWO_OUT, rate=96_000)
        self.assertEqual(two.cables, 2)
        self.assertIn("9–12, 17–20 at 96 kHz", said)
        one, said = self.joined(INTERFACE, EITHER)
        self.assertEqual(one.after.settings_of("U2").modes, {"role": "expander"})
        self.assertNotIn("U2", Survey(one.after).numbering.computer_of)
        self.assertIn("15–22", said)
        routed, _ = self.joined(INTERFACE, "eight-preamp expander with a routing table")
        # It sends its inputs as it stands, so that nothing is set that need not be.
        self.assertEqual(routed.after.settings_of("U2").modes, {})
        wrong = set_mode(rig(INTERFACE, EXPANDER), "U1", "optical", "spdif-optical")
        found = connect_expander(Survey(wrong), "U1", "U2")
        self.assertEqual(Survey(found.after).links["C1"].lanes, 8)
        with self.assertRaisesRegex(CannotExpand, "does not run at 96 kHz. Go to 48 kHz first"):
            self.joined(TWO_PAIRS, SINGLE, rate=96_000)

    def test_the_one_that_leads_is_named_and_inputs_left_over_are_too(self):
        _, said = self.joined(INTERFACE, EXPANDER, both_ways=True)
        self.assertIn("Clock: Eight-preamp interface, one optical pair leads.", said)
        self.assertNotIn("have no way", said)
        one_pair = connect(rig(TWO_PAIRS, TWO_OUT, EXPANDER), end("U3", "optical_out"), end("U1", "optical_b_in"))
        found = connect_expander(Survey(set_rate(one_pair, 96_000)), "U1", "U2")
        self.assertIn("Mic 5, Mic 6, Mic 7, Mic 8 have no way at 96 kHz", " ".join(found.said))

    def test_what_cannot_be_joined_is_said(self):
        with self.assertRaises(CannotExpand) as caught:
            connect_expander(Survey(rig(INTERFACE, GENERATOR)), "U1", "U2")
        self.assertRegex(
            str(caught.exception), r"cannot be connected to .*has no digital output\. It has nothing to send\."
        )
        self.assertEqual(spans([1, 2, 3, 7, 9, 10]), "1–3, 7, 9–10")


class Rehearsing(unittest.TestCase):
    def test_what_is_lost_and_what_moves_against_the_two_maps(self):
        studio = one_fibre()
        for n in range(1, 9):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        before, after = Survey(studio), Survey(set_rate(studio, 96_000))
        tried = rehearse(before, after)
        self.assertEqual([r.track for r in tried.lost], ["Mic 5", "Mic 6", "Mic 7", "Mic 8"])
        self.assertEqual((tried.renumbered, tried.found), ((), ()))
        self.assertEqual(tried.inputs, (22, 18))
        back = rehearse(after, before)
        self.assertEqual([r.track for r in back.found], ["Mic 5", "Mic 6", "Mic 7", "Mic 8"])

    def test_a_block_that_goes_moves_those_behind_it(self):
        maps = shelf_profile(INTERFACE).driver_maps
        adat_first = replace(maps[0], numbering="collapsing", inputs=(maps[0].inputs[-1], *maps[0].inputs[:-1]))
        studio = add_unit(
            rig(), replace(shelf_profile(INTERFACE), name="adat first", driver_maps=(adat_first,)), "Pier"
        )
        studio = join_computer(studio, "U1") if not studio.hosts else studio
        studio = plug(studio, "Kick", "U1", "mic1")
        moved = rehearse(Survey(studio), Survey(set_rate(studio, 96_000))).renumbered
        self.assertEqual([(m.track, m.before, m.after) for m in moved], [("Kick", 9, 5)])


class StandIns(unittest.TestCase):
    def test_lamps_end_as_the_survey_says_they_do(self):
        dice = random.Random(3)
        seen = set()
        for _ in range(60):
            studio = random_house(dice)
            survey = Survey(studio)
            played = play(survey, 6.0)
            for unit, clock in survey.clocks.by_unit.items():
                lamp = played.lamps[unit]
                seen.add(clock.state)
                self.assertEqual(lamp, {"leads": "leads", "locked": "locked"}.get(clock.state, "searching"), clock)
        self.assertLessEqual({"leads", "locked", "silent", "adrift"}, seen)

    def test_they_lock_one_hop_after_the_other(self):
        chain = word(word(rig(GENERATOR, TWO_PAIRS, TWO_PAIRS), "U2"), "U3", start="U2", port="word_out")
        times = {e.unit: e.at_s for e in play(Survey(chain), 6.0).events if e.lamp in ("leads", "locked")}
        self.assertAlmostEqual(times["U1"], POWER_UP_S, 1)
        for hop, unit in enumerate(("U1", "U2", "U3")):
            self.assertAlmostEqual(times[unit] - times["U1"], hop * TRUST_S, 1)

    def test_slips_are_counted_as_often_as_the_formula_says(self):
        for rate, ppm in ((48_000, (50.0, 50.0)), (44_100, (50.0, 1.0)), (96_000, (10.0, 10.0))):
            one = replace(shelf_profile(INTERFACE), name="one", ppm=ppm[0])
            two = replace(shelf_profile(EXPANDER), name="two", ppm=ppm[1])
            studio = set_rate(add_unit(add_unit(rig(), one, "One"), two, "Two"), rate)
            studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
            survey = Survey(studio)
            (slip,) = play(survey, 60.0).slips
            self.assertAlmostEqual(slip.every_s / slip_s(rate, sum(ppm)), 1.0, 3)
            self.assertAlmostEqual(slip.count, 20.0 / slip_s(rate, sum(ppm)), delta=1)
            self.assertIn("a click every", heard(survey, play(survey, 6.0))[0])

    def test_a_pulled_cable_silences_and_lets_go(self):
        studio = set_clock_source(one_fibre(), "U1", "optical")
        whole, pulled = play(Survey(studio), 6.0), play(Survey(studio), 6.0, ["C1"])
        self.assertEqual((whole.lamps["U1"], whole.slips, whole.silent), ("locked", (), ()))
        self.assertEqual((pulled.lamps["U1"], [n.cable for n in pulled.silent]), ("lost", ["C1"]))
        said = " ".join(heard(Survey(studio), pulled))
        self.assertIn("silence", said)
        self.assertIn("has no lock", said)
        self.assertEqual(heard(Survey(studio), whole), ("Everybody is in step; nothing is heard of the clock.",))

    def test_two_rates_are_no_drift(self):
        wrong = set_own_rate(one_fibre(), "U2", 44_100)
        self.assertEqual(play(Survey(wrong), 6.0).slips, ())
        self.assertTrue(tick_cable(wrong, "C1").as_built.cables)
