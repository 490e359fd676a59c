"""The frame: one list of commands and of sheets, room for nine tabs, a margin that folds away and comes back."""

import threading
import weakref
from unittest import mock

from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QMenu

from ennead.desk.background.background_task import BackgroundTask
from ennead.desk.shell.commands import COMMANDS, MENUS, WISHES, key_rows
from ennead.desk.shell.sheet_list import SHEETS
from ennead.desk.widgets.navigation import Navigation
from ennead.reports.printed import PRINTED
from ennead.studio.subjects import NOTHING, Subject
from tests.builders import INTERFACE, plug, rig
from tests.desk_case import DeskCase


class Commands(DeskCase):
    def test_every_command_stands_in_its_menu_with_its_key_and_has_a_deed(self):
        self.assertEqual({c.menu for c in COMMANDS if c.menu} | {"&Edit"}, set(MENUS))
        # What stands in no menu is found by Ctrl+K: every print by itself.
        self.assertEqual([c.name for c in COMMANDS if not c.menu], [f"print_{p.what}" for p in PRINTED])
        keys = [c.key for c in COMMANDS if c.key]
        self.assertEqual(len(set(keys)), len(keys))
        for command in COMMANDS:
            if command.name:
                action = self.window.findChild(QAction, command.name)
                self.assertEqual((action.text(), action.isEnabled()), (command.text, not command.waits))
                self.assertEqual(action in self.window.menus.get(command.menu, QMenu()).actions(), bool(command.menu))
        self.assertEqual([r[1] for r in key_rows() if r[0] == "Ctrl+Shift+Y"], ["Make up a lead"])
        self.assertEqual(
            {
                "allocate",
                "list",
                "outs",
                "shelf",
                "aims",
                "shortage",
                "unit_loss",
                "why_here",
                "make_lead",
                "print",
                "recall",
                "read_computer",
            },
            set(WISHES),
        )

    def test_sheets_are_listed_once_and_reached_by_their_key(self):
        self.assertEqual([s.number for s in SHEETS], list(range(1, len(SHEETS) + 1)))
        for sheet in SHEETS:
            self.press(f"Alt+{sheet.number}")
            self.assertEqual(
                (self.window.number, self.window.navigation.tabs[sheet.number].isChecked()), (sheet.number, True)
            )


class Room(DeskCase):
    def test_nine_tabs_fit_at_twice_the_text(self):
        self.window.resize(1280, 800)
        for _ in range(20):
            self.window.looks.step(1)
        self.settle()
        self.assertEqual(self.window.book.scale, 2.0)
        tally = self.window.tally
        self.until(lambda: tally.height() >= tally.minimumSizeHint().height())
        # Whatever is said, the sheet stays where it is; what has no room is laid over it.
        sheet = self.window.session_sheet.geometry()
        tally.say("A sentence that is much too long for the foot of the window. " * 5)
        self.settle()
        self.assertEqual((self.window.session_sheet.geometry(), tally.told.count("sentence")), (sheet, 5))
        notice = self.window.findChild(QLabel, "notice")
        self.assertEqual((notice.text(), notice.isVisible()), (tally.told, True))
        nine = Navigation(self.window.book, {n: f"Sheet {n}" for n in range(1, 10)})
        nine.resize(nine.sizeHint().width(), self.window.navigation.height())
        nine.show()
        self.settle()
        tabs = list(nine.tabs.values())
        self.assertLessEqual(tabs[-1].geometry().bottom(), nine.height())
        self.assertTrue(all(t.height() >= t.minimumSizeHint().height() for t in tabs))
        nine.close()
        nine.deleteLater()
        # The scale is kept on disk, for the next window as well.
        self.window.looks.step(0)

    def test_the_margin_folds_away_and_comes_back_when_it_has_something_to_say(self):
        self.open(plug(rig(INTERFACE), "Ribbon", "U1", "mic1", kind="condenser", phantom="needed"))
        margin = self.window.margin
        self.press("Ctrl+M")
        self.assertFalse(margin.isVisible())
        self.table.select(Subject("unit", "U1"))
        self.settle()
        loud = any(f.severity != "note" for f in self.table.findings_about(Subject("unit", "U1")))
        self.assertEqual(margin.isVisible(), loud)
        self.press("Ctrl+M") if margin.isVisible() else None
        self.table.select(NOTHING)
        self.settle()
        self.assertFalse(margin.isVisible())
        self.table.select(Subject("source", "S1"))
        self.settle()
        self.assertTrue(margin.isVisible())
        self.press("Ctrl+M")
        self.press("Ctrl+M")
        self.assertTrue(margin.isVisible() and not margin.folded)


class Behind(DeskCase):
    def test_a_thread_is_never_the_last_to_hold_what_belongs_to_the_interface(self):
        answers = []
        task = BackgroundTask(self.window)
        with mock.patch.object(threading.Thread, "is_alive", return_value=True):
            task.start(lambda _: 7, answers.append)
            self.until(lambda: answers)
            held = weakref.ref(task)
            del task
            QTest.qWait(30)
            self.assertEqual((answers, held() is not None), ([7], True))
        self.until(lambda: held() is None)
