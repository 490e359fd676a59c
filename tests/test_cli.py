"""The command line as a script meets it: JSON shapes, exit status, one sentence for what cannot be used."""

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from xml.etree import ElementTree as ET

from bench.verbs import json_of, run
from ennead import __version__
from ennead.demo.skerry import skerry
from ennead.edits.bays import add_bay, label_point, set_normal
from ennead.edits.cables import connect
from ennead.edits.house import rename_unit
from ennead.edits.scenes import add_scene, lay_cord, set_steps
from ennead.files.interchange import to_json
from ennead.files.studio_path import read_studio, write_studio
from ennead.planning.clock.clock_plan import POLICIES
from ennead.studio.document import empty_studio
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, one_fibre, plug, rig
from tests.verb_case import VerbCase

ROOT = Path(__file__).resolve().parent.parent


class Verbs(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        self.demo = self.folder / "demo.ennead"
        self.assertEqual(run("demo", self.demo)[0], 0)

    def json(self, *argv, status=0):
        got, out, err = run(*argv, "--json")
        self.assertEqual((got, err), (status, ""))
        return json.loads(out)

    def test_demo_and_convert_lose_nothing(self):
        self.assertEqual(read_studio(self.demo), skerry())
        text = self.folder / "a.json"
        self.assertEqual(run("convert", self.demo, text), (0, "", ""))
        self.assertEqual(text.read_text(encoding="utf-8"), to_json(skerry()))
        self.assertEqual(run("convert", text, self.folder / "b.ennead")[0], 0)
        self.assertEqual(read_studio(self.folder / "b.ennead"), skerry())

    def test_check_says_one_for_trouble_and_nought_for_the_finished_form(self):
        found = self.json("check", self.demo, status=1)["findings"]
        for row in found:
            self.assertEqual(set(row), {"rule", "severity", "sheet", "subject", "message", "why", "fixes", "working"})
            self.assertTrue(all(set(part) == {"text"} for part in (*row["fixes"], *row["working"])))
        run("demo", self.folder / "f.json", "--finished")
        self.assertEqual({f["severity"] for f in self.json("check", self.folder / "f.json")["findings"]}, {"note"})
        at_96 = self.json("check", self.folder / "f.json", "--rate", "96000", status=1)["findings"]
        self.assertIn("rate_not_offered", {f["rule"] for f in at_96})
        status, out, _ = run("check", self.demo)
        self.assertEqual(status, 1)
        self.assertIn("trouble: 48 V would reach Harmonium", out)

    def test_fixes_are_carried_out_one_after_the_other_until_none_is_left(self):
        here = self.demo
        for step in range(60):
            # A verb never writes onto the studio it reads.
            after = self.folder / f"mended-{step % 2}.ennead"
            found = self.json("check", here, status=run("check", here)[0])["findings"]
            with_fix = [n for n, f in enumerate(found, start=1) if f["fixes"]]
            if not with_fix:
                break
            status, out, err = run("check", here, "--fix", with_fix[0], "--output", after, "--json")
            self.assertIn(status, (0, 1), err)
            mended = found[with_fix[0] - 1]
            self.assertNotIn(
                (mended["rule"], mended["subject"], mended["message"]),
                [(f["rule"], f["subject"], f["message"]) for f in json.loads(out)["findings"]],
            )
            here = after
        self.assertEqual([f["message"] for f in found if f["fixes"] or f["severity"] == "trouble"], [])
        for wrong in (("--fix", 1), ("--fix", 999, "--output", after), ("--output", after)):
            self.assertEqual(run("check", self.demo, *wrong)[0], 2)
        # A fix of what stands is carried out in the plan; what stands stays what it is.
        status, _, err = run("check", self.demo, "--standing", "--fix", 1, "--output", after)
        self.assertIn(status, (0, 1), err)
        plan, mended = read_studio(self.demo), read_studio(after)
        self.assertEqual(
            (mended.as_built, mended.sources, mended.sessions.keys()),
            (plan.as_built, plan.sources, plan.sessions.keys()),
        )
        self.assertGreater(len(mended.cables), len(plan.cables) - 3)

    def test_driver_map_and_lines(self):
        studio = plug(one_fibre(), "Ninth", "U2", "mic1", track="Nine")
        path = self.folder / "s.json"
        write_studio(path, studio)
        table = self.json("driver-map", path)
        self.assertEqual((table["rate_hz"], len(table["inputs"])), (48_000, 22))
        self.assertEqual(
            table["inputs"][14],
            {
                "number": 15,
                "unit": "Eight-preamp interface, one optical pair",
                "port": "Optical in",
                "lane": 1,
                "label": "ADAT 1",
                "track": "Nine",
            },
        )
        self.assertEqual(table["inputs"][10]["port"], None)
        self.assertEqual(len(self.json("driver-map", path, "--rate", "96000")["inputs"]), 18)
        (line,) = self.json("lines", path)["runs"]
        self.assertEqual(
            (line["driver_number"], line["complete"], line["problem"], line["latency_samples"]), (15, True, None, 34.0)
        )
        self.assertEqual(line["stops"][0]["text"], "Ninth")
        outs = self.json("lines", path, "--direction", "out")["runs"]
        self.assertTrue(all(r["complete"] for r in outs))
        self.assertIn("   15  Ninth → ", run("lines", path)[1])
        self.assertIn("   15  ADAT 1", run("driver-map", path)[1])

    def test_bays_and_moves(self):
        studio = add_bay(plug(one_fibre(), "Fiddle", "U1", "mic1"), "A", 8)
        studio = set_normal(connect(studio, end("U3", "b3"), end("U1", "mic2")), end("U3", "a4"), "full")
        studio = label_point(studio, end("U3", "a3"), first="Hall 3", number="19")
        studio = set_steps(
            lay_cord(add_scene(studio, "Drama"), end("U3", "a5"), end("U3", "b3")), "K1", ["Aux 1 to unity"]
        )
        path = self.folder / "b.json"
        write_studio(path, studio)
        told = self.json("bays", path)
        self.assertEqual([(b["bay"], b["points"], b["connector"]) for b in told["bays"]], [("A", 16, "TRS jack")])
        rows = {p["point"]: p for p in told["points"]}
        self.assertEqual(
            (rows["3 above"]["number"], rows["3 above"]["label"], rows["3 below"]["row"]), ("19", "Hall 3", 2)
        )
        self.assertEqual(
            [rows[p]["normal"] for p in ("3 above", "4 below")], ["half-normalled to 3 below", "normalled from 4 above"]
        )
        self.assertEqual(rows["3 below"]["to"], "Eight-preamp interface, one optical pair Mic 2")
        self.assertIn("   3 above  Hall 3; half-normalled to 3 below", run("bays", path)[1])
        told = self.json("moves", path, "--to", "Drama")
        self.assertEqual(
            [(m["n"], m["action"], m["cord"], m["end"], m["from"], m["to"]) for m in told["moves"]],
            [(1, "plug", "W1", 1, None, "A · 5 above"), (2, "plug", "W1", 2, None, "A · 3 below")],
        )
        self.assertEqual(
            (told["movements"], told["lower_bound"], told["proven"], told["by_hand"]), (2, 2, True, ["Aux 1 to unity"])
        )
        (pull, _) = self.json("moves", path, "--from", "drama", "--to", "back to normals")["moves"]
        self.assertEqual((pull["action"], pull["from"], pull["to"]), ("pull", "A · 5 above", None))
        self.assertIn("2 movements, proven fewest", run("moves", path, "--to", "K1")[1])
        self.assertEqual(run("moves", path, "--to", "Opera")[0], 2)
        for scene, number in (("Drama", None), ("back to normals", None)):
            (line,) = [r for r in self.json("lines", path, "--scene", scene)["runs"] if r["signal"] == "Fiddle"]
            self.assertEqual(line["driver_number"], 1, number)

    def test_links_clock_and_rehearse(self):
        links = {row["id"]: row for row in self.json("links", self.demo)["links"]}
        self.assertEqual(
            set(links["C3"]), {"id", "kind", "from", "to", "channels_capacity", "channels_used", "cable", "length_m"}
        )
        self.assertEqual(
            (links["C3"]["channels_capacity"], links["C3"]["channels_used"], links["C13"]["channels_capacity"]),
            (8, 8, 64),
        )
        self.assertEqual(
            {r["id"]: r["channels_capacity"] for r in self.json("links", self.demo, "--rate", "96000")["links"]}["C3"],
            4,
        )
        for policy in POLICIES:
            clock = self.json("clock", self.demo, "--policy", policy)
            self.assertLessEqual({"leader", "locked", "hops", "sources", "alternatives"}, set(clock))
            self.assertEqual((clock["leader"], clock["locked"]), (None, False))
            first = clock["alternatives"][0]
            self.assertEqual(
                set(first), {"leader", "cables_to_add", "cables_to_pull", "menus", "max_hops", "score", "consequences"}
            )
        self.assertEqual(
            [a["leader"] for a in self.json("clock", self.demo, "--policy", "computer")["alternatives"]][:2],
            ["Pier", "Mole"],
        )
        run("demo", self.folder / "f.json", "--finished")
        done = self.json("clock", self.folder / "f.json")
        self.assertEqual(
            (done["leader"], done["locked"], done["hops"]["Jetty"], done["sources"]["Pier"]),
            ("Beacon", True, 3, "Word clock"),
        )
        self.assertTrue(
            all(a["max_hops"] <= 3 for a in self.json("clock", self.folder / "f.json", "--hops", "3")["alternatives"])
        )
        tried = self.json("rehearse", self.folder / "f.json", "--rate", "96000")
        self.assertEqual(set(tried), {"lost", "renumbered", "findings"})
        self.assertIn({"track": "Choir spots L", "from": 56, "to": 44}, tried["renumbered"])
        self.assertIn("rate_not_offered", {f["rule"] for f in tried["findings"]})
        slower = self.json("rehearse", self.folder / "f.json", "--rate", "44100")
        self.assertEqual((slower["lost"], slower["renumbered"]), ([], []))
        for argv in (("links", self.demo), ("clock", self.demo), ("rehearse", self.demo, "--rate", "96000")):
            status, out, err = run(*argv)
            self.assertEqual((status, err), (0, ""))
            self.assertTrue(out.strip())

    def test_no_clock_a_rate_nobody_has_and_a_tolerance_that_cannot_be(self):
        empty = self.folder / "empty.json"
        write_studio(empty, empty_studio())
        for argv, words in (
            (("clock", empty), "no clock to plan"),
            (("rehearse", self.demo, "--rate", "32000"), "32000"),
            (("clock", self.demo, "--hops", "0"), "Allow at least 1"),
            (("clock", self.demo, "--policy", "loudest"), "invalid choice"),
        ):
            status, out, err = run(*argv)
            self.assertEqual((status, out, err.count("\n")), (2, "", 1), argv)
            self.assertIn(words, err)
        for ppm in ("1e400", '"much"', "-1", "0"):
            whole = to_json(one_fibre())
            text = whole.replace('"ppm": 25.0', f'"ppm": {ppm}', 1)
            self.assertNotEqual(text, whole)
            (self.folder / "ppm.json").write_text(text, encoding="utf-8")
            status, _, err = run("clock", self.folder / "ppm.json")
            if ppm == "0":
                # A perfect clock is somebody's claim; with it nothing is divided by nothing.
                self.assertEqual((status, err), (0, ""))
            else:
                self.assertEqual((status, err.count("\n")), (2, 1), ppm)
                self.assertIn("ppm", err)

    def test_export_and_schema(self):
        for what in ("cables", "drivers"):
            self.assertEqual(
                run("export", self.demo, "--what", what, "--output", self.folder / f"{what}.csv"), (0, "", "")
            )
        rows = (self.folder / "cables.csv").read_text(encoding="utf-8").splitlines()
        self.assertEqual(rows[0], "cable,from,to,type,length_m,adapters,state")
        # What is plugged on another evening alone is not of this one.
        self.assertEqual(len(rows), 1 + len(Survey(skerry()).in_use))
        self.assertIn("StudioForm", json.dumps(json.loads(run("schema")[1])) + "StudioForm")

    def test_what_cannot_be_used_is_one_sentence_and_two(self):
        bad = self.folder / "bad.ennead"
        bad.write_bytes(b"SQLite format 3\0" + b"x" * 10)
        for argv in (
            ("check", self.folder / "none.json"),
            ("check", bad),
            ("lines", self.demo, "--rate", "1"),
            ("convert", self.demo, self.folder / "x.txt"),
            ("demo", self.folder / "no" / "x.json"),
            ("frobnicate",),
            ("lines", self.demo, "--direction", "up"),
            ("export", self.demo, "--what", "cables"),
            (),
            ("export", self.demo, "--what", "cables", "--output", self.folder / "a.xls"),
            ("check", self.demo, "--rate", "x"),
        ):
            with self.subTest(argv=argv):
                status, out, err = run(*argv)
                self.assertEqual((status, out), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
                self.assertNotIn("Traceback", err)


class Signs(VerbCase):
    def test_what_is_no_sign_reaches_neither_the_terminal_nor_xml(self):
        bad = "Pier\x1b[2J\r\x07\x9b\x85\x7f\u202e\n& <b> ]]>"
        studio = plug(rename_unit(rig(INTERFACE), "U1", "Pier"), "Voice", "U1", "mic1")
        write_studio(self.folder / "a.json", studio)
        text = (self.folder / "a.json").read_text(encoding="utf-8")
        # As another program may have written it.
        text = text.replace('"Pier"', json.dumps(bad)).replace('"Voice"', json.dumps(bad))
        (self.folder / "a.json").write_text(text.replace('"Test"', json.dumps(bad)), encoding="utf-8")
        for verb in ("check", "lines", "driver-map", "clock", "allocate", "links", "bays"):
            for more in ((), ("--json",)):
                status, out, err = run(verb, self.folder / "a.json", *more)
                self.assertIn(status, (0, 1), err)
                self.assertTrue(all(line.isprintable() for line in out.split("\n")), (verb, out))
        said = json_of("lines", self.folder / "a.json")["runs"][0]["signal"]
        self.assertEqual(said, bad)
        self.assertEqual(run("check", self.folder / "a\x1bb.json")[2].count("\x1b"), 0)
        page = self.folder / "flags.svg"
        self.assertEqual(run("export", self.folder / "a.json", "--what", "flags", "--output", page)[0], 0)
        self.assertIn("␛[2J", "".join(ET.parse(page).getroot().itertext()))

    def test_a_layout_is_proposed_and_written(self):
        studio, laid = self.folder / "a.json", self.folder / "laid.json"
        write_studio(studio, add_scene(skerry(), "Bare"))
        found = json_of("layout", studio, "--output", laid)
        self.assertEqual(
            (found["saved"] <= found["bound"], found["cords_after"] <= found["cords_before"]), (True, True)
        )
        self.assertEqual(json_of("layout", laid)["moved"], [])
        self.assertEqual(run("layout", studio, "--output", studio)[0], 2)

    def test_an_empty_name_is_no_scene_and_no_session(self):
        write_studio(self.folder / "a.json", skerry())
        for words, kind in ((("moves", "--to", ""), "scene"), (("check", "--session", ""), "session")):
            status, out, err = run(words[0], self.folder / "a.json", *words[1:])
            self.assertEqual((status, out, err), (2, "", f"ennead: There is no {kind} “” in this studio.\n"))


class Process(unittest.TestCase):
    def call(self, *argv, **env):
        clean = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
        return subprocess.run(
            [sys.executable, "-m", "ennead", *argv],
            cwd=ROOT,
            env=clean | env,
            capture_output=True,
            text=True,
            check=False,
        )

    def test_version_help_and_no_screen(self):
        self.assertEqual(self.call("--version").stdout, f"ennead {__version__}\n")
        self.assertIn("driver-map", self.call("--help").stdout)
        no_screen = self.call()
        self.assertEqual((no_screen.returncode, no_screen.stdout), (2, ""))
        self.assertIn("there is no screen here", no_screen.stderr)
        bad = self.call("nowhere.ennead", QT_QPA_PLATFORM="offscreen")
        self.assertEqual(bad.returncode, 2)
        self.assertIn("nowhere.ennead: it cannot be read", bad.stderr)

    def test_verbs_load_no_qt_and_the_core_no_pydantic(self):
        code = (
            "import sys, ennead.cli.main, ennead.demo.skerry; "
            "assert not [m for m in sys.modules if m.startswith('PyQt6')], 'Qt'"
        )
        self.assertEqual(subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=False).returncode, 0)
        code = (
            "import sys, ennead.planning.seating.allocation, ennead.checks.all_checks, ennead.reports.cable_schedule; "
            "assert 'pydantic' not in sys.modules"
        )
        self.assertEqual(subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=False).returncode, 0)


class Tree(unittest.TestCase):
    def test_lock_files_name_no_address(self):
        for lock in (ROOT / "requirements").glob("*.lock"):
            text = lock.read_text(encoding="utf-8")
            self.assertNotIn("://", text)
            self.assertNotIn("--index", text)
            self.assertIn("--hash=sha256:", text)

    def test_pictures_of_the_readme_are_there(self):
        readme = (ROOT / "README.md").read_text(encoding="utf-8")
        shots = [
            line.split("](")[1].split(")")[0] for line in readme.splitlines() if "![" in line or "screenshots/" in line
        ]
        self.assertTrue(shots)
        for shot in shots:
            self.assertTrue((ROOT / shot).is_file(), shot)
