"""Draws the bays from their layout: points, strips and normals once, cords and what is lit over them."""

from collections.abc import Container, Iterable, Mapping
from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainterPath, QPolygonF

from ennead.drawings.layouts.bay_layout import CLOSE, HEAD, LINE, Arc, BayPicture, BaysLayout, Bridge, Spot
from ennead.drawings.painters.lettering import Lettering
from ennead.studio.house import PortEnd

_MIDDLE: Final = Qt.AlignmentFlag.AlignCenter
_RIGHT: Final = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


class BayPainter(Lettering):
    """Paints bays with one painter and one theme."""

    def bay(self, bay: BayPicture, plugged: Container[PortEnd]) -> None:
        """Draw what of a bay does not change with what is selected."""
        t, p = self._t, self._p
        name = QRectF(bay.x, bay.y, bay.width, t.px(HEAD))
        self._text(name, bay.name, 17, "ink", bold=True)
        self._text(name.adjusted(t.width(bay.name, 17, bold=True) + t.px(12), 0, 0, 0), bay.facts, 13, "soft")
        for bracket in bay.brackets:
            p.setPen(t.pen("rule", 1))
            tick = t.px(4) * (1 if bracket.above else -1)
            left, right = QPointF(bracket.left, bracket.y), QPointF(bracket.right, bracket.y)
            p.drawPolyline(QPolygonF([left + QPointF(0, tick), left, right, right + QPointF(0, tick)]))
            high, line = t.px(17), t.px(LINE)
            # Wider than any line: nothing of it is cut.
            area = QRectF(bracket.left, bracket.y + 1, bracket.right - bracket.left, high).adjusted(-999, 0, 999, 0)
            if bracket.above:
                area.moveTop(bracket.y - high - line * (len(bracket.lines) - 1))
            for n, text in enumerate(bracket.lines):
                self._text(area.translated(0, n * line), text, 12, "ink", align=_MIDDLE)
        for bridge in bay.bridges:
            self._bridge(bridge, bay.spots[0].radius)
        for spot in bay.spots:
            self._spot(spot, bay.cell, held=spot.end in plugged)

    def _spot(self, spot: Spot, cell: float, *, held: bool) -> None:
        t, p, r = self._t, self._p, spot.radius
        p.setPen(t.pen("trouble" if spot.fault else "ink" if spot.wired else "rule", 1.4 if spot.wired else 1))
        p.setBrush(t.colour("ink") if held else t.colour("ground"))
        p.drawEllipse(QPointF(spot.x, spot.y), r, r)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if spot.fault:
            p.drawLine(QPointF(spot.x - r * 0.7, spot.y - r * 0.7), QPointF(spot.x + r * 0.7, spot.y + r * 0.7))
        high = t.px(13)
        if cell >= t.px(CLOSE) or (spot.number.isdigit() and int(spot.number) % 4 == 1):
            top = spot.y - r - high if spot.row % 2 == 0 else spot.y + r
            self._text(QRectF(spot.x - cell, top, 2 * cell, high), spot.number, 11, "soft", mono=True, align=_MIDDLE)

    def _bridge(self, bridge: Bridge, radius: float) -> None:
        """Draw a normal: whole as a line, tapped with a bead at its upper end, broken as two stubs, joined as a double line."""
        t, p = self._t, self._p
        straight = bridge.x0 == bridge.x1
        start, end = QPointF(bridge.x0, bridge.y0), QPointF(bridge.x1, bridge.y1)
        p.setPen(t.pen("rule", 1.3, Qt.PenStyle.SolidLine if straight else Qt.PenStyle.DashLine))
        way = end - start
        length = (way.x() ** 2 + way.y() ** 2) ** 0.5 or 1.0
        step = QPointF(way.x() / length, way.y() / length)
        a, b = start + step * radius, end - step * radius
        if bridge.how == "broken":
            stub = min(t.px(5), (length - 2 * radius) / 3)
            p.drawLine(a, a + step * stub)
            p.drawLine(b - step * stub, b)
        elif bridge.how == "joined":
            side = QPointF(-step.y(), step.x()) * t.px(2)
            p.drawLine(a + side, b + side)
            p.drawLine(a - side, b - side)
        else:
            p.drawLine(a, b)
            if bridge.how == "tap":
                p.setBrush(t.colour("ink"))
                p.drawEllipse(a + step * t.px(4), t.px(2.4), t.px(2.4))
                p.setBrush(Qt.BrushStyle.NoBrush)

    def cords(self, arcs: Iterable[Arc], seen: QRectF, lit: Container[str], worst: Mapping[str, str]) -> None:
        """Draw cords as arcs, and their numbers at both plugs."""
        px, edge = self._t.px(1), self._t.px(30)
        for arc in arcs:
            low, high = min(arc.y0, arc.y1) - edge, max(arc.y0, arc.y1) + edge + (26 + 0.1 * abs(arc.x1 - arc.x0)) * px
            if low > seen.bottom() or high < seen.top():
                continue
            colour = "accent" if arc.cord in lit else worst.get(arc.cord, "ink")
            self._p.setPen(self._t.pen(colour, 2.2 if arc.cord in lit else 1.3))
            self._p.drawPath(arc_path(arc, px))
            for x, y in ((arc.x0, arc.y0), (arc.x1, arc.y1))[: 1 if arc.loose else 2]:
                self._badge(arc.number, x, y, colour)

    def _badge(self, number: int, x: float, y: float, colour: str) -> None:
        t, p = self._t, self._p
        area = QRectF(x + t.px(5), y - t.px(16), t.px(11) + t.px(7) * (number > 9), t.px(14))
        p.fillRect(area, t.colour("ground"))
        p.setPen(t.pen(colour, 1))
        p.drawRoundedRect(area, 2, 2)
        self._text(area, str(number), 11, colour, bold=True, mono=True, align=_MIDDLE)

    def lit(
        self, layout: BaysLayout, points: Iterable[PortEnd], chosen: PortEnd | None, plugged: Container[PortEnd]
    ) -> None:
        """Draw the points of the run that is lit, and a ring around the chosen one."""
        t, p = self._t, self._p
        for end in points:
            spot = layout.spot_of.get(end)
            if spot is not None:
                p.setPen(t.pen("accent", 2))
                p.setBrush(t.colour("accent") if end in plugged else t.colour("selection"))
                p.drawEllipse(QPointF(spot.x, spot.y), spot.radius, spot.radius)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if chosen is not None and (here := layout.spot_of.get(chosen)) is not None:
            p.setPen(t.pen("accent", 1.6))
            p.drawEllipse(QPointF(here.x, here.y), here.radius + t.px(4), here.radius + t.px(4))


def arc_path(arc: Arc, px: float) -> QPainterPath:
    """Return the way a cord hangs: down from its first plug and over to the other.

    Parameters
    ----------
    px : float
        One px at the present scale.
    """
    path = QPainterPath(QPointF(arc.x0, arc.y0))
    sag = (26 + 0.10 * abs(arc.x1 - arc.x0)) * px
    low = max(arc.y0, arc.y1) + sag if abs(arc.y1 - arc.y0) < 90 * px else 0.0
    if arc.loose:
        path.lineTo(arc.x1, arc.y1)
    elif low:
        path.cubicTo(arc.x0 + (arc.x1 - arc.x0) * 0.1, low, arc.x1 - (arc.x1 - arc.x0) * 0.1, low, arc.x1, arc.y1)
    else:
        middle = (arc.y0 + arc.y1) / 2
        path.cubicTo(arc.x0, middle + sag * 0.4, arc.x1, middle + sag * 0.4, arc.x1, arc.y1)
    return path
