"""The sent wave and the returned one, to be zoomed, moved along and laid by hand."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ennead.drawings.layouts.curve_layout import Sight, curve_line
from ennead.drawings.painters.curve_paint import CurvePainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.measure.overlay import BEFORE_S, Overlay

#: How much is seen at first, samples.
_OPENS = 160.0


class CurveView(QWidget):
    """Both waves of a channel; + and − zoom, ← and → move along, Shift with them nudges by a sample, Ctrl by a tenth."""

    nudged = pyqtSignal(float)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        self.overlay: Overlay | None = None
        self.rate_hz, self.nudge, self.sight = 48_000, 0.0, Sight(0.0, 1.0)
        self._grip: float | None = None
        self._lists: tuple[list[float], list[float]] = ([], [])
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(book.now.px(150))
        self.setAccessibleName("Sent and returned wave")
        self.setToolTip("+ and − zoom, arrows move along, Shift with an arrow nudges by a sample, Ctrl by a tenth.")

    def show_overlay(self, overlay: Overlay | None, rate_hz: int) -> None:
        """Show other waves, whole."""
        self.overlay, self.rate_hz, self.nudge = overlay, rate_hz, 0.0
        self._lists = (overlay.sent.tolist(), overlay.returned.tolist()) if overlay is not None else ([], [])
        # The onset, sample by sample: the whole of a noise is a filled stretch that says nothing.
        self.sight = Sight(BEFORE_S * rate_hz, _OPENS).within(self.whole) if overlay is not None else Sight(0.0, 1.0)
        self.update()

    @property
    def whole(self) -> int:
        """How many samples there are."""
        return max(1, len(self._lists[0]))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter = self._book.now, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("panel"))
        if self.overlay is not None:
            paint = CurvePainter(painter, theme)
            sent, returned = self._lists
            room = float(self.width()), float(self.height() - paint.foot)
            top = max(1e-9, *map(abs, sent))
            lines = [
                curve_line(wave, late, self.sight, top, *room)
                for wave, late in ((sent, 0.0), (returned, self.overlay.late + self.nudge))
            ]
            paint.draw(lines[0], lines[1], self.sight, self.rate_hz, float(self.width()), float(self.height()))
        painter.end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, held = event.key(), event.modifiers()
        side = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(key))
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self._look(self.sight.zoomed(1.5 if key == Qt.Key.Key_Minus else 1 / 1.5, self.whole))
        elif key == Qt.Key.Key_Home:
            self._look(Sight(0.0, float(self.whole)))
        elif side is None:
            super().keyPressEvent(event)
        elif held & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier):
            self.nudge_by(side * (0.1 if held & Qt.KeyboardModifier.ControlModifier else 1.0))
        else:
            self._look(self.sight.moved(side * self.sight.span / 8, self.whole))

    def nudge_by(self, samples: float) -> None:
        """Lay the returned wave so much later over the sent one."""
        if self.overlay is not None:
            self.nudge = round(self.nudge + samples, 4)
            self.nudged.emit(self.nudge)
            self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            about = event.position().x() / max(1, self.width())
            self._look(self.sight.zoomed(0.8 if event.angleDelta().y() > 0 else 1.25, self.whole, about))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._grip = event.position().x() if event is not None else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grip is not None:
            moved = (self._grip - event.position().x()) * self.sight.span / max(1, self.width())
            self._grip = event.position().x()
            self._look(self.sight.moved(moved, self.whole))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grip = None

    def _look(self, sight: Sight) -> None:
        self.sight = sight
        self.update()
