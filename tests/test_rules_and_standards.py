"""Standards against the published tables, and hard rules at their edges, on sockets made for the purpose."""

import re
import unittest
from dataclasses import replace
from pathlib import Path

from ennead.checks.finding import Request
from ennead.edits.cables import connect, misfit
from ennead.edits.computer import leave_computer
from ennead.edits.house import add_unit, mark_fault, rename_unit
from ennead.edits.names import LONGEST_NAME, clean_name
from ennead.edits.session import add_source, set_rate
from ennead.edits.settings import set_phantom
from ennead.files.profiles import shelf_profile
from ennead.reports.next_step import next_step
from ennead.reports.sheet_of import sheet_of, sheet_of_step
from ennead.rules.may_sit_beside import is_pair
from ennead.rules.phantom_reaches_source import touches_phantom
from ennead.rules.source_fits_port import adapters_needed, why_unfit
from ennead.standards.clock import TOLERANCE_PPM
from ennead.standards.links import LINKS, adapters_between, at_speed, family, formats_join
from ennead.standards.rates import RATES_HZ, is_faster, rate_text, single_speed_of, speed_of
from ennead.studio.document import empty_studio
from ennead.studio.ids import SourceId
from ennead.studio.profile import Block, DriverMap, Port
from ennead.studio.session import Source
from ennead.survey.input_points import count_by_need
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, one_fibre, plug, rig

TWO_OUT = "eight-preamp expander, two optical outputs"


def port(direction, connector, *carries, **more):
    return Port("p", "P", direction, connector, carries, **more)


class Plugs(unittest.TestCase):
    def test_what_ends_in_which_plug_needs_an_adapter(self):
        # A microphone's and a DI box's XLR, a jack for line sources and instruments, and digital ones by their cable.
        table = {
            ("dynamic", ""): {"xlr": 0, "combo": 0, "trs": 1, "ts": 1},
            ("instrument", "passive"): {"xlr": 0, "combo": 0, "trs": 1},
            ("line", ""): {"xlr": 1, "combo": 0, "trs": 0, "ts": 0, "rca": 1},
            ("instrument", ""): {"ts": 0, "xlr": 1},
            ("digital", ""): {"rca": 0, "xlr": 0},
        }
        for (kind, di), by_connector in table.items():
            for connector, number in by_connector.items():
                source = Source(SourceId("S1"), "x", kind=kind, di=di)
                self.assertEqual(
                    adapters_needed(source, port("in", connector, "spdif" if kind == "digital" else "line")),
                    number,
                    (kind, connector),
                )


class Standards(unittest.TestCase):
    def test_lanes_at_single_double_quad_speed(self):
        table = {
            "adat": (8, 4, 2),
            "spdif": (2, 2, 2),
            "spdif-optical": (2, 2, 0),
            "aes3": (2, 2, 2),
            "madi": (64, 32, 16),
            "madi-56": (56, 28, 14),
            "madi-48k": (64, 32, 16),
            "madi-56-48k": (56, 28, 14),
            "aes3-id": (2, 2, 2),
            "word": (0, 0, 0),
            "word-base": (0, 0, 0),
            "word-256": (0, 0, 0),
            "cue": (12, 12, 12),
        }
        for kind, lanes in table.items():
            self.assertEqual(tuple(LINKS[kind].lanes[s] for s in ("single", "double", "quad")), lanes, kind)
        self.assertEqual(set(LINKS), set(table))
        lengths = {
            "adat": 5,
            "spdif": 10,
            "spdif-optical": 5,
            "aes3": 100,
            "madi": 50,
            "madi-56": 50,
            "madi-48k": 50,
            "madi-56-48k": 50,
            "aes3-id": 300,
            "word": 100,
            "word-base": 100,
            "word-256": 100,
            "cue": 100,
        }
        self.assertEqual({k: v.longest_m for k, v in LINKS.items()}, lengths)
        self.assertTrue(all(v.source for v in LINKS.values()))

    def test_what_tells_formats_apart_at_a_speed(self):
        for carried, single, double in (
            ("madi-48k", "madi", "madi-48k"),
            ("madi-56-48k", "madi-56", "madi-56-48k"),
            ("word-base", "word", "word-base"),
            ("madi", "madi", "madi"),
            ("adat", "adat", "adat"),
            ("word-256", "word-256", "word-256"),
        ):
            self.assertEqual((at_speed(carried, "single"), at_speed(carried, "double")), (single, double))
        self.assertEqual(
            [family(f) for f in ("madi", "madi-56-48k", "adat", "word-base")], ["madi", "madi", "adat", "word-base"]
        )
        joins = {(a, b) for a in LINKS for b in LINKS if formats_join(a, b)}
        two = ("spdif", "aes3", "aes3-id")
        self.assertEqual(joins, {(a, a) for a in LINKS} | {(a, b) for a in two for b in two})

    def test_adapters(self):
        def labels(*pairs):
            found = adapters_between(*pairs)
            return None if found is None else [(a.label, bool(a.caution)) for a in found]

        self.assertEqual(labels(("toslink", "adat"), ("toslink", "adat")), [])
        self.assertEqual(
            labels(("mini-toslink", "spdif-optical"), ("toslink", "spdif-optical")),
            [("mini-TOSLINK plug adapter", False)],
        )
        self.assertEqual(len(labels(("mini-toslink", "adat"), ("mini-toslink", "adat"))), 2)
        self.assertEqual(labels(("rca", "spdif"), ("bnc", "aes3-id")), [("RCA–BNC adapter", True)])
        self.assertEqual(labels(("bnc", "spdif"), ("rca", "spdif")), [("RCA–BNC adapter", False)])
        self.assertEqual(labels(("xlr", "aes3"), ("bnc", "aes3-id")), [("110/75 ohm balun, XLR–BNC", False)])
        self.assertEqual(labels(("xlr", "aes3"), ("rca", "spdif")), [("110/75 ohm balun, XLR–RCA", True)])
        self.assertIsNone(labels(("rca", "word"), ("bnc", "adat")))
        self.assertIsNone(labels(("toslink", "adat"), ("bnc", "madi")))

    def test_rates(self):
        self.assertEqual([speed_of(r) for r in RATES_HZ], ["single"] * 2 + ["double"] * 2 + ["quad"] * 2)
        self.assertEqual([single_speed_of(r) for r in RATES_HZ], [44_100, 48_000] * 3)
        self.assertEqual(
            [rate_text(r) for r in RATES_HZ], ["44.1 kHz", "48 kHz", "88.2 kHz", "96 kHz", "176.4 kHz", "192 kHz"]
        )
        self.assertEqual(
            [is_faster(a, b) for a, b in (("double", "single"), ("double", "double"), ("single", "quad"))],
            [True, False, False],
        )
        self.assertRaises(ValueError, speed_of, 32_000)

    def test_clock_grades(self):
        self.assertEqual(sorted(TOLERANCE_PPM.values()), [1.0, 10.0, 50.0, 1000.0])


class Sockets(unittest.TestCase):
    def test_media_and_levels_that_do_not_join(self):
        for out, into, words in (
            (port("out", "toslink", "adat"), port("in", "toslink", "adat"), ""),
            (port("out", "toslink", "adat"), port("in", "bnc", "adat"), "optical and coaxial do not join"),
            (port("out", "xlr", "aes3"), port("in", "bnc", "aes3-id"), ""),
            (port("out", "xlr", "aes3"), port("in", "toslink", "spdif-optical"), "share no format"),
            (port("out", "sc", "madi"), port("in", "bnc", "madi"), "glass fibre and coaxial do not join"),
            (
                port("out", "sc", "madi", fibre="multimode"),
                port("in", "sc", "madi-56", fibre="single-mode"),
                "single-mode glass do not join",
            ),
            (port("out", "bnc", "word-256"), port("in", "bnc", "word"), "share no format"),
            (port("out", "rca", "spdif"), port("in", "bnc", "aes3-id"), ""),
            (port("out", "rca", "spdif"), port("in", "bnc", "spdif"), ""),
            (port("out", "trs", "line"), port("in", "toslink", "adat"), "an analogue output and a digital input"),
            (port("out", "rca", "spdif"), port("in", "trs", "line"), "a digital output and an analogue input"),
            (port("out", "binding", "speaker"), port("in", "trs", "line"), "would destroy a line input"),
            (port("out", "trs", "line"), port("in", "binding", "speaker"), "needs an amplifier"),
            (port("out", "binding", "speaker"), port("in", "binding", "speaker"), ""),
            (port("out", "trs", "line"), port("in", "combo", "mic", "line"), ""),
        ):
            with self.subTest(words=words):
                found = misfit(out, into)
                self.assertIn(words, found)
                self.assertEqual(bool(found), bool(words))

    def test_what_suits_which_source(self):
        def fits(kind, *carries, connector="combo", **facts):
            return not why_unfit(Source("S1", "X", kind, **facts), port("in", connector, *carries))

        self.assertTrue(fits("dynamic", "mic"))
        self.assertFalse(fits("dynamic", "line", "hiz"))
        self.assertTrue(fits("line", "mic", "line"))
        self.assertFalse(fits("line", "mic"))
        self.assertTrue(fits("instrument", "hiz"))
        self.assertFalse(fits("instrument", "mic", "line"))
        self.assertTrue(fits("instrument", "mic", di="active"))
        self.assertTrue(fits("digital", "spdif", connector="rca"))
        self.assertFalse(fits("digital", "word", connector="bnc"))
        self.assertFalse(fits("digital", "line"))
        self.assertFalse(fits("dynamic", "spdif", connector="rca"))
        self.assertIn("is an output", why_unfit(Source("S1", "X"), port("out", "xlr", "mic")))

    def test_48_volt_is_on_the_xlr_and_not_on_the_jack(self):
        line, mic = Source("S1", "Keys", "line"), Source("S2", "Vox", "dynamic")
        combo, xlr = port("in", "combo", "mic", "line"), port("in", "xlr", "mic", "line")
        odd = port("in", "combo", "mic", "line", phantom_on_xlr_only=False)
        self.assertEqual(
            [touches_phantom(s, p) for s in (line, mic) for p in (combo, xlr, odd)],
            [False, True, True, True, True, True],
        )

    def test_pairs_begin_on_odd_sockets_of_one_row(self):
        survey = Survey(one_fibre())
        by_key = {(s.end.unit, s.port.key): s for s in survey.input_points}
        pairs = {
            (a.end.unit, a.port.key, b.port.key)
            for a in survey.input_points
            for b in survey.input_points
            if is_pair(a, b)
        }
        odd = [("mic1", "mic2"), ("mic3", "mic4"), ("mic5", "mic6"), ("mic7", "mic8")]
        self.assertEqual(pairs, {(u, *p) for u in ("U1", "U2") for p in odd})
        self.assertFalse(is_pair(by_key["U1", "mic8"], by_key["U1", "spdif_in"]))
        self.assertEqual(survey.input_point_at["U2", "mic1"].number, 15)
        self.assertNotIn(("U2", "optical_in"), survey.input_point_at)

    def test_seats_count_what_each_socket_could_serve(self):
        there = count_by_need(Survey(rig(INTERFACE)).input_points)
        # Eight combos with 48 V, two of them Hi-Z; S/PDIF 2, ADAT 8.
        self.assertEqual(dict(there), {"phantom": 8, "mic": 8, "line": 8, "hiz": 2, "digital": 10, "all": 18})
        valve = add_unit(rig(INTERFACE), shelf_profile("two-channel valve preamp"))
        self.assertEqual(count_by_need(Survey(valve).input_points)["mic"], 8)


class Blocks(unittest.TestCase):
    """A driver map whose second block exists at double speed only."""

    def numbers(self, numbering, rate):
        box = shelf_profile("two-preamp interface, optical in only")
        blocks = (
            Block("mix", "Mix", channels=2, speeds=("double",)),
            Block("analogue", "Input", ports=("mic1", "mic2")),
            Block("adat", "ADAT", ports=("optical_in",), when={"optical": "adat"}, speeds=("single", "double")),
        )
        studio = add_unit(empty_studio(), replace(box, driver_maps=(DriverMap("m", "M", numbering, blocks, ()),)))
        return [(d.number, d.label) for d in Survey(set_rate(studio, rate)).numbering.inputs if d.channel.live]

    def test_a_collapsing_map_closes_up_and_a_fixed_one_keeps_the_place(self):
        self.assertEqual(self.numbers("collapsing", 48_000)[:3], [(1, "Input 1"), (2, "Input 2"), (3, "ADAT 1")])
        self.assertEqual(
            self.numbers("collapsing", 96_000)[:5],
            [(1, "Mix 1"), (2, "Mix 2"), (3, "Input 1"), (4, "Input 2"), (5, "ADAT 1")],
        )
        self.assertEqual(self.numbers("collapsing", 192_000), [(1, "Input 1"), (2, "Input 2")])
        self.assertEqual(self.numbers("fixed", 48_000)[:3], [(3, "Input 1"), (4, "Input 2"), (5, "ADAT 1")])
        self.assertEqual(self.numbers("fixed", 96_000)[-1], (8, "ADAT 4"))
        self.assertEqual(self.numbers("fixed", 192_000), [(3, "Input 1"), (4, "Input 2")])


class SentencesAndOrder(unittest.TestCase):
    def test_the_longest_name_is_five_hundred(self):
        self.assertEqual(len(clean_name("x" * LONGEST_NAME)), 500)

    def test_the_kindest_fix_comes_first(self):
        faulty = mark_fault(plug(rig(INTERFACE), "Fiddle", "U1", "mic3"), end("U1", "mic3"), "crackles")
        self.assertIsInstance(findings(faulty, "faulty_port_used")[0].fixes[0].does, Request)
        self.assertEqual(sheet_of(findings(faulty, "faulty_port_used")[0]), "Lines")
        loose = mark_fault(one_fibre(), end("U1", "optical_in"), "loose")
        self.assertEqual([(sheet_of(f), f.subject.key) for f in findings(loose, "faulty_port_used")], [("Rig", "C1")])
        ribbon = set_phantom(plug(rig(INTERFACE), "Fiddle", "U1", "mic3", phantom="forbidden"), "U1", "a", on=True)
        texts = [f.text for f in findings(ribbon, "phantom_reaches_forbidden")[0].fixes]
        self.assertTrue(texts[0].startswith("Switch 48 V 1–4 of "))
        missing = plug(rig(INTERFACE), "Fiddle", "U1", "mic3", kind="condenser", phantom="needed")
        self.assertTrue(findings(missing, "phantom_missing")[0].fixes[0].text.endswith(" on"))

    def test_one_follows_and_several_follow(self):
        self.assertEqual(
            findings(one_fibre(), "one_fibre_expander_leads")[0].fixes[0].text,
            "Let Eight-preamp optical expander lead; Eight-preamp interface, one optical pair follows",
        )
        self.assertTrue(findings(one_fibre(), "one_fibre_expander_leads")[0].message.startswith("With one fibre "))
        pair = "eight-preamp interface, two optical pairs"
        star = rig(TWO_OUT, pair, pair)
        for side, unit in (("a", "U2"), ("b", "U3")):
            star = connect(star, end("U1", f"optical_{side}_out"), end(unit, "optical_a_in"))
        for unit, name in (("U1", "Slipway"), ("U2", "Pier"), ("U3", "Jetty")):
            star = rename_unit(star, unit, name)
        found = findings(star, "one_fibre_expander_leads")[0]
        back = "Run a cable back (ADAT), Pier · Optical A out to Slipway · Optical in, and let Pier lead"
        self.assertEqual([f.text for f in found.fixes], ["Let Slipway lead; Pier and Jetty follow", back])
        self.assertTrue(found.message.startswith("Slipway has to lead"))
        self.assertEqual(findings(found.fixes[0].does.apply(star), "one_fibre_expander_leads"), [])

    def test_lines_of_the_input_list_are_counted_from_one(self):
        studio = add_source(add_source(add_source(rig(INTERFACE), "A"), "Vox"), "Vox")
        found = findings(studio, "names_alike")[0]
        self.assertEqual(found.working, ("line 2 of the input list", "line 3 of the input list"))
        self.assertIn("2 tracks are called “Vox”", found.message)

    def test_the_next_step_knows_a_broken_line_and_a_missing_computer(self):
        broken = plug(rig(INTERFACE, "eight-channel preamp, line outputs"), "Mic", "U2", "mic1")
        self.assertEqual(next_step(Survey(broken)).text, "see where the lines end")
        apart = add_source(leave_computer(rig(INTERFACE), "U1"), "Mic")
        self.assertEqual(next_step(Survey(apart)).text, "put your interface on the computer")
        self.assertEqual([sheet_of_step(next_step(Survey(s)).step) for s in (broken, apart)], ["Lines", "Rig"])
        waiting = add_source(rig(INTERFACE), "Mic")
        self.assertIn("Allocate", next_step(Survey(waiting)).text)

    def test_a_second_fibre_runs_from_the_unit_that_receives(self):
        found = findings(one_fibre(), "outputs_have_no_way_back")[0]
        self.assertIn("8 outputs", found.message)
        after = found.fixes[0].does.apply(one_fibre())
        (back,) = [c for c in after.cables.values() if c.id == "C2"]
        self.assertEqual((back.start, back.end), (end("U1", "optical_out"), end("U2", "optical_in")))


class OneReader(unittest.TestCase):
    def test_nobody_but_the_walker_follows_cables(self):
        root = Path(__file__).resolve().parent.parent / "ennead"
        document = ("studio/", "edits/", "files/", "survey/wiring.py", "survey/sorted_cables.py")
        # Each may be read by these alone: the document's cables, what a box does inside, what a cable joins, where copper leads on.
        allowed = {
            r"\.(cables|active_cables|all_cables|plugs_at)\b|\.plugged\(": document,
            r"\.onward\b": (),
            r"\.inner_paths\b": (
                "studio/",
                "edits/",
                "files/",
                "survey/unit_view.py",
                "rules/profile_holds_together.py",
            ),
            r"\bpieces\(|\bjoined_lanes\(": (
                *document,
                "survey/nets.py",
                "survey/strands.py",
                "survey/faults.py",
                "reports/loom_rows.py",
            ),
            # How a box stands is composed of its own settings, the session's and the scene's; its own alone say little.
            r"\b(unit|box|found|u)\.settings\b|units\[[^]]*\]\.settings\b|\.unit\([^)]*\)\.settings\b": (
                "studio/",
                "edits/",
                "files/",
                "survey/wiring.py",
            ),
            r"\.strands\b|\bhere\.beside\b|\.conductors\b": ("survey/",),
            r"\bfirst_path\(|\breach\(|\balong_copper\(": (
                "survey/",
                "planning/moves/contact_state.py",
                "planning/seating/corded_outs.py",
            ),
            # What is in a socket is listed, drawn, or moved by its plugs; nobody goes on from there.
            r"\bcables_at\(": (
                "survey/survey_interface.py",
                "desk/margin/",
                "desk/shell/worktable.py",
                "desk/sheets/rig/",
                "desk/sheets/lines/free_sockets.py",
                "drawings/layouts/strip_layout.py",
                "reports/",
                "planning/bay_layout/",
                "planning/routing/",
            ),
        }
        looked = 0
        for path in root.rglob("*.py"):
            lines = [line for line in path.read_text(encoding="utf-8").splitlines() if not line.startswith("from ")]
            looked += 1
            for pattern, those in allowed.items():
                if not path.relative_to(root).as_posix().startswith(those or ("-",)):
                    self.assertEqual([line for line in lines if re.search(pattern, line)], [], path)
        self.assertGreater(looked, 300)
