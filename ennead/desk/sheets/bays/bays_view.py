"""The bays to look at and to patch: by drag, by arrows and Enter; Delete pulls the cord at the chosen point."""

from typing import Final

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QToolTip

from ennead.desk.sheets.bays.drag_block import DragBlock
from ennead.desk.sheets.bays.drag_cord import DragCord
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.layouts.bay_layout import BayPicture, BaysLayout, lay_bays
from ennead.drawings.painters.bay_paint import BayPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.planning.routing.blocks import SocketBlock, block_change
from ennead.planning.routing.cord_words import cord_change
from ennead.reports.lit_run import NOT_LIT, LitRun, lit_run
from ennead.reports.plug_effects import plug_effects
from ennead.reports.point_labels import behind_text
from ennead.reports.sheet_of import sheet_of
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import Subject
from ennead.survey.signal_paths import SignalPath

_STEPS: Final = {Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Up: (0, -1)}
_ZOOMS: Final = (1.0, 1.5, 2.0, 3.0, 4.0)


#: What a tile was painted from: the layout, the theme, the dots a px, the width, and what is in trouble.
_Key = tuple[BaysLayout, int, float, float, dict[str, str]]


class BaysView(Drawing):
    """All bays, with the cords of the scene."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book)
        self.setObjectName("bays_view")
        self.setAccessibleName("Patch bays and cords")
        self.layout_now = BaysLayout(0, 0)
        self.zoom = 1.0
        #: The point a cord was begun at with the keyboard.
        self.begun: PortEnd | None = None
        #: The row of sockets that Enter wires to the points from the chosen one on.
        self.carried: SocketBlock | None = None
        self._lit: LitRun = NOT_LIT
        self._plugged: frozenset[PortEnd] = frozenset()
        self._worst: dict[str, str] = {}
        self._tiles: dict[UnitId, tuple[_Key, QPixmap]] = {}
        # What is selected changes what is lit, and nothing of where anything lies.
        table.selected.disconnect(self.refresh)
        table.selected.connect(self._light)

    def lay_out(self) -> None:
        theme, survey = self.book.now, self.table.survey
        wide = max(float(self.viewport().width()), theme.px(480))
        self.layout_now = lay_bays(survey, wide, theme.width, theme.px, self.zoom)
        self._plugged = frozenset(p for c in survey.cords for p in c.plugs)
        self._worst = {}
        for finding in reversed(self.table.findings):
            if finding.severity != "note" and sheet_of(finding) == "Bays":
                self._worst |= dict.fromkeys(finding.concerns, finding.severity)
        self._lit = self._way()
        if self.begun is not None and self.begun not in self.layout_now.spot_of:
            self.begun = None

    def _way(self) -> LitRun:
        chosen, survey, selection = self.chosen, self.table.survey, self.table.selection
        if chosen is None and selection.kind == "source":
            # A line that was chosen elsewhere is lit from the first point it comes to.
            stops = [
                PortEnd(s.unit, s.port)
                for r in survey.signal_paths
                if r.source == selection.key
                for s in r.stops
                if s.unit
            ]
            chosen = next((end for end in stops if end in self.layout_now.spot_of), None)
        return lit_run(survey, chosen) if chosen is not None else NOT_LIT

    def _light(self) -> None:
        """Light the way through what is selected now, and bring it into view."""
        if self._stale or not self.isVisible():
            self.refresh()
        else:
            self._lit = self._way()
            self.viewport().update()
        self._reveal_chosen()

    @property
    def lit_runs(self) -> tuple[SignalPath, ...]:
        """The lines that pass what is chosen."""
        self.settle()
        return self._way().runs

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    @property
    def chosen(self) -> PortEnd | None:
        """The point that is selected."""
        selection = self.table.selection
        end = selection.end if selection.kind == "port" else None
        return end if end is not None and end in self.layout_now.spot_of else None

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        for bay, area in self._areas():
            if seen.intersects(area):
                painter.drawPixmap(area.topLeft(), self._tile(bay, area))
        # What is not in view is painted when there is time, and not when one scrolls there.
        self.table.idle.later("bay tiles", self._paint_ahead)
        paint = BayPainter(painter, self.book.now)
        paint.cords([a for a in self.layout_now.arcs if a.cord in self._lit.cords], seen, self._lit.cords, self._worst)
        paint.lit(self.layout_now, self._lit.points, self.begun or self.chosen, self._plugged)
        if isinstance(self.gesture, DragCord | DragBlock):
            self.gesture.draw(painter, self.book.now)

    def _areas(self) -> list[tuple[BayPicture, QRectF]]:
        """Return each bay with its tile: down to the next bay, so that the cords between have their place on it."""
        layout = self.layout_now
        ends = [*[bay.y for bay in layout.bays[1:]], layout.height]
        return [(bay, QRectF(0, bay.y, layout.width, end - bay.y)) for bay, end in zip(layout.bays, ends, strict=True)]

    def _paint_ahead(self) -> None:
        if not self.isVisible() or self._stale:
            return
        for bay, area in self._areas():
            held = self._tiles.get(bay.unit)
            if held is None or held[0][0] is not self.layout_now:
                self._tile(bay, area)
                self.table.idle.later("bay tiles", self._paint_ahead)
                return

    def _tile(self, bay: BayPicture, area: QRectF) -> QPixmap:
        """Return a bay with the cords over it as it was painted last, painted anew only where it has changed."""
        ratio = self.devicePixelRatioF()
        held = self._tiles.get(bay.unit)
        # Equal pictures are compared once, when the layout is another object; while one scrolls it is the same.
        key = self.layout_now, id(self.book.now), ratio, area.width(), self._worst
        if (
            held is not None
            and held[0][0] is not self.layout_now
            and self._same_as(held[0][0], bay)
            and held[0][1:] == key[1:]
        ):
            held = self._tiles[bay.unit] = key, held[1]
        if held is None or held[0][0] is not self.layout_now or held[0][1:] != key[1:]:
            pixmap = QPixmap(round(area.width() * ratio), round(area.height() * ratio))
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(self.book.now.colour("ground"))
            with QPainter(pixmap) as painter:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                painter.translate(-area.topLeft())
                paint = BayPainter(painter, self.book.now)
                paint.bay(bay, self._plugged)
                paint.cords(self.layout_now.arcs, area, (), self._worst)
            held = self._tiles[bay.unit] = key, pixmap
        return held[1]

    def _same_as(self, then: BaysLayout, bay: BayPicture) -> bool:
        """Say whether a bay and all cords were the same in another layout."""
        return then.arcs == self.layout_now.arcs and bay in then.bays

    def forget(self) -> None:
        """Have everything painted anew."""
        self._tiles.clear()

    def choose(self, end: PortEnd) -> None:
        """Select a point."""
        self.table.select(Subject("port", end.unit, end.port))

    def _reveal_chosen(self) -> None:
        if self.isVisible():
            self.settle()
            if (end := self.chosen) is not None:
                spot, edge = self.layout_now.spot_of[end], self.book.now.px(48)
                self.reveal(QRectF(spot.x - edge, spot.y - edge, 2 * edge, 2 * edge))
                bar, room = self.horizontalScrollBar(), self.viewport().width()
                if not bar.value() + edge <= spot.x <= bar.value() + room - edge:
                    bar.setValue(round(spot.x - room / 2))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position() + self.offset()
        spot = self.layout_now.spot_at(at.x(), at.y())
        if spot is not None:
            self.begun = None
            self.choose(spot.end)
            if event.button() == Qt.MouseButton.LeftButton:
                self.begin(DragCord(self.table, self.layout_now, spot), event.position())

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            at = QPointF(event.pos()) + self.offset()
            spot = self.layout_now.spot_at(at.x(), at.y())
            text = ""
            if spot is not None:
                studio = self.table.studio
                parts = [
                    studio.end_text(spot.end),
                    behind_text(studio, spot.end),
                    spot.fault and f"out of service: {spot.fault}",
                ]
                text = "  ·  ".join(part for part in parts if part)
            QToolTip.showText(event.globalPos(), plain_tip(text), self)
            return True
        return super().viewportEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        self.settle()
        key, chosen = Qt.Key(event.key()), self.chosen
        if key in _STEPS and self.layout_now.bays:
            right, down = _STEPS[key]
            self.choose(self.layout_now.beside(chosen or PortEnd(self.layout_now.bays[0].unit, ""), right, down))
            self._tell()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and chosen is not None:
            self._enter(chosen)
        elif key == Qt.Key.Key_Escape and (self.begun is not None or self.carried is not None):
            self.begun = self.carried = None
            self.viewport().update()
        elif self.is_delete(event) and chosen is not None:
            self.pull(chosen)
        elif event.text() in ("+", "-"):
            self.set_zoom(1 if event.text() == "+" else -1)
        else:
            super().keyPressEvent(event)

    def _enter(self, chosen: PortEnd) -> None:
        """Begin a cord at the chosen point, or end the one that was begun there; what is carried is wired instead."""
        if self.carried is not None:
            block, self.carried = self.carried, None
            self.table.do(block_change(self.table.studio, block, chosen))
        elif self.begun is None:
            self.begun = chosen
            self.table.said.emit(
                f"A cord from {self.table.studio.end_text(chosen)}: go to another point, then Enter; Esc leaves it."
            )
        elif self.begun != chosen:
            begun, self.begun = self.begun, None
            self.table.do(cord_change(self.table.studio, begun, chosen))
        self.viewport().update()

    def carry(self, block: SocketBlock) -> None:
        """Take a row of sockets in hand, to be wired from the point at which Enter is pressed."""
        self.carried, self.begun = block, None
        self.setFocus()
        self.table.said.emit(f"{block.text}: go to the first point it is to lie on, then Enter; Esc leaves it.")

    def _tell(self) -> None:
        """Say what the cord that was begun would do in the chosen point."""
        chosen = self.chosen
        if self.begun is not None and chosen is not None and chosen != self.begun:
            effects = plug_effects(self.table.survey, [self.begun, chosen])
            self.table.said.emit(
                "; ".join(f"▲ {text}" if harms else text for text, harms in effects)
                or f"Nothing else changes at {self.table.studio.end_text(chosen)}."
            )

    def pull(self, point: PortEnd) -> None:
        """Pull the cord in a point out of the scene."""
        cord = next((c for c in self.table.studio.cords if point in c.plugs), None)
        if cord is not None:
            self.table.do(change(f"Pull cord {cord.id}", pull_cord, cord.id))

    def set_zoom(self, steps: int) -> None:
        """Look closer, or from farther away."""
        at = _ZOOMS.index(self.zoom) + steps
        self.zoom = _ZOOMS[max(0, min(len(_ZOOMS) - 1, at))]
        self.refresh()
        self._reveal_chosen()
