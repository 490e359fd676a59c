"""The balance beside the lists: needed against available at this rate, the shortage hatched."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.standards.rates import rate_text

if TYPE_CHECKING:
    from ennead.drawings.layouts.balance_layout import Bars
    from ennead.survey.balance import Need


class BalanceView(QWidget):
    """Two facing bars for every kind of input and output."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self.setObjectName("balance")
        for signal in (table.changed, table.settled, book.changed):
            signal.connect(self._dress)
        self._dress()

    def bars(self) -> "tuple[Bars, ...]":
        """Return the bars as they are drawn now; kinds with no need and no supply are left out."""
        from ennead.drawings.layouts.balance_layout import lay_bars

        theme = self._book.now
        needs = self._needs()
        return lay_bars(needs, self.width() - theme.px(14), theme.px(52), theme.px(56), theme.px(34))

    def _needs(self) -> "list[Need]":
        """Return what is needed or there, of inputs and, where there are destinations, of outputs."""
        from ennead.rules.mains_keep_outputs import kept_for_mains
        from ennead.survey.balance import balance, output_balance

        survey = self._table.survey
        session, destinations = survey.studio.current, survey.destinations
        outs = (
            output_balance(survey, kept_for_mains(session, destinations, survey.output_points)) if destinations else ()
        )
        return [n for n in (*balance(survey), *outs) if n.needed or n.available]

    def _dress(self) -> None:
        theme = self._book.now
        self.setMinimumWidth(theme.px(236))
        self.setAccessibleName("Balance")
        needs = self._needs() if self._table.is_settled else []
        self.setAccessibleDescription(
            "; ".join(f"{n.label}: {n.needed} needed, {n.available} available" for n in needs)
        )
        self.setMinimumHeight(theme.px(60 + 56 * max(6, len(needs))))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = self._book.now
        with QPainter(self) as painter:
            painter.translate(theme.px(12), 0)
            width = self.width() - theme.px(14)
            painter.setFont(theme.font(12))
            painter.setPen(theme.colour("soft"))
            head = QRectF(0, theme.px(4), width, theme.px(20))
            painter.drawText(head, Qt.AlignmentFlag.AlignLeft, "needed")
            painter.drawText(head, Qt.AlignmentFlag.AlignRight, f"there at {rate_text(self._table.studio.rate_hz)}")
            if not self._table.is_settled:
                return
            bars = self.bars()
            if not bars:
                painter.setFont(theme.font(13))
                text = "The balance stands here once there is a source or a unit."
                painter.drawText(QRectF(0, theme.px(40), width, theme.px(80)), Qt.TextFlag.TextWordWrap, text)
                return
            painter.setPen(theme.pen("rule", 1))
            painter.drawLine(round(bars[0].axis), theme.px(28), round(bars[0].axis), round(bars[-1].top + theme.px(34)))
            for bar in bars:
                self._draw(painter, bar, width)

    def _draw(self, painter: QPainter, bar: "Bars", width: float) -> None:
        theme = self._book.now
        thick, top = theme.px(12), bar.top
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.font(13))
        label = QRectF(0, top - theme.px(20), width, theme.px(18))
        painter.fillRect(label, theme.colour("ground"))
        painter.drawText(label, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter, bar.need.label)
        left = QRectF(bar.axis - bar.needed, top, bar.needed, thick)
        painter.fillRect(left, theme.colour("accent"))
        if bar.short:
            gap = QRectF(left.left(), top, bar.short, thick)
            painter.fillRect(gap, theme.colour("ground"))
            painter.fillRect(gap, QBrush(theme.colour("trouble"), Qt.BrushStyle.BDiagPattern))
            painter.setPen(theme.pen("trouble", 1))
            painter.drawRect(gap)
        right = QRectF(bar.axis, top, bar.available, thick)
        painter.setPen(theme.pen("rule", 1))
        painter.drawRect(right)
        painter.setFont(theme.font(14, bold=True, mono=True))
        painter.setPen(theme.colour("trouble" if bar.short else "ink"))
        box = QRectF(left.left() - theme.px(60), top - theme.px(4), theme.px(56), thick + theme.px(8))
        painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(bar.need.needed))
        painter.setPen(theme.colour("ink"))
        box = QRectF(right.right() + theme.px(4), top - theme.px(4), theme.px(56), thick + theme.px(8))
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, str(bar.need.available))
