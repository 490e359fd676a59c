"""The Session sheet by real keys: type a list, walk across it, paste, reorder, take back."""

from unittest import mock

from openpyxl import Workbook
from PyQt6.QtWidgets import QApplication, QFileDialog

from ennead.edits.session import add_source
from tests.builders import ELEVEN, INTERFACE, one_fibre, rig
from tests.desk_case import DeskCase


class TypingAList(DeskCase):
    def names(self):
        return [s.name for s in self.studio.session_sources]

    def test_enter_for_the_next_line_and_undo_back_to_nothing(self):
        before = self.studio
        self.assertIs(self.app.focusWidget(), self.window.sheets[1].list)
        self.press("Return")
        for name in ("Kick", "OH L", "Bass DI"):
            self.type(name)
            self.press("Return")
        self.press("Escape")
        self.assertEqual(self.names(), ["Kick", "OH L", "Bass DI"])
        overhead = self.studio.session_sources[1]
        self.assertEqual(
            (overhead.kind, overhead.phantom, overhead.guessed), ("condenser", "needed", ("kind", "phantom"))
        )
        self.assertEqual(self.table.undo_stack.undoText(), "Add Bass DI")
        self.undo_all()
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z", "Ctrl+Y", "Ctrl+Y")
        self.assertEqual(self.names(), ["Kick", "OH L", "Bass DI"])

    def test_tab_goes_across_and_words_are_taken_by_their_beginning(self):
        self.open(add_source(rig(INTERFACE), "OH", kind="condenser", phantom="needed", guessed=("kind", "phantom")))
        self.press("Home", "Tab", "Tab", "F2")
        self.type("ribbon mic")
        self.press("Tab")
        self.type("forbidden")
        self.press("Return")
        source = self.studio.sources["S1"]
        self.assertEqual((source.kind, source.phantom, source.guessed), ("ribbon", "forbidden", ()))
        self.press("Escape", "Up", "Tab", "F2")
        self.type("kazoo")
        self.press("Return")
        self.assertIn("“kazoo” is not one of dynamic mic", self.said[-1])
        self.assertEqual(self.studio.sources["S1"].kind, "ribbon")

    def test_place_typed_is_a_place_made(self):
        self.open(add_source(rig(INTERFACE), "Fiddle"))
        self.press("Home", "Tab", "Tab", "Tab", "Tab", "Tab", "F2")
        self.type("Hall")
        self.press("Return", "Escape")
        place = self.studio.sources["S1"].place
        self.assertEqual(self.studio.places[place].name, "Hall")
        self.press("Ctrl+Z")
        self.assertEqual(dict(self.studio.places), {})

    def test_a_place_named_in_the_name_is_guessed_and_the_place_above_goes_on(self):
        self.open(add_source(rig(INTERFACE), "Fiddle", place="Hall"))
        self.press("Home", "Down", "Return")
        for name in ("Cello", "Narrator booth", "Breath"):
            self.type(name)
            self.press("Return")
        self.press("Escape")
        there = [(self.studio.places[s.place].name, "place" in s.guessed) for s in self.studio.session_sources]
        self.assertEqual(there, [("Hall", False), ("Hall", False), ("Booth", True), ("Booth", False)])

    def test_a_spreadsheet_is_read_aside_and_a_bad_one_changes_nothing(self):
        book = Workbook()
        for row in (["Source", "Room"], ["<b>Choir</b>", "Hall"], ["OH L", None]):
            book.active.append(row)
        path = self.home / "list.xlsx"
        book.save(path)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.press("Ctrl+I")
            self.until(lambda: len(self.names()) == 2)
            self.assertEqual(self.names(), ["<b>Choir</b>", "OH L"])
            self.assertEqual(self.table.undo_stack.undoText(), "Add 2 sources")
            path.write_bytes(path.read_bytes()[:900])
            self.press("Ctrl+I")
            self.until(lambda: self.said)
        self.assertIn("list.xlsx: it is not a spreadsheet", self.said[-1])
        self.undo_all()
        self.assertEqual(self.names(), [])

    def test_a_list_is_pasted_as_one_step(self):
        QApplication.clipboard().setText("\n".join(ELEVEN))
        self.press("Ctrl+V")
        self.assertEqual(self.names(), list(ELEVEN))
        self.assertEqual(self.table.undo_stack.count(), 1)
        self.assertEqual(self.table.undo_stack.undoText(), "Paste 11 sources")
        self.press("Ctrl+Z")
        self.assertEqual(self.names(), [])
        QApplication.clipboard().setText("  \n ")
        self.press("Ctrl+V")
        self.assertIn("no list on the clipboard", self.said[-1])

    def test_lines_move_and_go(self):
        studio = rig(INTERFACE)
        for name in ("One", "Two", "Three"):
            studio = add_source(studio, name)
        self.open(studio)
        self.press("Alt+Down")
        self.assertEqual(self.names(), ["Two", "One", "Three"])
        self.press("Down", "Delete")
        self.assertEqual(self.names(), ["Two", "One"])
        self.press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(self.studio, studio)

    def test_text_from_anywhere_stays_text(self):
        QApplication.clipboard().setText("<b>Kick</b>\n=SUM(A1)\n\u202eabc\n" + "x" * 500)
        self.press("Ctrl+V")
        self.assertEqual(self.names()[0], "<b>Kick</b>")
        self.assertEqual(self.names()[1], "=SUM(A1)")
        for number in (1, 2, 5):
            self.window.go(number)
            self.window.grab()

    def test_rate_is_chosen_by_keyboard_and_taken_back(self):
        rate = self.window.sheets[1].rate
        rate.setFocus()
        self.press("Down", "Down")
        self.assertEqual(self.studio.rate_hz, 96_000)
        self.press("Ctrl+Z")
        self.assertEqual((self.studio.rate_hz, rate.currentText()), (88_200, "88.2 kHz"))

    def test_balance_hatches_what_is_short(self):
        studio = rig("two-preamp interface, optical in only")
        for n in range(5):
            studio = add_source(studio, f"Mic {n}", kind="condenser", phantom="needed")
        self.open(studio)
        bars = {b.need.key: b for b in self.window.sheets[1].balance.bars()}
        self.assertEqual((bars["phantom"].need.needed, bars["phantom"].need.available), (5, 2))
        self.assertAlmostEqual(bars["phantom"].short / bars["phantom"].needed, 3 / 5)
        self.assertEqual(bars["all"].short, 0)
        self.open(one_fibre())
        self.assertEqual([b.short for b in self.window.sheets[1].balance.bars() if b.short], [])
