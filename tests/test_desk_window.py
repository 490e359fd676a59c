"""The window: files, finder, findings, looks; and undo that always leads back."""

import random
import sqlite3
from contextlib import closing
from unittest import mock

from PyQt6.QtCore import QPointF, Qt, QTimer
from PyQt6.QtGui import QAction, QEnterEvent
from PyQt6.QtWidgets import QFileDialog, QLabel, QMessageBox, QPushButton, QWidget

from ennead.demo.skerry import skerry
from ennead.desk.background.idle_queue import IdleQueue
from ennead.desk.dialogs.handbook import Handbook
from ennead.desk.shell.closing import report_fault
from ennead.desk.shell.finding_places import count_by_sheet
from ennead.desk.widgets.finder import everything, matching
from ennead.desk.widgets.note_label import NoteLabel
from ennead.drawings.painters.palette import GROUNDS, NIGHT, PAPER, TEXT_COLOURS, contrast
from ennead.edits.change import Change, change
from ennead.edits.house import rename_unit
from ennead.edits.session import set_rate
from ennead.files.studio_file import read_studio_file
from ennead.files.studio_path import read_studio, write_studio
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.studio.errors import EnneadError
from ennead.studio.subjects import NOTHING, Subject
from tests.builders import INTERFACE, one_fibre, plug, random_edit, rig
from tests.desk_case import DeskCase
from tests.trials import few


class Undo(DeskCase):
    start = one_fibre()

    def test_any_sequence_of_actions_undone_is_the_identical_document(self):
        for seed in range(few(5, 12)):
            dice = random.Random(seed)
            self.table.begin(self.start)
            values = [self.studio]
            for _ in range(30):
                if dice.random() < 0.2 and self.table.findings:
                    found = dice.choice(self.table.findings)
                    if found.fixes:
                        # What opens a question would wait for somebody to answer it.
                        deeds = [f for f in found.fixes if getattr(f.does, "name", "") != "shortage"]
                        for fix in deeds and [dice.choice(deeds)]:
                            self.table.fix(fix)
                elif dice.random() < 0.1 and self.studio.current.sources:
                    proposal = allocate(self.table.survey)
                    if proposal.placements:
                        self.table.do(take(self.table.survey, proposal))
                else:
                    name, edit = random_edit(self.studio, dice)
                    self.table.do(Change(name, (edit,)))
                if self.studio is not values[-1]:
                    values.append(self.studio)
            self.assertEqual(self.table.undo_stack.count(), len(values) - 1)
            for value in values[-2::-1]:
                self.table.undo_stack.undo()
                self.assertIs(self.studio, value)
            self.assertEqual(self.studio, self.start)
            for value in values[1:]:
                self.table.undo_stack.redo()
                self.assertIs(self.studio, value)

    def test_every_edit_is_on_disk_when_the_tally_says_so(self):
        tally = self.window.tally
        for n in range(5):
            self.table.do(change("Rename", rename_unit, "U1", f"Pier {n}"))
            self.until(lambda: tally._disk.text() == "✓ on disk")
            self.assertEqual(read_studio_file(self.path), self.studio)
        self.table.undo_stack.undo()
        self.until(lambda: self.table.autosave.done == self.table.autosave.posted)
        self.assertEqual(read_studio_file(self.path).units["U1"].name, "Pier 3")

    def test_an_edit_that_cannot_be_written_is_said_and_written_with_the_next(self):
        autosave = self.table.autosave
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("begin immediate")
            autosave._thread.ask(lambda: autosave._file._db.execute("pragma busy_timeout = 1"))
            self.table.do(change("Rename", rename_unit, "U1", "Pier"))
            self.until(lambda: self.window.tally._disk.text() == "▲ not on disk")
            self.assertIn("could not be written", self.window.tally.told)
            other.execute("rollback")
        self.assertEqual(self.studio.units["U1"].name, "Pier")
        self.table.do(change("Rename", rename_unit, "U2", "Slipway"))
        self.until(lambda: self.window.tally._disk.text() == "✓ on disk")
        self.assertEqual(read_studio_file(self.path), self.studio)


class Files(DeskCase):
    start = one_fibre()

    def action(self, name):
        found = self.window.findChild(QAction, name)
        self.assertIsNotNone(found, name)
        found.trigger()
        self.settle()

    def test_all_is_there_after_closing_and_starting_again(self):
        self.table.do(change("Rename", rename_unit, "U1", "Pier"))
        kept = self.studio
        self.window.close()
        self.assertEqual([p.name for p in self.home.iterdir() if p.name.startswith("test.")], ["test.ennead"])
        self.open()
        self.assertEqual(self.studio, kept)
        self.assertFalse(self.table.undo_stack.canUndo())

    def test_new_gives_a_named_draft_at_once(self):
        self.press("Ctrl+N")
        self.assertTrue(self.studio.name.startswith("Draft of "))
        first = self.table.path
        self.assertTrue(first.is_file())
        self.assertEqual(first.parent, self.home / "ennead" / "studios")
        self.press("Ctrl+N")
        self.assertEqual(self.table.path.stem, f"{first.stem} (2)")
        self.assertIn("Next: type or paste", self.window.tally.told)
        self.open()
        self.assertEqual(self.table.path.stem, f"{first.stem} (2)")

    def test_open_save_as_and_lists_go_through_dialogs(self):
        other = self.home / "other.json"
        write_studio(other, skerry())
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(other), "")):
            self.action("open_studio")
            self.until(lambda: self.studio.name == skerry().name)
        self.assertEqual(self.studio, skerry())
        saved = self.home / "saved"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(saved), "")):
            self.action("save_as")
            self.assertEqual(self.table.path, self.home / "saved.ennead")
            for name, ending in (
                ("save_json", "json"),
                ("write_list", "csv"),
                ("export_drivers", "csv"),
                ("export_cables", "csv"),
            ):
                self.action(name)
                self.assertTrue(saved.with_suffix(f".{ending}").is_file(), name)
                if name.startswith("export"):
                    saved.with_suffix(".csv").unlink()
        self.assertEqual(read_studio(self.home / "saved.json"), skerry())
        names = self.home / "list.txt"
        names.write_text("Bell\nGong\n", encoding="utf-8")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(names), "")):
            self.press("Ctrl+I")
            self.until(self.table.undo_stack.canUndo)
        self.assertEqual([s.name for s in self.studio.session_sources][-2:], ["Bell", "Gong"])

    def test_a_bad_file_is_one_sentence_and_the_open_studio_stays(self):
        bad = self.home / "bad.ennead"
        bad.write_bytes(b"not a studio at all" * 20)
        before = self.studio
        self.window.files.open_path(bad)
        self.assertIn("bad.ennead: it is no Ennead studio", self.said[-1])
        self.said.clear()
        self.window.files.open_path(self.home / "none.json")
        self.until(lambda: self.said)
        self.assertIn("none.json: it cannot be read", self.said[-1])
        self.assertIs(self.studio, before)
        self.table.do(change("Rename", rename_unit, "U1", "Pier"))
        self.until(lambda: self.table.autosave.done == self.table.autosave.posted)
        self.assertEqual(read_studio_file(self.path).units["U1"].name, "Pier")

    def test_the_last_studio_gone_bad_makes_way_for_a_draft(self):
        self.window.close()
        self.path.write_bytes(b"x" * 200)
        self.open()
        self.assertTrue(self.studio.name.startswith("Draft of "))
        self.assertIn("no Ennead studio", self.window.tally.told)

    def test_a_second_window_looks_on_and_a_copy_can_be_worked_on(self):
        from ennead.desk.shell.worktable import Worktable
        from ennead.desk.storage.autosave import Autosave

        other = Autosave()
        self.addCleanup(other.close)
        second = Worktable(other.open(self.path), other)
        said = []
        second.said.connect(said.append)
        self.assertEqual(second.studio, self.studio)
        self.assertFalse(second.do(change("Rename", rename_unit, "U1", "Pier")))
        self.assertIn("it is open in another window, so it can only be looked at here. File, Save as…", said[0])
        with self.assertRaises(EnneadError):
            other.open(self.path, one_fibre())
        with self.assertRaises(EnneadError) as caught:
            write_studio(self.path, skerry())
        self.assertIn("open in a window", str(caught.exception))
        other.open(self.home / "copy.ennead", second.studio)
        self.assertTrue(second.do(change("Rename", rename_unit, "U1", "Pier")))
        self.window.close()
        other.open(self.path)
        self.assertEqual(other.read_only, "")

    def test_the_last_ten_opened_states_are_kept_and_one_can_be_gone_on_from(self):
        from ennead.files.kept_copies import backup_folder

        kept = backup_folder(self.home / "ennead" / "backups", self.path)
        self.assertFalse(kept.exists())
        # In a quiet moment, or before the first edit is written, whichever comes first.
        self.table.autosave.fold_soon()
        self.table.autosave.wait()
        self.assertEqual(len(list(kept.iterdir())), 1)
        self.window.files.open_path(self.path)
        self.table.autosave.fold_soon()
        self.table.autosave.wait()
        self.assertEqual(len(list(kept.iterdir())), 1)
        for n in range(11):
            self.table.do(change("Rename", rename_unit, "U1", f"Pier {n}"))
            self.window.files.open_path(self.path)
        self.table.autosave.fold_soon()
        self.table.autosave.wait()
        names = sorted(kept.iterdir())
        self.assertEqual([p.name.split("_")[0] for p in names], [f"{n:06d}" for n in range(3, 13)])
        self.assertEqual(read_studio_file(names[0]).units["U1"].name, "Pier 1")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(names[0]), "")):
            self.action("open_backup")
        self.assertEqual(self.studio.units["U1"].name, "Pier 1")
        self.assertNotEqual(self.table.path, self.path)

    def test_the_demo_opens_as_a_copy_each_time(self):
        self.action("open_demo")
        self.action("open_demo")
        self.assertEqual((self.studio, self.table.path.stem), (skerry(), "Skerry Sound House (2)"))


class Finding(DeskCase):
    start = skerry()

    def find(self, typed):
        def choose(finder):
            self.type(typed, into=finder.typed)
            self.press("Return", into=finder.typed)

        self.in_dialog("finder", choose)
        self.press("Ctrl+K")
        return self.table.selection

    def test_anything_is_found_by_name_number_or_label(self):
        narrator = next(s.id for s in self.studio.sources.values() if s.name == "Narrator")
        self.assertEqual(self.find("driver input 17"), Subject("source", narrator))
        self.assertIs(self.window.stack.currentWidget(), self.window.lines_sheet)
        pier = next(u.id for u in self.studio.units.values() if u.name == "Pier")
        self.assertEqual(self.find("pier optical a in"), Subject("port", pier, "optical_a_in"))
        self.assertIs(self.window.stack.currentWidget(), self.window.sheets[2])
        self.assertEqual(self.find("C3").port, "optical_a_in")
        self.assertEqual(self.find("48 V would reach").kind, "source")
        self.find("night")
        self.assertEqual(self.window.book.now.palette, NIGHT)
        finds = everything(self.table, [])
        self.assertEqual(matching(finds, "no such thing"), [])
        self.assertEqual(matching(finds, "driver input 5")[0].words.split("·")[0].strip(), "Driver input 5")

    def test_f8_goes_round_the_findings_and_a_fix_ends_one(self):
        seen = []
        for _ in range(6):
            self.press("F8")
            seen.append(self.table.selection)
        self.assertEqual(seen[0], seen[5])
        self.assertEqual(len(set(seen)), 5)
        harmonium = next(s for s in self.studio.sources.values() if s.name == "Harmonium")
        self.table.select(Subject("source", harmonium.id))
        self.click(self.button("Find another place for Harmonium"))
        self.assertNotIn("phantom_reaches_forbidden", {f.rule for f in self.table.findings})
        self.table.select(NOTHING)
        self.click(self.button("Set Jetty's optical input to ADAT"))
        self.click(self.button("Bring them onto one clock"))
        self.until(lambda: "two_leaders" not in {f.rule for f in self.table.findings})
        self.press("Alt+5", "Ctrl+Return")
        self.until(lambda: self.window.lines_sheet.proposal is not None)
        self.press("Ctrl+Return")
        self.assertEqual([f for f in self.table.findings if f.severity != "note"], [])
        self.assertEqual({t.open_findings for t in self.window.navigation.tabs.values()}, {0})
        self.undo_all()
        self.assertEqual(self.studio, skerry())

    def test_at_first_nothing_is_selected_and_the_margin_speaks_of_the_whole(self):
        self.assertEqual(self.table.selection, NOTHING)
        told = " ".join(w.text() for w in self.window.margin.findChildren(QLabel))
        self.assertIn("48 V would reach Harmonium", told)
        self.assertIn("Jetty's Optical in is set to S/PDIF", told)
        self.press("Down")
        self.assertEqual(self.table.selection.kind, "source")

    def test_tally_figures_lead_to_their_sheets(self):
        for name, number in (("inputs", 5), ("leader", 4), ("rate", 1)):
            self.click(self.window.findChild(QPushButton, f"tally_{name}"))
            self.assertIs(self.window.stack.currentWidget(), self.window.sheets[number])
        self.assertIn("21 of 26 arrive", self.window.findChild(QPushButton, "tally_inputs").text())
        self.assertIn("2 leaders", self.window.findChild(QPushButton, "tally_leader").text())
        self.click(self.window.findChild(QPushButton, "tally_findings"))
        self.assertNotEqual(self.table.selection.kind, "nothing")


class Looks(DeskCase):
    start = skerry()

    def test_every_text_colour_is_readable_on_every_ground(self):
        self.assertAlmostEqual(contrast("#000000", "#FFFFFF"), 21.0)
        for palette in (PAPER, NIGHT):
            for text in TEXT_COLOURS:
                for ground in GROUNDS:
                    ratio = contrast(getattr(palette, text), getattr(palette, ground))
                    self.assertGreaterEqual(ratio, 4.5, (palette.name, text, ground))

    def test_text_grows_and_shrinks_by_keys_and_is_remembered(self):
        self.press("Ctrl+Equal")
        self.assertGreater(self.window.book.scale, 1.0)
        for _ in range(9):
            self.window.looks.step(1)
        self.assertEqual(self.window.book.scale, 2.0)
        for number in (1, 2, 5):
            self.window.go(number)
            self.window.resize(1024, 700)
            self.settle()
            self.assertEqual((self.window.width(), self.window.height()), (1024, 700))
            self.assertGreaterEqual(min(w.font().pixelSize() for w in self.window.findChildren(QLabel) if w.text()), 11)
        self.open()
        self.assertEqual(self.window.book.scale, 2.0)
        self.press("Ctrl+0")
        self.assertEqual(self.window.book.scale, 1.0)

    def test_pictures_change_with_the_theme(self):
        shots = []
        for theme in ("paper", "night"):
            self.window.looks.choose_theme(theme)
            for number in (1, 2, 5):
                self.window.go(number)
                self.settle()
                shots.append(self.window.grab().toImage().pixelColor(400, 60).name().upper())
        self.assertEqual(shots, [PAPER.ground] * 3 + [NIGHT.ground] * 3)

    def test_text_stays_text_on_every_sheet(self):
        odd = (
            "<b>Bell</b> & <img src=x>",
            "=SUM(A1)",
            'He said "no"',
            "\u202eright to left\u202c",
            "x" * 500,
            "鼓 🎻 بيانو",
            "a & b",
        )
        studio = rig(INTERFACE)
        for number, name in enumerate(odd):
            studio = plug(studio, name, "U1", f"mic{number + 1}", place=name[:80], group=name)
        studio = rename_unit(studio, "U1", odd[0])
        self.open(studio)
        for sheet in (1, 2, 5):
            self.press(f"Alt+{sheet}")
            for selection in (
                Subject("source", "S1"),
                Subject("unit", "U1"),
                Subject("port", "U1", "mic1"),
                NOTHING,
            ):
                self.table.select(selection)
                self.settle()
                self.window.grab()
                for label in self.window.findChildren(QLabel):
                    told = label.textFormat() == Qt.TextFormat.PlainText or "<" not in label.text()
                    self.assertTrue(told, label.text())
                for widget in self.window.findChildren(QWidget):
                    self.assertNotIn("<b>", widget.toolTip())
        names = [s.name for s in self.studio.session_sources]
        self.assertEqual(names, list(odd))

    def test_keys_and_about_are_told(self):
        told = []
        with mock.patch.object(QMessageBox, "exec", lambda box: told.append(box.text())):
            self.press("Shift+F1")
            self.window.help.about()
        self.assertIn("Ctrl+K", told[0])
        self.assertIn("Never lift a safety earth", told[1])

    def test_the_handbook_opens_at_the_page_of_the_sheet(self):
        self.press("Alt+2", "F1")
        (book,) = self.window.findChildren(Handbook)
        self.assertTrue(book.isVisible())
        text = book.text.toPlainText()
        self.assertTrue(text.startswith("Profiles: describing a box"))
        # Marks that Markdown should have turned into form would be seen.
        self.assertNotRegex(text, r"\*\*|^#|\|---")
        book.reject()

    def test_a_fault_of_the_program_is_said_and_kept(self):
        try:
            raise RuntimeError("boom")
        except RuntimeError as error:
            report_fault(self.table, RuntimeError, error, error.__traceback__)
        self.assertIn("Ennead itself failed", self.said[-1])
        self.assertIn("boom", (self.home / "ennead" / "faults.txt").read_text(encoding="utf-8"))

    def test_a_refused_change_is_said_and_nothing_is_put_on_the_stack(self):
        self.assertFalse(self.table.do(change("Rate", set_rate, 1)))
        self.assertIn("cannot be a sample rate", self.said[-1])
        self.assertFalse(self.table.undo_stack.canUndo())
        self.assertFalse(self.table.do(change("Rate", set_rate, 48_000)))
        self.assertRaises(EnneadError, set_rate, self.studio, 1)


class OneDeedATurn(DeskCase):
    """What can wait is done one deed a turn, so that keys are answered between two of them."""

    start = one_fibre()

    def test_deeds_that_fall_due_together_have_a_turn_each(self):
        turns, happened = IdleQueue(self.window), []
        beat = QTimer(self.window)
        beat.timeout.connect(lambda: happened.append("beat"))
        beat.start(0)
        for name in ("one", "two", "one", "three"):
            turns.later(name, lambda name=name: happened.append(name), 5)
        self.until(lambda: turns.is_empty)
        self.until(lambda: happened[-1] == "beat")
        beat.stop()
        self.assertEqual([h for h in happened if h != "beat"], ["two", "one", "three"])
        for name in ("two", "one"):
            self.assertEqual(happened[happened.index(name) + 1], "beat")

    def test_what_is_cleared_never_happens(self):
        turns, happened = IdleQueue(self.window), []
        turns.later("one", lambda: happened.append("one"))
        turns.clear()
        turns.later("two", lambda: happened.append("two"))
        self.until(lambda: turns.is_empty)
        self.settle()
        self.assertEqual(happened, ["two"])

    def test_in_a_long_session_figures_margin_and_marks_follow_the_edit(self):
        self.window.sheets[1].paste("\n".join(f"Spot {n}" for n in range(400)))
        before = self.window.tally.findChild(QPushButton, "tally_inputs").text()
        self.assertTrue(self.table.is_long)
        self.until(lambda: self.table.idle.is_empty)
        after = self.window.tally.findChild(QPushButton, "tally_inputs").text()
        self.assertNotEqual(before, after)
        self.assertIn(f"of {len(self.table.survey.signal_paths)} arrive", after)
        marks = count_by_sheet(self.table.findings)
        self.assertEqual(
            {n: t.open_findings for n, t in self.window.navigation.tabs.items() if t.open_findings},
            {n: c for n, (c, _) in marks.items()},
        )

    def test_another_text_size_is_dressed_and_painted_and_the_page_comes_back(self):
        self.table.select(NOTHING)
        self.until(lambda: self.table.idle.is_empty)
        self.window.looks.step(1)
        self.assertFalse(self.window.updatesEnabled())
        self.until(lambda: self.table.idle.is_empty)
        self.assertTrue(self.window.updatesEnabled())
        self.assertIn(self.table.findings[0].why, [label.text() for label in self.window.margin.findChildren(QLabel)])

    def test_a_note_can_be_selected_once_the_mouse_is_there(self):
        label = NoteLabel("<b>As it is</b>")
        label.show()
        at = QPointF(2, 2)
        self.app.sendEvent(label, QEnterEvent(at, at, at))
        self.assertTrue(label.textInteractionFlags() & Qt.TextInteractionFlag.TextSelectableByMouse)
        self.assertEqual(label.text(), "<b>As it is</b>")
        self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText)
        label.close()
