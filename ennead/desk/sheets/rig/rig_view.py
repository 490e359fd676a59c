"""The rear strips to look at, walk about by arrows, and cable by dragging or by Enter."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QApplication

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.selection import NOTHING, Selection
from ennead.drawings.layouts.strip_layout import PortBox, RigLayout, lay_rig
from ennead.drawings.painters.strip_paint import StripPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.cables import disconnect
from ennead.edits.change import Change, change, step
from ennead.edits.house import remove_unit
from ennead.planning.routing.partners import connect_change, partners
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId


class RigView(Drawing):
    """The rig as rear strips."""

    def __init__(self, table: Worktable, book: ThemeBook, ask_partner: Callable[[PortEnd], None]) -> None:
        super().__init__(table, book)
        self.setObjectName("rig_view")
        self.setAccessibleName("Rear strips")
        self._ask_partner = ask_partner
        self.layout_now = RigLayout(0, 0)
        self._pressed: PortBox | None = None
        self._press_at = QPointF()
        self._drag_at: QPointF | None = None
        self._may_end: set[PortEnd] = set()
        table.selected.connect(self._reveal_selected)

    def lay_out(self) -> None:
        theme = self.book.now
        width = max(float(self.viewport().width()), theme.px(320))
        self.layout_now = lay_rig(self.table.survey, width, theme.width, theme.px)

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        theme = self.book.now
        marked = self._may_end if self._drag_at is not None else self._far_ends()
        worst: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note":
                worst |= dict.fromkeys(finding.concerns, finding.severity)
        StripPainter(painter, theme, self.table.selection, marked, worst).draw(self.layout_now, seen)
        if self._drag_at is not None and self._pressed is not None:
            box = self._pressed
            painter.setPen(theme.pen("accent", 2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(box.x + box.width / 2, box.y + theme.px(30)), self._drag_at)

    def _far_ends(self) -> set[PortEnd]:
        selection = self.table.selection
        if selection.kind != "port":
            return set()
        here = selection.end
        return {e for c in self.table.studio.plugged(here) for e in c.plugs if isinstance(e, PortEnd)} - {here}

    def _reveal_selected(self) -> None:
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
        self._pressed, self._press_at = box, at
        if box is not None:
            self.table.select(Selection("port", box.end.unit, box.end.port))
        else:
            computer = self.layout_now.computer_at(at.x(), at.y())
            other = Selection("computer", computer.computer) if computer else NOTHING
            self.table.select(Selection("unit", strip.unit) if strip else other)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        at = event.position() + self.offset()
        far = (at - self._press_at).manhattanLength() >= QApplication.startDragDistance()
        if self._drag_at is None and far:
            self._may_end = {p.end for p in partners(self.table.survey, self._pressed.end) if p.end is not None}
            self._drag_at = at
        elif self._drag_at is not None:
            self._drag_at = at
        self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, dragged = self._pressed, self._drag_at
        self._pressed, self._drag_at = None, None
        if event is not None and pressed is not None and dragged is not None:
            at = event.position() + self.offset()
            target = self.layout_now.port_at(at.x(), at.y())
            if target is not None and target.end != pressed.end:
                self.join(pressed.end, target.end)
        self.viewport().update()

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
        cables = [c.id for c in self.table.studio.plugged(end)]
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
        self.table.select(Selection("port", there.end.unit, there.end.port))
