"""The Session sheet: what has to come in."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QComboBox, QPushButton, QScrollArea

from ennead.desk.sheets.session.balance_view import BalanceView
from ennead.desk.sheets.session.list_view import ListView
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.sheet_frame import SheetFrame
from ennead.desk.worktable import Worktable
from ennead.standards.rates import RATES_HZ, rate_text
from ennead.studio.errors import EnneadError


class SessionSheet(SheetFrame):
    """The input list, its balance, and the rate."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, "Session", "What has to come in?")
        self._table = table
        self.rate = QComboBox()
        self.rate.setObjectName("rate")
        self.rate.setAccessibleName("Sample rate")
        for rate in RATES_HZ:
            self.rate.addItem(rate_text(rate), rate)
        self.rate.activated.connect(self._rate_chosen)
        self.paste_button = QPushButton("Paste a list")
        self.paste_button.clicked.connect(self._paste_clicked)
        self.add_action(self.paste_button)
        self.add_action(self.rate)
        self._row = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._row.setSpacing(0)
        self.list = ListView(table, book, self.paste)
        self._row.addWidget(self.list, 1)
        self.balance = BalanceView(table, book)
        # Beside the list where there is room; below it, to be scrolled, where there is not.
        self._scroll = QScrollArea()
        self._scroll.setWidget(self.balance)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._row.addWidget(self._scroll)
        self.body.addLayout(self._row, 1)
        self.setFocusProxy(self.list)
        table.changed.connect(self._refresh)
        self._refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        theme = self.book.now
        beside = self.width() >= theme.px(620)
        self._row.setDirection(QBoxLayout.Direction.LeftToRight if beside else QBoxLayout.Direction.TopToBottom)
        self._scroll.setFixedWidth(theme.px(248) if beside else self.width() - theme.px(24))
        self._scroll.setMaximumHeight(16_777_215 if beside else min(theme.px(170), self.height() // 3))

    def _refresh(self) -> None:
        self.rate.setCurrentIndex(RATES_HZ.index(self._table.studio.rate_hz))

    def _rate_chosen(self, index: int) -> None:
        from ennead.edits.change import change
        from ennead.edits.session import set_rate

        rate = RATES_HZ[index]
        self._table.do(change(f"Go to {rate_text(rate)}", set_rate, rate))

    def _paste_clicked(self) -> None:
        from PyQt6.QtWidgets import QApplication

        clipboard = QApplication.clipboard()
        self.paste(clipboard.text() if clipboard else "")
        self.list.setFocus()

    def paste(self, text: str) -> None:
        """Add every line of a pasted list to the session as one step."""
        from ennead.edits.change import change
        from ennead.edits.session import add_sources
        from ennead.files.input_list import read_lines

        try:
            lines = read_lines(text, (p.name for p in self._table.studio.places.values()))
        except EnneadError as error:
            self._table.said.emit(str(error))
            return
        if not lines:
            self._table.said.emit("There is no list on the clipboard. Copy a line for each source, its name first.")
            return
        self._table.do(change(f"Paste {len(lines)} sources", add_sources, lines))
