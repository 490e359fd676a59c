"""Cables of several plugs, built whole: insert leads, Y leads, stereo leads, looms; and boxes that are switched off."""

import unittest

from ennead.edits.cables import connect, make_up
from ennead.edits.session import add_source, change_source
from ennead.edits.settings import set_clock_source, set_phantom, switch_off
from ennead.files.interchange import from_json, to_json
from ennead.reports.cable_schedule import cable_rows
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, SocketsDoNotFit, SocketTaken
from ennead.studio.house import LineEnd, SourceEnd, Wire
from ennead.studio.ids import SourceId
from ennead.survey.survey import Survey
from ennead.survey.traces import trace
from ennead.survey.words import gap_text, stop_texts
from tests.builders import INTERFACE, end, findings, one_fibre, plug, rig

STAGE_BOX = "stage box, eight ways to a multipin"
INSERTS = "two-channel preamp with insert jacks"
COMPRESSOR = "mono compressor"


def insert_lead(studio: Studio, jack: str, box: str, into: str, out: str) -> Studio:
    """Run an insert lead from a preamp's jack U2 through a box: its send on the tip, its return on the ring."""
    return make_up(studio, [end("U2", jack), end(box, into), end(box, out)], [Wire(0, 1, 1, 1), Wire(2, 1, 0, 2)])


class InsertLeads(unittest.TestCase):
    def setUp(self):
        studio = rig(INTERFACE, INSERTS, COMPRESSOR)
        self.studio = connect(plug(studio, "Vox", "U2", "mic1"), end("U2", "line_out1"), end("U1", "mic5"))
        (self.inlet, self.outlet) = [p.key for p in studio.profile_of("U3").ports if "line" in p.carries][:2]

    def test_an_empty_jack_closes_the_way_and_a_lead_opens_it_into_the_box_and_back(self):
        run = Survey(self.studio).signal_paths[0]
        self.assertEqual((run.complete, run.way.passes), (True, ("U2", "U1")))
        through = insert_lead(self.studio, "insert1", "U3", self.inlet, self.outlet)
        run = Survey(through).signal_paths[0]
        self.assertEqual((run.driver.number, run.way.passes), (5, ("U2", "U3", "U2", "U1")))
        self.assertEqual([s.port for s in run.stops], ["", "mic1", self.inlet, "insert1", "mic5"])
        wished = change_source(through, "S1", outboard="U3")
        self.assertEqual(findings(wished, "source_off_its_way"), [])
        self.assertEqual(len(findings(change_source(self.studio, "S1", outboard="U3"), "source_off_its_way")), 1)
        self.assertEqual(
            [r["from"] + " → " + r["to"] for r in cable_rows(Survey(through))][-1],
            "Two-channel preamp with insert jacks · Insert 1 + Mono compressor · Line out → "
            "Mono compressor · Line in + Two-channel preamp with insert jacks · Insert 1",
        )
        self.assertEqual(from_json(to_json(through).encode()), through)

    def test_a_plug_that_sends_and_never_comes_back_breaks_the_way(self):
        sent = make_up(self.studio, [end("U2", "insert1"), end("U3", self.inlet)], [Wire(0, 1, 1, 1)])
        survey = Survey(sent)
        self.assertEqual(survey.signal_paths[0].gap.unit, "U3")
        back = connect(self.studio, end("U3", self.outlet), end("U2", "insert1"))
        survey = Survey(back)
        self.assertEqual(
            gap_text(survey, survey.signal_paths[0]),
            "The plug in Two-channel preamp with insert jacks's Insert 1 breaks the way, and nothing leaves by it.",
        )
        (cable,) = [c for c in back.cables.values() if end("U2", "insert1") in c.plugs]
        self.assertEqual(cable.wires, (Wire(0, 1, 1, 2),))


class YLeads(unittest.TestCase):
    def test_a_split_source_arrives_twice_and_either_preamp_s_48_v_reaches_it(self):
        studio = add_source(rig(INTERFACE, INTERFACE), "Main", phantom="needed", kind="condenser")
        source = LineEnd(SourceId("S1"))
        studio = make_up(studio, [source, end("U1", "mic1"), end("U2", "mic5")], [Wire(0, 1, 1, 1), Wire(0, 1, 2, 1)])
        survey = Survey(studio)
        self.assertEqual([leg.run.driver.number for leg in trace(survey, survey.signal_paths[0]).legs], [1, 27])
        self.assertEqual(len(findings(studio, "phantom_missing")), 1)
        banks = [(u, b.key) for u in ("U1", "U2") for b in studio.profile_of(u).banks]
        for unit, bank in (banks[0], banks[-1]):
            self.assertEqual(findings(set_phantom(studio, unit, bank, on=True), "phantom_missing"), [])
        ribbon = set_phantom(change_source(studio, "S1", kind="ribbon", phantom="forbidden"), *banks[-1], on=True)
        self.assertEqual(len(findings(ribbon, "phantom_reaches_forbidden")), 1)
        self.assertEqual(survey.powered_sockets(end("U1", "mic1")), (end("U1", "mic1"), end("U2", "mic5")))

    def test_two_outputs_in_one_lead_are_trouble_and_two_inputs_none(self):
        split = make_up(
            rig(INTERFACE, INTERFACE),
            [end("U1", "line_out1"), end("U2", "mic5"), end("U2", "mic6")],
            [Wire(0, 1, 1, 1), Wire(0, 1, 2, 1)],
        )
        self.assertEqual(findings(split, "two_outputs_joined"), [])
        joined = make_up(
            rig(INTERFACE, INTERFACE),
            [end("U1", "line_out1"), end("U1", "line_out2"), end("U2", "mic5")],
            [Wire(0, 1, 2, 1), Wire(1, 1, 2, 1)],
        )
        (found,) = findings(joined, "two_outputs_joined")
        self.assertIn("Line out 1 and Eight-preamp interface, one optical pair · Line out 2 both feed", found.message)

    def test_a_stereo_jack_in_a_balanced_input_is_told_and_a_stereo_lead_is_not(self):
        studio = rig("stereo synthesiser", INTERFACE)
        (found,) = findings(connect(studio, end("U1", "phones"), end("U2", "mic5")), "hears_left_minus_right")
        self.assertIn("left minus right", found.message)
        lead = make_up(
            studio, [end("U1", "phones"), end("U2", "mic5"), end("U2", "mic6")], [Wire(0, 1, 1, 1), Wire(0, 2, 2, 1)]
        )
        self.assertEqual(findings(lead, "hears_left_minus_right"), [])

    def test_a_leg_that_leads_nowhere_is_told_beside_one_that_arrives_and_two_ways_to_one_place(self):
        studio = plug(rig(INTERFACE, "microphone splitter, eight ways", INSERTS), "Fiddle", "U2", "input1")
        studio = connect(
            connect(studio, end("U2", "direct1"), end("U1", "mic1")), end("U2", "isolated1"), end("U3", "mic1")
        )
        (found,) = findings(studio, "leg_ends_early")
        self.assertIn("Fiddle is split, and one leg ends early", found.message)
        self.assertEqual(findings(connect(studio, end("U3", "line_out1"), end("U1", "mic5")), "leg_ends_early"), [])
        desk = plug(
            rig(INTERFACE, "microphone splitter, eight ways", "summing mixer, sixteen to two"), "Fiddle", "U2", "input1"
        )
        ins = [p for p in desk.profile_of("U3").ports if p.direction == "in"]
        outs = [p for p in desk.profile_of("U3").ports if p.direction == "out"]
        desk = make_up(desk, [end("U2", "direct1"), end("U3", ins[0].key)], [Wire(0, 1, 1, 1)])
        desk = make_up(desk, [end("U2", "isolated1"), end("U3", ins[1].key)], [Wire(0, 1, 1, 1)])
        desk = connect(desk, end("U3", outs[0].key), end("U1", "mic5"))
        (twice,) = findings(desk, "arrives_twice")
        self.assertEqual(twice.message, "Fiddle comes to driver input 5 by two ways.")


class Looms(unittest.TestCase):
    def setUp(self):
        studio = plug(
            plug(rig(INTERFACE, STAGE_BOX), "Kick", "U2", "floor1"),
            "Snare",
            "U2",
            "floor8",
            phantom="needed",
            kind="condenser",
        )
        self.plugs = [end("U2", "multipin"), *(end("U1", f"mic{n}") for n in range(1, 9))]
        self.studio = make_up(studio, self.plugs, [Wire(0, n, n, 1) for n in range(1, 9)])

    def test_a_multipin_brings_every_way_to_its_own_input_and_48_v_back(self):
        survey = Survey(self.studio)
        self.assertEqual([r.driver.number for r in survey.signal_paths], [1, 8])
        self.assertEqual(survey.powered_sockets(end("U2", "floor8")), (end("U1", "mic8"),))
        self.assertEqual(len(findings(self.studio, "phantom_missing")), 1)
        bank = self.studio.profile_of("U1").bank_of_port["mic8"].key
        self.assertEqual(findings(set_phantom(self.studio, "U1", bank, on=True), "phantom_missing"), [])
        self.assertEqual(
            [(r["from"], r["to"], r["type"]) for r in cable_rows(survey)][-1],
            (
                "Stage box, eight ways to a multipin · Multipin",
                "Eight-preamp interface, one optical pair · Mic 1–8",
                "DB25 loom",
            ),
        )
        self.assertEqual(
            stop_texts(survey, survey.signal_paths[1])[-1], "Eight-preamp interface, one optical pair · Mic 8"
        )

    def test_crossed_wires_cross_the_tracks(self):
        crossed = make_up(rig(INTERFACE, STAGE_BOX), self.plugs, [Wire(0, n, 9 - n, 1) for n in range(1, 9)])
        self.assertEqual(Survey(plug(crossed, "Kick", "U2", "floor1")).signal_paths[0].driver.number, 8)

    def test_what_makes_no_cable_is_refused_in_a_sentence(self):
        bare = rig(INTERFACE, STAGE_BOX)
        for plugs, wires, words in (
            (self.plugs, [], "a plug of it has no wire"),
            (self.plugs[:2], [Wire(0, 9, 1, 1)], "has no channel 9"),
            (self.plugs[:2], [Wire(0, 1, 1, 1), Wire(1, 1, 0, 1)], "two of its wires are one"),
            (self.plugs[1:3], [Wire(0, 1, 1, 1)], "nothing in it runs from an output to an input"),
            (self.plugs[1:3], [Wire(0, 1, 0, 1)], "joins nothing"),
            ([self.plugs[1]] * 2, [Wire(0, 1, 1, 1)], "in the same place"),
            ([self.plugs[0]] * 70, [], "2 to 66 plugs"),
            ([end("U1", "optical_out"), end("U1", "mic1")], [Wire(0, 1, 1, 1)], "do not join"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadValue, words):
                make_up(bare, plugs, wires)
        with self.assertRaises(SocketTaken):
            connect(self.studio, SourceEnd(SourceId("S1")), end("U1", "mic3"))
        with self.assertRaises(SocketTaken):
            make_up(self.studio, self.plugs[:2], [Wire(0, 1, 1, 1)])
        with self.assertRaises(SocketsDoNotFit):
            connect(bare, end("U1", "mic1"), end("U1", "mic5"))


class SwitchedOff(unittest.TestCase):
    def test_a_box_that_is_off_keeps_its_copper_and_loses_the_rest(self):
        studio = plug(rig(INTERFACE, INSERTS, STAGE_BOX), "Vox", "U3", "floor1")
        studio = make_up(studio, [end("U3", "multipin"), end("U2", "mic1")], [Wire(0, 1, 1, 1)])
        studio = connect(studio, end("U2", "line_out1"), end("U1", "mic5"))
        off = switch_off(studio, "U2", off=True)
        survey = Survey(off)
        self.assertEqual(
            (survey.signal_paths[0].gap.cause, gap_text(survey, survey.signal_paths[0])),
            ("off", "Two-channel preamp with insert jacks is switched off."),
        )
        self.assertEqual(survey.nets[("U3", "floor1", 1)].receivers, (("U2", "mic1", 1),))
        self.assertTrue(Survey(switch_off(off, "U2", off=False)).signal_paths[0].complete)
        with self.assertRaisesRegex(BadValue, "has no switch"):
            switch_off(studio, "U3", off=True)
        self.assertEqual(Survey(switch_off(studio, "U1", off=True)).numbering.inputs, ())

    def test_a_box_that_is_off_gives_no_clock_and_misses_none(self):
        studio = set_clock_source(one_fibre(), "U1", "optical")
        self.assertEqual(Survey(studio).clocks.by_unit["U1"].state, "locked")
        off = switch_off(studio, "U2", off=True)
        self.assertEqual([f.subject.key for f in findings(off, "clock_does_not_arrive")], ["U1"])
        # The other way round: who is off and set to follow is no trouble.
        self.assertEqual(findings(switch_off(studio, "U1", off=True), "clock_does_not_arrive"), [])
        self.assertEqual([len(d.units) for d in Survey(off).clocks.domains], [1, 1])
        self.assertEqual(
            Survey(switch_off(set_phantom(studio, "U1", "a", on=True), "U1", off=True)).phantom_on["U1"], ()
        )


class Rings(unittest.TestCase):
    def test_what_feeds_itself_is_told_and_a_loop_through_the_computer_is_none(self):
        studio = rig("mono compressor", "mono equaliser", INTERFACE)
        ins, outs = (
            {u: next(p.key for p in studio.profile_of(u).ports if p.direction == d) for u in ("U1", "U2")}
            for d in ("in", "out")
        )
        once = connect(studio, end("U1", outs["U1"]), end("U2", ins["U2"]))
        self.assertEqual(findings(once, "signal_in_ring"), [])
        ring = connect(once, end("U2", outs["U2"]), end("U1", ins["U1"]))
        (found,) = findings(ring, "signal_in_ring")
        self.assertEqual((found.severity, set(found.concerns)), ("trouble", {"U1", "U2"}))
        self.assertEqual(findings(switch_off(ring, "U2", off=True), "signal_in_ring"), [])
        loop = connect(
            connect(once, end("U3", "line_out3"), end("U1", ins["U1"])), end("U2", outs["U2"]), end("U3", "mic5")
        )
        self.assertEqual(findings(loop, "signal_in_ring"), [])
