"""Simulate the clock: lamps in order, slips counted; pull a cable and see who falls out and what one hears."""

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.aside import Aside
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.desk.worktable import Worktable
from ennead.standards.links import LINKS
from ennead.standin.clock_units import Played, heard, play
from ennead.studio.ids import CableId

_SECONDS = 15.0
_LAMPS = {"off": "off", "leads": "leads", "searching": "looks for its clock", "locked": "locks", "lost": "has lost its clock"}


class SimulateDialog(QDialog):
    """The dialog; ticking a cable pulls it in the simulation, not in the plan."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("simulate_dialog")
        self.setWindowTitle("Simulate the clock")
        self._survey = table.survey
        self.played: Played | None = None
        self._running = False
        self.cables, self.events, self.sounds = QListWidget(), WrappedList(), WrappedList()
        self.cables.setAccessibleName("Cables to pull")
        self.events.setAccessibleName("Lamps")
        self.sounds.setAccessibleName("What one hears")
        for link in self._survey.links.values():
            if link.clock is not None:
                studio = table.studio
                text = f"{link.cable} {LINKS[link.sends].label}: {studio.units[link.start.unit].name} → {studio.units[link.end.unit].name}"
                item = QListWidgetItem(text)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Unchecked)
                item.setData(Qt.ItemDataRole.UserRole, link.cable)
                self.cables.addItem(item)
        row, whole, close = QHBoxLayout(), QVBoxLayout(self), QPushButton("Close")
        for title, box in (("tick a cable to pull it", self.cables), ("lamps, s after power-on", self.events), ("what one hears", self.sounds)):
            column, head = QVBoxLayout(), QLabel(title)
            set_tone(head, "soft")
            column.addWidget(head)
            column.addWidget(box, 1)
            row.addLayout(column, 1)
        self.note = QLabel("Played by stand-in units: each crystal off by all its tolerance allows, one fast, the next slow.")
        self.note.setWordWrap(True)
        set_tone(self.note, "soft")
        whole.addLayout(row, 1)
        whole.addWidget(self.note)
        whole.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        close.clicked.connect(self.reject)
        theme = book.now
        self.resize(min(theme.px(980), 1_240), min(theme.px(480), 720))
        self.cables.itemChanged.connect(self.run)
        self.run()

    @property
    def pulled(self) -> tuple[CableId, ...]:
        """The cables that are pulled."""
        items = [self.cables.item(n) for n in range(self.cables.count())]
        return tuple(i.data(Qt.ItemDataRole.UserRole) for i in items if i is not None and i.checkState() == Qt.CheckState.Checked)

    def run(self, *_: object) -> None:
        """Play it anew, aside."""
        pulled = self.pulled
        self._strike()
        if self._running:
            return
        self._running = True
        Aside(self, "Playing", lambda: (pulled, play(self._survey, _SECONDS, pulled)), self._show, self.sounds.addItem)

    def _strike(self) -> None:
        """Strike out what is pulled, so that it is not told by a tick alone."""
        with QSignalBlocker(self.cables):
            for number in range(self.cables.count()):
                item = self.cables.item(number)
                if item is not None:
                    font = item.font()
                    font.setStrikeOut(item.checkState() == Qt.CheckState.Checked)
                    item.setFont(font)

    def _show(self, found: tuple[tuple[CableId, ...], Played]) -> None:
        self._running = False
        pulled, self.played = found
        units = self._survey.studio.units
        self.events.clear()
        self.sounds.clear()
        for event in self.played.events:
            self.events.addItem(f"{event.at_s:5.2f}  {units[event.unit].name} {_LAMPS[event.lamp]}")
        for sentence in heard(self._survey, self.played):
            self.sounds.addItem(sentence)
        if pulled != self.pulled:
            self.run()
