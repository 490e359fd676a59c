"""The cascade to look at and to walk about by arrows."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ennead.desk.selection import NOTHING, Selection
from ennead.desk.sheets.clock.cascade_layout import CascadeBox, CascadeLayout, lay_cascade
from ennead.desk.sheets.clock.cascade_paint import CascadePainter
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.drawing import Drawing
from ennead.desk.worktable import Worktable
from ennead.studio.ids import UnitId


class CascadeView(Drawing):
    """Who leads and who follows, as steps."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("cascade")
        self.setAccessibleName("Clock cascade")
        self.layout_now = CascadeLayout(0, 0)
        table.selected.connect(self._reveal_chosen)

    def lay_out(self) -> None:
        theme = self.book.now
        self.layout_now = lay_cascade(self.table.survey, max(float(self.viewport().width()), theme.px(240)), theme.px)

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        worst: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note" and finding.sheet == "Clock":
                worst[finding.subject] = finding.severity
                if finding.rule in ("two_leaders", "one_fibre_expander_leads"):
                    domain = self.table.survey.clocks.domain_of(UnitId(finding.subject))
                    worst |= dict.fromkeys(domain.leaders, finding.severity)
        CascadePainter(painter, self.book.now, self.table.selection.key, worst).draw(self.layout_now, seen)

    def _reveal_chosen(self) -> None:
        if self.isVisible():
            self.settle()
            box = self.layout_now.box_of(self.table.selection.key)
            if box is not None:
                self.reveal(QRectF(box.x, box.y, box.width, box.height))

    def _choose(self, box: CascadeBox | None) -> None:
        self.table.select(Selection("unit", box.row.unit) if box is not None else NOTHING)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = event.position() + self.offset()
            self._choose(self.layout_now.box_at(at.x(), at.y()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        boxes = self.layout_now.boxes
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None or not boxes:
            super().keyPressEvent(event)
            return
        chosen = self.layout_now.box_of(self.table.selection.key)
        at = boxes.index(chosen) + step if chosen is not None else 0
        self._choose(boxes[max(0, min(len(boxes) - 1, at))])
