"""A new loop: which boxes, one channel or two, as an insert or on a bus."""

from typing import NamedTuple

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QWidget,
)

from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.planning.routing.loop_in_numbers import in_numbers
from ennead.planning.routing.loop_making import free_boxes, widths_of
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.session import Destination
from ennead.studio.widths import width_of, width_text
from ennead.survey.survey import Survey

#: How many boxes in series the dialog offers.
_SERIES = 3


class WantedLoop(NamedTuple):
    """What the dialog was told."""

    name: str
    boxes: tuple[UnitId, ...]
    channels: int
    back: int
    parallel: bool
    digital: bool


class NewLoop(QDialog):
    """The dialog; `wanted` is what it was told."""

    def __init__(self, survey: Survey, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("new_loop")
        self.setWindowTitle("New loop")
        self._survey = survey
        self.boxes = [QComboBox() for _ in range(_SERIES)]
        free = free_boxes(survey)
        for n, choice in enumerate(self.boxes):
            if n:
                choice.addItem("nothing more", "")
            for unit in free:
                choice.addItem(f"{survey.units[unit].name} · {survey.profiles[unit].name}", unit)
            if not n:
                choice.addItem("a box that is not in the rig", "")
            choice.setAccessibleName(f"Box {n + 1} of the loop")
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(30)
        self.name, self.channels, self.use = QLineEdit(), QComboBox(), QComboBox()
        self.digital = QCheckBox("by its digital sockets")
        self.digital.setToolTip("Cables from and to a digital socket of an interface, its menu and its clock set so.")
        self.channels.setEditable(True)
        self.channels.addItems(["mono", "stereo", "mono out, stereo back", "16 out, 2 back"])
        self.channels.setAccessibleName("Width of the loop, also typed: 8, or 16 out, 2 back")
        self.use.addItem("insert: all of the track goes through it", False)
        self.use.addItem("on a bus, the dry track beside it", True)
        self.words = WholeLabel(
            "It gets one free output and one free input a channel, never those of the mains, and the cables between;"
            " where its box is on a bay, the cords."
            " Boxes that go round already keep their cables and numbers."
        )
        form = QFormLayout(self)
        for label, widget in (
            ("Box", self.boxes[0]),
            *[("then", choice) for choice in self.boxes[1:]],
            ("Name", self.name),
            ("Width", self.channels),
            ("Use", self.use),
        ):
            form.addRow(label, widget)
        form.addRow("", self.digital)
        form.addRow(self.words)
        self.make, leave = QPushButton("Make it"), QPushButton("Leave it")
        leave.setProperty("quiet", True)
        leave.setAutoDefault(False)
        self.make.setDefault(True)
        self.make.clicked.connect(self._take)
        leave.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(leave)
        row.addWidget(self.make)
        form.addRow(row)
        for choice in self.boxes:
            choice.currentIndexChanged.connect(self._suggest)
        self._suggest()

    def _suggest(self) -> None:
        units = [UnitId(str(c.currentData())) for c in self.boxes if c.currentData()]
        if units:
            out, back = widths_of(self._survey, units[0])[0], widths_of(self._survey, units[-1])[1]
            self.channels.setCurrentText(
                width_text(Destination(DestinationId("D0"), "", "loop", channels=out, back=back))
            )
            self.name.setText(self._survey.units[units[0]].name)
        can = len(units) == 1 and in_numbers(self._survey, units[0], 1) is not None
        self.digital.setEnabled(can)
        self.digital.setChecked(self.digital.isChecked() and can)

    def _take(self) -> None:
        try:
            width_of(self.channels.currentText())
        except BadValue as error:
            self.words.setText(str(error))
            set_tone(self.words, "trouble")
            self.channels.setFocus()
        else:
            self.accept()

    @property
    def wanted(self) -> WantedLoop:
        """What was chosen; a box that is named twice stands once."""
        boxes = dict.fromkeys([UnitId(str(c.currentData())) for c in self.boxes if c.currentData()])
        return WantedLoop(
            self.name.text().strip() or "Loop",
            tuple(boxes),
            *width_of(self.channels.currentText()),
            bool(self.use.currentData()),
            self.digital.isChecked(),
        )
