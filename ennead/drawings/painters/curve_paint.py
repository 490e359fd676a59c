"""Paints the sent wave and the returned one over each other as thin lines, with an axis of milliseconds."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from ennead.drawings.layouts.axis import axis
from ennead.drawings.layouts.curve_layout import CurveLine, Sight
from ennead.drawings.painters.lettering import Lettering
from ennead.drawings.painters.theme import Theme

_FOOT = 24


class CurvePainter(Lettering):
    """Paints both waves."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        super().__init__(painter, theme)
        self.foot = theme.px(_FOOT)

    def draw(
        self, sent: CurveLine, returned: CurveLine, sight: Sight, rate_hz: int, width: float, height: float
    ) -> None:
        """Draw the axis, the sent wave broad and pale, the returned one thin over it, and what is which."""
        t, p = self._t, self._p
        base = height - self.foot
        scale = axis(sight.first / rate_hz * 1000, (sight.first + sight.span) / rate_hz * 1000, 0.0, width)
        p.setPen(t.pen("hairline"))
        p.drawLine(QPointF(0, base / 2), QPointF(width, base / 2))
        for tick in scale.ticks:
            x = (tick / 1000 * rate_hz - sight.first) * width / sight.span
            if not 0 <= x <= width - t.px(40):
                continue
            p.setPen(t.pen("hairline"))
            p.drawLine(QPointF(x, 0), QPointF(x, base))
            self._text(QRectF(x + t.px(3), base, t.px(90), self.foot), f"{tick:g} ms", 12, "soft")
        self._wave(sent, "rule", 3.0)
        self._wave(returned, "accent", 1.2)
        self._text(QRectF(t.px(6), t.px(2), t.px(200), t.px(20)), "sent", 13, "soft")
        self._text(QRectF(t.px(54), t.px(2), t.px(200), t.px(20)), "returned", 13, "accent")

    def _wave(self, line: CurveLine, colour: str, wide: float) -> None:
        p = self._p
        p.setPen(self._t.pen(colour, wide))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF([QPointF(x, y) for x, y in line.points]))
        if line.dots:
            p.setBrush(self._t.colour(colour))
            for x, y in line.points:
                p.drawEllipse(QPointF(x, y), wide + 0.8, wide + 0.8)
