"""The Clock sheet: the cascade, and below it the other possible leaders."""

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QPushButton

from ennead.desk.sheets.clock.alternatives import Alternatives
from ennead.desk.sheets.clock.cascade_view import CascadeView
from ennead.desk.sheets.clock.simulation import Simulation
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook

_SOON_MS = 30


class ClockSheet(SheetFrame):
    """Leaders and followers."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[4])
        self._table = table
        self.view = CascadeView(table, book)
        shelf = QPushButton("Take a box from the shelf")
        shelf.clicked.connect(lambda: table.wished.emit("shelf"))
        empty = EmptyNote(
            book,
            "Nothing here runs on a sample clock yet. Take your interface from the shelf on the Rig sheet; "
            "as soon as a second digital box is cabled, one of them has to lead.",
            shelf,
        )
        self._pages = self.add_pages(self.view, empty)
        self.strip = Alternatives(table, book)
        self.strip.simulate_wanted.connect(self.simulate)
        self.body.addWidget(self.strip)
        self.simulation = Simulation(table, book, self.view)
        self.simulation.ended.connect(self.simulate)
        self.body.addWidget(self.simulation)
        table.changed.connect(self._replay)
        self.setFocusProxy(self.view)
        # Ranking starts after a moment, and only while the sheet is visible.
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self.strip.refresh)
        for signal in (table.changed, table.selected, book.changed):
            signal.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        digital = bool(self._table.survey.clocks.by_unit)
        self._pages.setCurrentIndex(0 if digital else 1)
        self.strip.setVisible(digital and not self.is_simulating)
        if self.isVisible():
            self._soon.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.strip.refresh()

    def simulate(self) -> None:
        """Play the clock by stand-in units on the cascade itself; once more ends it."""
        if self.is_simulating:
            self.simulation.hide()
            self.simulation.end()
            self.strip.show()
        else:
            self.strip.hide()
            self.simulation.show()
            self.simulation.begin()
        self.view.setFocus()

    @property
    def is_simulating(self) -> bool:
        """Whether the cascade shows stand-in units instead of the plan."""
        return not self.simulation.isHidden()

    def _replay(self) -> None:
        """Play anew what an edit has changed."""
        if self.is_simulating:
            self.simulation.begin()
