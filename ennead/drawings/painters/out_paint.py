"""Draws the chart of outputs from its layout."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ennead.drawings.layouts.out_chart import COLUMNS, NUMBER, TEXT, WIDEST, Heading, OutChart, OutRow, Placed
from ennead.drawings.painters.lettering import Lettering
from ennead.drawings.painters.theme import Theme

_CENTRE = Qt.AlignmentFlag.AlignCenter


class OutPainter(Lettering):
    """Draws with one theme."""

    def __init__(self, painter: QPainter, theme: Theme, chart: OutChart) -> None:
        super().__init__(painter, theme)
        self._c = chart

    def draw(self, seen: QRectF) -> None:
        """Draw the rows in view, then the headings, which stay at the top."""
        for row in self._c.rows:
            if row.y > seen.bottom() or row.y + row.height < seen.top() + self._c.head:
                continue
            if isinstance(row.item, Heading):
                self._heading(row, row.item)
            else:
                self._line(row, row.item)
        self._head(seen.top())

    def _head(self, top: float) -> None:
        t, p, c = self._t, self._p, self._c
        p.fillRect(QRectF(0, top, c.width, c.head), t.colour("ground"))
        edges = [
            ("driver out", c.number),
            *((word, c.columns[key]) for key, word in COLUMNS if key in c.columns),
            ("heard by", c.ear),
        ]
        for i, (word, x) in enumerate(edges):
            end = (edges[i + 1][1] if i + 1 < len(edges) else c.width) - t.px(12)
            self._text(QRectF(x, top, end - x, t.px(22)), word, 13, "soft")
            p.setPen(t.pen("rule", 1))
            p.drawLine(QPointF(x, top + t.px(24)), QPointF(end, top + t.px(24)))

    def _heading(self, row: Placed, heading: Heading) -> None:
        t = self._t
        area = QRectF(self._c.number, row.y + t.px(8), self._c.width, row.height - t.px(8))
        self._text(area, heading.name, 14, "accent", bold=True)
        self._text(area.translated(t.width(heading.name, 14, bold=True) + t.px(14), 0), heading.words, 13, "soft")

    def _line(self, row: Placed, line: OutRow) -> None:
        t, p, c = self._t, self._p, self._c
        y = row.y + row.height / 2
        if line.selected:
            p.fillRect(QRectF(0, row.y, c.width, row.height), t.colour("selection"))
        if line.worst in ("trouble", "caution"):
            mark = "▲" if line.worst == "trouble" else "△"
            self._text(QRectF(t.px(2), row.y, t.px(18), row.height), mark, 13, line.worst, bold=True)
        right = self._number(line, y)
        if line.placed:
            self._way(row, line, y, right)
        if line.ghost:
            self._ghost(row, line, y + (t.px(10) if line.placed else 0), right)
        elif not line.placed:
            self._text(
                QRectF(c.columns.get("socket", right), row.y, c.ear - right, row.height), "no output yet", 13, "soft"
            )
        colour = "soft" if not (line.placed or line.ghost) else "ink"
        room = c.width - c.ear - t.px(8)
        self._text(
            QRectF(c.ear, row.y, room, row.height),
            t.elided(line.name, room, TEXT, bold=line.selected),
            TEXT,
            colour,
            bold=line.selected,
        )

    def _way(self, row: Placed, line: OutRow, y: float, x: float) -> None:
        t, c = self._t, self._c
        keys = list(c.columns)
        for i, key in enumerate(keys):
            whole = line.cells[key]
            if not whole:
                continue
            at = c.columns[key]
            room = (c.columns[keys[i + 1]] if i + 1 < len(keys) else c.ear) - at - t.px(16)
            text = t.elided(whole, min(room, t.px(WIDEST)), TEXT)
            if key != "mix":
                self._stroke(x, at - t.px(5), y, "digital" if key == "socket" and line.cells["link"] else "line")
            self._text(QRectF(at, row.y, room + t.px(16), row.height), text, TEXT, "soft" if key == "mix" else "ink")
            x = at + t.width(text, TEXT) + t.px(6)
        self._stroke(x, c.ear - t.px(8), y, "headphones" if line.headphones else "line")

    def _pen_of(self, kind: str) -> QPen:
        """Line level solid, headphones dashed."""
        style = Qt.PenStyle.DashLine if kind == "headphones" else Qt.PenStyle.SolidLine
        return self._t.pen("ink", 2.0 if kind == "line" else 1.4, style)

    def _ghost(self, row: Placed, line: OutRow, y: float, x: float) -> None:
        """Draw what an allocation proposes: dashed, in the accent."""
        t, p, c = self._t, self._p, self._c
        at = c.columns.get("socket", x + t.px(20))
        p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(x, y), QPointF(at - t.px(5), y))
        end = at - t.px(5)
        if not line.placed:
            text = t.elided(line.ghost_socket, t.px(WIDEST), TEXT)
            self._text(QRectF(at, row.y, c.ear - at, row.height), text, TEXT, "accent")
            end = at + t.width(text, TEXT) + t.px(6)
        p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(end, y), QPointF(c.ear - t.px(8), y))

    def _number(self, line: OutRow, y: float) -> float:
        """Draw the number box; return where the line begins behind it."""
        t, p, c = self._t, self._p, self._c
        text = line.ghost or line.numbers
        width = max(t.width(text, NUMBER, bold=True, mono=True) + t.px(16), t.px(38))
        area = QRectF(c.number, y - t.px(13), width, t.px(26))
        behind = area.right() + t.px(4)
        if line.ghost:
            p.setPen(t.pen("accent", 1.4, Qt.PenStyle.DashLine))
            p.drawRect(area)
            colour = "accent" if line.taken else "soft"
            self._text(area, text, NUMBER, colour, bold=line.taken, mono=True, align=_CENTRE)
            self._text(
                QRectF(area.right() + t.px(3), area.top(), t.px(18), area.height()),
                "✓" if line.taken else "–",
                14,
                colour,
                bold=True,
            )
            return behind + t.px(16)
        if not text:
            p.setPen(t.pen("trouble" if line.broken else "rule", 1.2, Qt.PenStyle.DashLine))
            p.drawRect(area)
            return behind
        colour = "accent" if line.selected else "ink"
        p.setPen(t.pen(colour, 1.4))
        p.drawRect(area)
        self._text(area, text, NUMBER, colour, bold=True, mono=True, align=_CENTRE)
        return behind
