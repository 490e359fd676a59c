"""A new loop: which boxes, one channel or two, as an insert or on a bus."""

from typing import NamedTuple

from PyQt6.QtWidgets import QComboBox, QDialog, QFormLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from ennead.planning.routing.loop_making import channels_of, free_boxes
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey

#: How many boxes in series the dialog offers.
_SERIES = 3


class WantedLoop(NamedTuple):
    """What the dialog was told."""

    name: str
    boxes: tuple[UnitId, ...]
    channels: int
    parallel: bool


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
        self.channels.addItem("mono", 1)
        self.channels.addItem("stereo", 2)
        self.use.addItem("insert: all of the track goes through it", False)
        self.use.addItem("on a bus, the dry track beside it", True)
        words = QLabel(
            "It gets one free output and one free input a channel, never those of the mains, and the cables between."
            " Boxes that go round already keep their cables and numbers."
        )
        words.setWordWrap(True)
        form = QFormLayout(self)
        for label, widget in (
            ("Box", self.boxes[0]),
            *[("then", choice) for choice in self.boxes[1:]],
            ("Name", self.name),
            ("Width", self.channels),
            ("Use", self.use),
        ):
            form.addRow(label, widget)
        form.addRow(words)
        self.make, leave = QPushButton("Make it"), QPushButton("Leave it")
        leave.setProperty("quiet", True)
        leave.setAutoDefault(False)
        self.make.setDefault(True)
        self.make.clicked.connect(self.accept)
        leave.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(leave)
        row.addWidget(self.make)
        form.addRow(row)
        self.boxes[0].currentIndexChanged.connect(self._suggest)
        self._suggest()

    def _suggest(self) -> None:
        unit = self.boxes[0].currentData()
        if unit:
            self.channels.setCurrentIndex(channels_of(self._survey, unit) - 1)
            self.name.setText(self._survey.units[unit].name)

    @property
    def wanted(self) -> WantedLoop:
        """What was chosen; a box that is named twice stands once."""
        boxes = dict.fromkeys([UnitId(str(c.currentData())) for c in self.boxes if c.currentData()])
        return WantedLoop(
            self.name.text().strip() or "Loop",
            tuple(boxes),
            int(self.channels.currentData()),
            bool(self.use.currentData()),
        )
