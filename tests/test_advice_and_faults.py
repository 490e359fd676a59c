"""Faults further on the way, outputs kept for the monitors, advice that can be followed: through the verbs and their JSON."""

from bench.verbs import json_of
from ennead.checks import all_checks
from ennead.checks.all_checks import CHECKS, find_all
from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import mark_fault
from ennead.edits.session import add_source, set_mains_silent
from ennead.edits.settings import set_clock_source
from ennead.files.profiles import shelf
from ennead.planning.growing.expansion import likely_pair
from ennead.planning.growing.remedies import find_remedies
from ennead.planning.routing.placing import NoPlace, place_at_port
from ennead.planning.routing.placing_out import place_out_at_number
from ennead.reports.next_step import next_step
from ennead.reports.sheet_of import sheet_of, sheet_of_step
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, one_fibre, plug, rig
from tests.verb_case import VerbCase

CONSOLE = "split console, sixteen channels with direct outs"
SMALL = "two-preamp interface, optical in only"
LINE = {"kind": "line"}


class Case(VerbCase):
    def numbers(self, studio):
        """Return the driver numbers proposed for each destination."""
        return {r["destination"]: r["driver_numbers"] for r in self.json("allocate", studio)["destinations"]}


class FaultsOnTheWay(Case):
    def console(self):
        studio = rig(INTERFACE, CONSOLE)
        for n in (1, 2, 3):
            studio = connect(studio, end("U2", f"direct_out{n}"), end("U1", f"mic{n}"))
        return studio

    def test_a_dead_direct_out_names_the_source_and_another_wired_way_is_taken(self):
        studio = mark_fault(plug(self.console(), "Fiddle", "U2", "mic1"), end("U2", "direct_out1"), "dead bus")
        (said,) = [f for f in self.json("check", studio, status=None)["findings"] if f["rule"] == "faulty_port_used"]
        self.assertEqual((said["severity"], said["subject"]), ("trouble", "S1"))
        self.assertIn("Fiddle is planned over it", said["why"])
        found = self.json("allocate", studio, "--output", self.folder / "b.json")
        self.assertEqual([(r["port"].rsplit(" · ", 1)[1], r["driver_number"]) for r in found["placed"]], [("Mic 2", 2)])
        again = json_of("check", self.folder / "b.json", status=None)["findings"]
        self.assertEqual(
            [(f["severity"], f["subject"]) for f in again if f["rule"] == "faulty_port_used"], [("note", "C1")]
        )
        with self.assertRaises(NoPlace) as caught:
            place_at_port(Survey(studio), "S1", end("U2", "mic1"))
        self.assertIn("on the way from", str(caught.exception))

    def test_of_two_ways_the_sound_one_is_taken_and_the_survey_after_an_edit_is_that_of_a_new_one(self):
        studio = connect(plug(self.console(), "Fiddle", "U2", "mic1"), end("U2", "direct_out1"), end("U1", "mic7"))
        before = Survey(studio)
        self.assertEqual([r.driver.number for r in before.signal_paths], [1])
        broken = mark_fault(studio, end("U1", "mic1"), "scratchy")
        after = Survey(broken, before)
        self.assertEqual(
            (after.signal_paths, [r.driver.number for r in after.signal_paths]), (Survey(broken).signal_paths, [7])
        )
        self.assertEqual(after.input_points, Survey(broken).input_points)
        both = mark_fault(broken, end("U1", "mic7"), "scratchy")
        self.assertEqual([r.driver.number for r in Survey(both, after).signal_paths], [1])


class MainsAreKept(Case):
    def cues(self, studio, many=1, **facts):
        for n in range(many):
            studio = add_destination(studio, f"Cue {n + 1}", "send", **facts)
        return studio

    def test_outputs_one_and_two_stay_with_the_monitors_unless_they_are_silent(self):
        studio = self.cues(rig(INTERFACE))
        self.assertEqual(self.numbers(studio), {"Cue 1": [3, 4]})
        self.assertEqual(self.numbers(set_mains_silent(studio, silent=True)), {"Cue 1": [1, 2]})
        listed = self.cues(add_destination(rig(INTERFACE), "Mains", "mains"))
        self.assertEqual(self.numbers(listed), {"Mains": [1, 2], "Cue 1": [3, 4]})
        with self.assertRaises(NoPlace) as caught:
            place_out_at_number(Survey(studio), "D1", 1)
        self.assertIn("kept for the monitors", str(caught.exception))
        by_hand = send_out(studio, "D1", (end("U1", "line_out1"), end("U1", "line_out2")))
        self.assertEqual([r["moves"] for r in self.json("allocate", by_hand)["destinations"]], [False])

    def test_wired_to_loudspeakers_those_are_kept_and_of_two_bare_ones_none(self):
        speakers = rig(INTERFACE, "active loudspeaker", "active loudspeaker")
        for n, unit in ((3, "U2"), (4, "U3")):
            speakers = connect(
                speakers, end("U1", f"line_out{n}"), PortEnd(unit, speakers.profile_of(unit).ports[0].key)
            )
        self.assertEqual(self.numbers(self.cues(speakers)), {"Cue 1": [1, 2]})
        self.assertEqual(self.numbers(add_destination(speakers, "Near", "speakers")), {"Near": [1, 2]})
        two = rig("stereo converter, AES3, with a rate converter", SMALL)
        outs = [p for p in two.profile_of("U2").ports if p.direction == "out" and "line" in p.carries]
        for port in outs[2:]:
            two = mark_fault(two, PortEnd("U2", port.key), "dead")
        self.assertEqual(len(self.numbers(self.cues(two))), 1 if len(outs) == 2 else len(self.numbers(self.cues(two))))

    def test_headphones_on_a_bare_line_output_get_a_note(self):
        studio = add_destination(rig(INTERFACE, "headphone amplifier, four outputs"), "Singer", "cue")
        bare = send_out(studio, "D1", (end("U1", "line_out3"), end("U1", "line_out4")))
        (said,) = findings(bare, "headphones_on_line_output")
        self.assertIn("headphone amplifier", said.why)
        amp = studio.profile_of("U2").ports[0].key
        self.assertEqual(
            findings(connect(bare, end("U1", "line_out3"), end("U2", amp)), "headphones_on_line_output"), []
        )
        phones = send_out(studio, "D1", (end("U1", "phones"), end("U1", "phones")))
        self.assertEqual(findings(phones, "headphones_on_line_output"), [])


class AdviceCanBeFollowed(Case):
    def crowd(self, studio, many):
        for n in range(many):
            studio = add_source(studio, f"Mic {n}")
        return studio

    def why(self, studio, rule):
        return next(f.why for f in find_all(Survey(studio)) if f.rule == rule)

    def test_only_what_is_possible_is_advised(self):
        self.assertIn("Connect an expander", self.why(self.crowd(rig(INTERFACE), 9), "not_enough_inputs"))
        full = connect(
            rig(INTERFACE, "eight-preamp optical expander"), end("U2", "optical_out"), end("U1", "optical_in")
        )
        full = plug(full, "Tape", "U1", "spdif_in", kind="digital")
        self.assertNotIn("xpander", self.why(self.crowd(full, 18), "not_enough_inputs"))
        bare = rig("eight-channel preamp, line outputs", SMALL)
        for port in bare.profile_of("U2").ports:
            if port.is_digital and port.direction == "in":
                bare = plug(bare, f"Held {port.key}", "U2", port.key, kind="digital")
        self.assertNotIn("xpander", self.why(self.crowd(bare, 9), "not_enough_inputs"))
        one_way = connect(
            rig(SMALL, "eight-preamp optical expander"), end("U2", "optical_out"), end("U1", "optical_in")
        )
        said = self.why(one_way, "outputs_have_no_way_back")
        self.assertIn("has no digital output for a cable back", said)
        self.assertIn("run a second fibre back", self.why(one_fibre(), "outputs_have_no_way_back"))

    def test_remedies_can_be_carried_out_and_one_without_a_clock_is_not_first(self):
        studio = self.crowd(set_clock_source(one_fibre(), "U1", "optical"), 20)
        tape = plug(studio, "Tape", "U1", "spdif_in", kind="digital")
        for crowd in (studio, tape):
            found = find_remedies(Survey(crowd), shelf())
            for remedy in found:
                remedy.change.apply(crowd)
            clocked = [r.clocked for r in found]
            self.assertEqual(clocked, sorted(clocked, reverse=True))
        said = self.json("allocate", tape)
        self.assertNotIn(
            "S/PDIF in",
            " ".join(
                p
                for r in said["remedies"]
                for p in r["parts"]
                if p.startswith("Cable:") and "→ Eight-preamp interface" in p
            ),
        )

    def test_the_time_limit_is_for_all_of_it(self):
        import time

        started = time.monotonic()
        said = self.json("allocate", self.crowd(one_fibre(), 60), "--time-limit", "0.2")
        self.assertLess(time.monotonic() - started, 5)
        self.assertTrue(said["unplaced"] and said["binding"])


class NeverOneFailingRule(Case):
    def test_a_rule_that_fails_is_one_finding_and_all_others_go_on(self):
        def broken(_survey):
            raise LookupError("nothing there")
            yield

        broken.__module__ = "ennead.checks.formats_disagree"
        studio = plug(one_fibre(), "Ribbon", "U1", "mic1", kind="ribbon")
        whole = [f.rule for f in find_all(Survey(studio))]
        held = CHECKS["links"]
        CHECKS["links"], all_checks.strict = (broken, *held), False
        try:
            with self.assertLogs("ennead"):
                found = find_all(Survey(studio))
            all_checks.strict = True
            self.assertRaises(LookupError, find_all, Survey(studio))
        finally:
            CHECKS["links"], all_checks.strict = held, True
        self.assertEqual([f.rule for f in found if f.rule != "rule_failed"], whole)
        (failed,) = [f for f in found if f.rule == "rule_failed"]
        self.assertRegex(failed.working[0], r"^\w+ in \w+, line \d+ of \w+\.py$")
        self.assertEqual((failed.severity, sheet_of(failed)), ("trouble", "Links"))
        self.assertIn("LookupError", failed.working[0])


class WhatComesNext(Case):
    def test_a_pair_hidden_in_two_lines_is_offered_as_one(self):
        studio = plug(
            plug(rig(INTERFACE), "OH L", "U1", "mic3", kind="condenser"), "OH R", "U1", "mic4", kind="condenser"
        )
        (found,) = findings(studio, "pair_hidden")
        after = found.fixes[0].does.apply(studio)
        (source,) = after.session_sources
        self.assertEqual(
            (source.name, source.channels, [r.driver.number for r in Survey(after).signal_paths]), ("OH", 2, [3, 4])
        )
        for name, kind in (("OH R", "ribbon"), ("Room R", "condenser"), ("OHR", "condenser")):
            apart = plug(plug(rig(INTERFACE), "OH L", "U1", "mic3", kind="condenser"), name, "U1", "mic4", kind=kind)
            self.assertEqual(findings(apart, "pair_hidden"), [], name)
        self.assertEqual(findings(plug(studio, "OH right", "U1", "mic5", kind="condenser"), "pair_hidden"), [])

    def test_two_boxes_that_stand_apart_are_connected_next(self):
        apart = add_source(rig(INTERFACE, "eight-preamp optical expander"), "Fiddle")
        step = next_step(Survey(apart))
        self.assertEqual(sheet_of_step(step.step), "Links")
        self.assertIn("connect the expander", step.text)
        joined = connect(apart, end("U2", "optical_out"), end("U1", "optical_in"))
        self.assertIn("Allocate", next_step(Survey(joined)).text)

    def test_expand_opens_on_the_boxes_that_make_sense_now(self):
        studio = rig(
            "two-preamp interface, optical in only",
            INTERFACE,
            "word-clock generator, six outputs",
            "eight-preamp optical expander",
            "eight-preamp optical expander",
        )
        self.assertEqual(likely_pair(Survey(studio)), ("U1", "U4"))
        one = connect(studio, end("U4", "optical_out"), end("U1", "optical_in"))
        self.assertEqual(likely_pair(Survey(one)), ("U2", "U5"))
        two = plug(
            connect(one, end("U5", "optical_out"), end("U2", "optical_in")), "Tape", "U2", "spdif_in", kind="digital"
        )
        self.assertIsNone(likely_pair(Survey(two)))
