"""Sources and outputs: skew and levels by hand, each rule with a case that speaks and one that does not, and what binds."""

import random
import unittest
from dataclasses import replace
from pathlib import Path

import ennead.data
from ennead.checks.all_checks import CHECKS
from ennead.edits.cables import connect, disconnect, set_length
from ennead.edits.change import Change
from ennead.edits.computer import correct_drift
from ennead.edits.destinations import add_destination, change_destination, send_out
from ennead.edits.house import add_place, mark_fault, put_unit
from ennead.edits.session import add_source, change_source, set_loop_numbers, set_price, set_rate, set_spare
from ennead.edits.settings import set_clock_source, set_pad, set_phantom
from ennead.files.profiles import shelf
from ennead.planning.growing.remedies import find_remedies
from ennead.planning.growing.shortage import find_shortage
from ennead.planning.growing.unit_loss import lose_each
from ennead.planning.routing.placing_out import place_out_at_number, place_out_at_port
from ennead.planning.routing.why import why_here, why_not_there
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.options import options_for, phantom_wish
from ennead.planning.seating.proposal_change import take
from ennead.standards.levels import microphone_dbu
from ennead.studio.document import empty_studio
from ennead.studio.errors import EnneadError, SocketTaken
from ennead.studio.house import SourceEnd
from ennead.studio.session import AIM_LABELS
from ennead.survey.balance import output_balance
from ennead.survey.skew import skew_of
from ennead.survey.survey import Survey, survey_of
from tests.builders import EXPANDER, INTERFACE, end, findings, one_fibre, plug, rig

COND = {"kind": "condenser", "phantom": "needed"}
RIBBON = {"kind": "ribbon", "phantom": "forbidden"}
DYNAMIC = {"kind": "dynamic"}
VALVE, COMPRESSOR, SPEAKER = "two-channel valve preamp", "stereo bus compressor", "active loudspeaker"
MADI = "MADI interface, one optical and one coaxial pair"


def listed(studio, *facts):
    for n, fact in enumerate(facts, start=1):
        studio = add_source(studio, f"Source {n}", **fact)
    return studio


def led(studio):
    return set_clock_source(studio, "U1", "optical")


def destination(studio, kind, *outputs, name="DestinationKind", returns=(), **facts):
    studio = add_destination(studio, name, kind, channels=facts.pop("channels", len(outputs) or 2), **facts)
    if outputs:
        studio = send_out(studio, f"D{studio.counters['D']}", [end(*o) for o in outputs], [end(*r) for r in returns])
    return studio


def carried_out(studio):
    survey = Survey(studio)
    return take(survey, allocate(survey)).apply(studio)


class Figures(unittest.TestCase):
    def test_skew_by_hand(self):
        for samples, rate, us, mm, notch in (
            (20, 48_000, 416.667, 142.917, 1200.0),
            (1, 96_000, 10.4167, 3.57292, 48_000.0),
            (64, 44_100, 1451.25, 497.778, 344.531),
        ):
            found = skew_of(samples, rate)
            for value, wanted in zip(found[1:], (us, mm, notch), strict=True):
                self.assertAlmostEqual(value / wanted, 1.0, 4)

    def test_microphone_levels_by_hand(self):
        # 1 Pa is 94.0 dB: 20 mV/Pa there is 20 mV, −31.8 dBu; 40 dB more is a hundred times that, 2 V or 8.2 dBu.
        self.assertAlmostEqual(microphone_dbu(20.0, 93.979), -31.76, 2)
        self.assertAlmostEqual(microphone_dbu(20.0, 133.979), 8.24, 2)
        self.assertAlmostEqual(microphone_dbu(2.0, 133.979), -11.76, 2)

    def test_the_handbook_s_arithmetic_is_the_program_s(self):
        page = next((Path(ennead.data.FOLDER) / "handbook").glob("*skew.md")).read_text(encoding="utf-8")
        studio = plug(plug(led(one_fibre()), "A", "U1", "mic3"), "B", "U2", "mic1")
        near, far = (r.latency_samples for r in Survey(studio).signal_paths)
        skew = skew_of(far - near, 48_000)
        for figure in (
            f"{near:g} samples",
            f"= {far:g} samples",
            f"{skew.samples:g} samples",
            f"= {skew.us:.1f} µs",
            f"= {skew.mm:.0f} mm",
            f"= {skew.notch_hz:.0f} Hz",
        ):
            self.assertIn(figure, page)
        level = microphone_dbu(20.0, 150.0)
        self.assertIn(f"= {level:+.1f} dBu", page)
        self.assertIn(f"{level - 14.0:.1f} dB too much", page)
        self.assertIn(f"leaves {34.0 - level:.1f} dB", page)
        for label in AIM_LABELS.values():
            self.assertIn(f"| {label.split(',')[0].split(':')[0]}", page)
        ribbon = listed(rig(INTERFACE), *[COND] * 7, RIBBON)
        self.assertEqual(list(allocate(Survey(ribbon)).unplaced), ["S8"])


class EachRule(unittest.TestCase):
    def speaks(self, rule, studio, *words, severity, silent=None, mends=True):
        found = findings(studio, rule)
        self.assertTrue(found, rule)
        text = " ".join((found[0].message, found[0].why, *found[0].working))
        for wanted in words:
            self.assertIn(wanted, text)
        self.assertEqual(found[0].severity, severity)
        self.assertTrue(found[0].working)
        if mends and found[0].fixes and isinstance(found[0].fixes[0].does, Change):
            self.assertLess(len(findings(found[0].fixes[0].does.apply(studio), rule)), len(found), rule)
        if silent is not None:
            self.assertEqual(findings(silent, rule), [], rule)
        return found[0]

    def bare(self):
        """Return a session with nothing in the rig: there the first step is said, not a shortage."""
        return empty_studio("Bare")

    def group(self, *places, **facts):
        studio = led(one_fibre())
        for n, (unit, port) in enumerate(places):
            studio = plug(studio, f"Drum {n + 1}", unit, port, group="Kit", coherent=True, **facts)
        return studio

    def test_skew_of_groups_and_pairs(self):
        apart = self.group(("U1", "mic3"), ("U2", "mic1"))
        # The interface's preamp states 14 samples; expander, fibre and input 31 + 1 + 2.
        self.speaks(
            "group_out_of_step",
            apart,
            "20 samples, 417 µs, as 143 mm",
            "1.2 kHz",
            severity="caution",
            silent=self.group(("U2", "mic1"), ("U2", "mic5")),
        )
        self.assertEqual(findings(change_source(apart, "S1", coherent=False), "group_out_of_step"), [])
        pair = plug(led(one_fibre()), "Hall", "U1", "mic1", "mic2")
        split = connect(disconnect(pair, "C3"), SourceEnd("S1", 2), end("U2", "mic2"))
        self.speaks("pair_out_of_step", split, "The left side", "20 samples", severity="caution", silent=pair)

    def test_group_on_two_clocks(self):
        two = rig(INTERFACE, "two-preamp interface, optical in only")
        two = plug(two, "Snare", "U1", "mic3", group="Kit", coherent=True)
        both = plug(two, "Kick", "U2", "mic1", group="Kit", coherent=True)
        resampled = correct_drift(both, "U2", True)
        self.speaks("group_on_two_clocks", resampled, "2 clocks", severity="trouble", silent=two)
        # Not resampled, the two interfaces of one computer count as one domain.
        self.assertEqual(findings(both, "group_on_two_clocks"), [])

    def test_levels_pads_and_loads(self):
        loud = plug(rig(INTERFACE), "Snare", "U1", "mic1", **COND, sensitivity_mv_pa=20.0, loudest_db_spl=150.0)
        # 150 dB is 632 Pa, 12.6 V or 24.3 dBu, against 14 dBu: 10.3 dB too much, 20 dB of pad are enough.
        self.speaks(
            "input_overloaded",
            loud,
            "by 10.3 dB",
            "+24.3 dBu",
            severity="trouble",
            silent=change_source(loud, "S1", loudest_db_spl=139.0),
        )
        self.assertEqual(
            findings(change_source(loud, "S1", loudest_db_spl=139.8), "input_overloaded")[0].severity, "trouble"
        )
        quiet = set_pad(change_source(loud, "S1", loudest_db_spl=100.0), "U1", "mic1", on=True)
        self.speaks("pad_not_needed", quiet, "20 dB", severity="note", silent=set_pad(loud, "U1", "mic1", on=True))
        tape = plug(rig(INTERFACE), "Tape", "U1", "mic1", kind="line", level_dbu=-7.8)
        self.speaks(
            "level_mismatch", tape, "11.8 dB under", severity="note", silent=change_source(tape, "S1", level_dbu=-5.0)
        )
        hot = change_source(tape, "S1", level_dbu=22.0, sensitivity_mv_pa=5.0, loudest_db_spl=100.0)
        self.assertIn("stated peak: +22.0 dBu", findings(hot, "input_overloaded")[0].working[0])
        self.assertIn("headroom -2.0 dB", findings(hot, "input_overloaded")[0].working[-1])
        self.assertIn("Switch its pad on", self.speaks("input_overloaded", hot, "by 2.0 dB", severity="trouble").why)
        ribbon = plug(rig(INTERFACE), "Ribbon", "U1", "mic1", **RIBBON, impedance_ohm=600.0)
        # 2400 Ω on 600 Ω is four times; five is light.
        self.speaks(
            "input_loads_source",
            ribbon,
            "4.0 times",
            "0.80",
            severity="caution",
            silent=change_source(ribbon, "S1", impedance_ohm=480.0),
        )

    def test_phantom(self):
        di = plug(rig(INTERFACE), "Bass", "U1", "mic1", kind="instrument", di="active")
        self.speaks("active_di_unfed", di, "battery", severity="note", silent=change_source(di, "S1", di="passive"))
        active = plug(rig(INTERFACE), "Ribbon", "U1", "mic1", kind="ribbon", phantom="needed")
        self.speaks(
            "ribbon_takes_phantom",
            active,
            "active one",
            severity="note",
            silent=change_source(active, "S1", phantom="forbidden"),
        )
        torn = plug(plug(rig(INTERFACE), "Cello", "U1", "mic1", **RIBBON), "Voice", "U1", "mic2", **COND)
        self.speaks(
            "bank_wanted_both_ways",
            torn,
            "48 V 1–4",
            "Cello",
            "Voice",
            severity="trouble",
            silent=set_phantom(torn, "U1", "a", on=True),
        )
        apart = plug(plug(rig(INTERFACE), "Cello", "U1", "mic1", **RIBBON), "Voice", "U1", "mic5", **COND)
        self.assertEqual(findings(apart, "bank_wanted_both_ways"), [])

    def test_a_line_pinned_where_nothing_arrives_is_left_alone(self):
        studio = plug(rig(INTERFACE, EXPANDER), "Far", "U2", "mic1", pinned=True)
        self.assertEqual((allocate(Survey(studio)).count, allocate(Survey(studio)).unplaced), (0, {}))
        free = allocate(Survey(change_source(studio, "S1", pinned=False)))
        self.assertEqual((free.count, free.moves), (1, 1))

    def test_wishes_and_pins(self):
        studio = connect(rig(INTERFACE, VALVE), end("U2", "line_out1"), end("U1", "mic1"))
        wrong = plug(studio, "Voice", "U1", "mic3", **COND, preamp="U2")
        self.speaks(
            "source_off_its_way",
            wrong,
            "is wanted on",
            severity="caution",
            silent=plug(studio, "Voice", "U2", "mic1", **COND, preamp="U2"),
        )
        self.assertEqual(findings(change_source(wrong, "S1", preamp="U1"), "source_off_its_way"), [])
        loop = rig(INTERFACE, COMPRESSOR)
        self.speaks(
            "outboard_has_no_way_in",
            plug(loop, "Voice", "U1", "mic3", outboard="U2"),
            "nothing leads",
            severity="trouble",
            silent=plug(connect(loop, end("U2", "line_out1"), end("U1", "mic1")), "Voice", "U1", "mic3", outboard="U2"),
        )
        pinned = plug(rig(INTERFACE), "Bass", "U1", "mic5", kind="instrument", pinned=True)
        self.speaks(
            "pinned_does_not_work",
            pinned,
            "pinned to",
            severity="caution",
            silent=plug(rig(INTERFACE), "Bass", "U1", "mic1", kind="instrument", pinned=True),
        )

    def test_what_is_missing_or_too_long(self):
        pair = plug(rig(INTERFACE), "Choir", "U1", "mic1", "mic2")
        self.speaks("stereo_half_plugged", disconnect(pair, "C2"), "R is missing", severity="caution", silent=pair)
        self.assertIn("L is missing", findings(disconnect(pair, "C1"), "stereo_half_plugged")[0].message)
        voice = add_source(pair, "Voice", priority="must")
        self.speaks(
            "important_not_placed",
            voice,
            "plugged in nowhere",
            severity="trouble",
            silent=change_source(voice, "S2", priority=""),
        )
        bass = plug(rig(INTERFACE), "Bass", "U1", "mic1", kind="instrument")
        self.speaks(
            "pickup_cable_long",
            set_length(bass, "C1", 6.5),
            "6.5 m",
            severity="caution",
            silent=set_length(bass, "C1", 6.0),
        )

    def test_spares_digital_and_returns(self):
        wish = set_spare(rig(INTERFACE), "hiz", 3)
        self.speaks(
            "spare_missing",
            wish,
            "3 Hi-Z inputs",
            "free and in service: 2",
            severity="caution",
            silent=set_spare(wish, "hiz", 2),
        )
        self.assertEqual(
            len(findings(mark_fault(set_spare(wish, "hiz", 2), end("U1", "mic1"), "dead"), "spare_missing")), 1
        )
        used = plug(set_spare(rig(INTERFACE), "hiz", 2), "Voice", "U1", "mic1", **DYNAMIC)
        self.assertEqual(len(findings(used, "spare_missing")), 1)
        tape = plug(rig(INTERFACE), "Tape", "U1", "spdif_in", kind="digital")
        self.speaks("digital_source_keeps_time", tape, "follow", severity="note", silent=rig(INTERFACE))
        loop = destination(rig(INTERFACE), "loop", ("U1", "line_out1"), returns=[("U1", "mic1")], name="Squash")
        self.assertRaises(SocketTaken, plug, loop, "Voice", "U1", "mic1")
        apart = plug(loop, "Voice", "U1", "mic2")
        # Only a file made elsewhere holds both.
        both = replace(
            apart,
            cables=apart.cables.put(
                "C3", replace(apart.cables["C3"], plugs=(apart.cables["C3"].plugs[0], end("U1", "mic1")))
            ),
        )
        self.speaks("return_taken", both, "Squash comes back", severity="trouble", silent=apart)

    def test_outputs(self):
        base = connect(rig(INTERFACE, SPEAKER, COMPRESSOR), end("U1", "line_out1"), end("U2", "line_in"))
        base = connect(base, end("U1", "line_out4"), end("U3", "line1"))
        self.speaks(
            "destination_not_placed",
            destination(base, "cue"),
            "no output yet",
            severity="caution",
            silent=destination(base, "cue", ("U1", "phones"), ("U1", "phones")),
        )
        mains = destination(base, "mains", ("U1", "line_out1"), name="Mains")
        shared = change_destination(destination(mains, "click", ("U1", "line_out2"), name="Click"), "D2", tap=True)
        shared = send_out(shared, "D2", [end("U1", "line_out1")])
        self.speaks("output_shared", shared, "a tap on purpose: yes", severity="note", silent=mains)
        self.speaks("output_shared", change_destination(shared, "D2", tap=False), "purpose: no", severity="trouble")
        self.speaks(
            "output_does_not_suit",
            destination(base, "cue", ("U1", "line_out1")),
            "wired to loudspeakers",
            severity="trouble",
            silent=mains,
        )
        self.speaks(
            "output_does_not_suit",
            destination(base, "mains", ("U1", "line_out4")),
            "wired to outboard",
            severity="trouble",
        )
        self.speaks(
            "output_does_not_suit",
            mark_fault(mains, end("U1", "line_out1"), "dead"),
            "out of service",
            severity="trouble",
        )
        self.speaks(
            "output_pair_split",
            destination(base, "cue", ("U1", "line_out2"), ("U1", "line_out3")),
            "2 and 3",
            severity="note",
            silent=destination(base, "cue", ("U1", "line_out3"), ("U1", "line_out4")),
        )
        loop = destination(base, "loop", ("U1", "line_out4"), returns=[("U1", "mic3")], name="Squash")
        self.speaks(
            "loop_numbers_differ",
            loop,
            "out by 4 and comes back by 3",
            severity="note",
            silent=destination(base, "loop", ("U1", "line_out4"), returns=[("U1", "mic4")]),
        )
        self.assertEqual(findings(set_loop_numbers(loop, "free"), "loop_numbers_differ"), [])
        (found,) = findings(set_loop_numbers(loop, "always"), "loop_numbers_differ")
        self.assertEqual((found.severity, found.fixes[0].does.name), ("trouble", "allocate"))
        # 12 samples out of the interface, 14 into it.
        self.speaks(
            "loop_comes_back_late", loop, "12 samples out + 14 samples in", "26 samples", severity="note", silent=mains
        )
        crowd = rig(INTERFACE)
        for n in range(6):
            crowd = destination(crowd, "cue", name=f"Cue {n + 1}")
        # Eight line outputs, two of them kept for the monitors, and one headphone socket of two sides: four pairs.
        just = rig(INTERFACE)
        for n in range(4):
            just = destination(just, "cue", name=f"Cue {n + 1}")
        self.speaks(
            "not_enough_outputs",
            crowd,
            "12 cue outputs are needed and 8",
            "4 would have nowhere",
            "12 − available 8 = 4 short",
            severity="trouble",
            silent=just,
        )
        self.assertEqual(findings(destination(destination(self.bare(), "cue"), "cue"), "not_enough_outputs"), [])

    def test_there_are_twenty_five_rules_and_more_over_sources_and_outputs(self):
        self.assertGreaterEqual(sum(len(CHECKS[s]) for s in ("sources", "destinations")), 25)


class Outputs(unittest.TestCase):
    def studio(self):
        studio = connect(rig(INTERFACE, SPEAKER, SPEAKER, COMPRESSOR), end("U1", "line_out1"), end("U2", "line_in"))
        return connect(studio, end("U1", "line_out2"), end("U3", "line_in"))

    def test_each_goes_where_it_belongs(self):
        studio = destination(self.studio(), "cue", name="Singer")
        studio = destination(destination(studio, "mains", name="Mains"), "loop", name="Squash")
        studio = destination(listed(studio, *[DYNAMIC] * 5), "click", name="Click", channels=1)
        studio = carried_out(studio)
        by_name = {
            d.name: ([e.port for e in d.outputs], [e.port for e in d.returns])
            for d in map(survey_of(studio).placed, studio.destinations)
        }
        self.assertEqual(by_name["Mains"], (["line_out1", "line_out2"], []))
        self.assertEqual(by_name["Singer"], (["phones", "phones"], []))
        self.assertEqual([len(part) for part in by_name["Squash"]], [2, 2])
        # Nothing else is dearer for it: the loop leaves and comes back by the same numbers.
        survey = Survey(studio)
        out = next(s for s in survey.output_points if s.port.key == by_name["Squash"][0][0]).number
        self.assertEqual(out, survey.input_point_at["U1", by_name["Squash"][1][0]].number)
        # Five sources and a stereo return share eight inputs; the return is a pair.
        taken = {c.end.port for c in Survey(studio).leads.values()}
        self.assertFalse(taken & set(by_name["Squash"][1]))
        loud = [f.message for f in findings(studio) if f.severity != "note"]
        self.assertEqual(loud, [])

    def test_pinned_outputs_stay_and_taps_are_left_alone(self):
        studio = destination(self.studio(), "cue", ("U1", "line_out5"), ("U1", "line_out6"), name="Singer", pinned=True)
        studio = destination(studio, "cue", name="Player", pinned=True)
        studio = destination(studio, "cue", ("U1", "line_out5"), ("U1", "line_out6"), name="Guest", tap=True)
        proposal = allocate(Survey(studio))
        self.assertEqual([p.destination for p in proposal.outs], ["D2"])
        self.assertEqual(proposal.outs[0].outputs, (end("U1", "phones"), end("U1", "phones")))
        # A cue on outputs that are wired to loudspeakers leaves them, unless it is pinned.
        wrong = destination(self.studio(), "cue", ("U1", "line_out1"), ("U1", "line_out2"), name="Singer")
        self.assertEqual(len(allocate(Survey(wrong)).outs), 1)
        self.assertEqual(allocate(Survey(change_destination(wrong, "D1", pinned=True))).outs, ())

    def test_every_output_seat_by_hand(self):
        two = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        points = {(s.unit, s.port.key, s.lane): (s.number, s.delay) for s in Survey(two).output_points}
        # Eight line outputs, two sides of phones, no analogue behind S/PDIF, and the expander's eight over ADAT from 13 on.
        self.assertEqual([points["U1", f"line_out{n}", 1][0] for n in range(1, 9)], list(range(1, 9)))
        self.assertEqual([points["U1", "phones", n][0] for n in (1, 2)], [9, 10])
        self.assertEqual(
            [points["U2", f"line_out{n}", 1] for n in range(1, 9)], [(12 + n, 2 + 1 + 29.0) for n in range(1, 9)]
        )
        self.assertEqual(len(points), 18)
        fast = Survey(set_rate(two, 96_000)).output_points
        self.assertEqual(sorted(s.number for s in fast if s.unit == "U2"), [13, 14, 15, 16])

    def test_what_an_output_is_wired_to(self):
        studio = rig(
            INTERFACE,
            "monitor controller, three loudspeaker sets",
            SPEAKER,
            "headphone amplifier, four outputs",
            COMPRESSOR,
            EXPANDER,
        )
        boxes = [studio.profile_of(f"U{n}") for n in range(2, 7)]
        into = [next(p.key for p in box.ports if p.direction == "in" and "line" in p.carries) for box in boxes]
        for n, (unit, port) in enumerate(zip(range(2, 7), into, strict=True), start=1):
            studio = connect(studio, end("U1", f"line_out{n}"), end(f"U{unit}", port))
        feeds = {s.port.key: s.feeds for s in Survey(studio).output_points if s.unit == "U1"}
        self.assertEqual(
            [feeds[f"line_out{n}"] for n in range(1, 7)],
            ["loudspeakers", "loudspeakers", "cue", "outboard", "other", ""],
        )
        # An amplifier, or a compressor, in front of a loudspeaker drives the loudspeaker.
        out = next(p.key for p in boxes[3].ports if p.direction == "out")
        held = connect(disconnect(studio, "C2"), end("U5", out), end("U3", into[1]))
        self.assertEqual(next(s.feeds for s in Survey(held).output_points if s.port.key == "line_out4"), "loudspeakers")

    def test_what_finds_none_is_said_with_what_is_missing(self):
        studio = rig(INTERFACE)
        for n in range(1, 9):
            studio = mark_fault(studio, end("U1", f"mic{n}"), "dead")
        proposal = allocate(Survey(destination(destination(studio, "loop", name="Squash"), "cue", name="Singer")))
        self.assertEqual(proposal.unplaced_outs, {"D1": "no pair of line inputs is left for its return"})
        for n in range(1, 9):
            studio = mark_fault(studio, end("U1", f"line_out{n}"), "dead")
        self.assertEqual(
            allocate(Survey(destination(studio, "mains"))).unplaced_outs,
            {"D1": "no pair of outputs that may serve it is left"},
        )

    def test_too_few_outputs_have_remedies_of_their_own(self):
        crowd = rig(INTERFACE)
        for n in range(6):
            crowd = destination(crowd, "cue", name=f"Cue {n + 1}")
        found = find_remedies(Survey(crowd), [p for p in shelf() if p.name == EXPANDER])
        self.assertEqual(
            [(r.left, r.buys, r.label[:13]) for r in found], [(0, 3, "Add an eight-"), (1, 0, "Let the mains")]
        )
        short = destination(destination(destination(destination(rig(INTERFACE), "cue"), "cue"), "cue"), "send")
        self.assertEqual(
            [(r.left, r.buys) for r in find_remedies(Survey(destination(short, "click", channels=1)), ())], [(0, 0)]
        )
        self.assertEqual(find_remedies(Survey(destination(rig(INTERFACE), "cue")), shelf()), ())
        after = found[0].change.apply(crowd)
        self.assertTrue(all(d.outputs for d in survey_of(after).destinations))

    def test_mains_find_no_output_that_drives_outboard(self):
        studio = rig(INTERFACE, COMPRESSOR)
        for n in range(1, 9):
            studio = (
                connect(studio, end("U1", f"line_out{n}"), end("U2", f"line{n}"))
                if n < 3
                else mark_fault(studio, end("U1", f"line_out{n}"), "dead")
            )
        proposal = allocate(Survey(destination(studio, "mains")))
        self.assertEqual(list(proposal.unplaced_outs), ["D1"])
        self.assertEqual(len(allocate(Survey(destination(studio, "send"))).outs), 1)

    def test_balance_counts_each_output_for_what_it_may_serve(self):
        studio = destination(destination(self.studio(), "mains"), "click", channels=1)
        found = {n.key: (n.needed, n.available) for n in output_balance(Survey(studio))}
        # Eight line outputs, two of them wired to loudspeakers, and a headphone socket with two sides.
        self.assertEqual(found, {"mains": (2, 8), "cues": (0, 8), "sends": (1, 6), "outs": (3, 10)})


class Steady(unittest.TestCase):
    def test_allocating_again_moves_nothing_and_one_more_source_only_what_is_forced(self):
        dice = random.Random(12)
        kinds = (DYNAMIC, COND, RIBBON, {"kind": "line"}, {"kind": "instrument"})
        forced = 0
        for _ in range(25):
            facts = [
                {
                    **f,
                    "channels": dice.choice((1, 1, 2)),
                    "group": dice.choice(("", "Kit")),
                    "coherent": dice.random() < 0.3,
                }
                for f in dice.choices(kinds, k=dice.randint(3, 11))
            ]
            studio = carried_out(listed(led(one_fibre()), *facts))
            again = allocate(Survey(studio))
            self.assertEqual((again.count, again.moves), (0, 0))
            free = {s.end for s in Survey(studio).input_points} - {c.end for c in studio.cables.values()}
            more = add_source(studio, "One more", **dice.choice(kinds))
            proposal = allocate(Survey(more))
            key = f"S{more.counters['S']}"
            alone = [o for o in options_for(Survey(more), more.source(key)) if {s.end for s in o} <= free]
            calm = [o for o in alone if not phantom_wish(more.source(key), o)]
            if key in proposal.unplaced:
                self.assertEqual(proposal.count, 0)
            elif calm:
                # A free socket that asks nothing of any switch: nobody has to move for it.
                self.assertEqual(proposal.moves, 0)
            else:
                forced += proposal.moves
                for placement in proposal.placements:
                    # Nobody moves without need: with one of the moved lines pinned, somebody is left out or as many move.
                    if placement.source != key:
                        held = allocate(Survey(change_source(more, placement.source, pinned=True)))
                        self.assertTrue(held.unplaced or held.moves >= proposal.moves)
        self.assertGreater(forced, 0)


class Questions(unittest.TestCase):
    def test_what_binds_is_irreducible(self):
        cases = (
            ([COND] * 10 + [{"kind": "digital"}], 9, ()),
            ([RIBBON] * 2 + [COND] * 7, 6, ("48 V needed", "48 V forbidden")),
            ([{"kind": "instrument"}] * 3 + [COND] * 2, 3, ("kinds of input",)),
        )
        for facts, size, rules in cases:
            studio = listed(rig(INTERFACE), *facts)
            found = find_shortage(Survey(studio))
            self.assertEqual((len(found.sources), found.rules), (size, rules))
            self.assertEqual(set(found.must_go), set(allocate(Survey(studio)).unplaced))
            for one in found.sources:
                rest = listed(rig(INTERFACE), *[facts[int(s[1:]) - 1] for s in found.sources if s != one])
                self.assertEqual(allocate(Survey(rest)).unplaced, {})
        self.assertIsNone(find_shortage(Survey(listed(rig(INTERFACE), *[COND] * 8))))

    def test_remedies_do_what_they_say_and_the_cheapest_known_comes_first(self):
        studio = listed(rig(INTERFACE), *[COND] * 10)
        for name, price in (
            (EXPANDER, 400.0),
            ("two-channel preamp, S/PDIF out", 500.0),
            ("TOSLINK fibre", 8.0),
            ("RCA coaxial, 75 ohm", 5.0),
        ):
            studio = set_price(studio, name, price)
        found = find_remedies(Survey(studio), shelf())
        self.assertEqual([r.price for r in found[:2]], [408.0, 505.0])
        self.assertIn("one outlet (25 W)", found[0].parts)
        self.assertTrue(any(p.startswith("Clock:") for p in found[0].parts))
        for remedy in found:
            after = remedy.change.apply(studio)
            self.assertEqual(len(allocate(Survey(after)).unplaced), remedy.left)
        fast = listed(led(one_fibre()), *[DYNAMIC] * 14)
        slower = find_remedies(Survey(set_rate(fast, 96_000)), ())
        self.assertEqual([(r.label, r.left, r.buys) for r in slower], [("Go to 48 kHz", 0, 0)])
        bare = find_remedies(Survey(listed(rig(INTERFACE), *[{"kind": "instrument"}] * 3)), ())
        self.assertEqual([(r.left, r.unpriced) for r in bare], [(0, ("passive DI box",))])
        behind = find_remedies(Survey(listed(rig(MADI), COND)), shelf())
        self.assertTrue(any("behind a MADI bridge" in r.label and r.left == 0 for r in behind))

    def test_a_destination_is_brought_to_a_number_or_a_socket(self):
        studio = destination(rig(INTERFACE), "cue", ("U1", "line_out1"), ("U1", "line_out2"), name="Cue")
        studio = mark_fault(destination(studio, "click", name="Click", channels=1), end("U1", "line_out8"), "dead")
        survey = Survey(studio)

        def ports(after, key):
            return [e.port for e in survey_of(after).placed(key).outputs]

        self.assertEqual(ports(place_out_at_number(survey, "D1", 5).apply(studio), "D1"), ["line_out5", "line_out6"])
        self.assertEqual(ports(place_out_at_number(survey, "D1", 9).apply(studio), "D1"), ["phones", "phones"])
        self.assertEqual(
            ports(place_out_at_port(survey, "D2", end("U1", "line_out4")).apply(studio), "D2"), ["line_out4"]
        )
        for key, number, words in (
            ("D1", 6, "no pair begins at"),
            ("D2", 8, "out of service"),
            ("D2", 9, "is for headphones"),
            ("D2", 99, "no socket gives out"),
        ):
            with self.assertRaisesRegex(EnneadError, words):
                place_out_at_number(survey, key, number)
        with self.assertRaisesRegex(EnneadError, "out of service"):
            place_out_at_port(survey, "D2", end("U1", "line_out8"))
        with self.assertRaisesRegex(EnneadError, "Cue"):
            place_out_at_number(survey, "D2", 2).apply(studio)
        tapping = change_destination(studio, "D2", tap=True)
        self.assertEqual(ports(place_out_at_number(Survey(tapping), "D2", 2).apply(tapping), "D2"), ["line_out2"])

    def test_a_loop_has_one_number_out_and_in_as_the_policy_says(self):
        # Outputs 1 to 3 hold what stays; of the inputs 4 to 8 are taken by microphones that stay, but for 5, which may move.
        studio = rig(INTERFACE)
        for n in (1, 2, 3):
            studio = destination(studio, "cue", ("U1", f"line_out{n}"), name=f"Cue {n}", pinned=True)
        for n in (4, 5, 6, 7, 8):
            studio = plug(studio, f"Mic {n}", "U1", f"mic{n}", **DYNAMIC, pinned=n != 5)
        studio = destination(studio, "loop", name="Squash", channels=1)
        after = {policy: carried_out(set_loop_numbers(studio, policy)) for policy in ("free", "paired", "always")}
        ends = {
            policy: (survey_of(s).placed("D4").outputs[0].port, survey_of(s).placed("D4").returns[0].port)
            for policy, s in after.items()
        }
        # Nobody has to move for another number back; only where the software forces it is the microphone asked to.
        self.assertEqual(
            ends, {"free": ("line_out4", "mic1"), "paired": ("line_out4", "mic1"), "always": ("line_out5", "mic5")}
        )
        self.assertEqual(allocate(Survey(set_loop_numbers(studio, "always"))).moves, 1)
        self.assertEqual(findings(after["always"], "loop_numbers_differ"), [])
        again = allocate(Survey(after["always"]))
        self.assertEqual((again.count, again.proven), (0, True))
        stuck = change_source(studio, "S2", pinned=True)
        for number, words in ((6, "would not come back: no input is left for its return by the same number"), (5, "")):
            there = why_not_there(Survey(set_loop_numbers(studio, "always")), "D4", end("U1", f"line_out{number}"))
            self.assertEqual((words in there.broken, there.proposal is None), (True, bool(words)))
        with self.assertRaisesRegex(EnneadError, "only a loop comes back"):
            send_out(studio, "D1", [end("U1", "line_out4")], [end("U1", "mic1")])
        self.assertEqual(
            allocate(Survey(set_loop_numbers(stuck, "always"))).unplaced_outs,
            {"D4": "no number is left by which it could both go out and come back"},
        )
        self.assertIn("same numbers", find_shortage(Survey(set_loop_numbers(stuck, "always"))).rules)
        self.assertIsNone(find_shortage(Survey(stuck)))
        with self.assertRaises(EnneadError):
            set_loop_numbers(studio, "odd")

    def test_who_finds_no_place_on_the_way_they_are_wanted_is_told_so(self):
        studio = listed(led(one_fibre()), *[{**COND, "preamp": "U2"}] * 9)
        name = studio.units["U2"].name
        (reason,) = allocate(Survey(studio)).unplaced.values()
        self.assertEqual(
            reason, f"no microphone input with 48 V is left on {name} at 48 kHz; 8 could serve and all are taken"
        )
        cut = disconnect(studio, next(c.id for c in studio.cables.values()))
        self.assertEqual(
            set(allocate(Survey(cut)).unplaced.values()),
            {f"there is no microphone input with 48 V on {name}, as it is wanted"},
        )
        self.assertEqual(
            set(allocate(Survey(listed(rig("active loudspeaker"), COND))).unplaced.values()),
            {"there is no microphone input with 48 V at 48 kHz"},
        )

    def test_a_shortage_with_a_loop_in_it_is_told(self):
        crowd = destination(listed(rig(INTERFACE), *[DYNAMIC] * 9), "loop", name="Plate", channels=2)
        found = find_shortage(Survey(crowd))
        self.assertIn("D1", found.sources)
        # Seven microphones and two channels of the return are one more than there are sockets.
        self.assertEqual((len(found.sources), found.sockets), (8, 8))
        self.assertIn("10 lines together want 11 inputs and 8 sockets are there", found.said[0])
        # One too many is a shortage like any other.
        self.assertEqual(len(find_shortage(Survey(listed(rig(INTERFACE), *[DYNAMIC] * 9))).must_go), 1)
        self.assertIsNone(find_shortage(Survey(listed(rig(INTERFACE), *[DYNAMIC] * 8))))

    def test_why_here_and_why_not_there(self):
        studio = carried_out(listed(led(one_fibre()), COND, {"kind": "instrument"}, RIBBON))
        survey = Survey(studio)
        here = why_here(survey, "S1")
        self.assertTrue(any("must be on" in text for text in here.here))
        for key, word in (("S1", "on"), ("S3", "off")):
            (socket,) = (c.end for c in studio.cables.values() if getattr(c.start, "source", "") == key)
            bank = studio.profile_of(socket.unit).bank_of_port[socket.port].label
            self.assertIn(
                f"{studio.units[socket.unit].name}'s {bank} must be {word} for it.", why_here(survey, key).here
            )
        grouped = change_source(studio, "S1", group="Kit")
        for change_it, told in (
            (grouped, False),
            (change_source(grouped, "S1", coherent=True), True),
            (change_source(studio, "S1", coherent=True), False),
        ):
            self.assertEqual(any("in step with" in text for text in why_here(Survey(change_it), "S1").here), told)
        self.assertTrue(here.next_best.place and any("moved" in cost for cost in here.next_best.costs))
        self.assertIsNone(why_here(Survey(add_source(studio, "Late", **COND)), "S4").next_best)
        for facts, ports, told in (
            ({"kind": "dynamic"}, ("mic5", "mic6"), True),
            ({"kind": "dynamic"}, ("mic5",), False),
            ({"kind": "digital", "channels": 2}, ("spdif_in",), False),
        ):
            one = add_source(rig(INTERFACE), "One", **{"channels": len(ports), **facts})
            for channel, port in enumerate(ports, start=1):
                one = connect(one, SourceEnd("S1", channel), end("U1", port))
            self.assertEqual(any(text.startswith("Its two sides") for text in why_here(Survey(one), "S1").here), told)
        refused = why_not_there(survey, "S2", end("U1", "mic5"))
        self.assertIn("high-impedance", refused.broken)
        taken = next(c.end for c in studio.cables.values() if getattr(c.start, "source", "") == "S1")
        costly = why_not_there(survey, "S3", taken)
        self.assertEqual(costly.broken, "")
        # The ribbon goes to the first socket of the live group; the condenser there has to leave it, nobody else moves.
        self.assertTrue(
            any("moved" in cost and "Source 1" in cost and "Source 2" not in cost for cost in costly.costs),
            costly.costs,
        )
        after = take(survey, costly.proposal).apply(studio)
        self.assertIn(taken, [c.end for c in after.cables.values() if getattr(c.start, "source", "") == "S3"])
        self.assertEqual([f.message for f in findings(after) if f.severity == "trouble"], [])

    def test_why_an_output_is_here_and_why_not_there(self):
        studio = connect(rig(INTERFACE, "active loudspeaker", INTERFACE), end("U1", "line_out1"), end("U2", "line_in"))
        studio = destination(studio, "mains", ("U1", "line_out1"), ("U1", "line_out2"), name="Mains")
        studio = destination(studio, "cue", ("U1", "line_out3"), ("U1", "line_out4"), name="Cue", pinned=True)
        studio = mark_fault(
            destination(studio, "click", ("U1", "line_out5"), name="Click"), end("U1", "line_out6"), "dead"
        )
        survey = Survey(studio)
        mains, cue = why_here(survey, "D1"), why_here(survey, "D2")
        self.assertTrue(
            any("is wired to" in text and "stay with the monitors" in text for text in mains.here), mains.here
        )
        self.assertEqual(mains.here[-1], "Its two sides sit on odd and even neighbours of one unit.")
        room = put_unit(add_place(studio, "Control room"), "U1", "P1")
        self.assertEqual(
            why_here(Survey(change_destination(room, "D1", place="Control room")), "D1").here[-1],
            "Both stand in Control room.",
        )
        self.assertNotIn("Both stand", why_here(Survey(change_destination(room, "D1", place="Hall")), "D1").here[-1])
        self.assertFalse({1, 2} & set(mains.next_best.numbers))
        self.assertIn("It is pinned there.", cue.here)
        for key, port, words in (
            ("D2", "line_out1", "is wired to loudspeakers"),
            ("D2", "line_out4", "no pair begins at"),
            ("D3", "line_out6", "out of service"),
            ("D1", "phones", "is for headphones"),
            ("D1", "mic1", "no driver number comes out of"),
        ):
            refused = why_not_there(survey, key, end("U1", port))
            self.assertIn(words, refused.broken)
            self.assertIsNone(refused.proposal)
        click = why_not_there(survey, "D3", end("U1", "line_out3"))
        self.assertEqual((click.broken, click.numbers), ("", (3,)))
        # The cue was pinned there and has to go; nobody else does.
        self.assertTrue(
            any("moved" in cost and "Cue" in cost and "Mains" not in cost for cost in click.costs), click.costs
        )
        after = take(survey, click.proposal).apply(studio)
        self.assertEqual([e.port for e in survey_of(after).placed("D3").outputs], ["line_out3"])
        self.assertNotIn("line_out3", [e.port for e in survey_of(after).placed("D2").outputs])

    def test_the_loss_of_each_unit_and_the_patch_that_carries_it(self):
        studio = carried_out(listed(led(one_fibre()), *[COND] * 10))
        losses = {loss.unit: loss for loss in lose_each(Survey(studio))}
        # Eight of ten sit on the interface; without it nothing reaches the computer.
        self.assertEqual((len(losses["U1"].lost), len(losses["U1"].left)), (10, 10))
        self.assertEqual((len(losses["U2"].lost), len(losses["U2"].carried), losses["U2"].led_clock), (2, 0, True))
        self.assertFalse(losses["U1"].led_clock)
        self.assertEqual((losses["U2"].moves, losses["U1"].outputs_lost), ((), len(Survey(studio).numbering.outputs)))
        roomy = carried_out(listed(led(one_fibre()), *[COND] * 3))
        moved = connect(
            disconnect(roomy, "C2"), next(c.start for c in roomy.cables.values() if c.id == "C2"), end("U2", "mic1")
        )
        loss = {x.unit: x for x in lose_each(Survey(moved))}["U2"]
        self.assertEqual((loss.lost, loss.carried, loss.left, loss.moves), (("S1",), ("S1",), (), ()))
        after = loss.change.apply(moved)
        self.assertTrue(all(r.complete for r in Survey(after).signal_paths))

    def test_the_loss_of_a_unit_tells_of_outputs_and_loops(self):
        studio = destination(rig(INTERFACE, INTERFACE), "mains", ("U1", "line_out1"), ("U1", "line_out2"), name="Mains")
        studio = destination(studio, "loop", ("U2", "line_out1"), returns=[("U1", "mic7")], name="Squash")
        studio = destination(studio, "cue", ("U2", "line_out3"), ("U2", "line_out4"), name="Cue")
        losses = {loss.unit: loss for loss in lose_each(Survey(studio))}
        self.assertEqual(
            (losses["U1"].silent, losses["U1"].carried_outs, losses["U1"].left_outs), (("D1", "D2"), ("D1", "D2"), ())
        )
        self.assertEqual(losses["U2"].silent, ("D2", "D3"))
        after = losses["U1"].change.apply(studio)
        self.assertEqual({e.unit for d in survey_of(after).destinations for e in (*d.outputs, *d.returns)}, {"U2"})
        self.assertEqual([e.port for e in survey_of(after).placed("D3").outputs], ["line_out3", "line_out4"])
        only = destination(rig(INTERFACE), "mains", ("U1", "line_out1"), ("U1", "line_out2"))
        (loss,) = lose_each(Survey(only))
        self.assertEqual((loss.silent, loss.carried_outs, loss.left_outs), (("D1",), (), ("D1",)))

    def test_edits_refuse_what_cannot_be(self):
        studio = destination(rig(INTERFACE), "cue", ("U1", "line_out1"), name="Singer")
        for bad in (
            lambda: destination(studio, "cue", ("U1", "line_out1")),
            lambda: destination(studio, "cue", ("U1", "mic1")),
            lambda: destination(studio, "cue", ("U1", "line_out2"), ("U1", "line_out2")),
            lambda: add_destination(studio, "x", "nowhere"),
            lambda: set_spare(studio, "hiz", -1),
            lambda: add_source(studio, "x", loudest_db_spl=400.0),
            lambda: add_source(studio, "x", outboard="U9"),
        ):
            self.assertRaises(EnneadError, bad)
