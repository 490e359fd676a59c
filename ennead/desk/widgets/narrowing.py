"""A line that narrows a list: type to filter, Up and Down to choose, Enter to take."""

from collections.abc import Iterable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from ennead.desk.widgets.field import Field


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
        item.setToolTip(text)
        item.setData(Qt.ItemDataRole.UserRole, meaning)
        listed.addItem(item)
    listed.setCurrentRow(0)


def chosen(listed: QListWidget) -> Any:
    """Return what the chosen row stands for, or None."""
    item = listed.currentItem()
    return item.data(Qt.ItemDataRole.UserRole) if item is not None else None
