"""Undo and redo for the Edit menu, each named after the step it takes."""

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence, QUndoStack


class UndoActions(QObject):
    """The two actions. A stack can make such actions itself, but they then belong to two owners."""

    def __init__(self, stack: QUndoStack, parent: QObject) -> None:
        super().__init__(parent)
        self._stack = stack
        self.undo, self.redo = QAction(parent), QAction(parent)
        self.undo.setObjectName("undo")
        self.redo.setObjectName("redo")
        self.undo.setShortcut(QKeySequence("Ctrl+Z"))
        self.redo.setShortcuts([QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")])
        self.undo.triggered.connect(stack.undo)
        self.redo.triggered.connect(stack.redo)
        stack.indexChanged.connect(self._renew)
        self._renew()

    def _renew(self) -> None:
        stack = self._stack
        for action, word, name, able in (
            (self.undo, "&Undo", stack.undoText(), stack.canUndo()),
            (self.redo, "&Redo", stack.redoText(), stack.canRedo()),
        ):
            action.setText(f"{word} {name.replace('&', '&&')}".rstrip())
            action.setEnabled(able)
