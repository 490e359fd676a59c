"""Asks what a socket is to be cabled to: legal partners only, found by typing."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QLabel, QListWidget, QVBoxLayout, QWidget

from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.narrowing import NarrowingLine, chosen, fill
from ennead.planning.partners import Partner


class ConnectDialog(QDialog):
    """A list of partners; `chosen` is the one taken."""

    def __init__(self, socket: str, partners: tuple[Partner, ...], book: ThemeBook, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setObjectName("connect_dialog")
        self.setWindowTitle(f"Connect {socket}")
        self._partners = partners
        self.chosen: Partner | None = None
        theme = book.now
        self.resize(theme.px(440), theme.px(380))
        column = QVBoxLayout(self)
        head = QLabel(f"{socket} goes to" if partners else f"Nothing free fits {socket}.")
        head.setTextFormat(Qt.TextFormat.PlainText)
        head.setWordWrap(True)
        column.addWidget(head)
        self.found = QListWidget()
        self.typed = NarrowingLine(self.found, "type to narrow the list, Enter to connect", "Partner")
        self.found.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.typed)
        column.addWidget(self.found)
        self.typed.textChanged.connect(self._show)
        self.typed.returnPressed.connect(self._take)
        self.found.itemClicked.connect(lambda _: self._take())
        self._show("")

    def _show(self, typed: str) -> None:
        words = typed.casefold().split()
        fill(self.found, ((p.text, p) for p in self._partners if all(w in p.text.casefold() for w in words)))

    def _take(self) -> None:
        self.chosen = chosen(self.found)
        if self.chosen is not None:
            self.accept()
