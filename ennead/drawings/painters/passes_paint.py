"""Paints print passes: the time to dial as a hatched stretch, the roll as a solid one, the tracks beside."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter

from ennead.drawings.layouts.passes_layout import HEAD, LINE, ROW, PassesLayout, PassLine
from ennead.drawings.painters.lettering import Lettering
from ennead.drawings.painters.theme import Theme
from ennead.reports.pass_rows import clock_text
from ennead.studio.print_job import PrintJob


class PassesPainter(Lettering):
    """Paints the rows of a layout.

    Parameters
    ----------
    boxes : callable
        Returns the boxes of a job in words.
    """

    def __init__(self, painter: QPainter, theme: Theme, boxes: Callable[[PrintJob], str]) -> None:
        super().__init__(painter, theme)
        self._boxes = boxes

    def draw(self, layout: PassesLayout, chosen: int) -> None:
        """Draw the passes, the chosen one on the ground of a selection."""
        t, p = self._t, self._p
        for line in layout.lines:
            if line.row.n == chosen:
                p.fillRect(QRectF(0, line.y, layout.width, line.height), t.colour("selection"))
        for x, seconds in layout.ticks:
            p.setPen(t.pen("hairline"))
            p.drawLine(QPointF(x, t.px(HEAD - 6)), QPointF(x, layout.height - t.px(8)))
            self._text(QRectF(x + t.px(2), t.px(4), t.px(70), t.px(20)), clock_text(seconds), 13, "soft")
        for line in layout.lines:
            self._line(layout, line)

    def _line(self, layout: PassesLayout, line: PassLine) -> None:
        t, p, row = self._t, self._p, line.row
        high = float(t.px(ROW))
        middle, half = line.y + high / 2, t.px(6)
        self._text(QRectF(layout.number, line.y, t.px(28), high), f"{row.n}", 17, "ink", mono=True)
        at = QRectF(layout.number + t.px(28), line.y, t.px(54), high)
        self._text(at, clock_text(row.length_s), 14, "soft")
        setup = QRectF(line.bar.setup, middle - half / 2, max(1.0, line.bar.begin - line.bar.setup), half)
        p.fillRect(setup, QBrush(t.colour("rule"), Qt.BrushStyle.BDiagPattern))
        p.fillRect(
            QRectF(line.bar.begin, middle - half, max(2.0, line.bar.end - line.bar.begin), 2 * half), t.colour("accent")
        )
        room = layout.width - layout.words - t.px(8)
        for n, job in enumerate(row.jobs):
            words = t.elided(f"{job.track} → {self._boxes(job)}", room, 14)
            self._text(QRectF(layout.words, line.y + n * t.px(LINE), room, high), words, 14, "ink")
        if row.song:
            under = QRectF(line.bar.begin, middle + half, layout.words - line.bar.begin - t.px(8), t.px(18))
            self._text(under, t.elided(row.song, under.width(), 12), 12, "soft")
        wide = layout.width - layout.number - t.px(40)
        for n, text in enumerate(line.below):
            at = QRectF(layout.number + t.px(28), line.y + line.tracks + n * t.px(LINE), wide, t.px(LINE))
            self._text(at, t.elided(text, wide, 13), 13, "ink")
