"""The gesture of cabling: from one socket, along with the mouse, to another."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Drag
from ennead.drawings.layouts.strip_layout import PortBox
from ennead.drawings.painters.theme import Theme
from ennead.planning.routing.partners import partners
from ennead.studio.house import PortEnd


class DragCable(Drag):
    """A cable that hangs at one socket and at the mouse.

    Parameters
    ----------
    box : PortBox
        The socket it begins at.
    end_at : callable
        Told a point of the drawing, returns the socket there, or None.
    join : callable
        Told two sockets, cables them.
    """

    def __init__(
        self,
        table: Worktable,
        box: PortBox,
        end_at: Callable[[QPointF], PortEnd | None],
        join: Callable[[PortEnd, PortEnd], None],
    ) -> None:
        super().__init__()
        self._table, self._box, self._end_at, self._join = table, box, end_at, join
        #: The sockets it may end in; none before it is a drag.
        self.may_end: set[PortEnd] = set()

    def picked_up(self) -> None:
        found = partners(self._table.survey, self._box.end)
        self.may_end = {p.end for p in found if p.end is not None}

    def dropped(self, at: QPointF) -> None:
        target = self._end_at(at)
        if target is not None and target != self._box.end:
            self._join(self._box.end, target)

    def draw(self, painter: QPainter, theme: Theme) -> None:
        """Draw it as far as it has come."""
        if self.at is not None:
            painter.setPen(theme.pen("accent", 2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(self._box.x + self._box.width / 2, self._box.y + theme.px(30)), self.at)
