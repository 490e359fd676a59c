"""Dragging a cord from one point of the bays to another."""

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Drag
from ennead.drawings.layouts.bay_layout import Arc, BaysLayout, Spot
from ennead.drawings.painters.bay_paint import arc_path
from ennead.drawings.painters.theme import Theme
from ennead.planning.routing.cord_words import cord_change
from ennead.studio.ids import CordId


class DragCord(Drag):
    """A cord that is being drawn from a point."""

    def __init__(self, table: Worktable, layout: BaysLayout, spot: Spot) -> None:
        super().__init__()
        self._table, self._layout, self._spot = table, layout, spot

    def dropped(self, at: QPointF) -> None:
        """Lay the cord into the point it was let go over."""
        there = self._layout.spot_at(at.x(), at.y())
        if there is not None and there.end != self._spot.end:
            self._table.do(cord_change(self._table.studio, self._spot.end, there.end))

    def draw(self, painter: QPainter, theme: Theme) -> None:
        """Draw the cord as far as it has come."""
        if self.at is not None:
            painter.setPen(theme.pen("accent", 2.2))
            arc = Arc(CordId(""), 0, self._spot.x, self._spot.y, self.at.x(), self.at.y(), False)
            painter.drawPath(arc_path(arc, theme.px(1)))
