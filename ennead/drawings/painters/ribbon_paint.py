"""Draws the ribbons and rulers from their layout."""

from collections.abc import Mapping

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.drawings.layouts.ribbon_layout import HEAD, LaneCell, LinksLayout, Ribbon
from ennead.drawings.painters.ruler_paint import paint_ruler
from ennead.drawings.painters.theme import Theme
from ennead.studio.ids import CableId

_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_TOP = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop
_LOW = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom


class RibbonPainter:
    """Paints the part of a layout that is in view."""

    def __init__(self, painter: QPainter, theme: Theme, chosen: CableId | None, worst: Mapping[str, str]) -> None:
        self._painter, self._theme, self._chosen, self._worst = painter, theme, chosen, worst

    def draw(self, layout: LinksLayout, seen: QRectF) -> None:
        """Draw what lies within `seen`."""
        for ribbon in layout.ribbons:
            if seen.intersects(QRectF(ribbon.x, ribbon.y, ribbon.width, ribbon.height)):
                self._ribbon(ribbon)
        painter, theme = self._painter, self._theme
        for title, top, ruler in layout.rulers:
            if title:
                painter.setFont(theme.font(15, bold=True))
                painter.setPen(theme.colour("ink"))
                painter.drawText(QRectF(theme.px(4), top, layout.width, theme.px(22)), _LEFT, title)
            elif seen.intersects(QRectF(0, top, layout.width, ruler.height + 1)):
                paint_ruler(painter, ruler, theme)

    def _ribbon(self, ribbon: Ribbon) -> None:
        painter, theme, link = self._painter, self._theme, ribbon.link
        severity = self._worst.get(link.cable, "")
        if self._chosen == link.cable:
            area = QRectF(ribbon.x, ribbon.y, ribbon.width, ribbon.height).adjusted(-4, -4, 4, 4)
            painter.fillRect(area, theme.colour("selection"))
        line = QRectF(ribbon.x, ribbon.y, ribbon.width, theme.px(20))
        painter.setFont(theme.font(15, bold=True))
        painter.setPen(theme.colour(severity or "ink"))
        mark = "▲ " if severity else ""
        painter.drawText(line, _LEFT, theme.elided(mark + ribbon.ends, ribbon.width, 15, bold=True))
        painter.setFont(theme.font(12))
        painter.setPen(theme.colour("soft"))
        two = ribbon.cells[0].y - ribbon.y > theme.px(HEAD) + 1
        facts = line.translated(0, theme.px(18)) if two else line
        painter.drawText(facts, _LEFT if two else _RIGHT, theme.elided(ribbon.facts, ribbon.width, 12))
        for cell in ribbon.cells:
            self._cell(cell, agrees=link.agrees)
        last = ribbon.cells[-1]
        self._edges(ribbon)
        if ribbon.wrong:
            painter.setFont(theme.font(13))
            painter.setPen(theme.colour("trouble"))
            below = QRectF(ribbon.x, last.y + last.height + theme.px(2), ribbon.width, theme.px(20))
            painter.drawText(below, _LEFT, theme.elided(ribbon.wrong, ribbon.width, 13))

    def _edges(self, ribbon: Ribbon) -> None:
        """Draw the two lines of a digital link along each row of lanes that crosses."""
        painter, theme = self._painter, self._theme
        rows: dict[float, list[LaneCell]] = {}
        for cell in ribbon.cells:
            if cell.lane.state != "lost":
                rows.setdefault(cell.y, []).append(cell)
        for y, cells in rows.items():
            left, right = cells[0].x, cells[-1].x + cells[-1].width
            painter.setPen(theme.pen("accent", 1.6))
            painter.drawLine(QLineF(left, y, right, y))
            painter.drawLine(QLineF(left, y + cells[0].height, right, y + cells[0].height))

    def _cell(self, cell: LaneCell, *, agrees: bool) -> None:
        painter, theme, lane = self._painter, self._theme, cell.lane
        area = QRectF(cell.x, cell.y, cell.width, cell.height)
        lost = lane.state == "lost"
        if lane.state == "used" and agrees:
            painter.fillRect(area.adjusted(1, 1, -1, -1), theme.colour("panel"))
        painter.setPen(theme.pen("hairline", 1))
        painter.drawLine(QLineF(area.right(), area.top() + 3, area.right(), area.bottom() - 3))
        painter.setFont(theme.font(11, mono=True))
        painter.setPen(theme.colour("soft"))
        painter.drawText(area.adjusted(0, 1, 0, 0), _TOP, lane.sent or "–")
        painter.setFont(theme.font(15, mono=True, bold=lane.state == "used"))
        painter.setPen(theme.colour("ink" if lane.state == "used" else "soft"))
        painter.drawText(area.adjusted(0, 0, 0, -1), _LOW, lane.arrives if not lost else str(lane.number))
        if lost:
            painter.setPen(theme.pen("trouble", 1.4))
            painter.drawLine(QLineF(area.left() + 4, area.bottom() - 4, area.right() - 4, area.top() + 4))
