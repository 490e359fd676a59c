"""Draws a rehearsal: two rulers, threads between them; what is lost ends half-way, struck, with why."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from ennead.drawings.layouts.rehearsal_layout import CELL, RehearsalLayout, Side, Thread, Tick
from ennead.drawings.painters.theme import Theme

_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_CENTRE = Qt.AlignmentFlag.AlignCenter


class RehearsalPainter:
    """Paints the part of a layout that is in view."""

    def __init__(self, painter: QPainter, theme: Theme, now: str, then: str) -> None:
        self._painter, self._theme, self._now, self._then = painter, theme, now, then

    def draw(self, layout: RehearsalLayout, seen: QRectF) -> None:
        """Draw what lies within `seen`."""
        for side in layout.sides:
            self._head(layout, side)
            for thread in side.threads:
                self._thread(layout, thread)
            for tick in side.ticks:
                if tick.y < seen.bottom() and tick.y + tick.height > seen.top():
                    self._tick(layout, tick)
        painter, theme = self._painter, self._theme
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("trouble"))
        for text, y in layout.said:
            area = QRectF(theme.px(8), y, layout.width - theme.px(16), theme.px(24))
            painter.drawText(area, _LEFT, theme.elided(f"▲ {text}", area.width(), 13))

    def _head(self, layout: RehearsalLayout, side: Side) -> None:
        painter, theme = self._painter, self._theme
        painter.setFont(theme.font(14, bold=True))
        painter.setPen(theme.colour("ink"))
        room = QRectF(theme.px(8), side.y, layout.width - theme.px(16), theme.px(24))
        painter.drawText(room, _LEFT, theme.elided(side.title, room.width(), 14, bold=True))
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("soft"))
        painter.drawText(
            QRectF(layout.left, side.y + theme.px(22), layout.right - layout.left, theme.px(24)), _LEFT, self._now
        )
        painter.drawText(
            QRectF(layout.right, side.y + theme.px(22), layout.width - layout.right, theme.px(24)), _LEFT, self._then
        )

    def _tick(self, layout: RehearsalLayout, tick: Tick) -> None:
        painter, theme = self._painter, self._theme
        if tick.free:
            painter.setFont(theme.font(11, mono=True))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(layout.left, tick.y, theme.px(CELL) * 2, tick.height), _LEFT, tick.text)
            return
        for x, there in ((layout.left, tick.here), (layout.right, tick.there)):
            if not there:
                continue
            area = QRectF(x, tick.y + 1, theme.px(CELL), tick.height - 2)
            painter.setBrush(theme.colour("ground"))
            painter.setPen(theme.pen("rule", 1))
            painter.drawRect(area)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setFont(theme.font(15, mono=True, bold=True))
            painter.setPen(theme.colour("ink"))
            painter.drawText(area, _CENTRE, tick.text)
        if tick.block:
            painter.setFont(theme.font(11))
            painter.setPen(theme.colour("soft"))
            x = layout.right + theme.px(CELL) + theme.px(6)
            painter.drawText(
                QRectF(x, tick.y, max(0.0, layout.width - x - theme.px(4)), tick.height),
                _LEFT,
                theme.elided(tick.block, max(0.0, layout.width - x), 11),
            )

    def _thread(self, layout: RehearsalLayout, thread: Thread) -> None:
        painter, theme, moving = self._painter, self._theme, thread.moving
        start, end = layout.left + theme.px(CELL), layout.right
        lost, moved = thread.to_y is None, moving.before != moving.after
        tone = "trouble" if lost else "accent" if moved else "rule"
        bold = moved and not lost
        painter.setFont(theme.font(14, bold=bold))
        painter.setPen(theme.colour("soft" if lost else "ink"))
        name_y = thread.from_y if thread.from_y is not None else thread.to_y or 0.0
        area = QRectF(theme.px(8), name_y - theme.px(12), layout.left - theme.px(18), theme.px(24))
        name = theme.elided(
            moving.name if thread.from_y is not None else f"+ {moving.name}", area.width(), 14, bold=bold
        )
        painter.drawText(area, _RIGHT, name)
        painter.setPen(theme.pen(tone, 2.2 if moved else 1.2))
        if lost and thread.from_y is not None:
            self._lost(layout, area.right() - theme.width(name, 14), thread.from_y, moving.why)
        elif thread.to_y is not None:
            path = QPainterPath(QPointF(start if thread.from_y is not None else area.right() + theme.px(8), name_y))
            bend = (end - start) * 0.4
            path.cubicTo(path.currentPosition().x() + bend, name_y, end - bend, thread.to_y, end, thread.to_y)
            painter.drawPath(path)
            if moved:
                painter.drawLine(QLineF(end - theme.px(7), thread.to_y - theme.px(4), end, thread.to_y))
                painter.drawLine(QLineF(end - theme.px(7), thread.to_y + theme.px(4), end, thread.to_y))

    def _lost(self, layout: RehearsalLayout, name_left: float, y: float, why: str) -> None:
        """Strike a name, end its thread in a cross, and say why."""
        painter, theme = self._painter, self._theme
        start, stop = layout.left + theme.px(CELL), layout.left + theme.px(CELL) + theme.px(26)
        painter.setPen(theme.pen("trouble", 1.2))
        painter.drawLine(QLineF(max(theme.px(8), name_left), y, layout.left - theme.px(10), y))
        painter.setPen(theme.pen("trouble", 2.2))
        painter.drawLine(QLineF(start, y, stop, y))
        arm = theme.px(5)
        painter.drawLine(QLineF(stop - arm, y - arm, stop + arm, y + arm))
        painter.drawLine(QLineF(stop - arm, y + arm, stop + arm, y - arm))
        painter.setFont(theme.font(12))
        painter.setPen(theme.colour("trouble"))
        room = QRectF(stop + theme.px(12), y - theme.px(12), max(0.0, layout.width - stop - theme.px(20)), theme.px(24))
        painter.drawText(room, _LEFT, theme.elided(why, room.width(), 12))
