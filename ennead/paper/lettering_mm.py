"""Text on paper at true scale: areas and sizes in millimetres, smaller to fit and then shortened at a word."""

from typing import Final

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter

from ennead.drawings.layouts.wrapping import at_a_word
from ennead.drawings.painters.theme import UI_FAMILY

INK: Final = QColor("#000000")
#: Sizes of print, mm: the largest first; a text takes the largest in which it fits, and is cut in the smallest.
_SIZES: Final = (2.9, 2.5, 2.1, 1.8)
_Align = Qt.AlignmentFlag


def write_mm(
    painter: QPainter,
    dpi: int,
    area: QRectF,
    text: str,
    size_mm: float,
    align: _Align = _Align.AlignLeft,
    *,
    bold: bool = False,
) -> None:
    """Write a text in an area given in mm, as large as it fits, from one size down to the smallest.

    Parameters
    ----------
    dpi : int, dots an inch
        In which the painter paints.
    """
    if not text:
        return
    mm = dpi / 25.4
    room = area.width() * mm
    font = QFont(UI_FAMILY)
    font.setBold(bold)
    for size in (size_mm, *[s for s in _SIZES if s < size_mm]):
        font.setPixelSize(max(1, round(size * mm)))
        if QFontMetricsF(font, painter.device()).horizontalAdvance(text) <= room:
            break
    metrics = QFontMetricsF(font, painter.device())
    # One word that is too long by itself is cut in its middle.
    fitted = at_a_word(text, lambda said: metrics.horizontalAdvance(said) <= room) or metrics.elidedText(
        text, Qt.TextElideMode.ElideMiddle, room
    )
    painter.setFont(font)
    painter.setPen(INK)
    where = QRectF(area.x() * mm, area.y() * mm, room, area.height() * mm)
    painter.drawText(where, align | Qt.AlignmentFlag.AlignVCenter, fitted)
