"""Measuring loops live: pings through the running audio server, what they say, the delays into the loops."""

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ennead.desk.sheets.loops.live_choice import LiveChoice
from ennead.desk.sheets.loops.take_pane import TakePane, TakeRow
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.cancelled_work import CancelledWork
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, Edit
from ennead.live.server_ports import ServerPorts, read_server
from ennead.live.taking import LiveTake, take_loops
from ennead.measure.ping_signal import length_s
from ennead.reports.live_loops import loop_ports, nudged, take_lines
from ennead.reports.ping_taking import take_reading
from ennead.studio.errors import EnneadError
from ennead.studio.ids import DestinationId

_WORDS = (
    "▲ Turn monitors and headphones all the way down: the ping is loud noise, and a loop may ring. It goes out of the"
    " sends alone, and what comes back by the returns is recorded. A take lasts {} s; a damaged one is repeated."
)


class LiveDialog(QDialog):
    """The dialog; it looks for the server when it opens."""

    def __init__(
        self, table: Worktable, book: ThemeBook, chosen: DestinationId | None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setObjectName("live_dialog")
        self.setWindowTitle("Measure loops live")
        self._table = table
        self.takes: list[tuple[DestinationId, LiveTake]] = []
        self.words, self.choice = (
            WholeLabel(_WORDS.format(round(length_s(table.studio.rate_hz)))),
            LiveChoice(table.survey, book.now, chosen),
        )
        self.start, self.again = QPushButton("Measure"), QPushButton("Look for the server again")
        self.back = QPushButton("Choose again")
        self.take, self.leave = QPushButton("Take them into the loops"), QPushButton("Close")
        for button in (self.again, self.back, self.leave):
            button.setProperty("quiet", True)
        self.work, self.pane, self.answer = CancelledWork(self), TakePane(book), WholeLabel()
        set_tone(self.answer, "ink")
        self.pages = QStackedWidget()
        self._lay_out(book)
        for button, deed in (
            (self.start, self.measure),
            (self.again, self.look),
            (self.back, lambda: self._turn(0)),
            (self.take, self._take),
            (self.leave, self.reject),
        ):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        self.work.busy.connect(self._may)
        self.work.failed.connect(self._failed)
        self.choice.changed.connect(self._may)
        self.pane.nudged.connect(self._nudged)
        # A closed dialog ends its take, so that no ping sounds on.
        self.finished.connect(lambda _: self.work.drop())
        self._turn(0)
        self.look()

    def _lay_out(self, book: ThemeBook) -> None:
        worked, foot = QHBoxLayout(), QHBoxLayout()
        for widget in (self.start, self.work.progress, self.work.stop, self.again, self.back):
            worked.addWidget(widget)
        worked.addStretch(1)
        foot.addWidget(self.answer, 1)
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        asked = QWidget()
        before = QVBoxLayout(asked)
        before.setContentsMargins(0, 0, 0, 0)
        before.addWidget(self.words)
        before.addWidget(self.choice, 1)
        for page in (asked, self.pane):
            self.pages.addWidget(page)
        column = QVBoxLayout(self)
        column.addWidget(self.pages, 1)
        column.addLayout(worked)
        column.addLayout(foot)
        self.resize(min(book.now.px(860), 1_100), min(book.now.px(580), 720))

    def _turn(self, page: int) -> None:
        """Show what is to be measured, or what was."""
        self.pages.setCurrentIndex(page)
        self.again.setVisible(page == 0)
        self.back.setVisible(page == 1)

    def _failed(self, said: str) -> None:
        """Say what went wrong: of the server, where it is looked for."""
        self.answer.setText(said)
        if self.choice.found is None:
            self.choice.show_server(None)

    def _may(self, busy: bool = False) -> None:
        for part in (self.choice, self.again, self.back):
            part.setEnabled(not busy)
        self.start.setEnabled(not busy and self.choice.may_start)
        self.take.setEnabled(not busy and any(take.is_whole for _, take in self.takes))

    def look(self) -> None:
        """Look for the server and its ports."""
        self.choice.show_server(None, "Looking for the audio server…")
        self.answer.setText("")

        def then(found: object) -> None:
            assert isinstance(found, ServerPorts)  # noqa: S101 - what was asked for
            self.choice.show_server(found)
            self.choice.down.setFocus()

        self.work.start(lambda _: read_server(), then)

    def measure(self) -> None:
        """Measure the ticked loops."""
        ports, chosen, rate_hz = self.choice.ports, self.choice.chosen, self._table.survey.rate_hz
        assert ports is not None  # noqa: S101 - the button is off before
        try:
            loops = [loop_ports(circuit, ports) for circuit in chosen]
        except EnneadError as error:
            self.answer.setText(str(error))
            return
        self.takes = []
        self.pane.show_rows((), rate_hz)
        self.answer.setText("")
        self._turn(1)
        in_turn = self.choice.in_turn

        def work(progress: Callable[[float], None]) -> list[LiveTake]:
            return take_loops(loops, rate_hz, in_turn=in_turn, overlays=True, progress=progress)

        def then(found: object) -> None:
            assert isinstance(found, list)  # noqa: S101 - what was asked for
            self._show([(c.loop.id, take) for c, take in zip(chosen, found, strict=True)])

        self.work.start(work, then)

    def _show(self, takes: list[tuple[DestinationId, LiveTake]]) -> None:
        self.takes = takes
        rows = []
        for _, take in takes:
            for n, overlay in enumerate(take.overlays):
                name = take.ports.loop if len(take.overlays) == 1 else f"{take.ports.loop}, return {n + 1}"
                rows.append(TakeRow(name, take.ports.loop, take_lines(take, n), overlay))
        self.pane.show_rows(rows, takes[0][1].rate_hz)
        refused = sum(not take.is_whole for _, take in takes)
        self.answer.setText(
            f"{refused} of {len(takes)} loops have no delay: see what is said of them." if refused else ""
        )
        self._may()

    def _nudged(self, samples: float) -> None:
        said = f"Laid {samples:+g} samples by hand: so much is taken off the measured delay." if samples else ""
        self.answer.setText(said.replace("-", "−"))

    def _take(self) -> None:
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        survey, names = self._table.survey, list[str]()
        steps: list[Edit] = []
        try:
            for loop, take in self.takes:
                if take.is_whole:
                    left = nudged(take, self.pane.nudge_of(take.ports.loop))
                    steps += take_reading(survey, loop, left, take.rate_hz, now, buffer=take.period).steps
                    names.append(take.ports.loop)
        except EnneadError as error:
            self.answer.setText(str(error))
            return
        if self._table.do(Change(f"Take the measured delay of {', '.join(names)}", tuple(steps))):
            self.accept()
