"""The loops to look at and to walk about by arrows."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ennead.desk.sheets.loops.drag_level import DragLevel
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.axis import Axis
from ennead.drawings.layouts.loops_layout import Columns, LoopRow, LoopsLayout, lay_loops
from ennead.drawings.painters.loop_detail_paint import LoopDetailPainter
from ennead.drawings.painters.loops_paint import LoopsPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.loop_rows import figures_of
from ennead.reports.sheet_of import sheet_of
from ennead.studio.ids import DestinationId
from ennead.studio.subjects import NOTHING, Subject
from ennead.survey.circuits import circuits

_NOWHERE = LoopsLayout(0, 0, Columns(0, 0, 0, 0, 0), Axis(0, 1, 0, 1, ()), Axis(0, 1, 0, 1, ()))


class LoopsView(Drawing):
    """Rows of loops, the chosen one opened below."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("loops")
        self.setAccessibleName("Loops")
        self.layout_now = _NOWHERE
        table.selected.connect(self._reveal_chosen)

    def lay_out(self) -> None:
        survey, theme = self.table.survey, self.book.now
        chosen = self.table.selection
        self.layout_now = lay_loops(
            [figures_of(survey, circuit) for circuit in survey.once(circuits)],
            DestinationId(chosen.key) if chosen.kind == "destination" else None,
            survey.rate_hz,
            float(self.viewport().width()),
            theme.px,
        )

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        layout, survey, theme = self.layout_now, self.table.survey, self.book.now
        if not layout.rows:
            return
        LoopsPainter(painter, theme, survey.rate_hz, self.worst()).draw(layout)
        LoopDetailPainter(painter, theme, survey).draw(layout)
        if isinstance(self.gesture, DragLevel):
            self.gesture.draw(painter, theme)

    def worst(self) -> dict[str, str]:
        """Return the loops that something is wrong with, with the worst severity of each."""
        found: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note" and sheet_of(finding) == "Loops":
                found[finding.subject.key] = finding.severity
            elif finding.rule == "signal_in_ring":
                # Told of the boxes that feed themselves; every loop they stand in howls.
                rows = [r.figures.loop for r in self.layout_now.rows]
                found |= {loop.id: finding.severity for loop in rows if set(loop.boxes) & set(finding.concerns)}
        return found

    def _reveal_chosen(self) -> None:
        if self.isVisible():
            self.settle()
            row = self.layout_now.row_of(self.table.selection.key)
            if row is not None:
                self.reveal(QRectF(0, row.y, 1, row.height))

    def _choose(self, row: LoopRow | None) -> None:
        self.table.select(Subject("destination", row.figures.loop.id) if row is not None else NOTHING)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.settle()
            at = event.position() + self.offset()
            row = self.layout_now.row_at(at.y())
            stairs, chosen = self.layout_now.stairs, self.layout_now.chosen
            stop = stairs.peak_at(at.x(), at.y(), self.book.now.px(10)) if stairs is not None else None
            if row is not None:
                self._choose(row)
            elif chosen is not None and stairs is not None and stop is not None:
                self._choose(self.layout_now.row_of(chosen.loop.id))
                self.begin(DragLevel(self.table, stairs, chosen, stop), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        rows = self.layout_now.rows
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None or not rows:
            super().keyPressEvent(event)
            return
        chosen = self.layout_now.row_of(self.table.selection.key)
        at = rows.index(chosen) + step if chosen is not None else 0
        self._choose(rows[max(0, min(len(rows) - 1, at))])
