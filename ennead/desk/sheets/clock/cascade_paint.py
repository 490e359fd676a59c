"""Draws the cascade from its layout: clock lines dotted, a lamp with a word, what the menu is set to."""

from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from ennead.desk.sheets.clock.cascade_layout import CascadeBox, CascadeLayout
from ennead.desk.theme.theme import Theme

_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class CascadePainter:
    """Paints the part of a layout that is in view."""

    def __init__(self, painter: QPainter, theme: Theme, chosen: str, worst: Mapping[str, str]) -> None:
        self._painter, self._theme, self._chosen, self._worst = painter, theme, chosen, worst

    def draw(self, layout: CascadeLayout, seen: QRectF) -> None:
        """Draw what lies within `seen`."""
        painter, theme = self._painter, self._theme
        for words, y in layout.heads:
            painter.setFont(theme.font(13))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(theme.px(8), y, layout.width, theme.px(20)), _LEFT, words)
        for box in layout.boxes:
            if box.from_y < box.y:
                self._line(box)
        for box in layout.boxes:
            if seen.intersects(QRectF(box.x, box.y, box.width, box.height)):
                self._box(box)

    def _line(self, box: CascadeBox) -> None:
        painter, theme = self._painter, self._theme
        painter.setPen(theme.pen("clock" if box.row.locked else "trouble", 1.8, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        middle = box.y + theme.px(22)
        path = QPainterPath(QPointF(box.from_x, box.from_y))
        path.lineTo(box.from_x, middle)
        path.lineTo(box.x, middle)
        painter.drawPath(path)

    def _box(self, box: CascadeBox) -> None:
        painter, theme, row = self._painter, self._theme, box.row
        area = QRectF(box.x, box.y, box.width, box.height)
        if self._chosen == row.unit:
            painter.fillRect(area, theme.colour("selection"))
        self._lamp(box)
        x = box.x + theme.px(34)
        severity = self._worst.get(row.unit, "")
        name = f"▲ {row.name}" if severity else row.name
        painter.setFont(theme.font(16, bold=True))
        painter.setPen(theme.colour(severity or "ink"))
        room = max(40.0, box.x + box.width - x)
        first = QRectF(x, box.y + theme.px(1), room, theme.px(22))
        # The word that decides keeps its room, the name is cut if one must be.
        word_room = theme.width(row.word, 14) + theme.px(16)
        shown = theme.elided(name, room - word_room, 16, bold=True)
        painter.drawText(first, _LEFT, shown)
        at = x + theme.width(shown, 16, bold=True) + theme.px(12)
        painter.setFont(theme.font(14))
        painter.setPen(theme.colour("ink" if row.locked else "trouble"))
        painter.drawText(QRectF(at, first.y(), max(0.0, box.x + box.width - at), first.height()), _LEFT, row.word)
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("soft"))
        parts = [f"menu: {row.menu}", row.reason or row.medium]
        text = " · ".join(p for p in parts if p)
        second = QRectF(x, box.y + theme.px(22), room, theme.px(20))
        painter.drawText(second, _LEFT, theme.elided(text, room, 13))

    def _lamp(self, box: CascadeBox) -> None:
        """Draw a full lamp for locked, a ring for the leader, a crossed one for no lock: never told by colour alone."""
        painter, theme, row = self._painter, self._theme, box.row
        centre = QPointF(box.x + theme.px(16), box.y + theme.px(22))
        radius = theme.px(8)
        painter.setBrush(theme.colour("ground"))
        painter.setPen(theme.pen("clock" if row.locked else "trouble", 2))
        painter.drawEllipse(centre, radius, radius)
        if row.word == "leads":
            painter.drawEllipse(centre, radius * 0.4, radius * 0.4)
        elif row.locked:
            painter.setBrush(theme.colour("clock"))
            painter.drawEllipse(centre, radius * 0.62, radius * 0.62)
        else:
            reach = radius * 0.6
            painter.drawLine(centre + QPointF(-reach, -reach), centre + QPointF(reach, reach))
            painter.drawLine(centre + QPointF(-reach, reach), centre + QPointF(reach, -reach))
        painter.setBrush(Qt.BrushStyle.NoBrush)
