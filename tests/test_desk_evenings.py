"""Evenings in the window: by menu and by the finder, undone like everything else; the changeover on screen and on paper."""

import tempfile
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog, QPushButton

from ennead.demo.skerry import skerry
from ennead.desk.dialogs.changeover_dialog import ChangeoverDialog
from ennead.edits.cables import connect, disconnect
from ennead.edits.session import rename_session
from ennead.edits.sessions import choose_session, copy_session, session_named
from ennead.reports.changeover import changeover, changeover_rows
from ennead.studio.house import SourceEnd
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, plug, rig
from tests.desk_case import DeskCase


def two_evenings():
    studio = rename_session(plug(plug(rig(INTERFACE), "Fiddle", "U1", "mic1"), "Viola", "U1", "mic2"), "Quartet")
    two = copy_session(studio, "Choir & organ")
    two = connect(disconnect(two, "C1"), SourceEnd("S1"), end("U1", "mic5"))
    return choose_session(two, "N1")


class Evenings(DeskCase):
    start = two_evenings()

    def names(self):
        return [s.name for s in self.studio.sessions.values()]

    def named(self, name):
        return mock.patch.object(QInputDialog, "getText", return_value=(name, True))

    def test_added_copied_renamed_chosen_removed_and_undone(self):
        before = self.studio
        shown = self.window.tally.findChild(QPushButton, "tally_session")
        self.assertEqual((shown.isVisible(), shown.text()), (True, "Quartet"))
        with self.named("Band"):
            self.press("Ctrl+Shift+N")
        self.assertEqual((self.names(), self.studio.current.sources), (["Quartet", "Choir & organ", "Band"], ()))
        with self.named("Band"):
            self.press("Ctrl+Shift+C")
        self.assertEqual(len(self.names()), 3)
        self.assertIn("called so", self.said[-1])
        with self.named("Duo"):
            self.window.sessions.rename_session()
        self.assertEqual(self.studio.current.name, "Duo")
        menu = self.window.menus["Sess&ion"]
        menu.aboutToShow.emit()
        choices = [a for a in menu.actions() if a.property("session")]
        self.assertEqual(
            [(a.text(), a.isChecked()) for a in choices], [("Quartet", False), ("Choir && organ", False), ("Duo", True)]
        )
        choices[1].trigger()
        self.assertEqual([r.driver.number for r in self.table.survey.signal_paths], [5, 2])
        self.window.sessions.remove_session()
        self.assertEqual((self.names(), self.studio.current.name), (["Quartet", "Duo"], "Duo"))
        self.undo_all()
        self.assertEqual(self.studio, before)

    def test_the_finder_goes_to_an_evening_and_takes_in_a_line(self):
        with self.named("Band"):
            self.press("Ctrl+Shift+N")
        self.find("take in fiddle quartet")
        self.assertEqual([s.name for s in self.studio.session_sources], ["Fiddle"])
        self.find("go to the session choir")
        self.assertEqual(self.studio.current.name, "Choir & organ")

    def test_an_evening_that_was_undone_is_none_to_find(self):
        def chosen(finder):
            finds = [row.text for row in finder._finds if row.action is not None]
            self.assertNotIn("Band", finds)
            finder.reject()

        with self.named("Band"):
            self.press("Ctrl+Shift+N")
        menu = self.window.menus["Sess&ion"]
        menu.aboutToShow.emit()
        band = next(a for a in menu.actions() if a.text() == "Band")
        key = band.property("session")
        self.press("Ctrl+Z")
        self.in_dialog("finder", chosen)
        self.press("Ctrl+K")
        self.window.sessions.choose(key)
        self.assertIn("no longer there", self.said[-1])

    def find(self, words):
        from ennead.desk.widgets.finder import everything, matching

        (found, *_) = matching(everything(self.table, []), words)
        self.table.fix(found.fix)

    def test_the_changeover_is_listed_ticked_and_printed(self):
        dialog = ChangeoverDialog(self.table, self.window.book)
        rows = [dialog.list.item(n).text() for n in range(dialog.list.count())]
        self.assertEqual(
            [r.split("  ", 1)[1].split(":")[0] for r in rows],
            [
                "turn the monitors and headphones down",
                "pull C1",
                "plug C3",
                "turn the monitors and headphones up again",
            ],
        )
        self.assertIn("Fiddle: 1 → 5", dialog.renumbered.text())
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "list.pdf"
            dialog.write_pdf(path)
            self.assertEqual(path.read_bytes()[:5], b"%PDF-")
        self.assertIn("plug C3", dialog.document().toPlainText())
        dialog.list.item(2).setCheckState(Qt.CheckState.Checked)
        dialog.accept()
        self.table.do(dialog.ticks)
        self.assertEqual(list(self.studio.as_built.cables), ["C3"])
        dialog.end.setCurrentIndex(dialog.start.currentIndex())
        self.assertIn("Nothing to do", dialog.words.text())
        dialog.deleteLater()

    def test_both_plugs_of_a_cord_are_one_row_and_are_ticked_together(self):
        demo = skerry()
        found = changeover(demo, demo.session, session_named(demo, "Mix of the drama"))
        rows = changeover_rows(found)
        self.assertEqual([m for row in rows for m in row.moves], list(found.moves))
        cords = [row for row in rows if len(row.moves) == 2]
        self.assertEqual(len(cords), len({(m.step.move.cord, m.step.move.action) for row in cords for m in row.moves}))
        self.assertIn("plug cord W9: A · 20 above → B · 6 below", [row.text for row in cords])
        self.open(demo)
        dialog = ChangeoverDialog(self.table, self.window.book)
        dialog.end.setCurrentIndex(dialog.end.findText("Mix of the drama"))
        n = next(n for n in range(dialog.list.count()) if "plug cord W9" in dialog.list.item(n).text())
        dialog.list.item(n).setCheckState(Qt.CheckState.Checked)
        dialog.accept()
        self.table.do(dialog.ticks)
        self.assertEqual([len(c.plugs) for c in self.studio.as_built.cords.values() if c.id == "W9"], [2])
        dialog.deleteLater()

    def test_one_evening_alone_has_nothing_to_change_over_to(self):
        self.table.do(self.remove("N2"))
        self.press("Ctrl+Shift+E")
        self.assertIn("one session alone", self.said[-1])
        self.assertEqual([r.driver.number for r in Survey(self.studio).signal_paths], [1, 2])

    @staticmethod
    def remove(session):
        from ennead.edits.change import change
        from ennead.edits.sessions import remove_session

        return change("Remove", remove_session, session)
