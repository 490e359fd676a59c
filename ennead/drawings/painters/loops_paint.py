"""Draws the loops as rows: numbers, boxes, delay bars and levels, each on one axis down the page."""

from collections.abc import Mapping, Sequence
from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter

from ennead.drawings.layouts.loops_layout import HEAD, LoopRow, LoopsLayout
from ennead.drawings.painters.lettering import Lettering
from ennead.drawings.painters.theme import Theme
from ennead.reports.loop_rows import LoopFigures, boxes_text, numbers_text
from ennead.survey.staircase import Staircase

CENTRE: Final = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter
#: Less headroom than this is drawn as a caution, dB. House default.
LITTLE_DB: Final = 3.0


class LoopsPainter(Lettering):
    """Paints the rows of a layout."""

    def __init__(self, painter: QPainter, theme: Theme, rate_hz: int, worst: Mapping[str, str]) -> None:
        super().__init__(painter, theme)
        self._rate, self._worst = rate_hz, worst

    def draw(self, layout: LoopsLayout) -> None:
        """Draw all rows and their axes."""
        self._axes(layout)
        for row in layout.rows:
            self._row(layout, row)

    def _axes(self, layout: LoopsLayout) -> None:
        t, p, columns = self._t, self._p, layout.columns
        line = t.px(20)
        bottom = layout.rows[-1].y + layout.rows[-1].height
        heads = ((columns.name, "loop"), (columns.send, "send"), (columns.boxes, "boxes"), (columns.back, "return"))
        for x, word in heads:
            self._text(QRectF(x, 0, t.px(120), line), word, 13, "soft")
        self._text(QRectF(layout.late.left, 0, t.px(160), line), "delay, ms", 13, "soft")
        self._text(QRectF(layout.loud.left, 0, layout.width - layout.loud.left, line), "peak, dBu", 13, "soft")
        for axis, sign in ((layout.late, False), (layout.loud, True)):
            room = (axis.right - axis.left) / max(1, len(axis.ticks) - 1)
            every = 2 if room < t.px(26) else 1
            for n, tick in enumerate(axis.ticks):
                x = axis.at(tick)
                p.setPen(t.pen("hairline"))
                p.drawLine(QPointF(x, t.px(HEAD - 6)), QPointF(x, bottom))
                if n % every == 0:
                    text = f"{tick:+g}" if sign and tick else f"{tick:g}"
                    area = QRectF(x - t.px(24), line, t.px(48), t.px(18))
                    self._text(area, text.replace("-", "−"), 12, "soft", mono=True, align=CENTRE)

    def _row(self, layout: LoopsLayout, row: LoopRow) -> None:
        t, p, figures, columns = self._t, self._p, row.figures, layout.columns
        area = QRectF(0, row.y, layout.width, row.height)
        if layout.chosen is figures:
            p.fillRect(area, t.colour("selection"))
        severity = self._worst.get(figures.loop.id, "")
        name = f"▲ {figures.loop.name}" if severity else figures.loop.name
        room = columns.send - columns.name - t.px(8)
        at = QRectF(columns.name, row.y, room, row.height)
        self._text(at, t.elided(name, room, 15, bold=True), 15, severity or "ink", bold=True)
        middle = row.y + row.height / 2
        wide = columns.back - columns.boxes - t.px(8)
        boxes = boxes_text(figures)
        shown = t.elided(boxes, wide, 14)
        self._text(QRectF(columns.boxes, row.y, wide, row.height), shown, 14, "ink" if figures.boxes else "caution")
        used = columns.boxes + t.width(shown, 14) + t.px(6)
        p.setPen(t.pen("rule", 1.2, Qt.PenStyle.SolidLine if figures.circuit.closed else Qt.PenStyle.DotLine))
        if used < columns.back - t.px(4):
            p.drawLine(QPointF(used, middle), QPointF(columns.back, middle))
        self.number_box(columns.send, middle, columns.number, numbers_text(figures.sends))
        self.number_box(columns.back, middle, columns.number, numbers_text(figures.returns))
        self._late(layout, row)
        self._loud(layout, row)

    def number_box(self, x: float, middle: float, width: float, text: str) -> None:
        """Draw driver numbers in their box; empty where there are none."""
        t, p = self._t, self._p
        half = t.px(13)
        area = QRectF(x, middle - half, width - t.px(4), 2 * half)
        p.setPen(t.pen("ink" if text != "–" else "soft", 1.4))
        p.setBrush(t.colour("ground"))
        p.drawRoundedRect(area, t.px(3), t.px(3))
        p.setBrush(Qt.BrushStyle.NoBrush)
        size = 17 if t.width(text, 17, bold=True, mono=True) < width - t.px(10) else 13
        self._text(area, text if text != "–" else "", size, "ink", bold=True, mono=True, align=CENTRE)

    def _late(self, layout: LoopsLayout, row: LoopRow) -> None:
        """Draw the delay bar: outlined what the driver reports, hatched what is left over, full what was measured."""
        t, p, figures, axis = self._t, self._p, row.figures, layout.late
        time = figures.time
        middle, half = row.y + row.height / 2, t.px(6)
        if time is None:
            self._text(QRectF(axis.left, row.y, t.px(190), row.height), "does not go round", 13, "soft")
            return
        stated = sum([p.samples for p in time.parts if p.samples is not None])
        base = time.reported if time.reported is not None else 0.0
        end = base + figures.held.samples if figures.held is not None else time.round_trip
        first, last = axis.at(self._ms(base)), axis.at(self._ms(stated if end is None else end))
        p.setPen(t.pen("rule", 1.2))
        p.drawRect(QRectF(axis.left, middle - half, max(1.0, first - axis.left), 2 * half))
        colour = "trouble" if figures.stale else "accent"
        left = QRectF(min(first, last), middle - half, abs(last - first), 2 * half)
        if figures.held is not None:
            p.fillRect(left, t.colour(colour))
        else:
            p.setPen(t.pen(colour, 1.2))
            p.setBrush(QBrush(t.colour(colour), Qt.BrushStyle.NoBrush if end is None else Qt.BrushStyle.BDiagPattern))
            p.drawRect(left)
            p.setBrush(Qt.BrushStyle.NoBrush)
        word, tone = late_word(figures)
        x = max(first, last) + t.px(6)
        room = layout.loud.left - x - t.px(6)
        self._text(
            QRectF(x, row.y, room, row.height), t.elided(word, room, 13), 13, tone, bold=figures.offset is not None
        )

    def _ms(self, samples: float) -> float:
        return samples / self._rate * 1e3

    def _loud(self, layout: LoopsLayout, row: LoopRow) -> None:
        """Draw the peaks of all stops, joined, and the limit of the one with the least headroom."""
        t, p, axis = self._t, self._p, layout.loud
        middle = row.y + row.height / 2
        shown = unlike(row.figures.levels)
        for channel, stairs in enumerate(shown):
            y = middle + (channel - (len(shown) - 1) / 2) * t.px(11)
            peaks = [s for s in stairs.stops if s.peak_dbu is not None]
            if not peaks:
                continue
            xs = [axis.at(s.peak_dbu or 0.0) for s in peaks]
            p.setPen(t.pen("soft", 1.0))
            p.drawLine(QPointF(min(xs), y), QPointF(max(xs), y))
            for stop, x in zip(peaks, xs, strict=True):
                room = stop.headroom_db
                tone = "accent" if room is None or room >= LITTLE_DB else "trouble" if room < 0 else "caution"
                p.setPen(t.pen(tone, 1.0))
                p.setBrush(t.colour(tone))
                radius = t.px(4)
                if tone == "trouble":
                    # Over its limit: a square, told by shape as well.
                    p.drawRect(QRectF(x - radius, y - radius, 2 * radius, 2 * radius))
                else:
                    p.drawEllipse(QPointF(x, y), radius, radius)
                p.setBrush(Qt.BrushStyle.NoBrush)
            least = stairs.least
            if least is not None and least.limit_dbu is not None:
                x = axis.at(least.limit_dbu)
                p.setPen(t.pen("trouble", 2.0))
                p.drawLine(QPointF(x, y - t.px(7)), QPointF(x, y + t.px(7)))


def unlike(levels: Sequence[Staircase]) -> list[Staircase]:
    """Return the channels to show in one row: both of a stereo loop, of more the one with the least room, and one that differs from it."""
    if len(levels) < 3:
        return list(levels)
    by_room = sorted(levels, key=lambda s: s.least.headroom_db or 0.0 if s.least is not None else 0.0)
    heights = [[stop.peak_dbu for stop in stairs.stops] for stairs in by_room]
    other = next((s for s, h in zip(by_room, heights, strict=True) if h != heights[0]), None)
    return [by_room[0]] if other is None else [by_room[0], other]


def late_word(figures: LoopFigures) -> tuple[str, str]:
    """Return what stands behind a delay bar, and its tone."""
    if figures.stale and figures.held is None:
        return "stale", "trouble"
    if figures.offset is None:
        return "not known", "caution"
    return f"{figures.offset:+g}".replace("-", "−"), "accent"
