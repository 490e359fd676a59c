"""Text and strokes on a drawing of lines: one font, one colour, one place."""

from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ennead.drawings.painters.theme import Theme

LEFT: Final = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class Lettering:
    """Writes and draws stretches of lines with one painter and one theme; subclasses say which pen a kind of stretch has."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        self._p, self._t = painter, theme

    def _text(
        self,
        area: QRectF,
        text: str,
        size: float,
        colour: str,
        *,
        bold: bool = False,
        mono: bool = False,
        align: Qt.AlignmentFlag = LEFT,
    ) -> None:
        self._p.setFont(self._t.font(size, bold=bold, mono=mono))
        self._p.setPen(self._t.colour(colour))
        self._p.drawText(area, align, text)

    def _pen_of(self, kind: str) -> QPen:
        """Return the pen of a stretch that is not digital."""
        return self._t.pen("ink", 2.0)

    def _stroke(self, start: float, end: float, y: float, kind: str) -> None:
        """Draw a stretch of a line: digital double, else with the pen of its kind; one too short to be seen is left out."""
        t, p = self._t, self._p
        if end - start < t.px(4):
            return
        if kind == "digital":
            p.setPen(t.pen("accent", 1.1))
            for side in (-1.6, 1.6):
                p.drawLine(QPointF(start, y + side * t.scale), QPointF(end, y + side * t.scale))
            return
        p.setPen(self._pen_of(kind))
        p.drawLine(QPointF(start, y), QPointF(end, y))
