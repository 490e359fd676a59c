"""A drawing that scrolls: keeps a layout, draws the part in view, turns the mouse into drawing coordinates."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Gesture
from ennead.drawings.painters.theme import ThemeBook


class Drawing(QAbstractScrollArea):
    """Base of the painted sheets. Subclasses give `lay_out`, `content_size` and `draw`."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self.table, self.book = table, book
        self._stale = True
        #: What is being done with the mouse.
        self.gesture: Gesture | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)
        self.horizontalScrollBar().setSingleStep(24)
        self.verticalScrollBar().setSingleStep(24)
        for signal in (table.changed, table.selected, book.changed):
            signal.connect(self.refresh)

    def lay_out(self) -> None:
        """Work the layout out anew for the present width."""

    def content_size(self) -> tuple[float, float]:
        """Return width and height of the whole drawing, px."""
        return 0.0, 0.0

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        """Draw what lies within `seen`, in drawing coordinates."""

    def refresh(self) -> None:
        """Have the layout worked out before the next use."""
        self._stale = True
        if self.isVisible():
            self.settle()
        self.viewport().update()

    def settle(self) -> None:
        """Work the layout out if it is stale, and set the scroll bars to it."""
        if not self._stale:
            return
        self._stale = False
        self.lay_out()
        width, height = self.content_size()
        view = self.viewport().size()
        self.verticalScrollBar().setPageStep(view.height())
        self.verticalScrollBar().setRange(0, max(0, round(height) - view.height()))
        self.horizontalScrollBar().setPageStep(view.width())
        self.horizontalScrollBar().setRange(0, max(0, round(width) - view.width()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self.settle()
        with QPainter(self.viewport()) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            area = QRectF(self.viewport().rect())
            painter.fillRect(area, self.book.now.colour("ground"))
            offset = self.offset()
            painter.translate(-offset)
            self.draw(painter, area.translated(offset))

    # -- gestures ------------------------------------------------------------------------------
    def begin(self, gesture: Gesture, at: QPointF) -> None:
        """Begin a gesture at a point of the viewport; one that was not ended is dropped."""
        self.drop_gesture()
        self.gesture = gesture
        gesture.start(at + self.offset())

    def end_gesture(self, at: QPointF) -> None:
        """End what is being done with the mouse at a point of the viewport."""
        gesture, self.gesture = self.gesture, None
        if gesture is not None:
            gesture.end(at + self.offset())
            self.viewport().update()

    def drop_gesture(self) -> None:
        """Leave what is being done with the mouse; nothing comes of it."""
        gesture, self.gesture = self.gesture, None
        if gesture is not None:
            gesture.cancel()
            self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.gesture is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.gesture.move(event.position() + self.offset())
            self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.end_gesture(event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self.gesture is not None:
            self.drop_gesture()
        else:
            super().keyPressEvent(event)

    def offset(self) -> QPointF:
        """Return how far the drawing is scrolled."""
        return QPointF(self.horizontalScrollBar().value(), self.verticalScrollBar().value())

    def reveal(self, area: QRectF) -> None:
        """Scroll until an area of the drawing is in view."""
        bar, room = self.verticalScrollBar(), self.viewport().height()
        if area.top() < bar.value():
            bar.setValue(int(area.top()) - 8)
        elif area.bottom() > bar.value() + room:
            bar.setValue(int(area.bottom()) - room + 8)

    def is_delete(self, event: QKeyEvent) -> bool:
        """Say whether a key means *take this away*."""
        return event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace)
