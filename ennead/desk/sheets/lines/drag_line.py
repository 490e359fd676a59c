"""The gesture of dragging a line: onto another to ask why it is not there, or onto a socket to bring it there."""

from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QDrag

from ennead.desk.widgets.drawing import Drawing
from ennead.desk.widgets.gesture import Drag


class DragLine(Drag):
    """From its first step on it is the desktop's own drag, which other drawings take as well.

    Parameters
    ----------
    mime : str
        What the line is called on the clipboard of the drag.
    key : str
        The line's.
    """

    def __init__(self, chart: Drawing, mime: str, key: str) -> None:
        super().__init__()
        self._chart, self._mime, self._key = chart, mime, key

    def picked_up(self) -> None:
        self._chart.drop_gesture()
        data = QMimeData()
        data.setData(self._mime, self._key.encode())
        drag = QDrag(self._chart)
        drag.setMimeData(data)
        drag.exec(Qt.DropAction.MoveAction)
