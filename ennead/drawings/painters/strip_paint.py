"""Draws rear strips from their layout."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.drawings.layouts.strip_layout import ComputerBox, PortBox, RigLayout, StripBox
from ennead.drawings.layouts.wrapping import wrap
from ennead.drawings.painters.theme import Theme
from ennead.studio.house import PortEnd
from ennead.studio.subjects import Subject

_CENTRE = Qt.AlignmentFlag.AlignCenter
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class StripPainter:
    """Draws with one theme; `marked` ports are the far ends of what is selected, or what a drag may end on."""

    def __init__(
        self, painter: QPainter, theme: Theme, selection: Subject, marked: set[PortEnd], worst: dict[str, str]
    ) -> None:
        self._p, self._theme, self._selection = painter, theme, selection
        self._marked, self._worst = marked, worst

    def draw(self, layout: RigLayout, seen: QRectF) -> None:
        """Draw the strips in view."""
        theme = self._theme
        for name, y in layout.places:
            self._text(QRectF(theme.px(4), y, layout.width, theme.px(26)), name, 14, "accent", bold=True)
        for strip in layout.strips:
            if strip.y <= seen.bottom() and strip.y + strip.height >= seen.top():
                self._strip(strip)
        for computer in layout.hosts:
            if computer.y <= seen.bottom() and computer.y + computer.height >= seen.top():
                self._computer(computer)

    def _computer(self, computer: ComputerBox) -> None:
        theme, p = self._theme, self._p
        area = QRectF(computer.x, computer.y, computer.width, computer.height)
        mine = self._selection.kind == "computer" and self._selection.key == computer.computer
        p.fillRect(area, theme.colour("panel"))
        p.setPen(theme.pen("accent" if mine else "hairline", 1))
        p.drawRect(area)
        if mine:
            p.fillRect(QRectF(area.left(), area.top(), theme.px(4), area.height()), theme.colour("accent"))
        x = area.left() + theme.px(10)
        self._text(QRectF(x, computer.y, area.width(), theme.px(28)), computer.name, 15, "ink", bold=True)
        after = x + theme.width(computer.name, 15, bold=True) + theme.px(12)
        self._text(QRectF(after, computer.y, area.width(), theme.px(28)), computer.system, 13, "soft")
        y = computer.y + theme.px(28)
        for number, span, note in computer.lines:
            self._text(QRectF(x, y, theme.px(20), theme.px(22)), number, 13, "soft", mono=True)
            room = area.width() * 0.5
            self._text(QRectF(x + theme.px(24), y, room, theme.px(22)), theme.elided(span, room, 14), 14, "ink")
            left = x + theme.px(24) + room
            room = area.right() - left - theme.px(8)
            colour = "caution" if "△" in note else "soft"
            self._text(QRectF(left, y, room, theme.px(22)), theme.elided(note, room, 13), 13, colour)
            y += theme.px(22)
        if not computer.lines:
            self._text(QRectF(x, y, area.width(), theme.px(22)), "no interface on it yet", 13, "soft")

    def _text(
        self,
        area: QRectF,
        text: str,
        size: float,
        colour: str,
        *,
        bold: bool = False,
        mono: bool = False,
        align: Qt.AlignmentFlag = _LEFT,
    ) -> None:
        self._p.setFont(self._theme.font(size, bold=bold, mono=mono))
        self._p.setPen(self._theme.colour(colour))
        self._p.drawText(area, align, text)

    def _strip(self, strip: StripBox) -> None:
        theme, p = self._theme, self._p
        area = QRectF(strip.x, strip.y, strip.width, strip.height)
        mine = self._selection.kind in ("unit", "port") and self._selection.key == strip.unit
        p.fillRect(area, theme.colour("panel"))
        p.setPen(theme.pen("accent" if mine else "hairline", 1))
        p.drawRect(area)
        if mine and self._selection.kind == "unit":
            p.fillRect(QRectF(area.left(), area.top(), theme.px(4), area.height()), theme.colour("accent"))
        worst = self._worst.get(strip.unit, "")
        x = area.left() + theme.px(10)
        if worst:
            mark = "▲" if worst == "trouble" else "△"
            self._text(QRectF(x, strip.y, theme.px(20), theme.px(28)), mark, 14, worst, bold=True)
            x += theme.px(20)
        self._text(QRectF(x, strip.y, area.width(), theme.px(28)), strip.name, 15, "ink", bold=True)
        x += theme.width(strip.name, 15, bold=True) + theme.px(12)
        clock = f"▲ {strip.clock}" if strip.unlocked else strip.clock
        clock_width = theme.width(clock, 12) + theme.px(16)
        room = area.right() - clock_width - x
        self._text(QRectF(x, strip.y, room, theme.px(28)), theme.elided(strip.profile, room, 13), 13, "soft")
        colour = "trouble" if strip.unlocked else "clock"
        right = QRectF(area.right() - clock_width, strip.y, clock_width - theme.px(8), theme.px(28))
        align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        self._text(right, clock, 12, colour, align=align)
        for label, y in strip.row_labels:
            lines = wrap(label, theme.px(78), 12, theme.width)
            for i, line in enumerate(lines):
                top = y + theme.px(30 - 7.5 * len(lines) + 15 * i)
                self._text(QRectF(strip.x + theme.px(10), top, theme.px(80), theme.px(15)), line, 12, "soft")
        for box in strip.ports:
            self._port(box)

    def _port(self, box: PortBox) -> None:
        theme, p = self._theme, self._p
        cell = QRectF(box.x, box.y, box.width, box.height)
        chosen = self._selection.kind == "port" and self._selection.end == box.end
        if chosen:
            p.fillRect(cell, theme.colour("selection"))
            p.setPen(theme.pen("accent", 1.5))
            p.drawRect(cell.adjusted(1, 1, -1, -1))
        elif box.end in self._marked:
            p.setPen(theme.pen("accent", 1.5, Qt.PenStyle.DashLine))
            p.drawRect(cell.adjusted(1, 1, -1, -1))
        numeral = box.label.isdecimal()
        self._text(
            QRectF(box.x, box.y + theme.px(1), box.width, theme.px(18)),
            box.label,
            12,
            "soft" if not box.user else "ink",
            mono=numeral,
            bold=numeral and bool(box.user),
            align=_CENTRE,
        )
        middle = QPointF(box.x + box.width / 2 - (theme.px(12) if box.live else 0), box.y + theme.px(30))
        self._mark(middle, box)
        if box.live:
            self._boxed(QPointF(middle.x() + theme.px(13), middle.y()), "48")
        for i, line in enumerate(box.user):
            line_box = QRectF(box.x, box.y + theme.px(41 + 14 * i), box.width, theme.px(15))
            self._text(line_box, line, 12, "ink", align=_CENTRE)

    def _boxed(self, left: QPointF, text: str) -> None:
        theme = self._theme
        area = QRectF(left.x(), left.y() - theme.px(8), theme.px(22), theme.px(16))
        self._p.setPen(theme.pen("caution", 1))
        self._p.drawRect(area)
        self._text(area, text, 11, "caution", bold=True, mono=True, align=_CENTRE)

    def _mark(self, at: QPointF, box: PortBox) -> None:
        """Draw the connector: hollow when free, outlined strongly when planned, filled when it stands."""
        theme, p = self._theme, self._p
        r = float(theme.px(9))
        used, built = bool(box.user), box.state == "as built"
        colour = "trouble" if box.fault else "ink" if used else "rule"
        p.setPen(theme.pen(colour, 1.8 if used else 1))
        p.setBrush(theme.colour("ink") if built else Qt.BrushStyle.NoBrush)
        kind = box.port.connector
        if kind == "toslink":
            p.drawRoundedRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), r / 3, r / 3)
        elif kind == "rj45":
            p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
        elif kind in ("db25", "binding"):
            p.drawRect(QRectF(at.x() - 1.4 * r, at.y() - 0.7 * r, 2.8 * r, 1.4 * r))
        else:
            p.drawEllipse(at, r, r)
        self._inside(at, r, kind, "ground" if built else colour)
        if kind == "bnc":
            p.setPen(theme.pen(colour, 1.8))
            for side in (-1, 1):
                p.drawLine(QPointF(at.x() + side * r, at.y()), QPointF(at.x() + side * (r + theme.px(3)), at.y()))
        if box.fault or box.lost:
            p.setPen(theme.pen("trouble", 2))
            p.drawLine(QPointF(at.x() - 1.4 * r, at.y() + 1.2 * r), QPointF(at.x() + 1.4 * r, at.y() - 1.2 * r))
        p.setBrush(Qt.BrushStyle.NoBrush)

    def _inside(self, at: QPointF, r: float, kind: str, colour: str) -> None:
        p, theme = self._p, self._theme
        p.setPen(theme.pen(colour, 1))
        p.setBrush(theme.colour(colour))
        if kind in ("xlr", "combo"):
            for dx, dy in ((-0.4, -0.25), (0.4, -0.25), (0, 0.45)):
                p.drawEllipse(QPointF(at.x() + dx * r, at.y() + dy * r), r * 0.12, r * 0.12)
        if kind in ("rca", "bnc"):
            p.drawEllipse(at, r * 0.25, r * 0.25)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if kind == "combo":
            p.drawEllipse(at, r * 0.72, r * 0.72)
        elif kind in ("trs", "ts"):
            p.drawEllipse(at, r * 0.45, r * 0.45)
        elif kind == "toslink":
            p.drawRect(QRectF(at.x() - r * 0.4, at.y() - r * 0.4, r * 0.8, r * 0.8))
