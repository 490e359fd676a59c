"""What one recall card says, to be read and typed: day, song, role, loop, settings, gains, note."""

from typing import Final

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.field import Field
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.recall_rows import box_name, gain_rows
from ennead.studio.document import Studio
from ennead.studio.recall import Recall, Setting

#: Settings that are seen without scrolling. House default.
_SEEN: Final = 9
_FIELDS: Final = (("day", "Day", "2026-11-27"), ("song", "Song", ""), ("engineer", "Role", "who was at the box"))


class _Note(QPlainTextEdit):
    """A text of several lines, which no key ends: `left` says that the keyboard has gone elsewhere."""

    left = pyqtSignal()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class CardFacts(QWidget):
    """The card; `stated` carries the name of a fact and what was typed."""

    stated = pyqtSignal(str, object)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._card: Recall | None = None
        self._filling = False
        self.head, self.gains = QLabel(), QLabel()
        set_tone(self.head, "ink")
        for label in (self.head, self.gains):
            label.setWordWrap(True)
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.fields: dict[str, QLineEdit] = {}
        form = QFormLayout()
        form.addRow("Box", self.head)
        for key, text, hint in _FIELDS:
            field = self.fields[key] = Field()
            field.setPlaceholderText(hint)
            field.setAccessibleName(text)
            field.editingFinished.connect(lambda key=key: self._typed(key))
            form.addRow(text, field)
        self.loop = QComboBox()
        self.loop.setAccessibleName("Loop in which it stood")
        self.loop.activated.connect(lambda _: self._state("loop", self.loop.currentData()))
        form.addRow("Loop", self.loop)
        self.settings = QTableWidget(0, 2)
        self.settings.setAccessibleName("Settings")
        self.settings.setHorizontalHeaderLabels(["setting", "stands at"])
        across, down = self.settings.horizontalHeader(), self.settings.verticalHeader()
        if across is not None and down is not None:
            across.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            down.hide()
        self.settings.cellChanged.connect(lambda *_: self._state_settings())
        form.addRow("Settings", self.settings)
        form.addRow("Gains", self.gains)
        self.note = _Note()
        self.note.left.connect(self.settle)
        self.note.setAccessibleName("Note")
        self.note.setTabChangesFocus(True)
        self.note.setFixedHeight(book.now.px(64))
        form.addRow("Note", self.note)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(form)

    def show_card(self, studio: Studio, card: Recall | None) -> None:
        """Show a card."""
        same = self._card is not None and card is not None and self._card.id == card.id
        self._card, self._filling = card, True
        self.setEnabled(card is not None)
        self.head.setText(box_name(studio, card) if card is not None else "No card is chosen.")
        for key, _, _ in _FIELDS:
            self.fields[key].setText(getattr(card, key) if card is not None else "")
        self.loop.clear()
        self.loop.addItem("in no loop", "")
        for key, destination in studio.destinations.items():
            if destination.kind == "loop":
                self.loop.addItem(destination.name, key)
        self.loop.setCurrentIndex(max(0, self.loop.findData(card.loop if card is not None else "")))
        at = self.settings.currentRow(), self.settings.currentColumn()
        rows = [*(card.settings if card is not None else ()), Setting("", "")]
        self.settings.setRowCount(len(rows))
        for n, setting in enumerate(rows):
            self.settings.setItem(n, 0, QTableWidgetItem(setting.name))
            self.settings.setItem(n, 1, QTableWidgetItem(setting.value))
        if same and at[0] >= 0:
            # Whoever types one setting after the other stays where they are.
            self.settings.setCurrentCell(*at)
        said = ", ".join(f"{name[5:]} {value}" for name, value in gain_rows(studio, card)) if card is not None else ""
        self.gains.setText(said or "none noted at its inputs")
        self.note.setPlainText(card.note if card is not None else "")
        # All of a usual card is seen at once; a long one scrolls.
        high = self.settings.rowHeight(0) * min(len(rows), _SEEN) if rows else 0
        self.settings.setFixedHeight(high + 2 * self.settings.rowHeight(0))
        self._filling = False

    def settle(self) -> None:
        """State the note if it was changed."""
        if self._card is not None and not self._filling and self.note.toPlainText() != self._card.note:
            self._state("note", self.note.toPlainText())

    def _typed(self, key: str) -> None:
        text = self.fields[key].text()
        if self._card is not None and text != getattr(self._card, key):
            self._state(key, text)

    def _state_settings(self) -> None:
        def text(row: int, column: int) -> str:
            item = self.settings.item(row, column)
            return item.text().strip() if item is not None else ""

        if self._card is None or self._filling:
            return
        rows = [Setting(text(n, 0), text(n, 1)) for n in range(self.settings.rowCount())]
        # A value without a name yet is still being typed.
        now = tuple([s for s in rows if s.name])
        if now != self._card.settings:
            self._state("settings", now)

    def _state(self, key: str, value: object) -> None:
        if self._card is not None and not self._filling:
            self.stated.emit(key, value)
