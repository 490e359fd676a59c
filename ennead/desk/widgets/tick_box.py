"""A box to tick, drawn with a plain tick in the theme's own colours."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QCheckBox

from ennead.drawings.painters.theme import Theme


class TickBox(QCheckBox):
    """A check box; style sheets would leave its box invisible in one theme or the other."""

    def __init__(self, text: str, theme: Theme) -> None:
        super().__init__(text)
        self._theme = theme

    def sizeHint(self) -> QSize:
        theme = self._theme
        return QSize(round(theme.width(self.text(), 14)) + theme.px(32), theme.px(24))

    def hitButton(self, pos: object) -> bool:
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = self._theme
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            side = float(theme.px(15))
            box = QRectF(1.5, (self.height() - side) / 2, side, side)
            painter.setPen(theme.pen("accent" if self.hasFocus() else "ink", 2 if self.hasFocus() else 1.2))
            painter.drawRect(box)
            if self.isChecked():
                painter.setPen(theme.pen("accent", 2.4))
                x, y = box.left(), box.top()
                points = ((0.2, 0.5), (0.42, 0.75), (0.82, 0.22))
                painter.drawPolyline(QPolygonF([QPointF(x + a * side, y + b * side) for a, b in points]))
            painter.setFont(theme.font(14))
            painter.setPen(theme.colour("ink"))
            rest = QRectF(side + theme.px(9), 0, self.width(), self.height())
            painter.drawText(rest, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.text())
