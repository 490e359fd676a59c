"""The Session sheet: what has to come in and go out."""

from functools import cached_property

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QComboBox, QPushButton, QScrollArea, QStackedWidget

from ennead.desk.sheets.session.balance_view import BalanceView
from ennead.desk.sheets.session.list_model import ListModel
from ennead.desk.sheets.session.list_view import ListView
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import SheetFrame
from ennead.desk.widgets.switch import ChoiceSwitch
from ennead.drawings.painters.theme import ThemeBook
from ennead.standards.clock import PULL_DOWN_PPM, PULL_UP_PPM
from ennead.standards.rates import RATES_HZ, pull_text, rate_text
from ennead.studio.errors import EnneadError


class SessionSheet(SheetFrame):
    """The input list, its balance, and the rate."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[1])
        self._table = table
        self.rate = QComboBox()
        self.rate.setObjectName("rate")
        self.rate.setAccessibleName("Sample rate")
        for rate in RATES_HZ:
            self.rate.addItem(rate_text(rate), rate)
        self.rate.activated.connect(self._rate_chosen)
        self.paste_button = QPushButton("Paste a list")
        self.paste_button.clicked.connect(self._paste_clicked)
        self.way = ChoiceSwitch(book, (("in", "In"), ("out", "Out")), "List of what comes in or goes out")
        self.way.chosen.connect(self._show_way)
        self.add_action(self.way)
        self.add_action(self.paste_button)
        self.add_action(self.rate)
        self.pull = QComboBox()
        self.pull.setObjectName("pull")
        self.pull.setAccessibleName("How far all clocks run off the rate")
        self.pull.setToolTip("Pull-down, pull-up, varispeed; another figure is typed in the margin")
        self.pull.activated.connect(self._pull_chosen)
        self.add_action(self.pull, gives_way=True)
        self.want(self.pull, True)
        # Ctrl+V on the list does the same.
        self.want(self.paste_button, True)
        self._row = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._row.setSpacing(0)
        self.list = ListView(table, book, ListModel(table, book), self.paste)
        self._lists = QStackedWidget()
        self._lists.addWidget(self.list)
        self._row.addWidget(self._lists, 1)
        self.balance = BalanceView(table, book)
        # Beside the list where there is room; below it, to be scrolled, where there is not.
        self._scroll = QScrollArea()
        self._scroll.setWidget(self.balance)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._row.addWidget(self._scroll)
        self.body.addLayout(self._row, 1)
        self.setFocusProxy(self.list)
        table.selected.connect(self._follow)
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
        now = self._table.studio.current.pull_ppm
        known = dict.fromkeys((0.0, PULL_DOWN_PPM, PULL_UP_PPM, now))
        if [self.pull.itemData(i) for i in range(self.pull.count())] != list(known):
            self.pull.clear()
            for ppm in known:
                self.pull.addItem(pull_text(ppm) if ppm else "at the rate", ppm)
        self.pull.setCurrentIndex(list(known).index(now))

    @cached_property
    def outs(self) -> ListView:
        """The list of what goes out; made when it is first looked at."""
        from ennead.desk.sheets.session.destination_model import DestinationModel

        outs = ListView(self._table, self.book, DestinationModel(self._table, self.book))
        self._lists.addWidget(outs)
        return outs

    def _show_way(self, way: str) -> None:
        shown = self.outs if way == "out" else self.list
        self._lists.setCurrentWidget(shown)
        self.want(self.paste_button, way == "in")
        self.setFocusProxy(shown)
        shown.setFocus()

    def _follow(self) -> None:
        """Show the list that holds what is selected."""
        kind = self._table.selection.kind
        if kind in ("source", "destination"):
            self.way.choose("out" if kind == "destination" else "in")

    def _rate_chosen(self, index: int) -> None:
        from ennead.edits.change import change
        from ennead.edits.session import set_rate

        rate = RATES_HZ[index]
        self._table.do(change(f"Go to {rate_text(rate)}", set_rate, rate))

    def _pull_chosen(self, index: int) -> None:
        from ennead.edits.change import change
        from ennead.edits.session import set_pull

        ppm = self.pull.itemData(index)
        self._table.do(change(f"Run {pull_text(ppm)}" if ppm else "Run at the rate", set_pull, ppm))

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
