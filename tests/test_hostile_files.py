"""Files that mean harm, or are other than their name says: one sentence, quickly, and nothing of what stood is lost."""

import io
import json
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import time
import unittest
import zipfile
from contextlib import closing
from pathlib import Path
from tempfile import TemporaryDirectory

from bench.verbs import run
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source
from ennead.files.errors import FileLost, FileTrouble
from ennead.files.exports import export_list
from ennead.files.input_list import list_csv, read_lines, read_list_file
from ennead.files.interchange import from_json, to_json
from ennead.files.regular import part_of, sweep
from ennead.files.studio_file import StudioFile, read_studio_file, write_studio_file
from ennead.files.studio_path import read_studio, write_studio
from ennead.files.user_shelf import read_profile_file
from ennead.files.write_lock import WriteLock
from ennead.survey.survey import Survey
from tests.builders import SCRATCH, one_fibre, plug

ROOT = Path(__file__).resolve().parent.parent


class Case(unittest.TestCase):
    def setUp(self):
        held = TemporaryDirectory(dir=SCRATCH)
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        self.path = self.folder / "a.ennead"
        write_studio(self.path, one_fibre())

    def assert_refused(self, path, *words, read=read_studio):
        started = time.monotonic()
        with self.assertRaises(FileTrouble) as caught:
            read(path)
        text = str(caught.exception)
        for wanted in words:
            self.assertIn(wanted, text)
        self.assertTrue("\n" not in text and text.endswith("."))
        self.assertLess(time.monotonic() - started, 20)

    def sql(self, *statements):
        path = self.folder / "bad.ennead"
        shutil.copyfile(self.path, path)
        with closing(sqlite3.connect(path, isolation_level=None)) as db:
            for statement in statements:
                db.execute(statement)
        return path


class OneFileTwoNames(Case):
    def test_a_second_name_gives_no_second_right_to_write(self):
        hard, soft = self.folder / "elsewhere" / "hard.ennead", self.folder / "soft.ennead"
        hard.parent.mkdir()
        os.link(self.path, hard)
        soft.symlink_to(self.path)
        lock = WriteLock(self.path)
        for name in (hard, soft):
            self.assertRaises(BlockingIOError, WriteLock, name)
            done = subprocess.run(
                [
                    sys.executable,
                    "-c",
                    "import sys; from pathlib import Path; from ennead.files.write_lock import WriteLock\n"
                    "try: WriteLock(Path(sys.argv[1]))\nexcept BlockingIOError: sys.exit(7)",
                    str(name),
                ],
                cwd=ROOT,
                check=False,
            )
            self.assertEqual(done.returncode, 7)
            self.assertRaises(FileTrouble, write_studio_file, name, one_fibre())
        lock.release()
        WriteLock(hard).release()

    def test_writing_through_a_link_writes_what_it_points_at(self):
        soft = self.folder / "soft.ennead"
        soft.symlink_to(self.path)
        file = StudioFile(soft)
        file.commit(rename_unit(file.studio, "U1", "Pier"))
        file.close()
        write_studio(self.folder / "b.json", one_fibre())
        (self.folder / "soft.json").symlink_to(self.folder / "b.json")
        write_studio(self.folder / "soft.json", file.studio)
        self.assertTrue(soft.is_symlink() and (self.folder / "soft.json").is_symlink())
        self.assertEqual(
            [read_studio(self.folder / n).units["U1"].name for n in ("a.ennead", "b.json")], ["Pier", "Pier"]
        )

    def test_overwritten_or_cut_short_while_open_is_seen_before_the_edit_is_acknowledged(self):
        def overwrite():
            self.path.write_bytes(other.read_bytes())

        def cut():
            os.truncate(self.path, 4_096)

        def cut_journal():
            os.truncate(self.path.with_name("a.ennead-wal"), 0)

        def replaced():
            Path(shutil.copyfile(other, self.folder / "c")).replace(self.path)

        other = self.folder / "other.ennead"
        for harm in (overwrite, cut, cut_journal, replaced):
            write_studio(self.path, one_fibre())
            write_studio(other, rename_unit(one_fibre(), "U1", "Other"))
            file = StudioFile(self.path)
            file.commit(rename_unit(file.studio, "U1", "First"))
            harm()
            there = self.path.read_bytes()
            with self.assertRaises(FileLost, msg=harm.__name__) as caught:
                file.commit(rename_unit(file.studio, "U1", "Second"))
            self.assertIn("the edit is not on disk", str(caught.exception))
            file.close()
            self.assertEqual(self.path.read_bytes(), there, harm.__name__)


class WhatIsNoFile(Case):
    def test_pipes_devices_and_folders_are_neither_read_nor_replaced(self):
        pipe = self.folder / "pipe.ennead"
        os.mkfifo(pipe)
        for ending in (".json", ".toml", ".xlsx"):
            os.mkfifo(self.folder / f"pipe{ending}")
        for path, read in (
            (pipe, read_studio),
            (self.folder / "pipe.json", read_studio),
            (self.folder / "pipe.toml", read_profile_file),
            (self.folder / "pipe.xlsx", read_list_file),
        ):
            self.assert_refused(path, "it is a pipe, not a file", read=read)
        self.assert_refused(Path("/dev/zero"), "a device", read=read_list_file)
        for path in (pipe, self.folder / "pipe.json"):
            status, _, said = run("convert", self.path, path)
            self.assertEqual(status, 2, said)
            self.assertTrue(stat.S_ISFIFO(path.lstat().st_mode))
        (self.folder / "folder.json").mkdir()
        self.assertEqual(run("convert", self.path, self.folder / "folder.json")[0], 2)

    def test_what_a_killed_writer_left_is_swept_and_a_living_one_s_is_not(self):
        dead = self.folder / ".a.ennead.4194399.ennead-part"
        dead.write_bytes(b"x")
        alive = part_of(self.folder / "b.json").with_name(".b.json.1.ennead-part")
        alive.write_bytes(b"x")
        sweep(self.folder)
        self.assertEqual((dead.exists(), alive.exists()), (False, True))
        code = (
            "import os, signal, sys; from pathlib import Path; import ennead.files.regular as r\n"
            "with r.made_whole(Path(sys.argv[1])) as part: os.kill(os.getpid(), signal.SIGKILL)"
        )
        subprocess.run([sys.executable, "-c", code, str(self.folder / "k.json")], cwd=ROOT, check=False)
        left = [p.name for p in self.folder.iterdir() if p.name.startswith(".k.json")]
        write_studio(self.folder / "k.json", one_fibre())
        self.assertEqual((len(left), [p.name for p in self.folder.iterdir() if p.name.startswith(".k.json")]), (1, []))

    def test_studios_are_their_owner_s_alone_unless_the_folder_hands_its_group_on(self):
        shared = self.folder / "shared"
        shared.mkdir()
        shared.chmod(0o2770)
        for folder, mode in ((self.folder, 0o600), (shared, 0o660)):
            for name in ("new.ennead", "new.json"):
                write_studio(folder / name, one_fibre())
                self.assertEqual(stat.S_IMODE((folder / name).stat().st_mode), mode)
        self.path.chmod(0o644)
        write_studio(self.path, one_fibre())
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o644)


class Databases(Case):
    def test_views_endless_tables_foreign_rows_and_other_types(self):
        endless = "with recursive n(i) as (select 1 union all select i + 1 from n) select 'units' as kind, 'U' || i as id, '{}' as body from n"
        self.assert_refused(self.sql("drop table object", f"create view object as {endless}"), "no part of a studio")
        self.assert_refused(self.sql("create table more (a)"), "“more”, which is no part of a studio")
        self.assert_refused(
            self.sql("create trigger t after insert on head begin select 1; end"), "no part of a studio"
        )
        self.assert_refused(self.sql("update object set body = x'00ff' where id = 'U1'"), "no text")
        self.assert_refused(self.sql("update head set body = x'7b7d' where key = 'counters'"), "is damaged at counters")
        self.assert_refused(
            self.sql('update object set body = replace(body, \'"name":\', \'"pull_ppm":NaN,"name":\')'),
            "NaN is no number in JSON",
        )

    def test_older_forms_take_one_route_whatever_they_hold(self):
        golden = ROOT / "tests" / "golden"
        for form in (2, 3, 4):
            path = self.folder / f"{form}.ennead"
            shutil.copyfile(golden / f"studio-{form}.ennead", path)
            with closing(sqlite3.connect(path, isolation_level=None)) as db:
                db.execute("insert into object values ('songs', 'X1', '{}')")
            self.assert_refused(path, "unknown kind, “songs”")


class Texts(Case):
    def damaged(self, put):
        form = json.loads(to_json(plug(one_fibre(), "Fiddle", "U1", "mic1")))
        put(form)
        return json.dumps(form).encode()

    def test_numbers_and_texts_that_could_not_be_written_again(self):
        def at(*path, value):
            def put(form):
                here = form
                for key in path[:-1]:
                    here = here[key]
                here[path[-1]] = value

            return put

        cases = (
            (at("sources", 0, "level_dbu", value=float("nan")), "NaN is no number"),
            (at("cables", 0, "length_m", value=float("inf")), "Infinity is no number"),
            (at("counters", "U", value=10**17), "beyond all counting"),
            (at("counters", "U", value=10**400), "401 digits"),
            (at("sources", 0, "name", value="\ud800"), "half a character"),
            (at("cables", 0, "length_m", value=500_000.0), "is no length"),
        )
        for put, words in cases:
            with self.assertRaises(FileTrouble) as caught:
                from_json(self.damaged(put))
            self.assertIn(words, str(caught.exception))
        with self.assertRaises(FileTrouble):
            from_json(to_json(one_fibre()).encode().replace(b'"length_m": null', b'"length_m": 1e999'))

    def test_a_computer_that_resamples_everything_is_mended_on_reading(self):
        def all_corrected(form):
            form["hosts"][0]["corrected"] = list(form["hosts"][0]["interfaces"])

        studio = from_json(self.damaged(all_corrected))
        self.assertEqual(studio.hosts["H1"].corrected, ())
        write_studio(self.path, studio)
        body = json.dumps(json.loads(self.damaged(all_corrected))["hosts"][0]).replace("'", "''")
        bad = self.sql(f"update object set body = '{body}' where kind = 'hosts'")
        self.assertEqual(read_studio_file(bad).hosts["H1"].corrected, ())
        file = StudioFile(bad)
        self.assertIn("now keeps its own clock", file.mended[0])
        file.close()

    def test_a_line_end_in_a_name_begins_no_row_and_no_live_cell(self):
        names = ("=1+1", "\r=1+1", "\n+x", "a\r\n=1", "\t=1", " @x", 'q"uo,te', "a|b\n| c |", "x\u2028=1")
        studio = one_fibre()
        for n, name in enumerate(names, start=1):
            studio = add_source(studio, f"n{n}")
            one = studio.sources[f"S{n}"]
            object.__setattr__(one, "name", name)
        text = list_csv(studio)
        self.assertEqual(len(text.split("\n")), len(names) + 2)
        for row in text.splitlines()[1:]:
            self.assertNotIn(row.lstrip('"')[:1], ("=", "+", "-", "@", "\t", "\r"))
        self.assertEqual(
            [r["name"] for r in read_lines(text)],
            ["=1+1", "=1+1", "+x", "a =1", "=1", "@x", 'q"uo,te', "a|b | c |", "x =1"],
        )
        for ending in ("csv", "md"):
            export_list(Survey(studio), "drivers", self.folder / f"d.{ending}")
            lines = (self.folder / f"d.{ending}").read_text(encoding="utf-8").splitlines()
            self.assertEqual(
                len({line.count("|") - line.count("\\|") for line in lines if line.startswith("|")}), ending == "md"
            )

    def test_a_small_package_with_millions_of_styles_is_refused_at_once(self):
        raw = io.BytesIO()
        with zipfile.ZipFile(raw, "w", zipfile.ZIP_DEFLATED) as package:
            package.writestr("xl/styles.xml", "<styleSheet>" + "<xf/>" * 2_000_000 + "</styleSheet>")
        path = self.folder / "styles.xlsx"
        path.write_bytes(raw.getvalue())
        self.assert_refused(path, "holds more than 20,000 elements", read=read_list_file)


class Output(Case):
    def test_a_full_or_ascii_standard_output_is_a_sentence_and_exit_two(self):
        studio = self.folder / "é.json"
        write_studio(studio, plug(one_fibre(), "Flûte", "U1", "mic1"))
        argv = [sys.executable, "-m", "ennead", "driver-map", str(studio)]
        env = os.environ | {"PYTHONIOENCODING": "ascii", "LC_ALL": "C"}
        done = subprocess.run(argv, cwd=ROOT, env=env, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 2, done.stderr)
        self.assertIn("standard output cannot be written (it takes ascii", done.stderr)
        with Path("/dev/full").open("w", encoding="utf-8") as full:
            done = subprocess.run(
                [*argv, "--json"], cwd=ROOT, stdout=full, stderr=subprocess.PIPE, text=True, check=False
            )
        self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1), done.stderr)
        self.assertIn("no space left on device", done.stderr)
