"""Words, choices and prices that planted faults once got past; each sentence or choice is asked for by its situation."""

import unittest
from dataclasses import replace

from ennead.edits.cables import connect, disconnect
from ennead.edits.computer import attach, correct_drift, count_sockets, leave_computer
from ennead.edits.destinations import add_destination, change_destination, send_out
from ennead.edits.house import add_place, mark_fault, put_unit
from ennead.edits.session import add_source, set_loop_numbers, set_rate
from ennead.edits.settings import set_phantom
from ennead.files.profiles import shelf
from ennead.planning.boxes.describing import Answers, describe_box
from ennead.planning.boxes.matching import match_blocks
from ennead.planning.boxes.software_list import read_software_list
from ennead.planning.growing.expansion import likely_pair
from ennead.planning.growing.remedies import find_remedies
from ennead.planning.growing.unit_loss import lose_each
from ennead.planning.routing.why import why_not_there
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.planning.seating.reach import CABLE, CABLE_TO_ANOTHER_PLACE, reach_price
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.rules.profile_holds_together import profile_faults
from ennead.studio.errors import BadValue
from ennead.studio.ids import UnitId
from ennead.studio.profile import Block
from ennead.survey.levels import Into, peak_working
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, findings, one_fibre, plug, rig

MADI = "MADI interface, one optical and one coaxial pair"


class Said(unittest.TestCase):
    def test_who_suffers_is_counted_in_words(self):
        studio = rig(INTERFACE)
        for n, name in enumerate(("Kick", "Snare", "Tom")):
            studio = add_source(studio, name)
            (told,) = findings(studio, "source_not_plugged_in")
            self.assertEqual(told.why, "It will not be recorded." if n == 0 else "They will not be recorded.")
        click = add_destination(rig(INTERFACE), "Click", "cue")
        both = send_out(
            mark_fault(click, end("U1", "phones"), "thin"), "D1", (end("U1", "phones"), end("U1", "phones"))
        )
        (told,) = findings(both, "faulty_port_used")
        self.assertTrue(told.why.startswith("Click is planned over it"))
        fibre = one_fibre()
        for n, name in enumerate(("Kick", "Snare", "Tom"), start=1):
            fibre = plug(fibre, name, "U2", f"mic{n}")
        (told,) = findings(mark_fault(fibre, end("U2", "optical_out"), "cracked"), "faulty_port_used")
        self.assertTrue(told.why.startswith("Kick, Snare and Tom are planned over it"), told.why)

    def test_a_loop_by_two_numbers_is_forbidden_or_only_untidy(self):
        studio = send_out(
            add_destination(rig(INTERFACE), "Squash", "loop", channels=1),
            "D1",
            (end("U1", "line_out3"),),
            (end("U1", "mic5"),),
        )
        for policy, severity, words in (
            ("always", "trouble", "cannot be opened"),
            ("paired", "note", "not mixed up at night"),
        ):
            (told,) = findings(set_loop_numbers(studio, policy), "loop_numbers_differ")
            self.assertEqual(told.severity, severity)
            self.assertIn(words, told.why)
        self.assertEqual(findings(set_loop_numbers(studio, "free"), "loop_numbers_differ"), [])

    def test_the_last_of_a_crowd_on_a_socket_is_named(self):
        studio = count_sockets(rig(MADI, MADI, MADI), "H1", "thunderbolt-c", 1)
        for unit in ("U1", "U2", "U3"):
            studio = attach(studio, unit, "thunderbolt-c")
        (told,) = findings(studio, "interface_does_not_plug_in")
        self.assertEqual(told.subject.key, "U3")

    def test_a_word_clock_line_closed_in_the_middle_names_its_end(self):
        studio = rig("word-clock generator, six outputs", "eight-channel line converter, two optical pairs", INTERFACE)
        closed = "eight-channel line converter, two optical pairs"
        two = rig("word-clock generator, six outputs", closed, closed)
        line = connect(
            connect(two, end("U1", "word_out1"), end("U2", "word_in")), end("U1", "word_out1"), end("U3", "word_in")
        )
        (told,) = findings(line, "word_line_closed_twice")
        self.assertEqual(told.concerns, ("C1", "U2", "U1", "U3"))
        self.assertEqual(findings(studio, "word_line_closed_twice"), [])

    def test_a_list_with_more_than_the_sockets_says_what_it_took(self):
        ports = describe_box(Answers("b", mics=2, lines=0, line_outs=0, phones=0)).profile.ports
        for text, said in (
            ("1 Mic 1\n2 Mic 2\n3 Mic 3", "3 listed, 2 sockets fit"),
            ("1 Mic 1\n2 Mic 2\n3 MADI 1", "no socket is left for it"),
            ("1 Mic 1\n2 Mic 2\n3 Loopback 1", ""),
        ):
            blocks, assumed = match_blocks(read_software_list(text).blocks, ports, "in")
            self.assertEqual([said in line for line in assumed], [True] if said else [], text)
            self.assertEqual(sum(b.channels or len(b.ports) for b in blocks), 3)

    def test_a_level_needs_both_figures_and_switches_bear_their_span(self):
        source = plug(
            rig(INTERFACE), "Kick", "U1", "mic3", level_dbu=4.0, sensitivity_mv_pa=20.0, loudest_db_spl=130.0
        ).source("S1")
        self.assertEqual(peak_working(source, Into(4.0, 10.0, None, False))[0], "stated peak: +4.0 dBu")
        banks = [
            [b.label for b in describe_box(Answers("b", mics=m, phantom=p)).profile.banks]
            for m, p in ((2, "each"), (6, "fours"), (4, "all"))
        ]
        self.assertEqual(banks, [["48 V 1", "48 V 2"], ["48 V 1–4", "48 V 5–6"], ["48 V 1–4"]])

    def test_a_described_box_keeps_its_name(self):
        self.assertEqual(
            [describe_box(Answers(n)).profile.name for n in ("  Pier   box ", " ")], ["Pier box", "my box"]
        )


class Chosen(unittest.TestCase):
    def test_the_expander_in_the_room_comes_first_and_an_unknown_room_is_this_one(self):
        studio = add_place(add_place(rig(EXPANDER, INTERFACE, EXPANDER), "Hall"), "Cave")
        studio = put_unit(put_unit(put_unit(studio, "U1", "P2"), "U2", "P1"), "U3", "P1")
        self.assertEqual(likely_pair(Survey(studio)), ("U2", "U3"))
        self.assertEqual(likely_pair(Survey(put_unit(put_unit(studio, "U1", "P1"), "U3", "P2"))), ("U2", "U1"))
        prices = [reach_price(a, b) for a in (None, "P1", "P2") for b in (None, "P1", "P2")]
        self.assertEqual(
            prices, [CABLE, CABLE, CABLE, CABLE, CABLE, CABLE_TO_ANOTHER_PLACE, CABLE, CABLE_TO_ANOTHER_PLACE, CABLE]
        )

    def test_a_faster_session_is_slowed_within_its_family_only(self):
        for rate, wanted in (
            (96_000, {"Go to 48 kHz"}),
            (88_200, {"Go to 44.1 kHz"}),
            (192_000, {"Go to 48 kHz", "Go to 96 kHz"}),
            (48_000, set()),
        ):
            studio = set_rate(one_fibre(), rate)
            for n in range(20):
                studio = add_source(studio, f"Mic {n}")
            labels = {r.label for r in find_remedies(Survey(studio), shelf()) if r.label.startswith("Go to")}
            self.assertTrue(labels <= wanted, (rate, labels))
            self.assertEqual(bool(labels), bool(wanted), rate)

    def test_a_remedy_runs_a_fibre_back_only_where_somebody_listens(self):
        crowd = rig(INTERFACE)
        for n in range(12):
            crowd = add_source(crowd, f"Mic {n}")
        for studio, back in ((crowd, 1), (add_destination(crowd, "Singer", "cue"), 2)):
            box = next(p for p in shelf() if p.name == EXPANDER)
            best = find_remedies(Survey(studio), [box])[0]
            after = best.change.apply(studio)
            self.assertEqual(len(Survey(after).spans), back)

    def test_who_keeps_the_time_stays_as_it_was_while_somebody_does(self):
        three = correct_drift(correct_drift(rig(INTERFACE, INTERFACE, INTERFACE), "U1", True), "U2", True)
        self.assertEqual(leave_computer(three, "U2").hosts["H1"].corrected, ("U1",))
        self.assertEqual(leave_computer(three, "U3").hosts["H1"].corrected, ("U2",))

    def test_a_switch_wanted_both_ways_by_those_who_stay_is_let_be(self):
        studio = connect(rig(INTERFACE, "active DI box"), end("U2", "output"), end("U1", "mic1"))
        studio = plug(studio, "Ribbon", "U1", "mic2", kind="ribbon", phantom="forbidden", pinned=True)
        studio = add_source(studio, "Condenser", kind="condenser", phantom="needed")
        for on in (True, False):
            stands = set_phantom(studio, "U1", "a", on=on)
            proposal = allocate(Survey(stands))
            after = take(Survey(stands), proposal).apply(stands)
            self.assertEqual(
                ("a" in after.settings_of("U1").phantom, "b" in after.settings_of("U1").phantom), (on, not on)
            )
            self.assertEqual(after.cables["C1"].end, end("U1", "mic1"))

    def test_a_group_hears_the_same_instant_and_a_dead_lane_is_no_output(self):
        studio = rig(INTERFACE)
        profile = studio.profile_of(UnitId("U1"))
        ports = tuple(replace(q, latency_samples=40.0, latency_at={}) if q.key == "mic4" else q for q in profile.ports)
        studio = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
        for n in (1, 2, 6, 7, 8):
            studio = plug(studio, f"Kept {n}", "U1", f"mic{n}", pinned=True)
        for name in ("Near", "Far"):
            studio = add_source(studio, name, kind="dynamic", group="Kit", coherent=True)
        taken = allocate(Survey(studio)).placements
        self.assertEqual({end.port for p in taken for end in (s.end for s in p.points)}, {"mic3", "mic5"})
        both = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        for rate, lanes in ((48_000, 8), (96_000, 4), (192_000, 2)):
            points = [s for s in Survey(set_rate(both, rate)).output_points if s.unit == "U2"]
            self.assertEqual(len(points), lanes, rate)

    def test_of_three_bare_outputs_two_are_the_monitors_and_of_two_none(self):
        for many, kept in ((12, {1, 2}), (3, {1, 2}), (2, set())):
            studio = rig(INTERFACE)
            profile = studio.profile_of(UnitId("U1"))
            gone = {q.key for q in profile.ports if q.key.startswith("line_out") and int(q.key[8:]) > many}
            blocks = tuple(
                replace(
                    m, outputs=tuple(replace(b, ports=tuple(k for k in b.ports if k not in gone)) for b in m.outputs)
                )
                for m in profile.driver_maps
            )
            less = replace(profile, driver_maps=blocks)
            survey = Survey(replace(studio, profiles=studio.profiles.put(profile.id, less)))
            self.assertEqual(kept_for_mains(survey.studio.current, (), survey.output_points), kept, many)

    def test_a_block_without_a_port_has_one_to_128_channels(self):
        profile = rig(INTERFACE).profile_of(UnitId("U1"))
        for channels, good in ((0, False), (1, True), (128, True), (129, False)):
            driver_map = replace(
                profile.driver_maps[0], inputs=(*profile.driver_maps[0].inputs, Block("loop", "Loopback", (), channels))
            )
            told = [f for f in profile_faults(replace(profile, driver_maps=(driver_map,))) if "no channels" in str(f)]
            self.assertEqual(not told, good, channels)

    def test_the_worst_loss_is_named_first(self):
        studio = one_fibre()
        for n in range(1, 4):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        studio = plug(studio, "Snare", "U1", "mic3")
        losses = lose_each(Survey(studio))
        weights = [(len(x.left) + len(x.left_outs), len(x.lost) + len(x.silent), x.outputs_lost) for x in losses]
        self.assertEqual(weights, sorted(weights, reverse=True))
        self.assertEqual((losses[0].unit, len(set(weights))), ("U1", 2))

    def test_why_not_there_tells_moves_by_name_and_a_shut_socket(self):
        studio = plug(plug(rig(INTERFACE), "Kick", "U1", "mic3"), "Snare", "U1", "mic4")
        told = why_not_there(Survey(studio), "S1", end("U1", "mic4"))
        self.assertTrue(any(c == "2 more lines moved: Kick, Snare" for c in told.costs), told.costs)
        stuck = plug(rig(INTERFACE, "eight-channel preamp, line outputs"), "Fixed", "U2", "mic1", pinned=True)
        self.assertIn("cannot be used now", why_not_there(Survey(stuck), "S1", end("U1", "mic2")).broken)

    def test_a_destination_has_a_name_and_may_have_no_note(self):
        studio = add_destination(rig(INTERFACE), "Click", "cue", note="loud")
        self.assertEqual(change_destination(studio, "D1", note="").destinations["D1"].note, "")
        self.assertRaises(BadValue, change_destination, studio, "D1", name="")

    def test_what_is_heard_only_afterwards_is_told_too(self):
        studio = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        studio = send_out(add_destination(studio, "Singer", "cue", channels=1), "D1", (end("U2", "line_out1"),))
        cut = disconnect(studio, "C2")
        (heard,) = rehearse(Survey(cut), Survey(studio)).heard
        self.assertEqual((heard.before, heard.after is None), (None, False))
        self.assertEqual(rehearse(Survey(cut), Survey(cut)).heard, ())
