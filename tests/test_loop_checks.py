"""What is found wrong of loops: each kind of fault planted in a loop that is right, and nothing said of the right one."""

import unittest

from ennead.checks.all_checks import CHECKS
from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.edits.settings import set_clock_source, set_feed, set_level, set_output, set_phantom, switch_off
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.next_step import next_step
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.profile import InnerPath
from ennead.studio.record import replace
from ennead.studio.subjects import Subject
from ennead.survey.circuits import circuits
from ennead.survey.survey import Survey
from tests.builders import end, findings, rig
from tests.test_loop_figures import chain, figures, placed
from tests.test_sources_and_outputs import carried_out, destination

LOOP = DestinationId("D1")
LINES = "twelve-line interface"


def stereo(*backs):
    """Return a stereo compressor between two outputs and two inputs."""
    studio = rig(LINES, "stereo bus compressor")
    for n, back in enumerate(backs or ("line3", "line4"), start=1):
        studio = connect(studio, end("U1", f"line_out{n + 2}"), end("U2", f"line{n}"))
        studio = connect(studio, end("U2", f"line_out{n}"), end("U1", back))
    return carried_out(destination(studio, "loop", name="Squash", channels=2))


def said(studio, rule):
    found = findings(studio, rule)
    for finding in found:
        assert finding.subject == Subject("destination", finding.subject.key)
        for fix in finding.fixes:
            if hasattr(fix.does, "apply"):
                assert not [f for f in findings(fix.does.apply(studio), rule) if f.key == finding.key], fix.text
    return found


class Faults(unittest.TestCase):
    def test_nothing_is_said_of_a_loop_that_is_right(self):
        rules = {c.__module__.rsplit(".", 1)[-1] for c in CHECKS["loops"]}
        self.assertEqual(len(rules), 23)
        whole = chain()
        box = Survey(whole).destinations[0].boxes[0]
        whole = set_box_peak(whole, LOOP, box, 10.0)
        self.assertEqual([f.rule for f in findings(whole) if f.rule in rules], ["export_in_real_time"])
        right = stereo()
        self.assertEqual(
            {f.rule for f in findings(right) if f.rule in rules},
            {"loop_level_not_stated", "loop_not_measured", "export_in_real_time"},
        )

    def test_a_pedal_wants_a_reamp_box_before_it(self):
        def pedal(*boxes):
            studio = rig(LINES, "valve delay at pedal level", "passive re-amp box")
            for start, into in zip(("U1 line_out3", *boxes), (*boxes, "U2 input"), strict=True):
                sockets = start.split(), into.split()
                studio = connect(studio, end(sockets[0][0], sockets[0][-1]), end(*sockets[1][:2]))
            return carried_out(
                destination(connect(studio, end("U2", "output"), end("U1", "line3")), "loop", channels=1)
            )

        (found,) = said(pedal(), "pedal_without_reamp")
        self.assertEqual((found.severity, found.concerns[1]), ("caution", "U2"))
        self.assertEqual(said(pedal("U3 input output"), "pedal_without_reamp"), [])
        self.assertEqual(said(stereo(), "pedal_without_reamp"), [])

    def test_while_loops_are_live_a_song_is_exported_in_real_time(self):
        (found,) = said(chain(), "export_in_real_time")
        self.assertIn("is live", found.message)
        twin = set_loop_use(chain(), LOOP, twin="Squash in numbers", twin_on=True)
        self.assertEqual((said(twin, "export_in_real_time"), said(rig(LINES), "export_in_real_time")), ([], []))

    def test_levels(self):
        studio = chain()
        box = Survey(studio).destinations[0].boxes[0]
        hot = set_loop_use(set_box_peak(studio, LOOP, box, 20.2), LOOP, peak_dbfs=0.0, send_gain_db=0.0)
        (found,) = said(hot, "loop_clips")
        self.assertIn("by 0.2 dB", found.message)
        # At the limit is not over it.
        self.assertEqual(said(set_box_peak(hot, LOOP, box, 20.0), "loop_clips"), [])
        (found,) = said(set_loop_use(hot, LOOP, send_gain_db=3.0), "loop_clips")
        self.assertIn("3.0 dB above full scale", found.message)
        self.assertEqual(len(said(studio, "loop_level_not_stated")), 1)
        apart = stereo()
        profile = apart.profile_of(UnitId("U2"))
        for nominal, told in ((-7.8, 1), (-5.9, 0)):
            ports = tuple(
                replace(p, levels={"line": replace(p.levels["line"], nominal_dbu=nominal)}) if p.key == "line1" else p
                for p in profile.ports
            )
            now = replace(apart, profiles=apart.profiles.put(profile.id, replace(profile, ports=ports)))
            out = Survey(now).profiles[UnitId("U1")].port_by_key["line_out3"].levels["line"].nominal_dbu
            self.assertEqual(out, 4.0)
            self.assertEqual(len(said(now, "loop_levels_apart")), told, nominal)

    def test_sides(self):
        self.assertEqual(said(stereo("line4", "line5"), "loop_sides_swapped"), [])
        (found,) = said(stereo("line4", "line3"), "loop_sides_swapped")
        self.assertIn("3–4 out, 4 and 3 back", found.message)

    def test_a_box_serves_one_loop(self):
        studio = stereo()
        two = add_destination(studio, "Other", "loop", channels=2)
        two = replace(
            two,
            destinations=two.destinations.put(
                DestinationId("D2"), replace(two.destinations[LOOP], id=DestinationId("D2"), name="Other")
            ),
        )
        (found,) = said(two, "box_in_two_loops")
        self.assertIn("Squash", found.message)
        self.assertIn("Other", found.message)

    def test_clocks_power_and_phantom(self):
        far = chain()
        survey = Survey(far)
        (circuit,) = survey.once(circuits)
        converter = next(p.unit for p in circuit.channels[0].passed if p.what == "D/A")
        loose = set_clock_source(far, converter, "internal")
        self.assertEqual(said(loose, "loop_on_two_clocks"), [], "out and back over one box is one clock")
        lost = set_clock_source(far, converter, "spdif" if far.profile_of(converter).clock_source("spdif") else "word")
        self.assertEqual(Survey(lost).clocks.by_unit[converter].leader, None)
        self.assertEqual(said(lost, "loop_on_two_clocks"), [], "nor where that box has lost its clock")
        box = circuit.channels[0].boxes[0]
        (found,) = said(switch_off(far, box, off=True), "loop_box_off")
        self.assertIn("switched off", found.message)
        bare = rig("eight-preamp interface, one optical pair", "mono compressor")
        profile = bare.profile_of(UnitId("U1"))
        xlr = tuple(replace(p, connector="xlr") if p.key == "mic5" else p for p in profile.ports)
        bare = replace(bare, profiles=bare.profiles.put(profile.id, replace(profile, ports=xlr)))
        bare = add_destination(bare, "Squash", "loop", channels=1)
        bare = send_out(bare, LOOP, [end("U1", "line_out5")], [end("U1", "mic5")])
        bank = bare.profile_of(UnitId("U1")).bank_of_port["mic5"].key
        (found,) = said(set_phantom(bare, UnitId("U1"), bank, on=True), "phantom_on_return")
        self.assertIn("48 V on", found.message)
        self.assertEqual(said(bare, "phantom_on_return"), [])
        only_mic = tuple(
            replace(p, carries=("mic",)) if p.key == "mic5" else p for p in bare.profile_of(UnitId("U1")).ports
        )
        weak = replace(
            bare, profiles=bare.profiles.put(profile.id, replace(bare.profile_of(UnitId("U1")), ports=only_mic))
        )
        self.assertEqual((len(said(weak, "return_at_mic_level")), said(bare, "return_at_mic_level")), (1, []))
        # By cables of its own the box may be one that is not in the rig; a cable straight back is none.
        self.assertEqual(said(bare, "loop_without_box"), [])
        self.assertEqual([s.peak_dbu for s in figures(bare).levels[0].stops][1:], [None])
        lifted = add_destination(rig(LINES), "Squash", "loop", channels=1)
        lifted = connect(lifted, end("U1", "line_out5"), end("U1", "line5"))
        held = replace(lifted.destinations[LOOP], at=(end("U1", "line5"),))
        (found,) = said(replace(lifted, destinations=lifted.destinations.put(LOOP, held)), "loop_without_box")
        self.assertIn("without a box", found.message)

    def test_mixes_of_the_interface(self):
        studio = rig("eight-line interface with MADI", "mono compressor")
        studio = connect(
            connect(studio, end("U1", "line_out5"), end("U2", "line1")), end("U2", "line_out1"), end("U1", "line5")
        )
        studio = carried_out(destination(studio, "loop", name="Squash", channels=1))
        one = UnitId("U1")
        mixed = set_level(studio, one, "monitor/1", "line5/1", -6.0)
        self.assertEqual(said(mixed, "return_in_direct_mix"), [], "nothing is fed by that mix")
        (found,) = said(set_feed(mixed, one, "line_out1/1", "monitor/1"), "return_in_direct_mix")
        self.assertIn("heard twice", found.why)
        (found,) = said(set_feed(studio, one, "line_out5/1", "cue/1"), "send_carries_mix")
        self.assertIn("Line out 5", found.message)

    def test_both_sides_at_one_input(self):
        studio = rig(LINES, "mono compressor")
        profile = studio.profile_of(UnitId("U2"))
        ins = tuple(
            replace(p, key=f"line{n}", label=f"In {n}") for p in profile.ports if p.key == "line1" for n in (1, 2)
        )
        rest = tuple(p for p in profile.ports if p.key != "line1")
        paths = (InnerPath(("line1", "line2"), ("line_out1",), sums=True),)
        summing = replace(profile, ports=(*ins, *rest), inner_paths=paths)
        studio = replace(studio, profiles=studio.profiles.put(profile.id, summing))
        for n in (1, 2):
            studio = connect(studio, end("U1", f"line_out{n + 2}"), end("U2", f"line{n}"))
        studio = connect(studio, end("U2", "line_out1"), end("U1", "line3"))
        studio = add_destination(studio, "Squash", "loop", channels=2)
        held = replace(studio.destinations[LOOP], at=(end("U2", "line1"), end("U2", "line2")))
        studio = replace(studio, destinations=studio.destinations.put(LOOP, held))
        (found,) = said(studio, "loop_channels_meet")
        self.assertIn("driver input 3", found.message)
        self.assertEqual(said(stereo(), "loop_channels_meet"), [])

    def test_converters_of_two_clocks(self):
        studio = rig(LINES, "mono compressor", LINES)
        studio = connect(
            connect(studio, end("U1", "line_out5"), end("U2", "line1")), end("U2", "line_out1"), end("U3", "line5")
        )
        studio = carried_out(destination(studio, "loop", name="Squash", channels=1))
        (found,) = said(studio, "loop_on_two_clocks")
        self.assertIn("two clocks", found.message)
        joined = connect(studio, end("U1", "spdif_out"), end("U3", "spdif_in"))
        self.assertEqual(said(set_clock_source(joined, UnitId("U3"), "spdif"), "loop_on_two_clocks"), [])

    def test_allocate_fixes_the_sends_it_gives_and_leaves_one_that_is_off(self):
        studio = carried_out(destination(rig(LINES), "loop", name="Squash", channels=2))
        survey = Survey(studio)
        ends = survey.destinations[0].outputs
        self.assertEqual([survey.settings[e.unit].outputs.get(e.port) for e in ends], ["fixed", "fixed"])
        self.assertEqual(said(studio, "send_not_fixed"), [])
        # An evening without sources, of which every loop goes round, waits for nothing.
        self.assertIsNone(next_step(survey))
        waits = next_step(Survey(add_destination(studio, "Echo", "loop", channels=1)))
        self.assertIn("Echo has no place yet", waits.text)
        (loose,) = said(set_output(studio, UnitId("U1"), ends[1].port, "on"), "send_not_fixed")
        self.assertIn(ends[1].port, loose.cause[0])
        off = set_output(studio, UnitId("U1"), ends[0].port, "off")
        again = Survey(off)
        self.assertEqual(take(again, allocate(again)).apply(off).settings_of(UnitId("U1")).outputs[ends[0].port], "off")

    def test_numbers_the_software_picked(self):
        studio = chain()
        for facts, told in (
            ({"sent": (15,), "returned": (11,)}, 0),
            ({"sent": (16,)}, 1),
            ({"sent": (1,), "returned": (2,)}, 2),
        ):
            self.assertEqual(
                len(said(set_loop_use(studio, LOOP, **facts), "loop_number_picked_otherwise")), told, facts
            )

    def test_what_is_not_known_is_said(self):
        self.assertEqual(said(chain(), "loop_not_measured"), [])
        # Stated whole, what is told of its delay is what is left over.
        (late,) = findings(chain(), "loop_comes_back_late")
        self.assertIn("76 samples, 1583 µs", late.message)
        self.assertIn("262 samples round − 186", late.working[0])
        (found,) = said(placed(1, "direct"), "loop_not_measured")
        self.assertIn("buffers", found.working[0])
