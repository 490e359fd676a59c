"""The clock played on the cascade itself: pull a cable, see which units lose lock, read what one would hear."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ennead.desk.background.background_task import BackgroundTask
from ennead.desk.sheets.clock.cascade_view import CascadeView, Simulated
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.standards.links import LINKS
from ennead.standin.clock_units import Played, heard, play
from ennead.studio.ids import CableId
from ennead.survey.survey import Survey

_SECONDS = 15.0


class Simulation(QWidget):
    """The lower strip while the clock is played; what is pulled here stays in the plan. `ended` when it is left."""

    ended = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook, view: CascadeView) -> None:
        super().__init__()
        self.setObjectName("lower")
        self._table, self._book, self._view = table, book, view
        self._background = BackgroundTask(self)
        self._pulled: set[CableId] = set()
        self.played: Played | None = None
        self.cable = QComboBox()
        self.cable.setObjectName("simulate_cable")
        self.cable.setAccessibleName("Cable to pull in the simulation")
        self.cable.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.cable.setMinimumContentsLength(20)
        self.pull, self.stop = QPushButton("Pull it"), QPushButton("End the simulation")
        self.pull.setObjectName("simulate_pull")
        self.stop.setObjectName("simulate_stop")
        self.stop.setProperty("quiet", True)
        self.note = QLabel(
            "Played by stand-in units: each crystal off by all its tolerance allows, one fast, the next slow."
        )
        self.note.setWordWrap(True)
        set_tone(self.note, "soft")
        self.sounds = WrappedList()
        self.sounds.setAccessibleName("What one hears")
        head = QHBoxLayout()
        head.addWidget(self.cable, 1)
        head.addWidget(self.pull)
        head.addWidget(self.stop)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.note)
        column.addWidget(self.sounds)
        self.cable.currentIndexChanged.connect(self._name_pull)
        self.pull.clicked.connect(lambda: self.toggle(self.cable.currentData()))
        self.stop.clicked.connect(self.ended)
        view.pull_wanted.connect(self.toggle)
        table.selected.connect(self._follow)
        self.hide()

    @property
    def pulled(self) -> frozenset[CableId]:
        """The cables that are pulled in the simulation."""
        return frozenset(self._pulled)

    def begin(self) -> None:
        """Play the studio as it is now, with every cable that carries a clock in its place."""
        self._pulled.clear()
        studio = self._table.studio
        self.cable.blockSignals(True)
        self.cable.clear()
        for link in self._table.survey.links.values():
            if link.clock is not None:
                text = (
                    f"{link.cable} {LINKS[link.sends].label}: {studio.units[link.start.unit].name} →"
                    f" {studio.units[link.end.unit].name}"
                )
                self.cable.addItem(text, link.cable)
        self.cable.blockSignals(False)
        self._follow()
        self._play()

    def end(self) -> None:
        """Show the cascade as it stands again."""
        self.played = None
        self._view.simulate(None)

    def toggle(self, cable: CableId | None) -> None:
        """Pull a cable in the simulation, or put it back."""
        if cable is None or not self.isVisible():
            return
        self._pulled ^= {cable}
        at = self.cable.findData(cable)
        if at >= 0:
            self.cable.setCurrentIndex(at)
        self._name_pull()
        self._play()

    def _follow(self) -> None:
        """Offer the cable by which the selected unit gets its clock."""
        clock = self._table.survey.clocks.by_unit.get(self._table.selection.key)  # type: ignore[call-overload]
        at = self.cable.findData(clock.via) if clock is not None and clock.via is not None else -1
        if at >= 0:
            self.cable.setCurrentIndex(at)
        self._name_pull()

    def _name_pull(self) -> None:
        self.pull.setText("Put it back" if self.cable.currentData() in self._pulled else "Pull it")
        self.pull.setEnabled(self.cable.count() > 0)

    def _play(self) -> None:
        studio, pulled = self._table.studio, self.pulled
        survey = self._table.survey

        def show(played: object) -> None:
            if isinstance(played, Played) and self._table.studio is studio and self.pulled == pulled:
                self._show(survey, played)

        self._background.start(lambda stop: play(Survey(studio), _SECONDS, pulled, stop), show)

    def _show(self, survey: Survey, played: Played) -> None:
        self.played = played
        self._view.simulate(Simulated(played, self.pulled))
        self.sounds.clear()
        for sentence in heard(survey, played):
            self.sounds.addItem(sentence)
        self._make_room()

    def _make_room(self) -> None:
        """Leave the cascade all the height that the sentences do not need."""
        px = self._book.now.px
        needed = (
            sum(self.sounds.sizeHintForRow(n) for n in range(self.sounds.count()))
            + 2 * self.sounds.frameWidth()
            + px(6)
        )
        self.sounds.setFixedHeight(max(px(24), min(needed, px(120))))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._make_room()

    def keyPressEvent(self, event: object) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:  # type: ignore[attr-defined]
            self.ended.emit()
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]
