"""Connect this expander to that interface: the proposal with its consequences, to be taken or left."""

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.background.background_task import BackgroundTask, Stopped
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.growing.expansion import Expansion, connect_expander, likely_pair
from ennead.studio.errors import EnneadError
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey


class ExpandDialog(QDialog):
    """The dialog; `found` is the proposal that was taken."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("expand_dialog")
        self.setWindowTitle("Connect an expander")
        self._table = table
        self.found: Expansion | None = None
        self._background = BackgroundTask(self)
        self.expander, self.interface = QComboBox(), QComboBox()
        self.expander.setAccessibleName("Expander")
        self.interface.setAccessibleName("Interface")
        self.both = QCheckBox("its outputs too (cables back)")
        self.rows = QListWidget()
        self.rows.setAccessibleName("What it takes and brings")
        self.rows.setWordWrap(True)
        self.take, leave = QPushButton("Take it"), QPushButton("Leave it")
        leave.setProperty("quiet", True)
        for button, deed in ((self.take, self.accept), (leave, self.reject)):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        head, foot, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for widget in (QLabel("Connect"), self.expander, QLabel("to"), self.interface, self.both):
            head.addWidget(widget)
        head.addStretch(1)
        foot.addStretch(1)
        foot.addWidget(leave)
        foot.addWidget(self.take)
        column.addLayout(head)
        column.addWidget(self.rows, 1)
        column.addLayout(foot)
        theme = book.now
        self.resize(min(theme.px(780), 1_180), min(theme.px(460), 700))
        self._fill()
        for box in (self.expander, self.interface):
            box.currentIndexChanged.connect(self._propose)
        self.both.toggled.connect(self._propose)
        self._propose()

    def _fill(self) -> None:
        studio, survey = self._table.studio, self._table.survey
        for unit in studio.units.values():
            profile = studio.profile_of(unit.id)
            digital = any(p.is_digital and p.direction == "out" for p in profile.ports)
            if digital and profile.role != "clock":
                self.expander.addItem(unit.name, unit.id)
            if unit.id in survey.numbering.computer_of:
                self.interface.addItem(unit.name, unit.id)
        pair = likely_pair(survey)
        if pair is not None:
            self.interface.setCurrentIndex(self.interface.findData(pair[0]))
            self.expander.setCurrentIndex(self.expander.findData(pair[1]))

    def _propose(self) -> None:
        self.rows.clear()
        self.found = None
        self.take.setEnabled(False)
        self._background.drop()
        expander, interface = self.expander.currentData(), self.interface.currentData()
        if expander is None or interface is None:
            self.rows.addItem(
                "It takes an interface on a computer and a box with a digital output. Take them from the shelf on the"
                " Rig sheet."
            )
        elif expander == interface:
            self.rows.addItem("A box cannot expand itself.")
        else:
            studio, both = self._table.studio, self.both.isChecked()

            def work(_: Stopped) -> Expansion:
                return connect_expander(Survey(studio), UnitId(interface), UnitId(expander), both_ways=both)

            self._background.start(work, self._show)

    def _show(self, found: Expansion | EnneadError) -> None:
        if isinstance(found, EnneadError):
            self.rows.addItem(str(found))
            return
        self.found = found
        for sentence in found.said:
            self.rows.addItem(sentence)
        self.take.setEnabled(True)
