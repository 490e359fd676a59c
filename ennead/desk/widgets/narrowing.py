"""A line that narrows a list: type to filter, Up and Down to choose, Enter to take."""

from collections.abc import Iterable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLabel, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ennead.desk.widgets.field import Field
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.painters.theme import Theme


class NarrowingLine(Field):
    """The line; Up and Down move through its list while it keeps the keyboard."""

    def __init__(self, listed: QListWidget, hint: str, name: str) -> None:
        super().__init__()
        self._listed = listed
        self.setPlaceholderText(hint)
        self.setAccessibleName(name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key())) if event else None
        if step:
            row = self._listed.currentRow() + step
            self._listed.setCurrentRow(max(0, min(self._listed.count() - 1, row)))
        else:
            super().keyPressEvent(event)


def fill(listed: QListWidget, rows: Iterable[tuple[str, Any]]) -> None:
    """Show rows of text, each with what it stands for; the first is chosen."""
    listed.clear()
    for text, meaning in rows:
        item = QListWidgetItem(text)
        item.setToolTip(plain_tip(text))
        item.setData(Qt.ItemDataRole.UserRole, meaning)
        listed.addItem(item)
    listed.setCurrentRow(0)


def chosen(listed: QListWidget) -> Any:
    """Return what the chosen row stands for, or None."""
    item = listed.currentItem()
    return item.data(Qt.ItemDataRole.UserRole) if item is not None else None


class NarrowingDialog(QDialog):
    """A line and its list in a box; subclasses say what is shown for what is typed, and what taking a row does."""

    def __init__(self, theme: Theme, title: str, hint: str, name: str, parent: QWidget | None, head: str = "") -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(theme.px(540), theme.px(420))
        column = QVBoxLayout(self)
        if head:
            label = QLabel(head)
            label.setTextFormat(Qt.TextFormat.PlainText)
            label.setWordWrap(True)
            column.addWidget(label)
        self.found = QListWidget()
        self.typed = NarrowingLine(self.found, hint, name)
        self.found.setUniformItemSizes(True)
        self.found.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.typed)
        column.addWidget(self.found)
        self.typed.textChanged.connect(self._show)
        self.typed.returnPressed.connect(self._take_chosen)
        self.found.itemClicked.connect(self._take_chosen)
        self._show("")

    def _show(self, typed: str) -> None:
        fill(self.found, self.rows(typed))

    def _take_chosen(self) -> None:
        meaning = chosen(self.found)
        if meaning is not None:
            self.accept()
            self.take(meaning)

    def rows(self, typed: str) -> Iterable[tuple[str, Any]]:
        """Return the rows for what is typed: a text, and what it stands for."""
        return ()

    def take(self, meaning: Any) -> None:
        """Carry out what the chosen row stands for; the dialog is closed already."""
