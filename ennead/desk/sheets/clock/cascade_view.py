"""The cascade to look at and to walk about by arrows."""

from typing import NamedTuple

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.cascade_layout import CascadeBox, CascadeLayout, lay_cascade
from ennead.drawings.painters.cascade_paint import CascadePainter, UnitState
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.sheet_of import sheet_of
from ennead.standin.clock_units import Played
from ennead.studio.ids import CableId, UnitId
from ennead.studio.subjects import NOTHING, Subject


class Simulated(NamedTuple):
    """What the stand-in units do, and the cables pulled from them."""

    played: Played
    pulled: frozenset[CableId]


class CascadeView(Drawing):
    """Leaders and followers, as steps.

    While the clock is played on it, `pull_wanted` carries the cable to pull or to put back: that of the selected unit
    by Space, that of a line by a click on it.
    """

    pull_wanted = pyqtSignal(object)

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("cascade")
        self.setAccessibleName("Clock cascade")
        self.layout_now = CascadeLayout(0, 0)
        self.simulated: Simulated | None = None
        table.selected.connect(self._reveal_chosen)

    def lay_out(self) -> None:
        theme = self.book.now
        self.layout_now = lay_cascade(self.table.survey, max(float(self.viewport().width()), theme.px(240)), theme.px)

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        worst: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note" and sheet_of(finding) == "Clock":
                worst[finding.subject.key] = finding.severity
                if finding.rule in ("two_leaders", "one_fibre_expander_leads"):
                    domain = self.table.survey.clocks.domain_of(UnitId(finding.subject.key))
                    worst |= dict.fromkeys(domain.leaders, finding.severity)
        states = self._states() if self.simulated is not None else {}
        CascadePainter(painter, self.book.now, self.table.selection.key, worst, states).draw(self.layout_now, seen)

    def simulate(self, simulated: Simulated | None) -> None:
        """Show what the stand-in units do; None shows the plan as it is."""
        self.simulated = simulated
        self.viewport().update()

    def _states(self) -> dict[str, UnitState]:
        """Return how each unit fares in the simulation."""
        assert self.simulated is not None  # noqa: S101 - asked only while it is shown
        played, pulled = self.simulated
        clicks: dict[str, float] = {}
        for slip in played.slips:
            unit = slip.link.end.unit
            clicks[unit] = min(clicks.get(unit, slip.every_s), slip.every_s)
        silent = {link.end.unit for link in played.silent}
        locked_s = {event.unit: event.at_s for event in played.events if event.lamp == "locked"}
        clocks = self.table.survey.clocks.by_unit
        return {
            unit: UnitState(lamp, locked_s.get(unit), clicks.get(unit), unit in silent, clocks[unit].via in pulled)
            for unit, lamp in played.lamps.items()
            if unit in clocks
        }

    def _reveal_chosen(self) -> None:
        if self.isVisible():
            self.settle()
            box = self.layout_now.box_of(self.table.selection.key)
            if box is not None:
                self.reveal(QRectF(box.x, box.y, box.width, box.height))

    def _choose(self, box: CascadeBox | None) -> None:
        self.table.select(Subject("unit", box.row.unit) if box is not None else NOTHING)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = event.position() + self.offset()
            line = self.layout_now.line_at(at.x(), at.y(), self.book.now.px(10)) if self.simulated is not None else None
            if line is not None and line.row.cable is not None:
                self.pull_wanted.emit(line.row.cable)
            else:
                self._choose(self.layout_now.box_at(at.x(), at.y()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        boxes = self.layout_now.boxes
        if event.key() == Qt.Key.Key_Space and self.simulated is not None:
            chosen = self.layout_now.box_of(self.table.selection.key)
            self.pull_wanted.emit(chosen.row.cable if chosen is not None else None)
            return
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None or not boxes:
            super().keyPressEvent(event)
            return
        chosen = self.layout_now.box_of(self.table.selection.key)
        at = boxes.index(chosen) + step if chosen is not None else 0
        self._choose(boxes[max(0, min(len(boxes) - 1, at))])
