"""The rear strips to look at, walk about by arrows, and cable by dragging or by Enter."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QShowEvent

from ennead.desk.sheets.rig.drag_cable import DragCable
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.strip_layout import RigLayout, lay_rig
from ennead.drawings.painters.strip_paint import StripPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.cables import disconnect
from ennead.edits.change import Change, change, step
from ennead.edits.house import remove_unit
from ennead.planning.routing.partners import connect_change
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import NOTHING, Subject


class RigView(Drawing):
    """The rig as rear strips."""

    def __init__(self, table: Worktable, book: ThemeBook, ask_partner: Callable[[PortEnd], None]) -> None:
        super().__init__(table, book)
        self.setObjectName("rig_view")
        self.setAccessibleName("Rear strips")
        self._ask_partner = ask_partner
        self.layout_now = RigLayout(0, 0)
        table.selected.connect(self._reveal_selected)

    def lay_out(self) -> None:
        theme = self.book.now
        width = max(float(self.viewport().width()), theme.px(320))
        self.layout_now = lay_rig(self.table.survey, width, theme.width, theme.px)

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        theme = self.book.now
        drag = self.gesture if isinstance(self.gesture, DragCable) else None
        marked = drag.may_end if drag is not None and drag.at is not None else self._far_ends()
        worst: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note":
                worst |= dict.fromkeys(finding.concerns, finding.severity)
        StripPainter(painter, theme, self.table.selection, marked, worst).draw(self.layout_now, seen)
        if drag is not None:
            drag.draw(painter, theme)

    def _far_ends(self) -> set[PortEnd]:
        selection = self.table.selection
        if selection.kind != "port":
            return set()
        here = selection.end
        if self.table.studio.is_point(here):
            from ennead.reports.lit_run import lit_run

            # Of a point the whole way is lit.
            return set(lit_run(self.table.survey, here).points) - {here}
        return {e for c in self.table.survey.cables_at(here) for e in c.plugs if isinstance(e, PortEnd)} - {here}

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._reveal_selected()

    def _reveal_selected(self) -> None:
        if not self.isVisible():
            # It is laid out when it is looked at; of a full house that takes longer than a selection elsewhere may.
            return
        selection = self.table.selection
        self.settle()
        if selection.kind == "port" and selection.end in self.layout_now.by_end:
            box = self.layout_now.by_end[selection.end]
            self.reveal(QRectF(box.x, box.y, box.width, box.height))
        elif selection.kind == "unit":
            strip = next((s for s in self.layout_now.strips if s.unit == selection.key), None)
            if strip is not None:
                self.reveal(QRectF(strip.x, strip.y, strip.width, strip.height))
        elif selection.kind == "computer":
            computer = next((h for h in self.layout_now.hosts if h.computer == selection.key), None)
            if computer is not None:
                self.reveal(QRectF(computer.x, computer.y, computer.width, computer.height))

    # -- mouse ---------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position() + self.offset()
        box, strip = self.layout_now.port_at(at.x(), at.y()), self.layout_now.strip_at(at.x(), at.y())
        self.drop_gesture()
        if box is not None:
            self.begin(DragCable(self.table, box, self._end_at, self.join), event.position())
            self.table.select(Subject("port", box.end.unit, box.end.port))
        else:
            computer = self.layout_now.computer_at(at.x(), at.y())
            other = Subject("computer", computer.computer) if computer else NOTHING
            self.table.select(Subject("unit", strip.unit) if strip else other)

    def _end_at(self, at: QPointF) -> PortEnd | None:
        box = self.layout_now.port_at(at.x(), at.y())
        return box.end if box is not None else None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.table.selection.kind == "port":
            self._ask_partner(self.table.selection.end)

    def join(self, one: PortEnd, other: PortEnd) -> None:
        """Cable two ports; if they cannot be, say why."""
        both = self.table.studio.port(one).direction
        if both == self.table.studio.port(other).direction != "both":
            self.table.said.emit(f"Both are {both}puts. A cable runs from an output to an input.")
            return
        self.table.do(connect_change(self.table.survey, one, other))

    # -- keyboard ------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        move = steps.get(Qt.Key(event.key()))
        selection = self.table.selection
        if move is not None:
            self._walk(*move)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and selection.kind == "port":
            self._ask_partner(selection.end)
        elif self.is_delete(event) and selection.kind == "port":
            self._pull(selection.end)
        elif event.key() == Qt.Key.Key_Delete and selection.kind == "unit":
            unit = UnitId(selection.key)
            self.table.do(change(f"Remove {self.table.studio.units[unit].name}", remove_unit, unit))
        else:
            super().keyPressEvent(event)

    def _pull(self, end: PortEnd) -> None:
        cables = [c.id for c in self.table.survey.cables_at(end)]
        if cables:
            self.table.do(Change(f"Pull {', '.join(cables)}", tuple(step(disconnect, c) for c in cables)))

    def _walk(self, dx: int, dy: int) -> None:
        """Go to the next port along the strip, or to the nearest one above or below."""
        boxes = [b for s in self.layout_now.strips for b in s.ports]
        if not boxes:
            return
        selection = self.table.selection
        here = self.layout_now.by_end.get(selection.end) if selection.kind == "port" else None
        if here is None:
            mine = [b for b in boxes if b.end.unit == selection.key]
            there = (mine or boxes)[0]
        elif dx:
            at = boxes.index(here) + dx
            there = boxes[max(0, min(len(boxes) - 1, at))]
        else:
            rows = sorted({b.y for b in boxes})
            at = rows.index(here.y) + dy
            if not 0 <= at < len(rows):
                return
            centre = here.x + here.width / 2
            there = min((b for b in boxes if b.y == rows[at]), key=lambda b: abs(b.x + b.width / 2 - centre))
        self.table.select(Subject("port", there.end.unit, there.end.port))
