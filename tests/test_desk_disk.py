"""The disk as it can be: full, gone, read-only, set back, damaged. A sentence each time, and nothing lost."""

import errno
import os
import shutil
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path
from unittest import mock

from ennead.demo.skerry import skerry
from ennead.edits.change import change
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source
from ennead.files import backups
from ennead.files.kept_copies import backup_folder
from ennead.files.studio_file import read_studio_file
from ennead.files.write_ahead import journal_of
from tests.builders import one_fibre
from tests.desk_case import DeskCase

GOLDEN = Path(__file__).resolve().parent / "golden"


class Disk(DeskCase):
    start = one_fibre()

    def rename(self, name):
        self.table.do(change("Rename", rename_unit, "U1", name))

    def not_on_disk(self):
        self.until(lambda: self.window.tally._disk.text() == "▲ not on disk")
        return self.window.tally.told

    def test_a_file_that_vanishes_is_said_and_all_is_in_the_rescued_copy(self):
        self.rename("Pier")
        self.until(lambda: not self.table.autosave.is_behind)
        self.path.unlink()
        self.rename("Slipway")
        self.assertIn("test.ennead: the file has been moved or deleted while it was open", self.not_on_disk())
        self.assertIn("All of it is kept in", self.window.tally.told)
        self.rename("Harbour")
        kept = self.studio
        self.open()
        (copy,) = self.home.rglob("*rescued*.ennead")
        self.assertEqual((self.table.path, self.studio), (copy, kept))
        self.assertIn("This is the copy that was kept of everything", self.window.tally.told)

    def test_a_full_disk_is_said_and_the_edit_goes_with_the_next(self):
        autosave = self.table.autosave
        db = autosave._file._db

        def pages(most):
            autosave._thread.ask(lambda: db.execute(f"pragma max_page_count = {most}").fetchone())

        pages(1)
        before = read_studio_file(self.path)
        self.table.do(change("Add many", _many))
        self.assertRegex(self.not_on_disk(), r"could not be written \(database or disk is full\)\. Free some room")
        self.assertEqual(read_studio_file(self.path), before)
        pages(100_000)
        self.rename("Slipway")
        self.until(lambda: self.window.tally._disk.text() == "✓ on disk")
        self.assertEqual(read_studio_file(self.path), self.studio)
        self.assertEqual(len(self.studio.sources), 400)

    def test_a_read_only_folder_can_be_looked_at(self):
        self.window.close()
        real = os.open

        def refuse(path, flags, *more):
            if flags & os.O_CREAT and str(path).endswith(".lock"):
                raise OSError(errno.EROFS, "Read-only file system")
            return real(path, flags, *more)

        # Whoever runs the tests may be allowed to write everywhere, so the refusal is played.
        with mock.patch.object(backups.os, "open", refuse):
            self.open()
        self.assertEqual(self.studio.units["U1"].name, one_fibre().units["U1"].name)
        said = "its folder cannot be written (read-only file system), so it can only be looked at here."
        self.assertIn(said, self.table.autosave.read_only)
        self.rename("Pier")
        self.assertIn("File, Save as… makes a copy", self.said[-1])
        self.assertNotEqual(self.studio.units["U1"].name, "Pier")
        self.assertIn("to look at only", self.window.windowTitle())

    def test_a_clock_set_back_orders_nothing_anew(self):
        folder = backup_folder(self.home / "ennead" / "backups", self.path)
        for year in (2031, 1999, 2026, 1970):
            with mock.patch.object(backups, "datetime", _clock(year)):
                self.rename(f"Pier {year}")
                self.window.files.open_path(self.path)
                self.table.autosave.fold_soon()
                self.table.autosave.wait()
        names = [read_studio_file(p).units["U1"].name for p in sorted(folder.iterdir())]
        # The copy made before the first edit, then each opened state in turn, whatever the clock said.
        self.assertEqual(names[1:], ["Pier 2031", "Pier 1999", "Pier 2026", "Pier 1970"])

    def test_a_cut_journal_is_said_and_the_file_as_found_is_kept(self):
        self.window.close()
        with closing(sqlite3.connect(self.path, isolation_level=None)) as db:
            db.execute("pragma journal_mode = wal")
            for n in range(3):
                db.execute("insert or replace into head values ('name', ?)", (f'"Test {n}"',))
            found = self.path.read_bytes(), journal_of(self.path).read_bytes()[:-100]
        self.path.write_bytes(found[0])
        journal_of(self.path).write_bytes(found[1])
        self.open()
        self.assertEqual(self.studio.name, "Test 1")
        self.assertRegex(
            self.table.autosave.note, "was not closed in order.*Everything up to the last whole edit is here"
        )
        (copy,) = (self.home / "ennead" / "backups").rglob("*cut-journal.ennead")
        self.assertEqual((copy.read_bytes(), journal_of(copy).read_bytes()), found)
        self.assertIn("last whole edit", self.window.tally.told)

    def test_an_older_form_is_brought_forward_with_a_copy_first(self):
        self.window.close()
        shutil.copyfile(GOLDEN / "studio-1.ennead", self.path)
        self.open()
        self.assertEqual(self.studio.name, "Skerry Sound House")
        self.assertIn("was of an older form", self.table.autosave.note)
        (copy,) = (self.home / "ennead" / "backups").rglob("*older-form.ennead")
        self.assertEqual(copy.read_bytes(), (GOLDEN / "studio-1.ennead").read_bytes())
        self.rename("Pier two")
        self.until(lambda: not self.table.autosave.is_behind)
        self.assertEqual(read_studio_file(self.path).units["U1"].name, "Pier two")

    def test_a_large_demo_as_draft_is_left_when_another_is_opened_and_could_not_be_written(self):
        self.path.unlink()
        self.rename("Slipway")
        self.not_on_disk()
        kept = self.studio
        self.table.begin(self.table.autosave.open(self.home / "other.ennead", skerry()))
        self.assertIn("all of it is kept in", self.said[-1])
        (copy,) = self.home.rglob("*rescued*.ennead")
        self.assertEqual(read_studio_file(copy), kept)


def _many(studio):
    for n in range(400):
        studio = add_source(studio, f"Source {n}", group="long enough that it does not fit into a page " * 4)
    return studio


def _clock(year):
    class Clock(datetime):
        @classmethod
        def now(cls, tz=None):
            return cls(year, 1, 1, tzinfo=tz)

    return Clock
