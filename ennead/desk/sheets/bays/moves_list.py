"""The moves from what stands to the scene as a list to tick, and what is done by hand after them."""

from collections.abc import Sequence
from typing import Final

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QLabel, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from ennead.desk.theme.tones import set_tone
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.cord_moves import MoveRow

#: Columns: a tick for each plug of a cord, what is done, and to what.
_TICKS, _VERB, _TEXT = (0, 1), 2, 3
#: Which step a tick stands for.
_STEP: Final = Qt.ItemDataRole.UserRole


class MovesList(QWidget):
    """The moves from what stands to the scene, a row a cord, to be ticked plug by plug."""

    ticked = pyqtSignal(int)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        self.head, self.rows = QLabel(), QTreeWidget()
        self.head.setWordWrap(True)
        self.head.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.rows.setObjectName("moves")
        self.rows.setAccessibleName("Moves, in order: a tick for each plug, what to do, and where")
        self.rows.setColumnCount(4)
        self.rows.setHeaderHidden(True)
        self.rows.setRootIsDecorated(False)
        self.rows.setUniformRowHeights(True)
        # So that the arrow keys reach the tick of either plug.
        self.rows.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectItems)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.rows.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        header = self.rows.header()
        assert header is not None  # noqa: S101 - a tree always has one
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setMinimumSectionSize(1)
        self.rows.itemChanged.connect(self._changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.head)
        column.addWidget(self.rows, 1)
        book.changed.connect(self._dress)
        self._dress()

    def show_moves(self, head: str, rows: Sequence[MoveRow], done: int, by_hand: Sequence[str] = ()) -> None:
        """Show what there is to do, of which so many steps are done, and what is done by hand after it."""
        self.head.setText(head)
        self.rows.blockSignals(True)
        self.rows.clear()
        bold = self._book.now.font(13, bold=True)
        for row in rows:
            item = QTreeWidgetItem(["", "", row.verb, row.text])
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
            item.setFont(_VERB, bold)
            for column, step in zip(_TICKS, row.steps, strict=False):
                item.setData(column, _STEP, step)
                item.setCheckState(column, Qt.CheckState.Checked if step < done else Qt.CheckState.Unchecked)
            self.rows.addTopLevelItem(item)
        for text in by_hand:
            item = QTreeWidgetItem(["", "", "by hand", text])
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            self.rows.addTopLevelItem(item)
        self.rows.blockSignals(False)
        self.rows.setVisible(bool(rows or by_hand))

    def _changed(self, item: QTreeWidgetItem, column: int) -> None:
        step = item.data(column, _STEP)
        if step is not None:
            self.ticked.emit(step + 1 if item.checkState(column) == Qt.CheckState.Checked else step)

    def _dress(self) -> None:
        theme = self._book.now
        self.head.setFont(theme.font(14, bold=True))
        set_tone(self.head, "ink")
        self.rows.setFont(theme.font(13))
