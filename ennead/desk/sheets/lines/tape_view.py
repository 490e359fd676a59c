"""The tape view: driver number, name and trouble, large, nothing else, for the wall of the control room."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.layouts.chart_rows import LineRow, Options, chart_rows
from ennead.drawings.painters.theme import ThemeBook


class TapeView(QWidget):
    """A window of its own; Escape closes it."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self.setObjectName("tape_view")
        self.setWindowTitle("Tape view – Ennead")
        self.resize(1000, 700)
        for signal in (table.changed, book.changed):
            signal.connect(self.update)

    def lines(self) -> list[LineRow]:
        """Return the lines by driver number; those without one come last."""
        rows = chart_rows(self._table.survey, self._table.findings, Options(sort="number"))
        return [r for r in rows if isinstance(r, LineRow)]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, lines = self._book.now, self.lines()
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), theme.colour("ground"))
            row, top = theme.px(44), theme.px(12)
            per_column = max(1, (self.height() - 2 * top) // row)
            columns = max(1, -(-len(lines) // per_column))
            width = (self.width() - theme.px(24)) / columns
            for i, line in enumerate(lines):
                x, y = theme.px(12) + (i // per_column) * width, top + (i % per_column) * row
                loud = line.worst if line.worst in ("trouble", "caution") else ""
                painter.setFont(theme.font(26, bold=True, mono=True))
                painter.setPen(theme.colour(loud or "accent"))
                number = theme.px(104)
                right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
                painter.drawText(QRectF(x, y, number, row), right, line.number or "–")
                painter.setPen(theme.colour("ink"))
                room = width - number - theme.px(58)
                shown = theme.elided(line.track, room, 24, bold=True)
                painter.setFont(theme.font(24, bold=True))
                left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
                painter.drawText(QRectF(x + number + theme.px(16), y, room, row), left, shown)
                if loud:
                    painter.setPen(theme.colour(loud))
                    mark = x + number + theme.px(24) + theme.width(shown, 24, bold=True)
                    painter.drawText(QRectF(mark, y, theme.px(34), row), left, "▲" if loud == "trouble" else "△")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)
