"""Paints a multipin: a ring for hot, a filled dot for cold, a square for the shield, each with its line; numbers below."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QPainter, QPolygonF

from ennead.drawings.layouts.multipin_layout import Multipin
from ennead.drawings.painters.theme import UI_FAMILY, Theme


def paint_multipin(painter: QPainter, theme: Theme, laid: Multipin, chosen: int = 0) -> None:
    """Paint a multipin.

    Parameters
    ----------
    chosen : int
        The line that is to stand out; 0 for none.
    """
    painter.setPen(theme.pen("rule", 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolygon(QPolygonF([QPointF(*corner) for corner in laid.outline]))
    radius = laid.radius
    letters, figures = QFont(UI_FAMILY), QFont(UI_FAMILY)
    letters.setPixelSize(max(8, round(radius * 1.15)))
    letters.setBold(True)
    figures.setPixelSize(max(8, round(radius * 0.95)))
    for pin in laid.pins:
        lit = bool(chosen) and pin.line == chosen
        body = QRectF(pin.x - radius, pin.y - radius, 2 * radius, 2 * radius)
        painter.setPen(theme.pen("accent" if lit else "ink" if pin.line else "rule", 2.4 if lit else 1.2))
        filled = pin.role == "cold"
        painter.setBrush(theme.colour("accent" if lit else "ink") if filled else Qt.GlobalColor.transparent)
        painter.drawRect(body) if pin.role == "shield" else painter.drawEllipse(body)
        if pin.line:
            painter.setFont(letters)
            painter.setPen(theme.colour("ground" if filled else "ink"))
            painter.drawText(body, Qt.AlignmentFlag.AlignCenter, str(pin.line))
        painter.setFont(figures)
        painter.setPen(theme.colour("soft"))
        under = QRectF(pin.x - 2 * radius, pin.y + radius, 4 * radius, radius * 1.4)
        painter.drawText(under, Qt.AlignmentFlag.AlignCenter, str(pin.number))
