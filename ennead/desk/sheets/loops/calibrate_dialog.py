"""Calibrating a loop: the steps to tick, the readings to type, the trim to take."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.loop_use import set_loop_use
from ennead.planning.routing.bypass_scene import bypass_scene
from ennead.reports.calibration import TOLERANCE_DB, ToneReading, calibration_steps, reading, side_names, tone_dbfs
from ennead.reports.loop_rows import LoopFigures
from ennead.studio.errors import BadValue
from ennead.survey.bypass_points import bypass_points


class CalibrateDialog(QDialog):
    """The dialog for one loop that goes round."""

    def __init__(self, table: Worktable, book: ThemeBook, figures: LoopFigures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("calibrate_dialog")
        self.setWindowTitle(f"Calibrate {figures.loop.name}")
        self._table, self._figures = table, figures
        self._tone = tone_dbfs(figures.levels)
        self.reading: ToneReading | None = None
        self.steps = WrappedList()
        self.steps.setAccessibleName("Steps")
        self.steps.setSpacing(book.now.px(2))
        for n, step in enumerate(calibration_steps(table.survey, figures), start=1):
            item = QListWidgetItem(f"{n}  {'▲ ' if step.warns else ''}{step.text}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked)
            self.steps.addItem(item)
        sides = side_names(len(figures.returns))
        self.read = [QLineEdit() for _ in sides]
        self.tolerance, self.answer = QLineEdit(f"{TOLERANCE_DB:g}"), QLabel()
        form = QFormLayout()
        sent = QLineEdit(f"{self._tone:g}")
        self.sent = sent
        form.addRow("Tone, dBFS", sent)
        for side, field in zip(sides, self.read, strict=True):
            field.setPlaceholderText("what the meter shows")
            form.addRow(f"Read at {'the ' if len(sides) < 3 else ''}{side}, dBFS", field)
        form.addRow("Good enough, dB", self.tolerance)
        for field in (sent, *self.read, self.tolerance):
            field.textChanged.connect(self._worked_out)
        self.answer.setWordWrap(True)
        self.answer.setTextFormat(Qt.TextFormat.PlainText)
        set_tone(self.answer, "ink")
        self.take, leave = QPushButton("Take the trim"), QPushButton("Close")
        self.lay = QPushButton("Lay it as a scene")
        self.lay.setVisible(bypass_points(table.survey, figures.circuit.channels[0]) is not None)
        for button in (leave, self.lay):
            button.setProperty("quiet", True)
        for button, deed in ((self.take, self._take), (self.lay, self._lay), (leave, self.reject)):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        foot = QHBoxLayout()
        foot.addWidget(self.lay)
        foot.addStretch(1)
        foot.addWidget(leave)
        foot.addWidget(self.take)
        column = QVBoxLayout(self)
        column.addWidget(self.steps, 1)
        if len(sides) > 2:
            column.addWidget(_scrolled(form), 1)
        else:
            column.addLayout(form)
        column.addWidget(self.answer)
        column.addLayout(foot)
        self.resize(min(book.now.px(640), 1_100), min(book.now.px(600), 700))
        self._worked_out()

    def _worked_out(self) -> None:
        """Work out what was typed so far, and say what it comes to, or what is still missing."""
        figures = [_figure(field.text()) for field in (self.sent, self.tolerance, *self.read)]
        known = [value for value in figures if value is not None]
        self.reading = None
        if len(known) == len(figures):
            sent, tolerance, *read = known
            self.reading = reading(sent, read, abs(tolerance))
            self.answer.setText(self.reading.said)
        else:
            wrong = [
                f.text() for f in (self.sent, self.tolerance, *self.read) if f.text() and _figure(f.text()) is None
            ]
            self.answer.setText(
                f"“{wrong[0]}” is no level. Type a number such as −17.3." if wrong else "Type what the meters show."
            )
        self.take.setEnabled(self.reading is not None and not self.reading.good)

    def _lay(self) -> None:
        """Choose a new scene with a cord past the boxes of each channel."""
        try:
            wanted = bypass_scene(self._table.survey, self._figures.circuit)
        except BadValue as error:
            self.answer.setText(str(error))
            return
        self.lay.setEnabled(not self._table.do(wanted))

    def _take(self) -> None:
        """Put the trim into the return's gain: the mean of all channels, for the software has one for all."""
        if self.reading is None:
            return
        loop = self._table.studio.destinations[self._figures.loop.id]
        trim = sum(self.reading.trims_db) / len(self.reading.trims_db)
        gain = round(loop.use.return_gain_db + trim, 2)
        if self._table.do(change(f"Trim the return of {loop.name}", set_loop_use, loop.id, return_gain_db=gain)):
            self.accept()


def _scrolled(form: QFormLayout) -> QScrollArea:
    area, inside = QScrollArea(), QWidget()
    inside.setLayout(form)
    area.setWidget(inside)
    area.setWidgetResizable(True)
    return area


def _figure(text: str) -> float | None:
    """Return a typed level; None where it is none, or none yet."""
    try:
        value = float(text.strip().removesuffix("dBFS").removesuffix("dB").strip().replace(",", ".").replace("−", "-"))
    except ValueError:
        return None
    return value if -200.0 <= value <= 60.0 else None
