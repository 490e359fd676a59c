"""Draws the run chart from its layout."""

from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from ennead.drawings.layouts.chart_layout import (
    GAP_SIZE,
    HEADINGS,
    NAME_SIZE,
    NUMBER_SIZE,
    STOP_SIZE,
    WIDEST_STOP,
    Chart,
    Row,
    gap_left,
    shown_stops,
)
from ennead.drawings.layouts.chart_rows import GroupRow, LineRow
from ennead.drawings.painters.lettering import Lettering
from ennead.drawings.painters.theme import Theme

_CENTRE = Qt.AlignmentFlag.AlignCenter


class ChartPainter(Lettering):
    """Draws with one theme.

    Parameters
    ----------
    shift : float, px
        How far the middle is scrolled.
    """

    def __init__(self, painter: QPainter, theme: Theme, chart: Chart, shift: float) -> None:
        super().__init__(painter, theme)
        self._c, self._shift = chart, shift

    def draw(self, seen: QRectF) -> None:
        """Draw the rows in view, then the headings, which stay at the top."""
        for row in self._c.between(seen.top() + self._c.head, seen.bottom()):
            if isinstance(row.item, GroupRow):
                self._group(row.item, row.y, row.height)
            else:
                self._line(row, row.item)
        self._head(seen.top())

    def _head(self, top: float) -> None:
        t, p, c = self._t, self._p, self._c
        sticky = None
        for row in c.rows:
            if row.y > top + c.head:
                break
            if isinstance(row.item, GroupRow):
                sticky = row
        depth = c.head
        if sticky is not None and sticky.y < top + c.head - 1:
            depth += sticky.height
        p.fillRect(QRectF(0, top, c.width, depth), t.colour("ground"))
        if depth > c.head and sticky is not None and isinstance(sticky.item, GroupRow):
            self._group(sticky.item, top + c.head, sticky.height)
        headings = [(c.name, c.middle - t.px(12), "source"), (c.number, c.track - t.px(12), "driver in")]
        if c.track < c.width:
            headings.append((c.track, c.width - t.px(8), "track"))
        zones = [
            (c.middle + x - self._shift, c.middle + x + w - t.px(14) - self._shift, HEADINGS[z])
            for z, (x, w) in c.zones.items()
        ]
        for start, stop, word in (*headings, *zones):
            clipped = (start, stop, word) in zones
            if clipped:
                p.save()
                p.setClipRect(QRectF(c.middle, top, c.middle_room, c.head))
            self._text(QRectF(start, top, stop - start, t.px(22)), word, 13, "soft")
            p.setPen(t.pen("rule", 1))
            p.drawLine(QPointF(start, top + t.px(24)), QPointF(stop, top + t.px(24)))
            if clipped:
                p.restore()

    def _group(self, group: GroupRow, y: float, height: float) -> None:
        t = self._t
        area = QRectF(self._c.name, y + t.px(4), self._c.width, height - t.px(4))
        mark = "▸" if group.folded else "▾"
        self._text(area, f"{mark} {group.name}", 14, "accent", bold=True)
        x = t.width(f"{mark} {group.name}", 14, bold=True) + t.px(14)
        words = f"{group.count} {'line' if group.count == 1 else 'lines'}"
        span = f"{group.span}  ·  {words}" if group.span else words
        self._text(area.translated(x, 0), span, 13, "soft")

    def _line(self, row: Row, line: LineRow) -> None:
        t, p, c = self._t, self._p, self._c
        if line.selected:
            p.fillRect(QRectF(0, row.y, c.width, row.height), t.colour("selection"))
        whole, row = row, replace(row, height=row.height - row.extra)
        middle = row.y + row.height / 2
        if line.worst in ("trouble", "caution"):
            mark = "▲" if line.worst == "trouble" else "△"
            self._text(QRectF(t.px(2), row.y, t.px(18), row.height), mark, 13, line.worst, bold=True)
        room = c.middle - c.name - t.px(12)
        name = t.elided(line.name, room, NAME_SIZE, bold=line.selected)
        self._text(QRectF(c.name, row.y, room, row.height), name, NAME_SIZE, "ink", bold=line.selected)
        name_end = c.name + t.width(name, NAME_SIZE, bold=line.selected) + t.px(6)
        p.save()
        p.setClipRect(QRectF(c.name, whole.y, c.number - c.name, whole.height))
        self._way(row, line, middle, name_end)
        if line.ghost and line.placed:
            self._ghost_beneath(whole, line)
        p.restore()
        if line.stereo:
            self._brace(c.number - t.px(6), row, "selection" if line.selected else "ground")
        self._number(row, line, middle)
        if c.track >= c.width:
            return
        self._text(
            QRectF(c.track, row.y, c.width - c.track - t.px(4), row.height),
            t.elided(line.track, c.width - c.track - t.px(8), NAME_SIZE),
            NAME_SIZE,
            "soft" if line.gap or not line.placed else "ink",
            bold=line.selected,
        )

    def _way(self, row: Row, line: LineRow, y: float, name_end: float) -> None:
        """Draw the line from its name through its stops to the number box, or to where it breaks."""
        t, c = self._t, self._c
        if not line.placed:
            if line.ghost:
                self._ghost(row, line, y, name_end)
            else:
                self._text(
                    QRectF(c.middle + t.px(26), row.y, c.middle_room, row.height), "not plugged in yet", 13, "soft"
                )
            return
        x, kind = name_end, line.kind
        for zone, (left, _) in c.zones.items():
            texts = shown_stops(line, zone)
            if not texts:
                continue
            at = c.middle + left - self._shift
            self._stroke(x, at - t.px(5), y, kind)
            end = self._stops(row, at, texts, line, zone)
            x = end + t.px(5)
            kind = "digital" if zone in ("converter", "link") and line.stops.get("link") else "line"
        if line.gap:
            self._break(row, line, y, x)
        else:
            self._stroke(x, c.number - t.px(12 if line.stereo else 2), y, kind)

    def _stops(self, row: Row, x: float, texts: tuple[str, ...], line: LineRow, zone: str) -> float:
        t = self._t
        each = min(row.height / len(texts), t.px(22))
        top = row.y + (row.height - each * len(texts)) / 2
        widest = 0.0
        for i, whole in enumerate(texts):
            text = t.elided(whole, t.px(WIDEST_STOP), STOP_SIZE)
            self._text(QRectF(x, top + i * each, 4000, each), text, STOP_SIZE, "ink")
            widest = max(widest, t.width(text, STOP_SIZE))
        seat_zone = next((z for z in self._c.zones if line.stops.get(z)), None)
        if line.phantom and zone == seat_zone:
            self._boxed(
                x + widest + t.px(7), row.y + row.height / 2, "48", "trouble" if line.phantom == "bad" else "caution"
            )
            widest += t.px(33)
        if line.late and zone == "converter":
            widest += t.px(11) + self._boxed(x + widest + t.px(7), row.y + row.height / 2, line.late, "caution")
        return x + widest

    def _boxed(self, x: float, y: float, text: str, colour: str) -> float:
        """Draw a few signs in a box; return its width."""
        width = max(float(self._t.px(22)), self._t.width(text, 11, bold=True, mono=True) + self._t.px(8))
        area = QRectF(x, y - self._t.px(8), width, self._t.px(16))
        self._p.setPen(self._t.pen(colour, 1.2))
        self._p.drawRect(area)
        self._text(area, text, 11, colour, bold=True, mono=True, align=_CENTRE)
        return width

    def _pen_of(self, kind: str) -> QPen:
        """Microphone thin, line level solid."""
        return self._t.pen("ink", 1.0 if kind in ("dynamic", "condenser", "ribbon") else 2.0)

    def _break(self, row: Row, line: LineRow, y: float, x: float) -> None:
        t, p, c = self._t, self._p, self._c
        at = c.middle + gap_left(line, c.zones, t.width, t.px) - self._shift
        self._stroke(x, at, y, "line")
        p.setPen(t.pen("trouble", 2.5))
        p.drawLine(QPointF(at, y - t.px(9)), QPointF(at, y + t.px(9)))
        each = t.px(18)
        top = y - each * len(row.gap_lines) / 2
        for i, text in enumerate(row.gap_lines):
            area = QRectF(at + t.px(8), top + i * each, c.middle_width, each)
            self._text(area, text, GAP_SIZE, "trouble")

    def _ghost(self, row: Row, line: LineRow, y: float, name_end: float) -> None:
        """Draw what an allocation proposes: dashed, in the accent."""
        t, p, c = self._t, self._p, self._c
        p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
        at = c.middle + c.zones["converter"][0] - self._shift
        p.drawLine(QPointF(name_end, y), QPointF(at - t.px(5), y))
        port = t.elided(line.ghost_port, t.px(WIDEST_STOP), STOP_SIZE)
        self._text(QRectF(at, row.y, 4000, row.height), port, STOP_SIZE, "accent")
        end = at + t.width(port, STOP_SIZE) + t.px(6)
        p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(end, y), QPointF(c.number - t.px(10), y))

    def _ghost_beneath(self, row: Row, line: LineRow) -> None:
        """Draw where an allocation would move a line that sits elsewhere, beneath it and up to its number."""
        t, p, c = self._t, self._p, self._c
        top, y = row.y + row.height - row.extra, row.y + row.height - row.extra / 2 - t.px(2)
        at = c.middle + c.zones["converter"][0] - self._shift
        port = t.elided(line.ghost_port, t.px(WIDEST_STOP), STOP_SIZE)
        self._text(QRectF(at, top - t.px(2), 4000, row.extra), port, STOP_SIZE, "accent")
        end = at + t.width(port, STOP_SIZE) + t.px(6)
        p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(c.middle, y), QPointF(at - t.px(5), y))
        p.drawLine(QPointF(end, y), QPointF(c.number - t.px(16), y))
        p.drawLine(
            QPointF(c.number - t.px(16), y),
            QPointF(c.number - t.px(2), row.y + (row.height - row.extra) / 2 + t.px(12)),
        )

    def _brace(self, x: float, row: Row, behind: str) -> None:
        """Draw the brace that makes two channels one row, on bare ground where the middle scrolls beneath it."""
        t = self._t
        middle, half, deep = row.y + row.height / 2, t.px(10), t.px(4)
        if self._c.middle_width > self._c.middle_room:
            self._p.fillRect(
                QRectF(x - deep - t.px(2), middle - half - t.px(2), 2 * deep + t.px(4), 2 * half + t.px(4)),
                t.colour(behind),
            )
        path = QPainterPath(QPointF(x - deep, middle - half))
        path.quadTo(QPointF(x, middle - half), QPointF(x, middle - half / 2))
        path.quadTo(QPointF(x, middle), QPointF(x + deep, middle))
        path.quadTo(QPointF(x, middle), QPointF(x, middle + half / 2))
        path.quadTo(QPointF(x, middle + half), QPointF(x - deep, middle + half))
        self._p.setPen(t.pen("ink", 1.2))
        self._p.drawPath(path)

    def _number(self, row: Row, line: LineRow, y: float) -> None:
        t, p, c = self._t, self._p, self._c
        text = line.ghost or line.number
        width = max(t.width(text, NUMBER_SIZE, bold=True, mono=True) + t.px(16), t.px(38))
        area = QRectF(c.number, y - t.px(13), width, t.px(26))
        if line.ghost:
            p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
            p.drawRect(area)
            colour = "accent" if line.taken else "soft"
            self._text(area, text, NUMBER_SIZE, colour, bold=line.taken, mono=True, align=_CENTRE)
            tick = QRectF(area.right() + t.px(2), area.top(), t.px(18), area.height())
            self._text(tick, "✓" if line.taken else "–", 14, colour, bold=True)
            return
        if not text:
            p.setPen(t.pen("trouble" if line.gap else "rule", 1.2, Qt.PenStyle.DashLine))
            p.drawRect(area)
            return
        fill = "accent" if line.selected else "ink"
        if line.built:
            p.fillRect(area, t.colour(fill))
        else:
            p.setPen(t.pen(fill, 1.4))
            p.drawRect(area)
        self._text(area, text, NUMBER_SIZE, "ground" if line.built else fill, bold=True, mono=True, align=_CENTRE)
