"""Read this computer: what the audio server shows, number by number beside the plan; noted with its latencies, or copied as a list."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.cancelled_work import CancelledWork
from ennead.desk.widgets.device_choice import DeviceChoice
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.drawings.painters.theme import ThemeBook
from ennead.live.server_ports import ServerPorts, read_server
from ennead.reports.computer_reading import comparison_lines, list_text, note_change, number_rows, planned_ports
from ennead.studio.errors import EnneadError
from ennead.studio.ids import ComputerId

_COLUMNS = ("number", "on the computer", "port", "in the plan", "reports")


class ReadComputerDialog(QDialog):
    """The dialog for one computer, or for none where only the list is wanted; it reads when it opens."""

    def __init__(
        self, table: Worktable, book: ThemeBook, computer: ComputerId | None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setObjectName("read_computer_dialog")
        self.setWindowTitle("Read this computer")
        self._table, self._computer = table, computer
        self.found: ServerPorts | None = None
        self.words, self.answer = WholeLabel(), WholeLabel()
        set_tone(self.words, "ink")
        self.device, self.list = DeviceChoice(), QTreeWidget()
        self.list.setAccessibleName("Numbers of the computer")
        self.list.setHeaderLabels(_COLUMNS)
        self.list.setRootIsDecorated(False)
        header = self.list.header()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.work = CancelledWork(self)
        self.again, self.copy, self.leave = (
            QPushButton("Read again"),
            QPushButton("Copy the list"),
            QPushButton("Close"),
        )
        self.note = QPushButton(f"Note it on {table.studio.hosts[computer].name}" if computer else "Note it")
        row, foot = QHBoxLayout(), QHBoxLayout()
        for part in (self.device, self.again, self.work.progress, self.work.stop):
            row.addWidget(part)
        row.addStretch(1)
        foot.addWidget(self.answer, 1)
        for button, deed in (
            (self.copy, self._copy),
            (self.leave, self.reject),
            (self.note, self._note),
            (self.again, self.read),
        ):
            button.setAutoDefault(False)
            button.setProperty("quiet", button is not self.note)
            button.clicked.connect(deed)
            if button is not self.again:
                foot.addWidget(button)
        column = QVBoxLayout(self)
        column.addWidget(self.words)
        column.addLayout(row)
        column.addWidget(self.list, 1)
        column.addLayout(foot)
        self.resize(min(book.now.px(820), 1_100), min(book.now.px(600), 720))
        self.work.busy.connect(self.again.setDisabled)
        self.work.failed.connect(self._failed)
        self.device.currentIndexChanged.connect(lambda _: self._show())
        self.finished.connect(lambda _: self.work.drop())
        self.read()

    def read(self) -> None:
        """Ask the server."""
        self.found = None
        self.device.offer(None)
        self._show()
        self.words.setText("Reading the ports of the audio server…")
        self.answer.setText("")
        self.work.start(lambda _: read_server(), self._read)

    def _read(self, found: object) -> None:
        assert isinstance(found, ServerPorts)  # noqa: S101 - what was asked for
        self.found = found
        self.device.offer(found, planned_ports(self._table.survey, found, self._computer))
        self._show()

    def _failed(self, said: str) -> None:
        self.words.setText(said)

    def _show(self) -> None:
        ports = self.device.ports
        self.list.clear()
        self.copy.setEnabled(ports is not None)
        self.note.setEnabled(ports is not None and self._computer is not None)
        if ports is None:
            return
        survey = self._table.survey
        said = [f"{ports.server} at {ports.rate_hz} Hz, {ports.period} samples a period."]
        if self._computer is not None:
            said += comparison_lines(survey, self._computer, ports)
        self.words.setText("\n".join(said))
        for way, rows in number_rows(survey, self._computer, ports).items():
            head = QTreeWidgetItem([way])
            head.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.list.addTopLevelItem(head)
            head.setFirstColumnSpanned(True)
            for row in rows:
                head.addChild(QTreeWidgetItem(list(row)))
            head.setExpanded(True)

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None and self.device.ports is not None:
            clipboard.setText(list_text(self._table.survey, self._computer, self.device.ports))
            self.answer.setText("The list is on the clipboard, ready for a spreadsheet.")

    def _note(self) -> None:
        assert self.device.ports is not None  # noqa: S101 - the button is off before
        assert self._computer is not None  # noqa: S101
        try:
            wanted = note_change(self._table.survey, self._computer, self.device.ports)
        except EnneadError as error:
            self.answer.setText(str(error))
            return
        if self._table.do(wanted):
            self.accept()
