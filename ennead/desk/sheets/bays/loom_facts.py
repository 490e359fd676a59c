"""What is known of one loom: how it is made up, its multipin, its lines."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFormLayout, QLabel, QListWidget, QVBoxLayout, QWidget

from ennead.desk.sheets.bays.loom_picture import LoomPicture
from ennead.desk.widgets.field import Field
from ennead.desk.widgets.narrowing import chosen, fill
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.loom_rows import LoomLine, LoomRow, contacts_text
from ennead.studio.looms import PINNING_LABELS, SCREW_LABELS, Loom

_NOTHING = "No loom yet: wire a multipin to a bay, or note one that lies in the drawer."


class LoomFacts(QWidget):
    """The facts, to be changed; `stated` and `measured` carry the new values."""

    stated = pyqtSignal(object)
    measured = pyqtSignal(object)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._row: LoomRow | None = None
        self.words, self.picture, self.lines = QLabel(), LoomPicture(book), QListWidget()
        self.words.setWordWrap(True)
        self.lines.setAccessibleName("Line by line")
        self.lines.setMinimumHeight(book.now.px(80))
        self.name, self.marks, self.length = Field(), Field(), Field()
        self.marks.setPlaceholderText("brown, red, orange … or 1, 2, 3 …")
        self.length.setPlaceholderText("metres")
        self.pinning, self.screws = QComboBox(), QComboBox()
        self.pinning.addItems(list(PINNING_LABELS.values()))
        self.screws.addItems(list(SCREW_LABELS.values()))
        form = QFormLayout()
        self.fields: dict[str, QWidget] = {
            "Written on it": self.name,
            "Contacts": self.pinning,
            "Screws": self.screws,
            "Lines bear": self.marks,
            "Length": self.length,
        }
        for label, field in self.fields.items():
            field.setAccessibleName(label)
            form.addRow(label, field)
        for box in (self.pinning, self.screws):
            box.activated.connect(lambda _: self._state())
        self.name.editingFinished.connect(self._state)
        self.marks.editingFinished.connect(self._state)
        self.length.editingFinished.connect(self._measure)
        self.lines.currentRowChanged.connect(lambda _: self._light())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.words)
        column.addWidget(self.picture)
        column.addLayout(form)
        column.addWidget(self.lines, 1)

    def show_loom(self, row: LoomRow | None) -> None:
        """Show what is known of a loom."""
        self._row = row
        loom = row.loom if row is not None else Loom()
        known = row is not None and row.multipin and loom.pinning == "aes59"
        seen = (
            ". Below, the plug with pins as one sees it who solders it: ring hot, filled cold, square shield. Go by the"
            " numbers" * known
        )
        self.words.setText(
            f"{row.name}: {row.words}{f' ({row.note})' if row.note else ''}{seen}." if row is not None else _NOTHING
        )
        for field in self.fields.values():
            field.setEnabled(row is not None)
        self.name.setText(loom.name)
        self.marks.setText(", ".join(loom.marks))
        self.length.setText("" if row is None or row.length_m is None else f"{row.length_m:g}")
        self.pinning.setCurrentIndex(list(PINNING_LABELS).index(loom.pinning))
        self.screws.setCurrentIndex(list(SCREW_LABELS).index(loom.screws))
        fill(self.lines, [(line_text(line), line) for line in (row.lines if row is not None else ())])
        self._light()

    def _light(self) -> None:
        line: LoomLine | None = chosen(self.lines)
        self.picture.show_loom(self._row, line.number if line is not None else 0)

    def _state(self) -> None:
        typed = self.marks.text()
        marks = tuple(m.strip() for m in typed.split(",")) if typed.strip() else ()
        pinning = list(PINNING_LABELS)[self.pinning.currentIndex()]
        made = Loom(self.name.text(), pinning, list(SCREW_LABELS)[self.screws.currentIndex()], marks)
        if self._row is not None and made != self._row.loom:
            self.stated.emit(made)

    def _measure(self) -> None:
        text = self.length.text().strip().removesuffix("m").strip().replace(",", ".")
        if self._row is None or text == ("" if self._row.length_m is None else f"{self._row.length_m:g}"):
            return
        try:
            self.measured.emit(float(text) if text else None)
        except ValueError:
            self.words.setText(f"“{text}” is no length. Give metres, such as 3.")


def line_text(line: LoomLine) -> str:
    """Return a line of a loom as one line of text."""
    where = f"{line.start} → {line.end}" if line.end else ""
    return "   ".join(part for part in (str(line.number), line.mark, contacts_text(line.contacts), where) if part)
