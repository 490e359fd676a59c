"""Draws a driver ruler from its layout."""

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.drawings.layouts.ruler_layout import Ruler, RulerCell
from ennead.drawings.painters.theme import Theme

_CENTRE = Qt.AlignmentFlag.AlignCenter
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


def paint_ruler(painter: QPainter, ruler: Ruler, theme: Theme, chosen: int | None = None) -> None:
    """Draw the numbers: outlined when free, strong when a track hangs from them, struck out when dead."""
    for block in ruler.blocks:
        painter.setFont(theme.font(12))
        painter.setPen(theme.colour("soft"))
        head = QRectF(block.x, block.y, block.width, theme.px(16))
        label = theme.elided(block.label, block.width - theme.width(f" {block.span}", 12, mono=True), 12)
        painter.drawText(head, _LEFT, label)
        painter.setFont(theme.font(12, mono=True))
        shift = theme.width(f"{label} ", 12)
        painter.drawText(head.adjusted(shift, 0, theme.px(40), 0), _LEFT, block.span)
        painter.setPen(theme.pen("rule", 1))
        painter.drawLine(QLineF(block.x, block.y + theme.px(17), block.x + block.width, block.y + theme.px(17)))
    for cell in ruler.cells:
        _paint_cell(painter, cell, theme, chosen=chosen == cell.number)
        if cell.track and ruler.hang:
            _hang(painter, cell, ruler.hang, theme)


def _hang(painter: QPainter, cell: RulerCell, room: float, theme: Theme) -> None:
    """Hang the track's name from its number, read from top to bottom."""
    painter.save()
    painter.translate(cell.x + cell.width / 2, cell.y + cell.height + theme.px(4))
    painter.rotate(90)
    painter.setFont(theme.font(12))
    painter.setPen(theme.colour("ink"))
    area = QRectF(0, -cell.width / 2, room - theme.px(6), cell.width)
    painter.drawText(area, _LEFT, theme.elided(cell.track, area.width(), 12))
    painter.restore()


def _paint_cell(painter: QPainter, cell: RulerCell, theme: Theme, *, chosen: bool) -> None:
    area = QRectF(cell.x, cell.y, cell.width, cell.height)
    if chosen:
        painter.fillRect(area, theme.colour("selection"))
    painter.setPen(theme.pen("accent" if cell.track else "hairline", 1.4 if cell.track else 1))
    painter.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))
    painter.setFont(theme.font(14, mono=True, bold=bool(cell.track)))
    painter.setPen(theme.colour("ink" if cell.live else "soft"))
    painter.drawText(area, _CENTRE, str(cell.number))
    if not cell.live:
        painter.setPen(theme.pen("trouble", 1.4))
        painter.drawLine(QLineF(area.left() + 3, area.bottom() - 3, area.right() - 3, area.top() + 3))
