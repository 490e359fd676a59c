"""What both run charts share: a line is dragged onto another to ask why it is not there, and another number typed over its own."""

from collections.abc import Callable
from typing import Final, Literal

from PyQt6.QtCore import QEvent, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent, QHelpEvent, QKeyEvent, QMouseEvent, QShowEvent
from PyQt6.QtWidgets import QToolTip

from ennead.desk.sheets.lines.drag_line import DragLine
from ennead.desk.sheets.lines.number_entry import NumberEntry
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.studio.house import PortEnd
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey

_STEPS: Final = {
    Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_PageDown: 12, Qt.Key.Key_PageUp: -12,
    Qt.Key.Key_Home: -100_000, Qt.Key.Key_End: 100_000,
}  # fmt: skip


class LineChart(Drawing):
    """Base of the charts. Subclasses give `socket_at` and `number_box`, and call `pressed_on` when the mouse goes down on a line.

    Parameters
    ----------
    place : callable
        Told the survey, a line's key and a number, returns the change that brings the line there.

    Signals `asked` with what was dragged and the socket of the line it was dropped on.
    """

    asked = pyqtSignal(str, object)
    toggled = pyqtSignal(str)
    #: What the dragged lines are called on the clipboard of the drag.
    mime = ""
    #: What kind of thing a line is of, and what its number is called.
    kind: Literal["source", "destination"] = "source"
    number_name = ""

    def __init__(self, table: Worktable, book: ThemeBook, place: Callable[[Survey, str, int], Change]) -> None:
        super().__init__(table, book)
        self._place = place
        table.selected.connect(self._follow)
        self.entry = NumberEntry(self, self.number_name, self._take_number)
        self.verticalScrollBar().valueChanged.connect(lambda _: self.entry.cancel())
        self.setAcceptDrops(True)
        self.viewport().setAcceptDrops(True)

    def socket_at(self, at: QPointF) -> PortEnd | None:
        """Return the socket of the line at a point of the viewport; none where there is no line."""
        return None

    def number_box(self, key: str) -> QPointF | None:
        """Return the left edge and the middle height of a line's number box, in drawing coordinates; none where it is not shown."""
        return None

    def tip_at(self, y: float) -> list[str]:
        """Return what is said of the line at a height of the drawing; nothing where there is none."""
        return []

    def keys(self) -> list[str]:
        """Return the keys of the lines that are shown, from the top."""
        return []

    def follow(self) -> None:
        """Bring the selected line into view."""

    def walk(self, by: int) -> None:
        """Select the line so many further on."""
        self.settle()
        keys, here = self.keys(), self.table.selection.key
        if keys:
            # With nothing selected one comes from outside: Down begins at the first line, Up and End at the last.
            start = keys.index(here) if here in keys else -1 if by > 0 else len(keys)
            self.table.select(Subject(self.kind, keys[max(0, min(len(keys) - 1, start + by))]))

    def _follow(self) -> None:
        # A hidden chart follows when it is next shown.
        if self.table.selection.kind == self.kind and self.isVisible():
            self.settle()
            self.follow()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._follow()

    def turned(self, *, left: bool) -> None:
        """Fold or unfold what is selected."""

    def unplug(self, key: str) -> None:
        """Take a line off its sockets."""

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            parts = self.tip_at(event.pos().y() + self.verticalScrollBar().value())
            if parts:
                QToolTip.showText(event.globalPos(), plain_tip("\n".join(p for p in parts if p)), self)
            return True
        return super().viewportEvent(event)

    # -- keyboard ------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, selection = Qt.Key(event.key()), self.table.selection
        plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier)
        if key in _STEPS:
            self.walk(_STEPS[key])
        elif selection.kind != self.kind:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.turned(left=key == Qt.Key.Key_Left)
        elif plain and event.text().isdecimal():
            self.type_number(event.text())
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and plain:
            self.type_number("")
        elif key == Qt.Key.Key_Space:
            self.toggled.emit(selection.key)
        elif self.is_delete(event):
            self.unplug(selection.key)
        else:
            super().keyPressEvent(event)

    def type_number(self, begun: str) -> None:
        """Open a field over the number box of the selected line."""
        self.entry.cancel()
        self.settle()
        box = self.number_box(self.table.selection.key)
        if box is not None:
            self.entry.start((box - QPointF(0, self.verticalScrollBar().value())).toPoint(), begun)

    def _take_number(self, number: int) -> None:
        if self.table.selection.kind == self.kind:
            self.table.do(self._place(self.table.survey, self.table.selection.key, number))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.table.selection.kind == self.kind:
            self.type_number("")

    def pressed_on(self, at: QPointF, key: str) -> None:
        """Begin to drag the line on which the mouse went down."""
        self.begin(DragLine(self, self.mime, key), at)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.entry.cancel()
        self.drop_gesture()
        super().mousePressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and event.mimeData() is not None and event.mimeData().hasFormat(self.mime):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is not None:
            event.setAccepted(self.socket_at(event.position()) is not None)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Ask why a line is not where another one is."""
        end = self.socket_at(event.position()) if event is not None else None
        if event is None or end is None or event.mimeData() is None:
            return
        event.acceptProposedAction()
        key = event.mimeData().data(self.mime).data().decode()
        # The drag must have ended before a question stands over it.
        QTimer.singleShot(0, lambda: self.asked.emit(key, end))
