"""The gesture of typing a number: a field over a line's number box, to type another driver number into."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit

from ennead.desk.widgets.drawing import Drawing
from ennead.studio.errors import EnneadError


class _Field(QLineEdit):
    """Keeps Return and Escape to itself: the chart beneath would take Return for the wish to type another number."""

    left = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape):
            event.accept()


class NumberEntry:
    """Opens on a chart; `place` is told the number and carries it out.

    Parameters
    ----------
    name : str
        What is typed, for screen readers.
    """

    def __init__(self, chart: Drawing, name: str, place: Callable[[int], object]) -> None:
        self._chart, self._name, self._place = chart, name, place
        self._field: _Field | None = None

    def start(self, at: QPoint, begun: str) -> None:
        """Open the field with its left edge at a point of the viewport, its middle at the point's height."""
        self.cancel()
        theme = self._chart.book.now
        field = _Field(begun, self._chart.viewport())
        field.setObjectName("number_entry")
        field.setAccessibleName(self._name)
        field.setFont(theme.font(17, bold=True, mono=True))
        field.setGeometry(at.x(), at.y() - theme.px(15), theme.px(70), theme.px(30))
        field.returnPressed.connect(self.end)
        field.left.connect(self.cancel)
        field.show()
        field.setFocus()
        self._field = field

    def end(self) -> None:
        """Close the field and carry out what was typed."""
        typed = self._field.text().strip() if self._field is not None else ""
        self.cancel()
        if not typed:
            return
        if not (typed.isascii() and typed.isdecimal()):
            self._chart.table.said.emit(f"“{typed}” is no driver number. Type a whole number such as 15.")
            return
        try:
            self._place(int(typed[:9]))
        except EnneadError as error:
            self._chart.table.said.emit(str(error))

    def cancel(self) -> None:
        """Close the field; nothing is done."""
        if self._field is not None:
            field, self._field = self._field, None
            field.hide()
            field.deleteLater()
            self._chart.setFocus()
