"""Measuring a loop by files: write the ping, read the recording, look at the waves, take the delay into the loop."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.sheets.loops.take_pane import TakePane, TakeRow
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.cancelled_work import CancelledWork
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.drawings.painters.theme import ThemeBook
from ennead.files.ping_take import PingTake, read_take
from ennead.files.sound_file import write_sound
from ennead.reports.loop_rows import LoopFigures, numbers_text
from ennead.reports.ping_rows import reading_lines
from ennead.reports.ping_taking import take_reading
from ennead.studio.errors import EnneadError

_SOUND = "Sound (*.wav *.rf64 *.w64 *.flac)"
_MEANS = (
    ("The software corrects no delay: round trip", "round_trip"),
    ("The software corrects what the driver reports", "residual"),
)
_DRY = 8


class MeasureDialog(QDialog):
    """The dialog for one loop that goes round."""

    def __init__(self, table: Worktable, book: ThemeBook, figures: LoopFigures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("measure_dialog")
        self.setWindowTitle(f"Measure {figures.loop.name}")
        self._table, self._figures = table, figures
        self.sent: Path | None = None
        self.taken: PingTake | None = None
        self.words = WholeLabel(
            "▲ Turn monitors and headphones all the way down: the ping is loud noise, and a loop may ring. Write it,"
            f" play it from the start of the timeline through output {numbers_text(figures.sends)}, record input"
            f" {numbers_text(figures.returns)} with nothing monitored, export from the start, and read it here."
        )
        self.means, self.dry = QComboBox(), QComboBox()
        self.means.setAccessibleName("The software’s own correction of delay")
        for text, value in _MEANS:
            self.means.addItem(text, value)
        self.dry.setAccessibleName("The channel that holds the dry signal")
        self.dry.addItem("No dry channel beside it", None)
        for n in range(1, _DRY + 1):
            self.dry.addItem(f"Channel {n} is the dry signal", n)
        self.write, self.read = QPushButton("Write the ping…"), QPushButton("Read the recording…")
        self.work, self.pane = CancelledWork(self), TakePane(book)
        self.answer = WholeLabel()
        set_tone(self.answer, "ink")
        self.take, self.leave = QPushButton("Take it into the loop"), QPushButton("Close")
        self.leave.setProperty("quiet", True)
        self._lay_out(book)
        for button, deed in (
            (self.write, self._write),
            (self.read, self._read),
            (self.take, self._take),
            (self.leave, self.reject),
        ):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        self.work.busy.connect(self._working)
        self.work.failed.connect(self.answer.setText)
        self.pane.nudged.connect(self._nudged)
        self.take.setEnabled(False)

    def _lay_out(self, book: ThemeBook) -> None:
        asked, worked, foot = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        for choice in (self.means, self.dry):
            asked.addWidget(choice)
        for widget in (self.write, self.read, self.work.progress, self.work.stop):
            worked.addWidget(widget)
        worked.addStretch(1)
        foot.addWidget(self.answer, 1)
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column = QVBoxLayout(self)
        column.addWidget(self.words)
        for row in (asked, worked):
            column.addLayout(row)
        column.addWidget(self.pane, 1)
        column.addLayout(foot)
        self.resize(min(book.now.px(860), 1_100), min(book.now.px(640), 700))

    def _working(self, busy: bool) -> None:
        asked: tuple[QWidget, ...] = (self.write, self.read, self.means, self.dry)
        for part in asked:
            part.setEnabled(not busy)

    def _write(self) -> None:
        start = str(Path.home() / f"ping {self._table.studio.rate_hz}.wav")
        name, _ = QFileDialog.getSaveFileName(self, "Write the ping", start, "WAV (*.wav)")
        if name:
            self.write_to(Path(name))

    def write_to(self, path: Path) -> None:
        """Write the ping that suits the loop."""
        path = path if path.suffix else path.with_suffix(".wav")
        rate, channels = self._table.studio.rate_hz, min(_DRY, max(1, len(self._figures.sends)))

        def work(_: Callable[[float], None]) -> Path:
            from ennead.measure.ping_signal import ping_file

            write_sound(path, ping_file(rate, channels), rate)
            return path

        def then(_: object) -> None:
            self.sent = path
            self.answer.setText(f"{path.name} is written: 24 bits at {rate:,} Hz.".replace(",", " "))

        self.work.start(work, then)

    def _read(self) -> None:
        if self.sent is None:
            name, _ = QFileDialog.getOpenFileName(self, "The ping that was played", "", _SOUND)
            if not name:
                return
            self.sent = Path(name)
        name, _ = QFileDialog.getOpenFileName(self, "The recording of it", str(self.sent.parent), _SOUND)
        if name:
            self.read_from(Path(name))

    def read_from(self, path: Path) -> None:
        """Read a recording of the ping."""
        sent, means, dry = self.sent, self.means.currentData(), self.dry.currentData()
        assert sent is not None  # noqa: S101 - asked for before
        self.work.start(
            lambda progress: read_take(sent, path, means, dry, overlays=True, progress=progress), self._found
        )

    def _found(self, taken: object) -> None:
        assert isinstance(taken, PingTake)  # noqa: S101 - what was asked for
        self.taken = taken
        rows = []
        for reading, overlay in zip(taken.readings, taken.overlays, strict=True):
            dry = " · dry" if reading.channel == self.dry.currentData() else ""
            lines = reading_lines(reading, taken.rate_hz)
            rows.append(TakeRow(f"channel {reading.channel}{dry}", self._figures.loop.name, lines, overlay))
        self.pane.show_rows(rows, taken.rate_hz)
        self.take.setEnabled(any(r.delay_samples is not None for r in taken.readings))
        self.answer.setText("")

    def _nudged(self, samples: float) -> None:
        said = f"Laid {samples:+g} samples by hand: so much is taken off the measured delay." if samples else ""
        self.answer.setText(said.replace("-", "−"))

    def _take(self) -> None:
        if self.taken is None:
            return
        heard = [r for r in self.taken.readings if r.channel != self.dry.currentData() and r.sent]
        off = self.pane.nudge_of(self._figures.loop.name)
        moved = [
            replace(r, delay_samples=r.delay_samples - off if r.delay_samples is not None else None) for r in heard
        ]
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        try:
            wanted = take_reading(self._table.survey, self._figures.loop.id, moved, self.taken.rate_hz, now)
        except EnneadError as error:
            self.answer.setText(str(error))
            return
        if self._table.do(wanted):
            self.accept()
