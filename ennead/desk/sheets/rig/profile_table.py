"""One table of the profile editor: rows of text, what may stand in each cell, and a mark where something is wrong."""

from collections.abc import Callable

from PyQt6.QtCore import QModelIndex, QSignalBlocker, Qt
from PyQt6.QtGui import QColor, QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.painters.theme import Theme
from ennead.files.profile_rows import Column, Row

_SPARE = 1


class _Choices(QStyledItemDelegate):
    """Offers the words that may stand in a cell; another can be typed and is then explained."""

    def __init__(self, columns: tuple[Column, ...], parent: QWidget) -> None:
        super().__init__(parent)
        self._columns = columns

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        column = self._columns[index.column()]
        if column.kind != "one":
            return super().createEditor(parent, option, index)
        box = QComboBox(parent)
        box.addItems(list(column.choices))
        box.setCurrentText(str(index.data() or ""))
        box.activated.connect(lambda: self._take(box))
        return box

    def _take(self, box: QWidget) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box)

    def setModelData(self, editor: QWidget | None, model: object, index: QModelIndex) -> None:
        if isinstance(editor, QComboBox):
            model.setData(index, editor.currentText())  # type: ignore[attr-defined]
        else:
            super().setModelData(editor, model, index)  # type: ignore[arg-type]


class ProfileTable(QTableWidget):
    """Rows of a table of the profile, with an empty one at the end to type the next.

    Parameters
    ----------
    changed : callable
        Told after every change by hand.
    """

    def __init__(self, columns: tuple[Column, ...], theme: Theme, changed: Callable[[], None]) -> None:
        super().__init__(0, len(columns))
        self._columns, self._theme, self._told = columns, theme, changed
        self.setHorizontalHeaderLabels([c.heading for c in columns])
        for number, column in enumerate(columns):
            hint = column.hint or ", ".join(c for c in column.choices if c)
            if hint and (head := self.horizontalHeaderItem(number)):
                head.setToolTip(hint)
        self.setItemDelegate(_Choices(columns, self))
        self.setTabKeyNavigation(True)
        self.setWordWrap(False)
        self.cellChanged.connect(lambda row, _: self._changed(row))

    def fill(self, rows: list[Row]) -> None:
        """Show rows, and an empty one behind them."""
        with QSignalBlocker(self):
            self.setRowCount(len(rows) + _SPARE)
            for y in range(self.rowCount()):
                for x, column in enumerate(self._columns):
                    text = rows[y].get(column.field, "") if y < len(rows) else ""
                    self.setItem(y, x, QTableWidgetItem(text))
            self.resizeColumnsToContents()
            for x in range(self.columnCount()):
                wide = min(self._theme.px(240), max(self._theme.px(70), self.columnWidth(x) + self._theme.px(8)))
                self.setColumnWidth(x, wide)
        self.mark({})

    def rows(self) -> list[Row]:
        """Return the rows as they stand; empty ones in between count, so that numbers stay."""
        return [
            {c.field: (self.item(y, x).text() if self.item(y, x) else "") for x, c in enumerate(self._columns)}
            for y in range(self.rowCount() - _SPARE)
        ]

    def mark(self, wrong: dict[int, str]) -> None:
        """Mark the rows in which something is wrong, each with what it is."""
        with QSignalBlocker(self):
            for y in range(self.rowCount()):
                text = "+" if y == self.rowCount() - _SPARE else str(y + 1)
                head = QTableWidgetItem(f"▲ {text}" if y in wrong else text)
                head.setToolTip(plain_tip(wrong.get(y, "")))
                if y in wrong:
                    head.setForeground(QColor(self._theme.palette.trouble))
                self.setVerticalHeaderItem(y, head)
                for x in range(self.columnCount()):
                    if cell := self.item(y, x):
                        cell.setToolTip(plain_tip(wrong.get(y, cell.text())))

    def _changed(self, row: int) -> None:
        if row == self.rowCount() - _SPARE:
            with QSignalBlocker(self):
                self.setRowCount(self.rowCount() + 1)
                for x in range(self.columnCount()):
                    self.setItem(self.rowCount() - 1, x, QTableWidgetItem(""))
        self._told()

    def drop_row(self) -> None:
        """Take the present row away."""
        row = self.currentRow()
        if 0 <= row < self.rowCount() - _SPARE:
            self.removeRow(row)
            self._told()

    def move_row(self, step: int) -> None:
        """Move the present row up or down: the order of rows is the order of sockets and numbers."""
        here, there = self.currentRow(), self.currentRow() + step
        last = self.rowCount() - _SPARE
        if not (0 <= here < last and 0 <= there < last):
            return
        with QSignalBlocker(self):
            for x in range(self.columnCount()):
                one, other = self.takeItem(here, x), self.takeItem(there, x)
                self.setItem(here, x, other)
                self.setItem(there, x, one)
        self.setCurrentCell(there, max(0, self.currentColumn()))
        self._told()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.modifiers() == Qt.KeyboardModifier.AltModifier:
            step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
            if step:
                self.move_row(step)
                return
        if event is not None and event.key() == Qt.Key.Key_Delete and self.currentItem() is not None:
            if event.modifiers() == Qt.KeyboardModifier.ControlModifier:
                self.drop_row()
            else:
                for cell in self.selectedItems():
                    cell.setText("")
            return
        super().keyPressEvent(event)
