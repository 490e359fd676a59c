"""Rehearse a rate, or a switch, on the sheet itself: two rulers, tracks moving between them, before anything is done."""

from collections.abc import Iterator

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ennead.checks.all_checks import find_all
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.rehearsal_layout import RehearsalLayout, lay_rehearsal
from ennead.drawings.painters.rehearsal_paint import RehearsalPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, change
from ennead.edits.session import set_rate
from ennead.edits.settings import set_mode
from ennead.standards.rates import RATES_HZ, rate_text
from ennead.survey.rehearsal import Rehearsal, rehearse
from ennead.survey.survey import Survey


class RehearsalDrawing(Drawing):
    """The two rulers and what moves between them."""

    left = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("rehearsal")
        self.setAccessibleName("What changes its number, and what is lost")
        self.layout_now = RehearsalLayout(0, 0)
        self.tried: Rehearsal | None = None
        self.said: tuple[str, ...] = ()
        self._then = ""

    def show_tried(self, tried: Rehearsal, said: tuple[str, ...], then: str) -> None:
        """Draw another rehearsal."""
        self.tried, self.said, self._then = tried, said, then
        self.refresh()

    def lay_out(self) -> None:
        if self.tried is not None:
            theme = self.book.now
            self.layout_now = lay_rehearsal(
                self.tried, self.said, max(float(self.viewport().width()), theme.px(280)), theme.px
            )

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        RehearsalPainter(painter, self.book.now, "now", self._then).draw(self.layout_now, seen)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)


class RehearsalView(QWidget):
    """The drawing with what is tried above it; `ended` with the change that is wanted, or None."""

    ended = pyqtSignal(object)

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self.wanted: Change | None = None
        self.what = QComboBox()
        self.what.setObjectName("rehearse_what")
        self.what.setAccessibleName("Rate or switch to try")
        self.what.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.what.setMinimumContentsLength(24)
        self.sum = QLabel()
        self.sum.setTextFormat(Qt.TextFormat.PlainText)
        self.sum.setWordWrap(True)
        set_tone(self.sum, "ink")
        self.go, self.stay = QPushButton(), QPushButton("Stay")
        self.go.setObjectName("rehearse_go")
        self.stay.setObjectName("rehearse_stay")
        self.stay.setProperty("quiet", True)
        self.drawing = RehearsalDrawing(table, book)
        asked = QHBoxLayout()
        asked.addWidget(QLabel("What if"))
        asked.addWidget(self.what, 1)
        ends = QHBoxLayout()
        ends.addStretch(1)
        ends.addWidget(self.stay)
        ends.addWidget(self.go)
        # One row where there is room, two where there is not.
        self._head = head = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        head.addLayout(asked, 1)
        head.addLayout(ends)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(head)
        column.addWidget(self.sum)
        column.addWidget(self.drawing, 1)
        self.setFocusProxy(self.what)
        self.what.currentIndexChanged.connect(self._try)
        self.go.clicked.connect(lambda: self.ended.emit(self.wanted))
        self.stay.clicked.connect(lambda: self.ended.emit(None))
        self.drawing.left.connect(lambda: self.ended.emit(None))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.ended.emit(None)
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        way = QBoxLayout.Direction
        self._head.setDirection(way.LeftToRight if self.width() >= self._book.now.px(480) else way.TopToBottom)

    def begin(self) -> None:
        """Offer every rate, and every switch at which a digital unit does not stand now; try the likeliest."""
        studio = self._table.studio
        self.what.blockSignals(True)
        self.what.clear()
        for rate in RATES_HZ:
            now_too = "  (now)" if rate == studio.rate_hz else ""
            self.what.addItem(
                f"the session goes to {rate_text(rate)}{now_too}", change(f"Go to {rate_text(rate)}", set_rate, rate)
            )
        for text, deed in _switches(self._table):
            self.what.addItem(text, deed)
        now = RATES_HZ.index(studio.rate_hz)
        self.what.setCurrentIndex(now + 2 if now + 2 < len(RATES_HZ) else now - 2)
        self.what.blockSignals(False)
        self._try()

    def _try(self) -> None:
        table = self._table
        wanted: Change | None = self.what.currentData()
        if wanted is None:
            return
        self.wanted = wanted
        after = Survey(wanted.apply(table.studio), table.survey)
        tried = rehearse(table.survey, after)
        known = {f.key for f in (*table.findings, *[a.finding for a in table.set_aside])}
        new = tuple(f.message for f in find_all(after) if f.key not in known and f.severity != "note")
        self.sum.setText(summary(tried, len(new)))
        self.drawing.show_tried(tried, new, "then")
        self.go.setText(wanted.label)
        self.go.setEnabled(after.studio != table.studio)


def _switches(table: Worktable) -> Iterator[tuple[str, Change]]:
    """Yield every position of every switch of a digital unit at which it does not stand now."""
    studio = table.studio
    for unit in studio.units.values():
        profile = studio.profile_of(unit.id)
        for mode in profile.modes if profile.is_digital else ():
            for choice in mode.choices:
                if choice.key != studio.settings_of(unit.id).modes.get(mode.key, mode.default):
                    label = f"Set {unit.name}'s {mode.label} to {choice.label}"
                    yield (
                        f"{unit.name}: {mode.label} to {choice.label}",
                        change(label, set_mode, unit.id, mode.key, choice.key),
                    )


def _many(count: int, what: str) -> str:
    return f"{count} {what}{'' if count == 1 else 's'}"


def summary(tried: Rehearsal, wrong: int) -> str:
    """Return what a rehearsal comes to, in two or three sentences."""
    ins, outs = tried.inputs, tried.outputs
    return (
        f"{_many(len(tried.lost), 'track')} lost, {len(tried.renumbered)} renumbered, {len(tried.found)} back again;"
        f" driver inputs {ins[0]} → {ins[1]}. {_many(len(tried.silent), 'output')} silent, {len(tried.heard_elsewhere)}"
        f" renumbered; driver outputs {outs[0]} → {outs[1]}. {_many(wrong, 'new thing')} to look at."
    )
