"""The Loops sheet: rows of loops on one axis of delay and one of level, the chosen one opened."""

from PyQt6.QtWidgets import QPushButton

from ennead.desk.sheets.loops.loops_view import LoopsView
from ennead.desk.sheets.loops.new_loop import NewLoop
from ennead.desk.shell.sheet_list import BY_NUMBER, LOOPS
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.subjects import Subject


class LoopsSheet(SheetFrame):
    """Outboard as inserts."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[LOOPS])
        self._table = table
        self.view = LoopsView(table, book)
        self.new, first = QPushButton("New loop…"), QPushButton("New loop…")
        for button in (self.new, first):
            button.clicked.connect(self.make_loop)
        self.add_action(self.new)
        empty = EmptyNote(
            book,
            "No outboard loop is on this session's list. A loop sends a track out of the"
            " computer, through a box and back in."
            " Take the box from the shelf on Rig first, then make its loop here.",
            first,
        )
        self._pages = self.add_pages(self.view, empty)
        self.setFocusProxy(self.view)
        table.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        some = any(d.kind == "loop" for d in self._table.survey.destinations)
        self._pages.setCurrentIndex(0 if some else 1)
        self.new.setVisible(some)

    def make_loop(self) -> None:
        """Ask for a box and put its loop on the session's list."""
        dialog = NewLoop(self._table.studio, self._table.survey, self)
        if dialog.exec():
            before = set(self._table.studio.destinations)
            if self._table.do(dialog.change):
                for key in self._table.studio.destinations:
                    if key not in before:
                        self._table.select(Subject("destination", key))
        self.view.setFocus()
