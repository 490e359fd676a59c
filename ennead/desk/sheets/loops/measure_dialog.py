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
    QLabel,
    QListWidget,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.background.background_task import BackgroundTask
from ennead.desk.sheets.loops.curve_view import CurveView
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.desk.widgets.wrapped_items import WrappedList
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


class _Stopped(EnneadError):
    """The reading was cancelled."""

    def __str__(self) -> str:
        return "Stopped; nothing was read."


class MeasureDialog(QDialog):
    """The dialog for one loop that goes round."""

    def __init__(self, table: Worktable, book: ThemeBook, figures: LoopFigures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("measure_dialog")
        self.setWindowTitle(f"Measure {figures.loop.name}")
        self._table, self._figures, self._background = table, figures, BackgroundTask(self)
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
        self.progress, self.stop = QProgressBar(), QPushButton("Stop")
        self.progress.setTextVisible(False)
        self.curve = CurveView(book)
        self.channels, self.lines = QListWidget(), WrappedList()
        self.channels.setAccessibleName("Recorded channels")
        self.channels.setMaximumWidth(book.now.px(130))
        self.lines.setAccessibleName("What the channel says")
        self.answer = QLabel()
        set_tone(self.answer, "ink")
        self.take, self.leave = QPushButton("Take it into the loop"), QPushButton("Close")
        for button in (self.stop, self.leave):
            button.setProperty("quiet", True)
        self._lay_out(book)
        deeds = ((self.write, self._write), (self.read, self._read), (self.stop, self._stop))
        for button, deed in (*deeds, (self.take, self._take), (self.leave, self.reject)):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        self._background.went.connect(self.progress.setValue)
        self.channels.currentRowChanged.connect(self._shown)
        self.curve.nudged.connect(self._nudged)
        self._working(False)
        self.take.setEnabled(False)

    def _lay_out(self, book: ThemeBook) -> None:
        asked, worked, found, foot = QHBoxLayout(), QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        for choice in (self.means, self.dry):
            asked.addWidget(choice)
        for widget in (self.write, self.read, self.progress, self.stop):
            worked.addWidget(widget)
        worked.addStretch(1)
        found.addWidget(self.channels)
        found.addWidget(self.lines, 1)
        foot.addWidget(self.answer, 1)
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column = QVBoxLayout(self)
        column.addWidget(self.words)
        for row in (asked, worked):
            column.addLayout(row)
        column.addWidget(self.curve, 3)
        column.addLayout(found, 2)
        column.addLayout(foot)
        self.resize(min(book.now.px(860), 1_100), min(book.now.px(640), 700))

    def _working(self, busy: bool) -> None:
        hidden: tuple[QWidget, ...] = (self.progress, self.stop)
        asked: tuple[QWidget, ...] = (self.write, self.read, self.means, self.dry)
        for part in hidden:
            part.setVisible(busy)
        for part in asked:
            part.setEnabled(not busy)

    def _aside(self, work: Callable[[Callable[[float], None]], object], then: Callable[[object], None]) -> None:
        """Have something done aside, with progress; what it raises is said."""
        background = self._background

        def done(stopped: Callable[[], bool]) -> object:
            def progress(part: float) -> None:
                background.tell(part)
                if stopped():
                    raise _Stopped

            return work(progress)

        def ended(found: object) -> None:
            self._working(False)
            if isinstance(found, EnneadError):
                self.answer.setText(str(found))
            else:
                then(found)

        self.progress.setValue(0)
        self._working(True)
        background.start(done, ended)

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

        self._aside(work, then)

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
        self._aside(lambda progress: read_take(sent, path, means, dry, overlays=True, progress=progress), self._found)

    def _stop(self) -> None:
        self._background.drop()
        self._working(False)
        self.answer.setText(str(_Stopped()))

    def _found(self, taken: object) -> None:
        assert isinstance(taken, PingTake)  # noqa: S101 - what was asked for
        self.taken = taken
        self.channels.clear()
        for reading in taken.readings:
            self.channels.addItem(
                f"channel {reading.channel}{' · dry' if reading.channel == self.dry.currentData() else ''}"
            )
        self.channels.setCurrentRow(next((n for n, o in enumerate(taken.overlays) if o is not None), 0))
        self.take.setEnabled(any(r.delay_samples is not None for r in taken.readings))
        self.answer.setText("")

    def _shown(self, row: int) -> None:
        self.lines.clear()
        if self.taken is None or row < 0:
            return
        for line in reading_lines(self.taken.readings[row], self.taken.rate_hz):
            self.lines.addItem(line)
        first = self.lines.item(0)
        if first is not None:
            font = first.font()
            font.setBold(True)
            first.setFont(font)
        self.curve.show_overlay(self.taken.overlays[row], self.taken.rate_hz)

    def _nudged(self, samples: float) -> None:
        said = f"Laid {samples:+g} samples by hand: so much is taken off the measured delay." if samples else ""
        self.answer.setText(said.replace("-", "−"))

    def _take(self) -> None:
        if self.taken is None:
            return
        heard = [r for r in self.taken.readings if r.channel != self.dry.currentData() and r.sent]
        off = self.curve.nudge
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
