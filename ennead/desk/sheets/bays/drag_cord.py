"""Dragging a cord from one point of the bays to another."""

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Drag
from ennead.drawings.layouts.bay_layout import Arc, BaysLayout, Spot
from ennead.drawings.painters.bay_paint import arc_path
from ennead.drawings.painters.theme import Theme
from ennead.planning.routing.cord_words import cord_change
from ennead.reports.plug_effects import Effect, plug_effects
from ennead.studio.house import PortEnd
from ennead.studio.ids import CordId


class DragCord(Drag):
    """A cord that is being drawn from a point."""

    def __init__(self, table: Worktable, layout: BaysLayout, spot: Spot) -> None:
        super().__init__()
        self._table, self._layout, self._spot = table, layout, spot
        self._told: list[PortEnd] = []
        self._effects: tuple[Effect, ...] = ()

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
            there = self._layout.spot_at(self.at.x(), self.at.y())
            ends = [self._spot.end, *([there.end] if there is not None and there.end != self._spot.end else [])]
            if ends != self._told:
                self._told, self._effects = ends, plug_effects(self._table.survey, ends)
            self._say(painter, theme)

    def _say(self, painter: QPainter, theme: Theme) -> None:
        """Write beside the plug what it would do."""
        if not self._effects or self.at is None:
            return
        said = [(f"▲ {text}" if harms else text, "trouble" if harms else "ink") for text, harms in self._effects]
        wide = max(theme.width(text, 13) for text, _ in said) + theme.px(14)
        high = theme.px(19) * len(self._effects) + theme.px(6)
        area = QRectF(self.at.x() + theme.px(14), self.at.y() + theme.px(10), wide, high)
        area.moveRight(min(area.right(), max(self._layout.width, wide)))
        painter.fillRect(area, theme.colour("panel"))
        painter.setPen(theme.pen("rule", 1))
        painter.drawRect(area)
        painter.setFont(theme.font(13))
        for n, (text, colour) in enumerate(said):
            painter.setPen(theme.colour(colour))
            painter.drawText(area.adjusted(theme.px(7), theme.px(3) + n * theme.px(19), 0, 0), text)
