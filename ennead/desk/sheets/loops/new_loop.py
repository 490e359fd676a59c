"""A new loop: which box, one channel or two, as an insert or on a bus."""

from PyQt6.QtWidgets import QComboBox, QDialog, QFormLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from ennead.edits.change import Change, step
from ennead.edits.destinations import add_destination
from ennead.edits.loop_use import set_loop_use
from ennead.studio.document import Studio
from ennead.studio.ids import DestinationId, UnitId
from ennead.survey.survey import Survey

#: Roles of boxes that can work on a signal.
_ROLES = ("processor", "preamp", "console", "instrument")


def free_boxes(survey: Survey) -> list[UnitId]:
    """Return the boxes that could stand in a loop and stand in none, those that work on sound first."""
    held = {box for loop in survey.wired_loops for box in loop.boxes if _named(survey, box)}
    held |= {box for d in survey.destinations for box in d.boxes}
    profiles = survey.profiles
    boxes = [u for u, p in profiles.items() if p.role in _ROLES and u not in held and not p.driver_maps]
    return sorted(boxes, key=lambda u: _ROLES.index(profiles[u].role))


def _named(survey: Survey, box: UnitId) -> bool:
    return any(box in d.boxes for d in survey.destinations)


class NewLoop(QDialog):
    """The dialog; `change` is what it makes."""

    def __init__(self, studio: Studio, survey: Survey, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("new_loop")
        self.setWindowTitle("New loop")
        self._studio, self._survey = studio, survey
        self.boxes, self.name = QComboBox(), QLineEdit()
        for unit in free_boxes(survey):
            self.boxes.addItem(f"{survey.units[unit].name} · {survey.profiles[unit].name}", unit)
        self.boxes.addItem("a box that is not in the rig yet", "")
        self.channels, self.use = QComboBox(), QComboBox()
        self.channels.addItem("mono", 1)
        self.channels.addItem("stereo", 2)
        self.use.addItem("insert: all of the track goes through it", False)
        self.use.addItem("on a bus, the dry track beside it", True)
        words = QLabel(
            "A loop takes one driver output and one input a channel. Allocate finds them free"
            " ones, never those of the mains;"
            " a box that is wired already keeps its numbers."
        )
        words.setWordWrap(True)
        form = QFormLayout(self)
        form.addRow("Box", self.boxes)
        form.addRow("Name", self.name)
        form.addRow("Width", self.channels)
        form.addRow("Use", self.use)
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
        self.boxes.currentIndexChanged.connect(self._suggest)
        self._suggest()

    def _suggest(self) -> None:
        unit = self.boxes.currentData()
        if unit:
            profile = self._survey.profiles[unit]
            ins = sum(p.channels for p in profile.ports if p.direction == "in" and "line" in p.carries)
            self.channels.setCurrentIndex(1 if ins >= 2 else 0)
            self.name.setText(self._survey.units[unit].name)

    @property
    def change(self) -> Change:
        """The loop on the session's list, with its use."""
        name = self.name.text().strip() or "Loop"
        channels, parallel = int(self.channels.currentData()), bool(self.use.currentData())
        steps = [step(add_destination, name, "loop", channels=channels)]
        if parallel:
            key = DestinationId(f"D{self._studio.counters.get('D', 0) + 1}")
            steps.append(step(set_loop_use, key, parallel=True))
        return Change(f"Make the loop {name}", tuple(steps))
