"""What a take says: its channels, the words of the chosen one, and its waves laid over each other."""

from collections.abc import Sequence
from typing import NamedTuple

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QSplitter, QVBoxLayout, QWidget

from ennead.desk.sheets.loops.curve_view import CurveView
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.measure.overlay import Overlay

_EMPTY = "What comes back is said here, and laid over what was sent above."


class TakeRow(NamedTuple):
    """One channel.

    Parameters
    ----------
    loop : str
        What it belongs to: all channels of it are nudged together.
    lines : tuple of str
        What is said of it, the delay first.
    """

    name: str
    loop: str
    lines: tuple[str, ...]
    overlay: Overlay | None


class TakePane(QWidget):
    """The pane; `nudged` carries how far the shown waves are laid by hand, samples."""

    nudged = pyqtSignal(float)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._rows: Sequence[TakeRow] = ()
        self._rate_hz, self._nudges = 48_000, dict[str, float]()
        self.curve = CurveView(book)
        self.channels, self.lines = QListWidget(), WrappedList()
        self.channels.setAccessibleName("Recorded channels")
        self.channels.setMaximumWidth(book.now.px(190))
        self.channels.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.channels.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.lines.setAccessibleName("What the channel says")
        said = QWidget()
        found = QHBoxLayout(said)
        found.setContentsMargins(0, 0, 0, 0)
        found.addWidget(self.channels)
        found.addWidget(self.lines, 1)
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.setChildrenCollapsible(False)
        parts.addWidget(self.curve)
        parts.addWidget(said)
        parts.setSizes([book.now.px(190), book.now.px(190)])
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(parts)
        self.channels.currentRowChanged.connect(self._shown)
        self.curve.nudged.connect(self._nudged)
        self.show_rows((), 48_000)

    def show_rows(self, rows: Sequence[TakeRow], rate_hz: int) -> None:
        """Show another take, the first channel with a curve chosen."""
        self._rows, self._rate_hz, self._nudges = rows, rate_hz, {}
        self.channels.clear()
        for row in rows:
            self.channels.addItem(row.name)
            item = self.channels.item(self.channels.count() - 1)
            if item is not None:
                item.setToolTip(row.name)
        self.channels.setCurrentRow(next((n for n, row in enumerate(rows) if row.overlay is not None), 0))
        if not rows:
            self._shown(-1)
            self.lines.addItem(_EMPTY)

    def nudge_of(self, loop: str) -> float:
        """Return how far the waves of a loop are laid by hand, samples."""
        return self._nudges.get(loop, 0.0)

    def _shown(self, at: int) -> None:
        self.lines.clear()
        row = self._rows[at] if 0 <= at < len(self._rows) else None
        for line in row.lines if row is not None else ():
            self.lines.addItem(line)
        first = self.lines.item(0)
        if first is not None:
            font = first.font()
            font.setBold(True)
            first.setFont(font)
        self.curve.show_overlay(row.overlay if row is not None else None, self._rate_hz)
        if row is not None and self.nudge_of(row.loop):
            self.curve.nudge = self.nudge_of(row.loop)

    def _nudged(self, samples: float) -> None:
        self._nudges[self._rows[self.channels.currentRow()].loop] = samples
        self.nudged.emit(samples)
