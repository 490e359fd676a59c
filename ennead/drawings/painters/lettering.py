"""Text on a drawing: one font, one colour, one place."""

from typing import Final

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.drawings.painters.theme import Theme

LEFT: Final = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class Lettering:
    """Writes with one painter and one theme."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        self._p, self._t = painter, theme

    def _text(
        self, area: QRectF, text: str, size: float, colour: str, *, bold: bool = False, mono: bool = False,
        align: Qt.AlignmentFlag = LEFT,
    ) -> None:  # fmt: skip
        self._p.setFont(self._t.font(size, bold=bold, mono=mono))
        self._p.setPen(self._t.colour(colour))
        self._p.drawText(area, align, text)
