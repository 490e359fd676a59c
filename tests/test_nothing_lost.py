"""What was acknowledged is kept: full disks, pages, the studio itself as a target, damaged files, what was once written wrongly."""

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from bench.loop_houses import loop_house
from bench.verbs import json_of, run
from ennead.demo.skerry import skerry
from ennead.edits.cables import connect
from ennead.edits.destinations import send_out
from ennead.files.errors import FileDamaged
from ennead.files.interchange import from_form_text, to_form, to_json
from ennead.files.kept_copies import backup_folder
from ennead.files.rows import to_plain
from ennead.files.studio_file import StudioFile
from ennead.files.studio_path import read_studio, write_studio
from ennead.survey.survey import Survey
from tests.builders import end, rig

#: A page in a process that may write files of so many bytes, as on a disk that is nearly full.
_SCANT = """
import resource, signal, sys
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (int(sys.argv[1]),) * 2)
from ennead.cli.main import main
sys.exit(main(sys.argv[2:]))
"""


class Kept(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        self.enterContext(mock.patch.dict(os.environ, {"XDG_DATA_HOME": held.name, "QT_QPA_PLATFORM": "offscreen"}))

    def test_a_page_that_finds_no_room_leaves_the_old_one_and_says_so_in_a_sentence(self):
        studio = self.folder / "a.json"
        write_studio(studio, skerry())
        # Several pages are an SVG each, with a number.
        for name, first, size in (
            ("flags.pdf", "flags.pdf", 3_000),
            ("flags.svg", "flags-1.svg", 3_000),
            ("labels.pdf", "labels.pdf", 500),
        ):
            page = self.folder / first
            page.write_text("the page of last week", encoding="utf-8")
            verb = ["export", str(studio), "--what", name.split(".")[0], "--output", str(self.folder / name)]
            done = subprocess.run(
                [sys.executable, "-c", _SCANT, str(size), *verb], capture_output=True, text=True, check=False
            )
            with self.subTest(name):
                self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1), done.stderr)
                self.assertIn("cannot be written", done.stderr)
                self.assertEqual(page.read_text(encoding="utf-8"), "the page of last week")
                self.assertEqual(sorted(p.name for p in self.folder.iterdir() if first in p.name), [first])
            self.assertEqual(run(*verb)[0], 0)
            self.assertGreater(page.stat().st_size, size)

    def test_no_verb_writes_onto_the_studio_it_reads_by_any_name_of_it(self):
        studio = self.folder / "a.json"
        write_studio(studio, skerry())
        before = studio.read_bytes()
        (self.folder / "link.json").symlink_to(studio)
        os.link(studio, self.folder / "hard.json")
        for target in (
            studio,
            self.folder / "link.json",
            self.folder / "hard.json",
            self.folder / "x" / ".." / "a.json",
        ):
            (self.folder / "x").mkdir(exist_ok=True)
            for verb in (("export", "--what", "cables"), ("allocate",), ("convert",)):
                where = (target,) if verb == ("convert",) else (*verb[1:], "--output", target)
                status, out, err = run(verb[0], studio, *where)
                self.assertEqual(
                    (status, out, err.count("\n"), studio.read_bytes()), (2, "", 1, before), (verb, target, err)
                )

        # Of several pages each is a file of its own, and none of them may be the studio either.
        (self.folder / "flags-2.svg").symlink_to(studio)
        status, _, err = run("export", studio, "--what", "flags", "--output", self.folder / "flags.svg")
        self.assertEqual((status, err.count("\n"), studio.read_bytes()), (2, 1, before), err)

    def test_a_damaged_file_names_its_newest_copy(self):
        path = self.folder / "a.ennead"
        StudioFile(path, create=skerry()).close()
        kept = backup_folder(self.folder / "ennead" / "backups", path)
        kept.mkdir(parents=True)
        for day in ("2026-11-30", "2026-12-01"):
            (kept / f"{day}.ennead").write_bytes(path.read_bytes())
        path.write_bytes(path.read_bytes()[:5_000])
        with self.assertRaises(FileDamaged) as caught:
            read_studio(path)
        self.assertEqual(caught.exception.copy, kept / "2026-12-01.ennead")
        status, _, err = run("check", path)
        self.assertEqual((status, str(kept / "2026-12-01.ennead") in err), (2, True), err)
        self.assertEqual(read_studio(kept / "2026-12-01.ennead"), skerry())

    def test_a_destination_kept_at_a_point_is_read_at_the_box_behind_it_and_said(self):
        for how in ("normals", "panel", "cords"):
            studio = loop_house(3, how)
            (loop,) = Survey(studio).wired_loops
            whole = send_out(studio, "D1", *_ends(loop))
            form = json.loads(json.dumps(to_plain(to_form(whole))))
            (kept,) = form["destinations"]
            box = kept["at"][0]
            out = {"unit": "U1", "port": loop.ways[0].output[1]}
            (first,) = [c["plugs"] for c in form["cables"] if out in [_bare(p) for p in c["plugs"]]]
            kept["at"] = [{**box, **_bare(p)} for p in first if _bare(p) != out]
            self.assertNotEqual(kept["at"][0]["unit"], box["unit"])
            again, said = from_form_text(json.dumps(form).encode())
            with self.subTest(how):
                self.assertEqual(
                    [p.unit for p in again.destinations["D1"].at], [p.unit for p in whole.destinations["D1"].at]
                )
                self.assertEqual(len(said), 1)
                self.assertEqual(from_form_text(to_json(again).encode()), (again, ()))

    def test_four_hundred_boxes_in_series_are_one_loop(self):
        studio = rig("twelve-line interface", "mono compressor")
        form = json.loads(to_json(studio))
        box, many = form["units"][1], 400
        form["units"] += [{**box, "id": f"U{n}", "name": f"Box {n}"} for n in range(3, many + 2)]
        ways = [
            ("U1", "line_out3"),
            *[(f"U{n}", key) for n in range(2, many + 2) for key in ("line1", "line_out1")],
            ("U1", "line3"),
        ]
        cable = json.loads(to_json(_one_cable(studio)))["cables"][0]
        for n in range(0, len(ways), 2):
            plugs = [
                {**p, "unit": unit, "port": port}
                for p, (unit, port) in zip(cable["plugs"], ways[n : n + 2], strict=True)
            ]
            form["cables"].append({**cable, "id": f"C{n // 2 + 1}", "plugs": plugs})
        form["counters"] |= {"U": many + 1, "C": many + 1}
        path = self.folder / "deep.json"
        path.write_text(json.dumps(form), encoding="utf-8")
        (run_,) = [r for r in json_of("lines", path, "--direction", "out")["runs"] if r["driver_number"] == 3]
        self.assertTrue(run_["complete"])
        self.assertEqual(
            len(
                {
                    s["text"].split(" · ")[0]
                    for s in run_["stops"]
                    if s["text"].startswith("Box") or "ompressor" in s["text"]
                }
            ),
            many,
        )
        self.assertEqual([f for f in json_of("check", path, status=None)["findings"] if f["severity"] == "trouble"], [])


def _bare(plug):
    return {"unit": plug.get("unit"), "port": plug.get("port")}


def _ends(loop):
    return [end(*way.output[:2]) for way in loop.ways], [way.back for way in loop.ways]


def _one_cable(studio):
    return connect(studio, end("U1", "line_out3"), end("U2", "line1"))
