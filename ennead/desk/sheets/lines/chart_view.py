"""The run chart to look at, walk along, fold, and type numbers into."""

from typing import Final

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import (
    QMouseEvent,
    QPainter,
)

from ennead.desk.margin.about_source import source_cables
from ennead.desk.sheets.lines.line_chart import LineChart
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.layouts.chart_layout import Chart, lay_chart
from ennead.drawings.layouts.chart_rows import GroupRow, Kept, LineRow, Options, Sort, chart_rows, with_selected
from ennead.drawings.painters.chart_paint import ChartPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.cables import disconnect
from ennead.edits.change import Change, step
from ennead.planning.routing.placing import place_at_number
from ennead.planning.seating.allocation import Proposal
from ennead.studio.house import PortEnd
from ennead.studio.ids import SourceId
from ennead.studio.subjects import NOTHING, Subject

SOURCE_MIME: Final = "application/x-ennead-source"


class ChartView(LineChart):
    """The run chart of inputs.

    Signals `toggled` with the source of the proposed line that was taken or left.
    """

    mime = SOURCE_MIME
    kind = "source"
    number_name = "Driver input"

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book, lambda survey, key, number: place_at_number(survey, SourceId(key), number))
        self.setObjectName("run_chart")
        self.setAccessibleName("Run chart of inputs")
        self.sort: Sort = "group"
        self.folded: frozenset[str] = frozenset()
        self.proposal: Proposal | None = None
        self.taken: frozenset[str] = frozenset()
        self.chart = Chart(0, 0, 0, 0, 0, 0, 0, 0)
        self._kept: Kept = {}
        self._made: tuple[tuple[object, ...], Options, tuple[GroupRow | LineRow, ...]] | None = None
        table.changed.connect(self._work_ahead)
        self._work_ahead()

    def _work_ahead(self) -> None:
        """Make the rows of a long session before the sheet is shown, so that they are ready then."""
        if self.table.is_long and not self.isVisible():
            self.table.idle.later("chart", self.rows, 15)

    def rows(self) -> tuple[GroupRow | LineRow, ...]:
        """Return the rows as they are shown now."""
        selection = self.table.selection
        selected = selection.key if selection.kind == "source" else ""
        if selection.kind == "port" and self.table.studio.is_point(selection.end):
            from ennead.reports.lit_run import lit_run

            passing = [run.source for run in lit_run(self.table.survey, selection.end).runs if run.source is not None]
            selected = passing[0] if passing else ""
        options = Options(self.sort, self.folded, "", self.proposal, self.taken)
        survey = self.table.traced
        found = () if self.table.standing else self.table.findings
        ground = survey, found, self.proposal
        # Another width, or another line that is selected: a thousand rows are not worked out again for it.
        if (
            self._made is None
            or any(a is not b for a, b in zip(self._made[0], ground, strict=True))
            or self._made[1] != options
        ):
            self._made = ground, options, chart_rows(survey, found, options, self._kept)
        return with_selected(self._made[2], selected)

    def lay_out(self) -> None:
        theme = self.book.now
        self.chart = lay_chart(self.rows(), float(self.viewport().width()), theme.width, theme.px)

    def content_size(self) -> tuple[float, float]:
        hidden = max(0.0, self.chart.middle_width - self.chart.middle_room)
        return self.viewport().width() + hidden, self.chart.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        shift = float(self.horizontalScrollBar().value())
        painter.translate(shift, 0)
        ChartPainter(painter, self.book.now, self.chart, shift).draw(seen.translated(-shift, 0))

    def keys(self) -> list[str]:
        return [r.item.source for r in self.chart.rows if isinstance(r.item, LineRow)]

    def follow(self) -> None:
        row = self.chart.row_of(self.table.selection.key)
        if row is not None:
            top = row.y - self.chart.head - self.book.now.px(32)
            self.reveal(QRectF(0, top, 1, row.y + row.height - top))

    # -- looking -------------------------------------------------------------------------------
    def set_sort(self, sort: Sort) -> None:
        """Sort by group, by driver number or by place."""
        self.sort = sort
        self.refresh()

    def fold(self, key: str) -> None:
        """Fold or unfold a group."""
        self.folded = self.folded ^ {key}
        self.refresh()

    def propose(self, proposal: Proposal | None, taken: frozenset[str]) -> None:
        """Show a proposal as ghost lines, and which of them are taken; None shows none."""
        self.proposal, self.taken = proposal, taken
        self.refresh()

    # -- mouse ---------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None:
            return
        at = event.position() + QPointF(0, self.verticalScrollBar().value())
        row = self.chart.row_at(at.y())
        if row is None:
            self.table.select(NOTHING)
        elif isinstance(row.item, GroupRow):
            self.fold(row.item.key)
        else:
            self.pressed_on(event.position(), row.item.source)
            self.table.select(Subject("source", row.item.source))
            if row.item.ghost and event.position().x() >= self.chart.number:
                self.toggled.emit(row.item.source)

    def socket_at(self, at: QPointF) -> PortEnd | None:
        """Return the socket of the line at a point of the viewport."""
        row = self.chart.row_at(at.y() + self.verticalScrollBar().value())
        if row is None or not isinstance(row.item, LineRow):
            return None
        cable = self.table.survey.leads.get((row.item.source, 1))
        return cable.end if cable is not None else None

    def tip_at(self, y: float) -> list[str]:
        row = self.chart.row_at(y)
        if row is None or not isinstance(row.item, LineRow):
            return []
        line = row.item
        return [line.name, *(s for stops in line.stops.values() for s in stops), line.gap, line.track]

    # -- keyboard ------------------------------------------------------------------------------
    def turned(self, *, left: bool) -> None:
        self._fold_selected(fold=left)

    def unplug(self, key: str) -> None:
        self._unplug(SourceId(key))

    def _fold_selected(self, *, fold: bool) -> None:
        for group in [r.item for r in self.chart.rows if isinstance(r.item, GroupRow)]:
            if group.folded != fold and any(line.source == self.table.selection.key for line in group.lines):
                self.fold(group.key)

    def _unplug(self, source_id: SourceId) -> None:
        source = self.table.studio.source(source_id)
        cables = source_cables(self.table.survey, source)
        if cables:
            self.table.do(Change(f"Unplug {source.name}", tuple(step(disconnect, c.id) for c in cables)))

    def number_box(self, key: str) -> QPointF | None:
        row = self.chart.row_of(key)
        return QPointF(self.chart.number, row.y + row.height / 2) if row is not None else None
