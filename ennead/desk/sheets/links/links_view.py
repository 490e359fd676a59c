"""The ribbons to look at and to walk about by arrows; Delete pulls the cable of the chosen one."""

from PyQt6.QtCore import QEvent, QRectF, Qt
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QToolTip

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.layouts.ribbon_layout import LinksLayout, Ribbon, lay_links
from ennead.drawings.painters.ribbon_paint import RibbonPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.reports.sheet_of import sheet_of
from ennead.studio.subjects import NOTHING, Subject


class LinksView(Drawing):
    """All digital links as ribbons, and the driver rulers below."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("links_view")
        self.setAccessibleName("Digital links and driver numbers")
        self.layout_now = LinksLayout(0, 0)
        table.selected.connect(self._reveal_chosen)

    def lay_out(self) -> None:
        theme = self.book.now
        self.layout_now = lay_links(
            self.table.survey, max(float(self.viewport().width()), theme.px(240)), theme.width, theme.px
        )

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        worst: dict[str, str] = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note" and sheet_of(finding) == "Links":
                worst |= dict.fromkeys(finding.concerns, finding.severity)
        chosen = self.chosen
        RibbonPainter(painter, self.book.now, chosen.link.cable if chosen else None, worst).draw(self.layout_now, seen)

    @property
    def chosen(self) -> Ribbon | None:
        """The ribbon with the selected end."""
        selection = self.table.selection
        if selection.kind != "port":
            return None
        return next((r for r in self.layout_now.ribbons if selection.end in (r.link.start, r.link.end)), None)

    def _choose(self, ribbon: Ribbon | None) -> None:
        self.table.select(Subject("port", ribbon.link.end.unit, ribbon.link.end.port) if ribbon else NOTHING)

    def _reveal_chosen(self) -> None:
        if self.isVisible():
            self.settle()
            if (ribbon := self.chosen) is not None:
                self.reveal(QRectF(ribbon.x, ribbon.y, ribbon.width, ribbon.height))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = event.position() + self.offset()
            self._choose(self.layout_now.ribbon_at(at.x(), at.y()))

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            at = self.offset()
            x, y = event.pos().x() + at.x(), event.pos().y() + at.y()
            cell = self.layout_now.cell_at(x, y)
            number = next((c for _, _, r in self.layout_now.rulers if (c := r.cell_at(x, y)) is not None), None)
            text = ""
            if cell is not None:
                state = {"used": cell.lane.track, "free": "nothing on it", "lost": "lost at this rate"}[cell.lane.state]
                text = f"lane {cell.lane.number}: {state}"
            elif number is not None:
                text = f"{number.number} {number.channel.label}" + (f": {number.track}" if number.track else "")
            QToolTip.showText(event.globalPos(), plain_tip(text), self)
            return True
        return super().viewportEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        ribbons, chosen = self.layout_now.ribbons, self.chosen
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is not None and ribbons:
            at = ribbons.index(chosen) + step if chosen in ribbons else 0
            self._choose(ribbons[max(0, min(len(ribbons) - 1, at))])
        elif self.is_delete(event) and chosen is not None:
            self.table.do(change(f"Pull {chosen.link.cable}", disconnect, chosen.link.cable))
        else:
            super().keyPressEvent(event)
