"""Draws the chosen loop: its circuit, its level staircase, its delay part by part, and what to enter."""

from itertools import groupby
from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath

from ennead.drawings.layouts.loops_layout import CIRCUIT, DELAY, LINE, LoopsLayout
from ennead.drawings.layouts.stairs_layout import StairsLayout
from ennead.drawings.painters.loops_paint import CENTRE, LITTLE_DB, LoopsPainter
from ennead.drawings.painters.theme import Theme
from ennead.reports.loop_rows import LoopFigures, boxes_text, numbers_text, open_text, part_name, software_lines
from ennead.studio.widths import width_text
from ennead.survey.circuits import Passed
from ennead.survey.loop_time import TimePart
from ennead.survey.survey import Survey

_TOP: Final = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop


class LoopDetailPainter(LoopsPainter):
    """Paints what the chosen loop opens to."""

    def __init__(self, painter: QPainter, theme: Theme, survey: Survey) -> None:
        super().__init__(painter, theme, survey.rate_hz, {})
        self._survey = survey

    def draw(self, layout: LoopsLayout) -> None:
        """Draw it below the rows."""
        figures, t, p = layout.chosen, self._t, self._p
        if figures is None:
            return
        y, width = layout.detail, layout.width - t.px(16)
        p.setPen(t.pen("hairline"))
        p.drawLine(QPointF(0, y - t.px(6)), QPointF(layout.width, y - t.px(6)))
        half = layout.circuit
        use = "on a bus beside the dry path" if figures.loop.use.parallel else "insert"
        said = f"{figures.loop.name} · {use}, {width_text(figures.loop)}"
        self._heading(t.px(8), y, half, said)
        self._circuit(figures, QRectF(t.px(8), y + t.px(26), half - t.px(24), t.px(CIRCUIT - 40)))
        beside = (0.0, t.px(CIRCUIT)) if layout.stacked else (half, 0)
        self._stairs(layout.stairs, QRectF(t.px(8) + beside[0], y + beside[1], width - beside[0], t.px(20)))
        below = y + t.px(CIRCUIT) * (1 + layout.stacked)
        self._delay(figures, QRectF(t.px(8), below, width, t.px(DELAY)))
        words = software_lines(self._survey, figures) if figures.circuit.closed else (open_text(figures),)
        y = below + (t.px(DELAY) if figures.time is not None else 0.0)
        if figures.circuit.closed:
            self._heading(t.px(8), y, width, "In the software")
            y += t.px(LINE + 2)
        p.setFont(t.font(15))
        p.setPen(t.colour("ink"))
        for line in words:
            shown = p.boundingRect(QRectF(t.px(8), y, width, t.px(200)), Qt.TextFlag.TextWordWrap, line)
            p.drawText(shown, Qt.TextFlag.TextWordWrap, line)
            y += max(shown.height(), t.px(LINE))

    def _heading(self, x: float, y: float, room: float, text: str, beside: str = "") -> None:
        t = self._t
        side = t.width(beside, 13) + t.px(10) if beside else 0.0
        shown = t.elided(text, room - side, 15, bold=True)
        self._text(QRectF(x, y, room, t.px(20)), shown, 15, "ink", bold=True)
        if beside:
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            self._text(QRectF(x, y, room, t.px(20)), beside, 13, "soft", align=right)

    # -- the circuit ---------------------------------------------------------------------------
    def _circuit(self, figures: LoopFigures, area: QRectF) -> None:
        """Draw the way out above, the boxes at its right end, the way back below; the software closes it at the left."""
        t, p = self._t, self._p
        out, back = _halves(figures)
        above, beneath = area.top() + t.px(34), area.bottom() - t.px(34)
        boxes = boxes_text(figures)
        box_wide = min(area.width() * 0.30, t.width(boxes, 14, bold=True) + t.px(20))
        left, right = area.left() + t.px(16), area.right() - box_wide
        bend = (beneath - above) / 2
        path = QPainterPath(QPointF(right, above))
        path.lineTo(left + bend, above)
        path.arcTo(QRectF(left, above, 2 * bend, 2 * bend), 90, 180)
        path.lineTo(right, beneath)
        p.setPen(t.pen("accent" if figures.circuit.closed else "soft", 1.8, _line(figures)))
        p.drawPath(path)
        middle = (above + beneath) / 2
        box = QRectF(right, middle - t.px(22), box_wide, t.px(44))
        p.drawLine(QPointF(right, above), QPointF(box.center().x(), above))
        p.drawLine(QPointF(box.center().x(), above), QPointF(box.center().x(), box.top()))
        p.drawLine(QPointF(right, beneath), QPointF(box.center().x(), beneath))
        p.drawLine(QPointF(box.center().x(), beneath), QPointF(box.center().x(), box.bottom()))
        p.setPen(t.pen("ink", 1.4, _line(figures)))
        p.setBrush(t.colour("panel"))
        p.drawRoundedRect(box, t.px(4), t.px(4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        self._text(box, t.elided(boxes, box_wide - t.px(10), 14, bold=True), 14, "ink", bold=True, align=CENTRE)
        number = t.px(76)
        for y, numbers, word, stops, side in (
            (above, figures.sends, "send", out, -1),
            (beneath, figures.returns, "return", back[::-1], 1),
        ):
            x = left + bend + t.px(4)
            self.number_box(x, y, number, numbers_text(numbers))
            text_y = y + (t.px(15) if side > 0 else -t.px(33))
            self._text(QRectF(x, text_y, number, t.px(18)), word, 12, "soft", align=CENTRE)
            self._stops(x + number + t.px(10), right - t.px(6), y, side, stops)

    def _stops(self, first: float, last: float, y: float, side: int, stops: list[str]) -> None:
        t, p = self._t, self._p
        room = (last - first) / max(1, len(stops))
        for n, text in enumerate(stops):
            x = first + (n + 0.5) * room
            half = t.px(4)
            p.fillRect(QRectF(x - half, y - half, 2 * half, 2 * half), t.colour("ink"))
            # Neighbours stand at two heights, so that long names have the room of two.
            lift = t.px(16) * (n % 2) if len(stops) > 2 else 0.0
            wide = room * (1.9 if len(stops) > 2 else 1.0) - t.px(6)
            at = y + (t.px(8) + lift if side > 0 else -t.px(26) - lift)
            self._text(QRectF(x - wide / 2, at, wide, t.px(18)), t.elided(text, wide, 12), 12, "ink", align=CENTRE)

    # -- levels --------------------------------------------------------------------------------
    def _stairs(self, layout: StairsLayout | None, head: QRectF) -> None:
        t, p = self._t, self._p
        if layout is None:
            self._heading(head.left(), head.top(), head.width(), "Level")
            below = head.translated(0, t.px(26))
            self._text(below, "It is sent nowhere yet.", 13, "soft")
            return
        worst, scale, wide = layout.stairs, layout.scale, layout.step
        figure = QRectF(layout.left, layout.top, layout.width, layout.height)
        least = worst.least
        words = (
            f"least headroom {least.headroom_db:.1f} dB at {self._short(least.at)}"
            if least is not None and least.headroom_db is not None
            else ""
        )
        self._heading(head.left(), head.top(), head.width(), "Level", words.replace("-", "−"))
        for tick in scale.ticks:
            p.setPen(t.pen("hairline"))
            p.drawLine(QPointF(figure.left(), scale.at(tick)), QPointF(figure.right(), scale.at(tick)))
            label = (f"{tick:+g}" if tick else "0").replace("-", "−")
            self._text(QRectF(head.left(), scale.at(tick) - t.px(9), t.px(36), t.px(18)), label, 11, "soft", mono=True)
        before: QPointF | None = None
        for n, stop in enumerate(layout.shown):
            x = figure.left() + n * wide
            for value, pen in (
                (stop.limit_dbu, t.pen("trouble", 1.6)),
                (stop.nominal_dbu, t.pen("soft", 1.2, Qt.PenStyle.DashLine)),
            ):
                if value is not None:
                    p.setPen(pen)
                    p.drawLine(QPointF(x + t.px(2), scale.at(value)), QPointF(x + wide - t.px(2), scale.at(value)))
            if stop.peak_dbu is None:
                known = stop.digital and stop.dbfs is not None
                said = f"{stop.dbfs:+.1f} dBFS".replace("-", "−") if known else "?"
                there = QRectF(x, figure.center().y() - t.px(9), wide, t.px(18))
                self._text(there, said, 13 if known else 15, "ink" if known else "caution", bold=True, align=CENTRE)
                before = None
            else:
                y = scale.at(stop.peak_dbu)
                low = stop.headroom_db is not None and stop.headroom_db < LITTLE_DB
                p.setPen(t.pen("caution" if low else "accent", 2.4))
                if before is not None:
                    p.drawLine(before, QPointF(x, y))
                p.drawLine(QPointF(x, y), QPointF(x + wide, y))
                before = QPointF(x + wide, y)
            under = QRectF(x - wide / 4, figure.bottom() + t.px(4) + t.px(15) * (n % 2), wide * 1.5, t.px(16))
            name = "software" if stop is layout.software else self._short(stop.at)
            self._text(under, t.elided(name, wide * 1.5, 11), 11, "soft", align=_TOP)

    def _short(self, at: Passed) -> str:
        if at.what in ("D/A", "A/D"):
            return at.what
        port = self._survey.profiles[at.unit].port_by_key[at.port]
        return f"{self._survey.units[at.unit].name} {'in' if port.direction == 'in' else 'out'}"

    # -- delay ---------------------------------------------------------------------------------
    def _delay(self, figures: LoopFigures, area: QRectF) -> None:
        """Draw the parts of the round trip one behind the other, and below what the driver reports and what is left over."""
        t, p, time = self._t, self._p, figures.time
        if time is None:
            return
        whole = time.round_trip
        known = sum([part.samples for part in time.parts if part.samples is not None])
        said = (
            f"round trip {whole:g} samples, {whole / self._rate * 1e3:.3f} ms"
            if whole is not None
            else "not all of it is stated"
        )
        self._heading(area.left(), area.top(), area.width(), f"Delay, {said}")
        top, high = area.top() + t.px(28), t.px(26)
        unknown = [part for part in time.parts if part.samples is None]
        blank = t.px(90) if unknown else 0.0
        per = (area.width() - blank * len(unknown)) / max(known, time.reported or 0.0, 1.0)
        x = area.left()
        for part in time.parts:
            wide = blank if part.samples is None else part.samples * per
            self._part(part, QRectF(x, top, wide, high))
            x += wide
        if time.reported is None:
            self._text(
                QRectF(area.left(), top + high + t.px(6), area.width(), t.px(18)),
                "What the driver reports is not stated.",
                13,
                "soft",
            )
            return
        y = top + high + t.px(9)
        end = area.left() + time.reported * per
        p.setPen(t.pen("rule", 2.0))
        p.drawLine(QPointF(area.left(), y), QPointF(end, y))
        self._text(
            QRectF(area.left(), y + t.px(2), max(end - area.left(), t.px(180)), t.px(18)),
            f"the driver reports {time.reported:g}",
            13,
            "soft",
            align=CENTRE,
        )
        residual = time.residual
        if residual:
            far = end + residual * per
            left = QRectF(min(end, far), y - t.px(5), abs(far - end), t.px(10))
            p.setPen(t.pen("accent", 1.2))
            p.setBrush(QBrush(t.colour("accent"), Qt.BrushStyle.BDiagPattern))
            p.drawRect(left)
            p.setBrush(Qt.BrushStyle.NoBrush)
            text = f"{residual:+g} left over"
            text += f" as stated, {figures.held.samples:+g} measured" if figures.held is not None else ""
            text = text.replace("-", "−")
            room = t.width(text, 14, bold=True) + t.px(8)
            at = min(max(left.center().x() - room / 2, area.left()), area.right() - room)
            self._text(QRectF(at, y + t.px(6), room, t.px(20)), text, 14, "accent", bold=True, align=CENTRE)

    def _part(self, part: TimePart, area: QRectF) -> None:
        t, p = self._t, self._p
        if part.unit is not None and part.samples is not None:
            p.fillRect(area, t.colour("selection"))
        p.setPen(
            t.pen(
                "rule",
                1.6 if part.measured else 1.0,
                Qt.PenStyle.SolidLine if part.samples is not None else Qt.PenStyle.DashLine,
            )
        )
        p.drawRect(area)
        figure = f"{part.samples:g}" if part.samples is not None else "?"
        name = part_name(self._survey, part)
        for text in (f"{name} {figure}", f"{part.what} {figure}", figure):
            if t.width(text, 12) <= area.width() - t.px(4):
                self._text(area, text, 12, "ink" if part.samples is not None else "caution", align=CENTRE)
                return


def _halves(figures: LoopFigures) -> tuple[list[str], list[str]]:
    """Return the stops of the first channel on the way out and on the way back, in words."""
    if not figures.circuit.channels:
        return [], []
    names = figures.stop_names
    passed = figures.circuit.channels[0].passed
    inside = [n for n, at in enumerate(passed) if at.what == "box"]
    first, last = (inside[0], inside[-1]) if inside else (len(passed), len(passed))
    # In by one socket of a box and out by another: one stop of the way.
    out, back = ([name for name, _ in groupby(part)] for part in (names[1:first], names[last + 1 : -1]))
    return out, back


def _line(figures: LoopFigures) -> Qt.PenStyle:
    return Qt.PenStyle.SolidLine if figures.circuit.closed else Qt.PenStyle.DashLine
