"""A line to type in that leaves Ctrl+Z to the studio when it has nothing of its own to take back."""

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit


class Field(QLineEdit):
    """The line; undo and redo reach the window once nothing typed here can be undone."""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            idle = (event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()) or (
                event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            )
            if idle:
                event.ignore()
                return False
        return super().event(event)
