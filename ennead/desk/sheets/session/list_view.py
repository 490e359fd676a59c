"""A list to type in: Enter for the next line, Tab across, paste from a spreadsheet."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, Qt, QTimer
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QApplication,
    QCompleter,
    QHeaderView,
    QLineEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from ennead.desk.sheets.session.lines_model import LinesModel
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.field import Field
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.subjects import NOTHING, Subject


class _Typing(QStyledItemDelegate):
    """A plain line to type in; where only some words are known, they are offered."""

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget:
        line = Field(parent)
        line.setFrame(False)
        model = index.model()
        words = model.choices_of(index.column()) if isinstance(model, LinesModel) else {}
        if words:
            completer = QCompleter(list(words), line)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            line.setCompleter(completer)
        return line

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        if isinstance(editor, QLineEdit):
            editor.setText(str(index.data(Qt.ItemDataRole.EditRole) or ""))
            editor.selectAll()


class ListView(QTableView):
    """A list of the session, of sources or of destinations."""

    def __init__(
        self, table: Worktable, book: ThemeBook, model: LinesModel, paste: Callable[[str], None] | None = None
    ) -> None:
        super().__init__()
        self._table, self._book, self._paste = table, book, paste
        self._quiet = False
        self.list_model = model
        self.setModel(self.list_model)
        self.setItemDelegate(_Typing(self))
        self.setObjectName("input_list" if model.kind == "source" else "output_list")
        self.setAccessibleName("Input list" if model.kind == "source" else "List of what goes out")
        self.setShowGrid(False)
        self.setTabKeyNavigation(True)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        self.verticalHeader().hide()
        self.horizontalHeader().setHighlightSections(False)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.list_model.modelReset.connect(lambda: QTimer.singleShot(0, self._follow))
        for signal in (self.list_model.modelReset, self.list_model.rowsInserted):
            signal.connect(self._widen_first)
        self.selectionModel().currentRowChanged.connect(self._row_chosen)
        table.selected.connect(self._follow)
        book.changed.connect(self._dress)
        self._dress()
        self._widen_first()

    def _widen_first(self) -> None:
        """Let what an empty list says first run across all columns."""
        self.clearSpans()
        if self.list_model.rowCount() == 1:
            self.setSpan(0, 1, 1, self.list_model.columnCount() - 1)

    def _dress(self) -> None:
        theme = self._book.now
        self.verticalHeader().setDefaultSectionSize(theme.px(30))
        self.horizontalHeader().setFixedHeight(theme.px(28))
        for column, (_, _, sample) in enumerate(self.list_model.columns):
            if column != 1:
                self.setColumnWidth(column, round(theme.width(sample, 14)) + theme.px(14))
        self._fit()

    def _fit(self) -> None:
        """Give the names what the other columns leave, and never less than a name needs."""
        others = sum(self.columnWidth(c) for c in range(self.list_model.columnCount()) if c != 1)
        self.setColumnWidth(1, max(self._book.now.px(150), self.viewport().width() - others))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    # -- selection -----------------------------------------------------------------------------
    def _row_chosen(self, current: QModelIndex) -> None:
        if self._quiet:
            return
        item = self.list_model.item_at(current.row())
        self._table.select(Subject(self.list_model.kind, item.id) if item else NOTHING)

    def _follow(self) -> None:
        """Put the cursor on the selected line, if it is not on it."""
        selection = self._table.selection
        if selection.kind != self.list_model.kind or self.state() == QAbstractItemView.State.EditingState:
            return
        row = self.list_model.row_of(selection.key)
        if row >= 0 and row != self.currentIndex().row():
            self._put_cursor(row, max(1, self.currentIndex().column()))

    def _put_cursor(self, row: int, column: int) -> None:
        index = self.list_model.index(row, column)
        self.selectionModel().setCurrentIndex(
            index, QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        )
        self.scrollTo(index)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        # The cursor gets a place, so that keys work; nothing is selected before a person moves it.
        self._quiet = not self.currentIndex().isValid()
        super().focusInEvent(event)
        if self._quiet:
            self.selectionModel().setCurrentIndex(
                self.list_model.index(0, 1), QItemSelectionModel.SelectionFlag.NoUpdate
            )
        self._quiet = False

    # -- typing --------------------------------------------------------------------------------
    def closeEditor(self, editor: QWidget | None, hint: QAbstractItemDelegate.EndEditHint) -> None:
        row = self.currentIndex().row()
        super().closeEditor(editor, hint)
        if hint == QAbstractItemDelegate.EndEditHint.SubmitModelCache:
            QTimer.singleShot(0, lambda: self.next_line(row))

    def next_line(self, row: int) -> None:
        """Go to the name of the line below; on the blank line, begin to type."""
        below = min(row + 1, self.list_model.rowCount() - 1)
        self._put_cursor(below, 1)
        if self.list_model.item_at(below) is None:
            self.edit(self.list_model.index(below, 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.state() == QAbstractItemView.State.EditingState:
            # A line lets Return through to its view; the delegate sees to it already.
            event.accept()
        elif self._paste is not None and event.matches(QKeySequence.StandardKey.Paste):
            clipboard = QApplication.clipboard()
            self._paste(clipboard.text() if clipboard else "")
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            index = self.currentIndex()
            if self.list_model.item_at(index.row()) is None:
                self.edit(self.list_model.index(index.row(), 1))
            else:
                self.next_line(index.row())
        elif event.key() == Qt.Key.Key_Delete:
            self._remove()
        elif event.modifiers() == Qt.KeyboardModifier.AltModifier and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._move(-1 if event.key() == Qt.Key.Key_Up else 1)
        else:
            super().keyPressEvent(event)

    def _chosen(self) -> list[Any]:
        rows = sorted({i.row() for i in self.selectionModel().selectedRows()}) or [self.currentIndex().row()]
        return [item.id for item in (self.list_model.item_at(r) for r in rows) if item is not None]

    def _remove(self) -> None:
        keys = self._chosen()
        if not keys:
            return
        row = self.currentIndex().row()
        self._table.do(self.list_model.removing(keys))
        self._put_cursor(min(row, self.list_model.rowCount() - 1), 1)

    def _move(self, by: int) -> None:
        item = self.list_model.item_at(self.currentIndex().row())
        if item is not None:
            to = self.currentIndex().row() + by
            column = self.currentIndex().column()
            if self._table.do(self.list_model.moving(item, to)):
                self._put_cursor(self.list_model.row_of(item.id), column)
