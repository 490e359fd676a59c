"""The seven questions that describe a box, as a form; what is answered is read as one value."""

from typing import get_args

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPlainTextEdit, QSpinBox, QVBoxLayout, QWidget

from ennead.desk.widgets.field import Field
from ennead.desk.widgets.tick_box import TickBox
from ennead.drawings.painters.theme import Theme
from ennead.planning.boxes.describing import MOST_SOCKETS, Answers, Optical, OpticalWays, Phantom
from ennead.standards.computer_ports import Bus
from ennead.standards.rates import rate_text

_OPTICAL: tuple[tuple[Optical, str], ...] = (
    ("none", "none"),
    ("in", "one, in only"),
    ("pair", "one in, one out"),
    ("two", "two in, two out"),
    ("two-fast", "two in, two out; the second above 48 kHz only"),
)
_PHANTOM: tuple[tuple[Phantom, str], ...] = (("all", "all at once"), ("fours", "in fours"), ("each", "one by one"))
_SPDIF: tuple[tuple[OpticalWays, str], ...] = (("none", "none"), ("in", "in only"), ("both", "in and out"))


class Questions(QWidget):
    """The form; `answered` whenever an answer changes."""

    answered = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._column = QVBoxLayout(self)
        self._column.setSpacing(theme.px(5))
        self._asked = 0
        self.name = Field("")
        self.name.setObjectName("box_name")
        self.name.setPlaceholderText("what you call it, such as: eight-preamp box with one optical pair")
        self.name.setAccessibleName("What you call the box")
        self.name.textChanged.connect(self.answered)
        self._column.addWidget(self.name)
        self._ask_sockets()
        self._ask_clock()
        self._ask_software()
        self._column.addStretch(1)

    def _ask_sockets(self) -> None:
        self.mics, self.hiz = self._number("mics", 2), self._number("hiz", 0)
        self._ask(
            "How many microphone inputs, and how many inputs take an instrument (Hi-Z)?",
            ("microphone", self.mics),
            ("Hi-Z among all", self.hiz),
        )
        self.lines, self.line_outs = self._number("lines", 0), self._number("line_outs", 2)
        self._ask(
            "How many line inputs without a preamp, and how many line outputs?",
            ("line in", self.lines),
            ("line out", self.line_outs),
        )
        self.optical = self._choice("optical", _OPTICAL)
        self.optical_spdif, self.optical_apart = self._tick("can be set to S/PDIF"), self._tick("in and out apart")
        self._ask("Which optical sockets?", ("", self.optical), ("", self.optical_spdif), ("", self.optical_apart))
        self.spdif, self.aes3, self.madi = (
            self._choice(name, _SPDIF, short=True) for name in ("spdif", "aes3", "madi")
        )
        self._ask(
            "S/PDIF on a phono socket, AES3, MADI?", ("S/PDIF", self.spdif), ("AES3", self.aes3), ("MADI", self.madi)
        )
        self.phones, self.phantom = self._number("phones", 1), self._choice("phantom", _PHANTOM, short=True)
        self._ask("How many headphone outputs, and how is 48 V switched?", ("", self.phones), ("48 V", self.phantom))

    def _ask_clock(self) -> None:
        self.own_clock, self.word_in = self._tick("it can lead", ticked=True), self._tick("word clock in")
        self.word_out = self._tick("word clock out")
        self.fastest = self._choice(
            "fastest", tuple((str(r), rate_text(r)) for r in (192_000, 96_000, 48_000)), short=True
        )
        self._ask(
            "Does it lead or follow the clock, and how fast does it run?",
            ("", self.own_clock),
            ("", self.word_in),
            ("", self.word_out),
            ("up to", self.fastest),
        )

    def _ask_software(self) -> None:
        self.on_computer = self._tick("a computer sees it", ticked=True)
        self.bus = self._choice("bus", tuple((b, b or "not said") for b in get_args(Bus)), short=True)
        self.software = self._paste(
            "software_list", "inputs", "paste the inputs, one a line:\n1 Mic 1\n2 Mic 2\n9 ADAT 1 …"
        )
        self.software_out = self._paste(
            "software_outs", "outputs", "paste the outputs, one a line:\n1 Line 1\n2 Line 2\n3 Phones L …"
        )
        self._ask("What stands in your software's lists?", ("", self.on_computer), ("over", self.bus))
        lists = QHBoxLayout()
        lists.addWidget(self.software)
        lists.addWidget(self.software_out)
        self._column.addLayout(lists)
        for widget in (self.software, self.software_out, self.bus):
            self.on_computer.toggled.connect(widget.setVisible)

    def _paste(self, name: str, what: str, hint: str) -> QPlainTextEdit:
        field = QPlainTextEdit()
        field.setObjectName(name)
        field.setAccessibleName(f"The software's list of {what}")
        field.setTabChangesFocus(True)
        field.setPlaceholderText(hint)
        field.setFixedHeight(self._theme.px(96))
        field.textChanged.connect(self.answered)
        return field

    def _ask(self, question: str, *parts: tuple[str, QWidget]) -> None:
        self._asked += 1
        head = QLabel(f"{self._asked}  {question}")
        head.setWordWrap(True)
        head.setFont(self._theme.font(14, bold=True))
        self._column.addWidget(head)
        # Two answers a row: the box they make needs the room beside them.
        for first in range(0, len(parts), 2):
            row = QHBoxLayout()
            for label, widget in parts[first : first + 2]:
                if label:
                    words = QLabel(label)
                    words.setBuddy(widget)
                    row.addWidget(words)
                row.addWidget(widget)
            row.addStretch(1)
            row.setContentsMargins(self._theme.px(18), 0, 0, self._theme.px(2))
            self._column.addLayout(row)

    def _number(self, name: str, value: int) -> QSpinBox:
        box = QSpinBox()
        box.setRange(0, MOST_SOCKETS)
        box.setValue(value)
        box.setObjectName(name)
        box.setMinimumWidth(self._theme.px(64))
        box.valueChanged.connect(self.answered)
        return box

    def _choice(self, name: str, choices: tuple[tuple[str, str], ...], *, short: bool = False) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        for key, label in choices:
            box.addItem(label, key)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(8 if short else 16)
        box.activated.connect(self.answered)
        return box

    def _tick(self, text: str, *, ticked: bool = False) -> TickBox:
        box = TickBox(text, self._theme)
        box.setChecked(ticked)
        box.toggled.connect(self.answered)
        return box

    def answers(self) -> Answers:
        """Return what has been answered."""
        return Answers(
            name=self.name.text().strip() or "my box",
            mics=self.mics.value(),
            hiz=self.hiz.value(),
            lines=self.lines.value(),
            line_outs=self.line_outs.value(),
            optical=self.optical.currentData(),
            optical_spdif=self.optical_spdif.isChecked(),
            spdif=self.spdif.currentData(),
            phones=self.phones.value(),
            own_clock=self.own_clock.isChecked(),
            word_in=self.word_in.isChecked(),
            word_out=self.word_out.isChecked(),
            on_computer=self.on_computer.isChecked(),
            software_inputs=self.software.toPlainText() if self.on_computer.isChecked() else "",
            software_outputs=self.software_out.toPlainText() if self.on_computer.isChecked() else "",
            optical_apart=self.optical_apart.isChecked(),
            aes3=self.aes3.currentData(),
            madi=self.madi.currentData(),
            phantom=self.phantom.currentData(),
            bus=self.bus.currentData(),
            fastest_hz=int(self.fastest.currentData()),
        )
