"""The sheet tabs at the left edge: number, name, and a mark with the count of open findings."""

from typing import Final

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QSizePolicy, QVBoxLayout, QWidget

from ennead.drawings.painters.theme import ThemeBook

#: Heights of a tab, px at 100 %: below the first its figure is smaller, below the second nothing fits.
_ROOMY: Final = 52
_LEAST: Final = 36


class SheetTab(QAbstractButton):
    """One tab."""

    def __init__(self, book: ThemeBook, number: int, name: str) -> None:
        super().__init__()
        self.book, self.number, self.name = book, number, name
        self.open_findings = 0
        self.worst = "note"
        self.setCheckable(True)
        self.setText(f"{number} {name}")
        self.setAccessibleName(f"Sheet {number}, {name}")
        self.setToolTip(f"{name} (Alt+{number})")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        # Nine of them fit at twice the text size: they give way as far as number and name need.
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        book.changed.connect(self.updateGeometry)

    def mark(self, count: int, worst: str) -> None:
        """Show how many findings are open on this sheet."""
        self.open_findings, self.worst = count, worst
        self.setAccessibleDescription(f"{count} to look at" if count else "")
        self.update()

    def sizeHint(self) -> QSize:
        theme = self.book.now
        return QSize(max(theme.px(62), round(theme.width(self.name, 13)) + theme.px(14)), theme.px(64))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.sizeHint().width(), self.book.now.px(_LEAST))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = self.book.now
        with QPainter(self) as painter:
            area = QRectF(self.rect())
            if self.isChecked():
                painter.fillRect(area, theme.colour("ground"))
                painter.fillRect(QRectF(0, 0, theme.px(3), area.height()), theme.colour("accent"))
            painter.setPen(theme.colour("accent" if self.isChecked() else "ink"))
            # What the height leaves beside both lines is shared out: above, between, below.
            roomy = area.height() >= theme.px(_ROOMY)
            figure, line, name = (21, theme.px(26), theme.px(20)) if roomy else (15, theme.px(18), theme.px(17))
            gap = max(0.0, (area.height() - line - name) / 3)
            painter.setFont(theme.font(figure, bold=self.isChecked(), mono=True))
            upper = QRectF(0, gap, area.width(), line)
            painter.drawText(upper, Qt.AlignmentFlag.AlignCenter, str(self.number))
            painter.setFont(theme.font(13))
            painter.setPen(theme.colour("ink" if self.isChecked() else "soft"))
            lower = QRectF(0, area.height() - gap - name, area.width(), name)
            painter.drawText(lower, Qt.AlignmentFlag.AlignCenter, self.name)
            if self.open_findings:
                painter.setFont(theme.font(11, bold=True))
                painter.setPen(theme.colour(self.worst if self.worst in ("trouble", "caution") else "soft"))
                corner = QRectF(
                    area.width() / 2 + theme.px(8),
                    max(0.0, gap - theme.px(2)),
                    area.width() / 2 - theme.px(9),
                    theme.px(14),
                )
                painter.drawText(corner, Qt.AlignmentFlag.AlignLeft, f"▲{self.open_findings}")
            if self.hasFocus():
                painter.setPen(theme.pen("accent", 1, Qt.PenStyle.DotLine))
                painter.drawRect(area.adjusted(4, 2, -3, -3))


class Navigation(QWidget):
    """All tabs; `chosen` carries the number of a sheet."""

    chosen = pyqtSignal(int)

    def __init__(self, book: ThemeBook, sheets: dict[int, str]) -> None:
        super().__init__()
        self.setObjectName("navigation")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._group = QButtonGroup(self)
        self.tabs: dict[int, SheetTab] = {}
        for number, name in sheets.items():
            tab = SheetTab(book, number, name)
            self.tabs[number] = tab
            self._group.addButton(tab, number)
            column.addWidget(tab)
        column.addStretch()
        self._group.idClicked.connect(self.chosen)

    def choose(self, number: int) -> None:
        """Show a tab as the chosen one."""
        self.tabs[number].setChecked(True)
