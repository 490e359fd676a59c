"""Dragging a row of sockets onto the rears of a row of points."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Gesture
from ennead.drawings.layouts.bay_layout import BaysLayout
from ennead.drawings.painters.theme import Theme
from ennead.planning.routing.blocks import SocketBlock, block_change, block_text, points_from


class DragBlock(Gesture):
    """A row of sockets that is being carried over the bays."""

    def __init__(self, table: Worktable, layout: BaysLayout, block: SocketBlock) -> None:
        self._table, self._layout, self._block = table, layout, block
        self.at: QPointF | None = None

    def start(self, at: QPointF) -> None:
        self.at = at

    def move(self, at: QPointF) -> None:
        self.at = at

    def cancel(self) -> None:
        self.at = None

    def end(self, at: QPointF) -> None:
        """Wire it to the points from the one it was let go over."""
        self.at = None
        spot = self._layout.spot_at(at.x(), at.y())
        if spot is not None:
            self._table.do(block_change(self._table.studio, self._block, spot.end))

    def draw(self, painter: QPainter, theme: Theme) -> None:
        """Ring the points it would lie on, those that are taken with a cross, and say what would be wired."""
        if self.at is None:
            return
        studio = self._table.studio
        spot = self._layout.spot_at(self.at.x(), self.at.y())
        points = points_from(studio, self._block, spot.end) if spot is not None else []
        painter.setBrush(Qt.BrushStyle.NoBrush)
        taken = 0
        for point in points:
            there = self._layout.spot_of[point]
            painter.setPen(theme.pen("trouble" if there.wired else "accent", 2))
            r = there.radius + theme.px(2)
            painter.drawEllipse(QPointF(there.x, there.y), r, r)
            if there.wired:
                taken += 1
                painter.drawLine(QPointF(there.x - r, there.y - r), QPointF(there.x + r, there.y + r))
        text = block_text(studio, self._block, points) if points else self._block.text
        if taken:
            text = f"▲ {taken} of these points {'is' if taken == 1 else 'are'} wired already"
        wide = theme.width(text, 13) + theme.px(14)
        area = QRectF(self.at.x() + theme.px(14), self.at.y() + theme.px(10), wide, theme.px(25))
        area.moveRight(min(area.right(), max(self._layout.width, wide)))
        painter.fillRect(area, theme.colour("panel"))
        painter.setPen(theme.pen("rule", 1))
        painter.drawRect(area)
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("trouble" if taken else "ink"))
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter, text)
