"""The Session sheet: what has to come in."""

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from ennead.desk.sheets.session.balance_view import BalanceView
from ennead.desk.sheets.session.list_view import ListView
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.sheet_frame import SheetFrame
from ennead.desk.worktable import Worktable
from ennead.edits.change import Change, change, step
from ennead.edits.session import add_source, set_rate
from ennead.standards.rates import RATES_HZ, rate_text


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
        row = QHBoxLayout()
        row.setSpacing(0)
        self.list = ListView(table, book, self.paste)
        row.addWidget(self.list, 1)
        self.balance = BalanceView(table, book)
        row.addWidget(self.balance)
        self.body.addLayout(row, 1)
        self.setFocusProxy(self.list)
        table.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        self.rate.setCurrentIndex(RATES_HZ.index(self._table.studio.rate_hz))

    def _rate_chosen(self, index: int) -> None:
        rate = RATES_HZ[index]
        self._table.do(change(f"Go to {rate_text(rate)}", set_rate, rate))

    def _paste_clicked(self) -> None:
        from PyQt6.QtWidgets import QApplication

        clipboard = QApplication.clipboard()
        self.paste(clipboard.text() if clipboard else "")
        self.list.setFocus()

    def paste(self, text: str) -> None:
        """Add every line of a pasted list to the session as one step."""
        from ennead.files.input_list import read_lines

        lines = read_lines(text)
        if not lines:
            self._table.said.emit("There is no list on the clipboard. Copy a line for each source, its name first.")
            return
        self._table.do(Change(f"Paste {len(lines)} sources", tuple(step(add_source, **line) for line in lines)))
