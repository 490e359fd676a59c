"""The chart of outputs to look at, walk along, and take proposals from."""

from typing import Final

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QMouseEvent, QPainter

from ennead.desk.sheets.lines.line_chart import LineChart
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.layouts.out_chart import OutChart, OutRow, lay_out_chart, out_rows
from ennead.drawings.painters.out_paint import OutPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.destinations import send_out
from ennead.planning.routing.placing_out import place_out_at_number
from ennead.planning.seating.allocation import Proposal
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.subjects import NOTHING, Subject

DESTINATION_MIME: Final = "application/x-ennead-destination"


class OutView(LineChart):
    """The run chart of outputs; `toggled` carries the destination of the proposed line that was taken or left."""

    mime = DESTINATION_MIME
    kind = "destination"
    number_name = "Driver output"

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(
            table, book, lambda survey, key, number: place_out_at_number(survey, DestinationId(key), number)
        )
        self.setObjectName("out_chart")
        self.setAccessibleName("Run chart of outputs")
        self.proposal: Proposal | None = None
        self.taken: frozenset[str] = frozenset()
        self.chart = OutChart(0, 0, 0, 0, 0, {}, ())

    def lay_out(self) -> None:
        theme, selection = self.book.now, self.table.selection
        selected = selection.key if selection.kind == "destination" else ""
        found = () if self.table.standing else self.table.findings
        rows = out_rows(self.table.traced, found, selected, self.proposal, self.taken)
        self.chart = lay_out_chart(rows, float(self.viewport().width()), theme.width, theme.px)

    def content_size(self) -> tuple[float, float]:
        return 0.0, self.chart.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        OutPainter(painter, self.book.now, self.chart).draw(seen)

    def propose(self, proposal: Proposal | None, taken: frozenset[str]) -> None:
        """Show a proposal as ghost lines, and which of them are taken; None shows none."""
        self.proposal, self.taken = proposal, taken
        self.refresh()

    def keys(self) -> list[str]:
        return [r.item.key for r in self.chart.rows if isinstance(r.item, OutRow) and r.item.key]

    def follow(self) -> None:
        row = self.chart.row_of(self.table.selection.key)
        if row is not None:
            self.reveal(QRectF(0, row.y - self.chart.head, 1, row.height + self.chart.head))

    # -- mouse ---------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None:
            return
        at = event.position() + QPointF(0, self.verticalScrollBar().value())
        row = self.chart.row_at(at.y())
        item = row.item if row is not None else None
        if not isinstance(item, OutRow):
            self.table.select(NOTHING)
        elif item.key:
            self.pressed_on(event.position(), item.key)
            self.table.select(Subject("destination", item.key))
            if item.ghost and at.x() < self.chart.columns.get("socket", self.chart.ear):
                self.toggled.emit(item.key)
        elif item.end is not None:
            self.table.select(Subject("port", item.end.unit, item.end.port))

    def socket_at(self, at: QPointF) -> PortEnd | None:
        row = self.chart.row_at(at.y() + self.verticalScrollBar().value())
        if row is None or not isinstance(row.item, OutRow):
            return None
        if row.item.key:
            return next(iter(self.table.survey.placed(DestinationId(row.item.key)).outputs), None)
        return row.item.end

    def tip_at(self, y: float) -> list[str]:
        row = self.chart.row_at(y)
        if row is None or not isinstance(row.item, OutRow):
            return []
        return [row.item.name, *row.item.cells.values(), row.item.ghost_socket]

    # -- keyboard ------------------------------------------------------------------------------
    def unplug(self, key: str) -> None:
        destination = self.table.survey.placed(DestinationId(key))
        if destination.outputs:
            self.table.do(change(f"Take {destination.name} off its outputs", send_out, destination.id, ()))

    def number_box(self, key: str) -> QPointF | None:
        row = self.chart.row_of(key)
        return QPointF(self.chart.number, row.y + row.height / 2) if row is not None else None
