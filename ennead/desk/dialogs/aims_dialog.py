"""What matters more than what when places are found, in words; and how many inputs are to stay free."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.tick_box import TickBox
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.drawings.painters.theme import Theme, ThemeBook
from ennead.edits.change import Change, Edit, step
from ennead.edits.session import set_aims, set_loop_numbers, set_mains_silent, set_spare
from ennead.studio.session import AIM_LABELS, LOOP_NUMBERS, SPARES, Session

_SPARE_WORDS = {
    "phantom": "mic inputs with 48 V",
    "mic": "mic inputs",
    "line": "line inputs",
    "hiz": "Hi-Z inputs",
    "all": "inputs in all",
}


class _Order(QListWidget):
    """A list with lines that Alt+Up and Alt+Down move."""

    moved = pyqtSignal(int)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key())) if event is not None else None
        if event is not None and by is not None and event.modifiers() == Qt.KeyboardModifier.AltModifier:
            self.moved.emit(by)
        else:
            super().keyPressEvent(event)


class AimsDialog(QDialog):
    """The dialog; `wanted` is the change to make when it was accepted, or None where nothing changed."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("aims_dialog")
        self.setWindowTitle("What matters when places are found")
        session = table.studio.current
        self._spare = dict(session.spare)
        words = WholeLabel(
            "Hard rules are never broken, and nobody is left out who could find a place. Among what is left, the first "
            "aim counts more than all below it together. Alt+Up and Alt+Down move one."
        )
        self.aims = _Order()
        self.aims.moved.connect(self._move)
        self.aims.setAccessibleName("Aims, the most important first")
        self.aims.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        for aim in session.aims or tuple(AIM_LABELS):
            item = QListWidgetItem(AIM_LABELS[aim])
            item.setData(Qt.ItemDataRole.UserRole, aim)
            self.aims.addItem(item)
        self.aims.setCurrentRow(0)
        self.aims.setSpacing(book.now.px(2))
        form = self._form(session, book.now)
        up, down, usual = QPushButton("More"), QPushButton("Less"), QPushButton("The usual order")
        keep, leave = QPushButton("Keep it"), QPushButton("Leave it")
        up.setToolTip("More important (Alt+Up)")
        down.setToolTip("Less important (Alt+Down)")
        for button, deed in (
            (up, lambda: self._move(-1)),
            (down, lambda: self._move(1)),
            (usual, self._usual),
            (keep, self.accept),
            (leave, self.reject),
        ):
            button.setAutoDefault(False)
            button.setProperty("quiet", button is not keep)
            button.clicked.connect(deed)
        side, foot, middle, column = QVBoxLayout(), QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for button in (up, down, usual):
            side.addWidget(button)
        side.addSpacing(book.now.px(14))
        side.addLayout(form)
        side.addStretch(1)
        foot.addStretch(1)
        foot.addWidget(leave)
        foot.addWidget(keep)
        middle.addWidget(self.aims, 1)
        middle.addLayout(side)
        column.addWidget(words)
        column.addLayout(middle, 1)
        column.addLayout(foot)
        theme = book.now
        self.resize(min(theme.px(700), 1_180), min(theme.px(440), 700))

    def _form(self, session: Session, theme: Theme) -> QFormLayout:
        """Return the fields beside the list: inputs to stay free, and a loop's numbers."""
        form = QFormLayout()
        form.addRow(QLabel("Inputs that are to stay free:"))
        self.spare: dict[str, QSpinBox] = {}
        for need in SPARES:
            box = QSpinBox()
            box.setRange(0, 999)
            box.setValue(session.spare.get(need, 0))
            box.setAccessibleName(f"Spare {_SPARE_WORDS[need]}")
            self.spare[need] = box
            form.addRow(_SPARE_WORDS[need], box)
        self.loops = QComboBox()
        self.loops.setAccessibleName("Numbers of a loop's send and return")
        for policy, label in LOOP_NUMBERS.items():
            self.loops.addItem(label, policy)
        self.loops.setCurrentIndex(list(LOOP_NUMBERS).index(session.loop_numbers))
        form.addRow(QLabel("A loop's numbers out and in:"))
        form.addRow(self.loops)
        self.silent = TickBox("the mains are silent tonight", theme)
        self.silent.setObjectName("mains_silent")
        self.silent.setToolTip("Nobody listens on them: their outputs may serve others")
        self.silent.setChecked(session.mains_silent)
        self._was_silent = session.mains_silent
        form.addRow(self.silent)
        return form

    def order(self) -> tuple[str, ...]:
        """Return the aims as they stand in the list."""
        items = [self.aims.item(i) for i in range(self.aims.count())]
        return tuple(item.data(Qt.ItemDataRole.UserRole) for item in items if item is not None)

    def _move(self, by: int) -> None:
        row = self.aims.currentRow()
        to = row + by
        if row >= 0 and 0 <= to < self.aims.count():
            self.aims.insertItem(to, self.aims.takeItem(row))
            self.aims.setCurrentRow(to)

    def _usual(self) -> None:
        for row, aim in enumerate(AIM_LABELS):
            here = self.order().index(aim)
            self.aims.insertItem(row, self.aims.takeItem(here))

    @property
    def wanted(self) -> Change:
        """The change that keeps what the dialog shows."""
        steps: list[Edit] = [step(set_aims, self.order())]
        steps += [
            step(set_spare, need, box.value())
            for need, box in self.spare.items()
            if box.value() != self._spare.get(need, 0)
        ]
        steps.append(step(set_loop_numbers, self.loops.currentData()))
        if self.silent.isChecked() != self._was_silent:
            steps.append(step(set_mains_silent, self.silent.isChecked()))
        return Change("Say what matters when placing", tuple(steps))
