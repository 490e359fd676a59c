"""Draws the cascade from its layout: clock lines dotted, a lamp with a word, what the menu is set to."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from ennead.drawings.layouts.cascade_layout import CascadeBox, CascadeLayout
from ennead.drawings.painters.theme import Theme
from ennead.standin.clock_units import Lamp

_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class UnitState(NamedTuple):
    """How a unit fares in a simulation.

    Parameters
    ----------
    locked_s : float, s
        When it locked after power-on; None where it never did.
    clicks_s : float, s
        Time between two clicks on what it hears; None where nothing clicks.
    pulled : bool
        Whether the cable its clock comes by is pulled.
    """

    lamp: Lamp
    locked_s: float | None
    clicks_s: float | None
    silent: bool
    pulled: bool

    @property
    def is_well(self) -> bool:
        """Whether it runs in step."""
        return self.lamp in ("leads", "locked")

    @property
    def words(self) -> str:
        """What its lamp and its ears tell."""
        lamp = {
            "off": "off",
            "leads": "leads",
            "searching": "looks for its clock",
            "locked": "locked",
            "lost": "has lost its clock",
        }[self.lamp]
        parts = [
            lamp + (f" after {self.locked_s:.2f} s" if self.lamp == "locked" and self.locked_s is not None else "")
        ]
        if self.clicks_s is not None:
            parts.append(f"a click every {self.clicks_s:.3g} s")
        if self.silent:
            parts.append("silence on a link to it")
        return " · ".join(parts)


class CascadePainter:
    """Paints the part of a layout that is in view; while the clock is played, units as their stand-ins fare."""

    def __init__(
        self,
        painter: QPainter,
        theme: Theme,
        chosen: str,
        worst: Mapping[str, str],
        states: Mapping[str, UnitState] = MappingProxyType({}),
    ) -> None:
        self._painter, self._theme, self._chosen, self._worst, self._states = painter, theme, chosen, worst, states

    def draw(self, layout: CascadeLayout, seen: QRectF) -> None:
        """Draw what lies within `seen`."""
        painter, theme = self._painter, self._theme
        for words, y in layout.heads:
            painter.setFont(theme.font(13))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(theme.px(8), y, layout.width, theme.px(20)), _LEFT, words)
        for box in layout.boxes:
            if box.from_y < box.y:
                self._line(box)
        for box in layout.boxes:
            if seen.intersects(QRectF(box.x, box.y, box.width, box.height)):
                self._box(box)

    def _line(self, box: CascadeBox) -> None:
        painter, theme = self._painter, self._theme
        state = self._states.get(box.row.unit)
        well = box.row.locked if state is None else state.is_well
        painter.setPen(theme.pen("clock" if well else "trouble", 1.8, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        middle = box.y + theme.px(22)
        path = QPainterPath(QPointF(box.from_x, box.from_y))
        path.lineTo(box.from_x, middle)
        path.lineTo(box.x, middle)
        painter.drawPath(path)
        if state is not None and state.pulled:
            # Pulled: a gap with two strokes across the line, not told by colour alone.
            arm, x = theme.px(6), (box.from_x + box.x) / 2
            painter.setPen(theme.pen("trouble", 2.2))
            painter.drawLine(QPointF(x - arm, middle - arm), QPointF(x, middle + arm))
            painter.drawLine(QPointF(x, middle - arm), QPointF(x + arm, middle + arm))

    def _box(self, box: CascadeBox) -> None:
        painter, theme, row = self._painter, self._theme, box.row
        area = QRectF(box.x, box.y, box.width, box.height)
        if self._chosen == row.unit:
            painter.fillRect(area, theme.colour("selection"))
        self._lamp(box)
        x = box.x + theme.px(34)
        severity = self._worst.get(row.unit, "")
        name = f"▲ {row.name}" if severity else row.name
        painter.setFont(theme.font(16, bold=True))
        painter.setPen(theme.colour(severity or "ink"))
        room = max(40.0, box.x + box.width - x)
        first = QRectF(x, box.y + theme.px(1), room, theme.px(22))
        # The word that decides keeps its room, the name is cut if one must be.
        state = self._states.get(row.unit)
        word, well = (
            (row.word, row.locked) if state is None else (state.words, state.is_well and state.clicks_s is None)
        )
        word_room = min(theme.width(word, 14) + theme.px(16), room * 0.7)
        shown = theme.elided(name, room - word_room, 16, bold=True)
        painter.drawText(first, _LEFT, shown)
        at = x + theme.width(shown, 16, bold=True) + theme.px(12)
        painter.setFont(theme.font(14))
        painter.setPen(theme.colour("ink" if well else "trouble"))
        painter.drawText(
            QRectF(at, first.y(), max(0.0, box.x + box.width - at), first.height()),
            _LEFT,
            theme.elided(word, max(0.0, box.x + box.width - at), 14),
        )
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("soft"))
        parts = [f"menu: {row.menu}", row.reason or row.medium]
        text = " · ".join(p for p in parts if p)
        second = QRectF(x, box.y + theme.px(22), room, theme.px(20))
        painter.drawText(second, _LEFT, theme.elided(text, room, 13))

    def _lamp(self, box: CascadeBox) -> None:
        """Draw a full lamp for locked, a ring for the leader, a crossed one for no lock: never told by colour alone."""
        painter, theme, row = self._painter, self._theme, box.row
        state = self._states.get(row.unit)
        leads, well = (row.word == "leads", row.locked) if state is None else (state.lamp == "leads", state.is_well)
        centre = QPointF(box.x + theme.px(16), box.y + theme.px(22))
        radius = theme.px(8)
        painter.setBrush(theme.colour("ground"))
        painter.setPen(theme.pen("clock" if well else "trouble", 2))
        painter.drawEllipse(centre, radius, radius)
        if leads:
            painter.drawEllipse(centre, radius * 0.4, radius * 0.4)
        elif well:
            painter.setBrush(theme.colour("clock"))
            painter.drawEllipse(centre, radius * 0.62, radius * 0.62)
        else:
            reach = radius * 0.6
            painter.drawLine(centre + QPointF(-reach, -reach), centre + QPointF(reach, reach))
            painter.drawLine(centre + QPointF(-reach, reach), centre + QPointF(reach, -reach))
        painter.setBrush(Qt.BrushStyle.NoBrush)
