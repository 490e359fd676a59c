"""Loops made of boxes: places found, cables run, in series and stereo, and what cannot be is said."""

import unittest

from ennead.edits.cables import connect
from ennead.planning.routing.loop_making import free_boxes, make_loop, widths_of
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.studio.errors import BadValue
from ennead.studio.ids import UnitId
from ennead.survey.circuits import circuits
from ennead.survey.survey import Survey
from tests.builders import end, findings, read_back, rig
from tests.test_loop_checks import LINES
from tests.test_sources_and_outputs import destination

COMP, EQ = UnitId("U2"), UnitId("U3")


def made(studio, name, boxes, channels, **how):
    after = read_back(make_loop(Survey(studio), name, boxes, channels, **how).apply(studio))
    return after, Survey(after).once(circuits)


class Making(unittest.TestCase):
    def test_boxes_in_series_are_cabled_and_nothing_is_wrong(self):
        studio = rig(LINES, "mono compressor", "mono equaliser")
        self.assertEqual(free_boxes(Survey(studio)), [COMP, EQ])
        self.assertEqual(widths_of(Survey(studio), COMP), (1, 1))
        after, (circuit,) = made(studio, "Voice chain", (COMP, EQ), 1)
        (channel,) = circuit.channels
        self.assertTrue(circuit.closed)
        self.assertEqual(channel.boxes, (COMP, EQ))
        self.assertEqual(len(after.cables), 3)
        # The same number out and in, not that of the mains, and the send at full level.
        self.assertEqual(channel.out.number, channel.back.number)
        self.assertGreater(channel.out.number, 2)
        out = channel.passed[0]
        self.assertEqual(after.settings_of(out.unit).outputs[out.port], "fixed")
        self.assertEqual([f.message for f in findings(after) if f.severity != "note"], [])
        self.assertFalse(allocate(Survey(after)).changes)
        self.assertEqual(free_boxes(Survey(after)), [])

    def test_stereo_and_on_a_bus(self):
        studio = rig(LINES, "stereo bus compressor")
        self.assertEqual(widths_of(Survey(studio), COMP), (2, 2))
        after, (circuit,) = made(studio, "Squash", (COMP,), 2, parallel=True)
        self.assertTrue(circuit.closed and circuit.loop.use.parallel)
        numbers = [(c.out.number, c.back.number) for c in circuit.channels]
        self.assertEqual(numbers[1], (numbers[0][0] + 1, numbers[0][1] + 1))
        self.assertEqual([f.rule for f in findings(after) if f.severity == "trouble"], [])

    def test_what_goes_round_already_keeps_its_cables(self):
        studio = rig(LINES, "mono compressor")
        studio = connect(
            connect(studio, end("U1", "line_out9"), end("U2", "line1")), end("U2", "line_out1"), end("U1", "line4")
        )
        after, (circuit,) = made(studio, "Squash", (COMP,), 1)
        self.assertEqual((after.cables, circuit.closed), (studio.cables, True))
        self.assertEqual([(c.out.number, c.back.number) for c in circuit.channels], [(9, 4)])

    def test_what_cannot_be_is_said(self):
        studio = rig(LINES, "mono compressor")
        with self.assertRaisesRegex(BadValue, "make the loop mono"):
            make_loop(Survey(studio), "Squash", (COMP,), 2)
        held = rig(LINES, "mono compressor", "mono equaliser")
        held = connect(held, end("U3", "line_out1"), end("U2", "line1"))
        with self.assertRaisesRegex(BadValue, "pull what is plugged there"):
            make_loop(Survey(held), "Squash", (COMP,), 1)
        full = studio
        for n in range(6):
            full = made(full, f"Loop {n}", (), 2)[0]
        full = destination(full, "mains", name="Mains")
        with self.assertRaises(BadValue) as raised:
            survey = Survey(full)
            full = take(survey, allocate(survey)).apply(full)
            make_loop(Survey(full), "One more", (COMP,), 1)
        self.assertIn("One more", str(raised.exception))
        # A box that is not in the rig: the list alone.
        after, (circuit,) = made(studio, "Away", (), 1)
        self.assertEqual((after.cables, circuit.closed), (studio.cables, False))
