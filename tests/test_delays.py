"""Delays that were stated or measured, and the conditions they hold under."""

import unittest

from ennead.edits.cables import connect, disconnect
from ennead.edits.computer import set_times
from ennead.edits.delays import set_loop_delay, set_stop_delay
from ennead.edits.house import add_unit, remove_unit, rename_unit
from ennead.edits.session import set_rate
from ennead.edits.settings import set_clock_source, switch_off
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf_profile
from ennead.reports.line_rows import line_rows
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId, UnitId
from ennead.survey.loop_delay import measured, nearest, stale_since
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, one_fibre, plug, read_back, rig
from tests.desk_case import DeskCase
from tests.test_sources_and_outputs import carried_out, destination

LOOP = DestinationId("D1")


def looped():
    """Return an interface with a compressor that is wired as a loop."""
    studio = rig(INTERFACE, "mono compressor")
    box = studio.profile_of(UnitId("U2"))
    into, out = (next(p.key for p in box.ports if p.direction == way) for way in ("in", "out"))
    studio = connect(connect(studio, end("U1", "line_out5"), end("U2", into)), end("U2", out), end("U1", "mic5"))
    return carried_out(destination(studio, "loop", name="Squash", channels=1))


def why(studio):
    survey = Survey(studio)
    loop = survey.placed(LOOP)
    return stale_since(survey, loop, nearest(survey, loop))


class AtASocket(unittest.TestCase):
    def test_what_a_socket_adds_is_that_of_its_own_box_at_its_rate_alone(self):
        studio = plug(one_fibre(), "Voice", "U2", "mic1")
        profile = [Survey(studio).views[u].delays["optical_in" if u == "U1" else "optical_out"] for u in ("U1", "U2")]
        before = Survey(studio).signal_paths[0].latency_samples
        own = read_back(
            set_stop_delay(studio, end("U1", "optical_in"), profile[0] + 7.5, measured=True, at="2026-12-01")
        )
        # A box of the same profile beside it is none the wiser.
        own = add_unit(own, shelf_profile(INTERFACE), "Another")
        now = Survey(own, Survey(studio))
        self.assertEqual(now.signal_paths[0].latency_samples, before + 7.5)
        self.assertEqual(now.views[UnitId("U3")].delays["optical_in"], profile[0])
        self.assertEqual(Survey(set_rate(own, 44_100)).signal_paths[0].latency_samples, before)
        self.assertEqual(set_stop_delay(own, end("U1", "optical_in"), None).units["U1"], studio.units["U1"])
        for samples in (-1.0, float("nan"), 2e6):
            with self.assertRaises(BadValue):
                set_stop_delay(studio, end("U1", "optical_in"), samples)
        two = set_stop_delay(set_rate(own, 96_000), end("U1", "optical_in"), 9)
        self.assertEqual(
            [(d.rate_hz, d.samples) for d in read_back(two).units["U1"].delays["optical_in"]],
            [(48_000, profile[0] + 7.5), (96_000, 9.0)],
        )


class OfALoop(unittest.TestCase):
    def test_it_holds_until_rate_buffer_clock_or_wiring_change_and_comes_back_with_them(self):
        studio = read_back(set_loop_delay(looped(), LOOP, -3.25, "2026-12-01T21:00+01:00"))
        (computer,) = studio.hosts
        self.assertEqual((why(studio), measured(Survey(studio), Survey(studio).placed(LOOP)).samples), ("", -3.25))
        self.assertEqual(findings(studio, "measured_delay_stale"), [])
        (late,) = findings(studio, "loop_comes_back_late")
        self.assertIn("early", late.message)
        self.assertIn("-3.25 samples", late.why)
        lead = next(c.id for c in studio.cables.values() if end("U1", "mic5") in c.plugs)
        back = next(c.plugs[0] for c in studio.cables.values() if c.id == lead)
        for changed, what in (
            (set_rate(studio, 96_000), "rate"),
            (set_times(studio, computer, 48_000, buffer=64), "buffer"),
            (connect(disconnect(studio, lead), back, end("U1", "mic5")), "wiring"),
            (switch_off(add_and_follow(studio), "U3", off=False), "clock"),
        ):
            self.assertEqual(why(changed), what)
            (note,) = findings(changed, "measured_delay_stale")
            self.assertEqual((note.subject.key, note.cause[0]), (LOOP, what))
        # Back at the rate, it holds again; other names are nothing to it.
        again = rename_unit(set_rate(set_rate(studio, 96_000), 48_000), "U2", "Squeezer")
        self.assertEqual(why(again), "")
        both = set_loop_delay(set_rate(studio, 96_000), LOOP, 11)
        self.assertEqual([d.rate_hz for d in both.destinations[LOOP].measured], [48_000, 96_000])
        self.assertEqual(
            set_loop_delay(both, LOOP, None).destinations[LOOP].measured, studio.destinations[LOOP].measured
        )
        self.assertEqual(from_json(to_json(both).encode()), both)

    def test_only_a_loop_that_comes_back_has_one_and_scripts_read_it(self):
        studio = set_loop_delay(looped(), LOOP, 41.5)
        rows = line_rows(Survey(studio), Survey(studio).output_paths)
        self.assertEqual(
            [r["measured"] for r in rows if "measured" in r],
            [{"samples": 41.5, "rate_hz": 48_000, "at": "", "stale": None}],
        )
        with self.assertRaisesRegex(BadValue, "goes out and comes back"):
            set_loop_delay(remove_unit(studio, "U2"), LOOP, 3)
        with self.assertRaises(BadValue):
            set_loop_delay(studio, LOOP, float("inf"))


def add_and_follow(studio):
    """Return the studio with another box whose clock the interface follows."""
    studio = add_unit(studio, shelf_profile("eight-preamp optical expander"), "Expander")
    studio = connect(studio, end("U3", "optical_out"), end("U1", "optical_in"))
    menu = studio.profile_of(UnitId("U1")).clock_sources
    return set_clock_source(studio, "U1", next(c.key for c in menu if c.port == "optical_in"))


class InTheMargin(DeskCase):
    start = looped()

    def test_a_delay_is_typed_and_undone(self):
        from ennead.studio.subjects import Subject

        for selection, fact, text, read in (
            (
                Subject("destination", LOOP),
                "fact_Delay, samples",
                "-2,5",
                lambda: [d.samples for d in self.studio.destinations[LOOP].measured],
            ),
            (
                Subject("port", "U1", "mic5"),
                "fact_Delay, samples",
                "12",
                lambda: [d.samples for d in self.studio.units["U1"].delays.get("mic5", ())],
            ),
        ):
            self.table.select(selection)
            self.settle()
            field = self.window.margin._fields[fact]
            field.setFocus()
            field.selectAll()
            self.type(text, into=field)
            self.press("Return", into=field)
            self.assertEqual(read(), [float(text.replace(",", "."))])
            self.press("Ctrl+Z")
            self.assertEqual(read(), [])
