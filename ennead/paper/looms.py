"""Looms on paper: what each runs between, its multipin, and which contacts every line is on."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.drawings.layouts.label_strips import MARGIN_MM, PAPERS
from ennead.drawings.layouts.multipin_layout import lay_multipin
from ennead.drawings.painters.multipin_paint import paint_multipin
from ennead.drawings.painters.palette import PAPER
from ennead.drawings.painters.theme import Theme
from ennead.paper.pages import paint_pages, written
from ennead.reports.loom_rows import LoomRow, contacts_text
from ennead.studio.looms import PINNING_LABELS, SCREW_LABELS

#: Dots an inch in which pages are laid out: that of the screen, for its sizes of print.
_DPI: Final = 96
_ROW, _HEAD, _PICTURE = 18.0, 52.0, 400.0


def write_looms(path: Path, rows: Sequence[LoomRow], title: str) -> None:
    """Write looms one below the other as PDF; a loom begins a page where it has no room on the one before.

    Raises
    ------
    FileTrouble
    """
    with written(path) as part:
        width_mm, height_mm = PAPERS["A4"]
        px = _DPI / 25.4
        margin, room, high = MARGIN_MM * px, (width_mm - 2 * MARGIN_MM) * px, (height_mm - 2 * MARGIN_MM) * px
        theme = Theme(PAPER, 1.0)
        pages: list[list[tuple[float, LoomRow]]] = [[]]
        y = 24.0
        for row in rows:
            if y + _height(row) > high and pages[-1]:
                pages.append([])
                y = 24.0
            pages[-1].append((y, row))
            y += _height(row)

        def page(held: list[tuple[float, LoomRow]]) -> Callable[[QPainter], None]:
            def paint(painter: QPainter) -> None:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                painter.translate(margin, margin)
                painter.setFont(theme.font(13))
                painter.setPen(theme.colour("soft"))
                painter.drawText(QRectF(0, 0, room, 18), title)
                for top, row in held:
                    _paint(painter, theme, row, top, room)
                painter.resetTransform()

            return paint

        paint_pages(part, (width_mm, height_mm), _DPI, title, [page(held) for held in pages])


def _height(row: LoomRow) -> float:
    picture = lay_multipin((), _PICTURE).height + 10 if _drawn(row) else 0.0
    return _HEAD + picture + _ROW * len(row.lines) + 24


def _drawn(row: LoomRow) -> bool:
    return any(line.contacts is not None for line in row.lines)


def _paint(painter: QPainter, theme: Theme, row: LoomRow, top: float, room: float) -> None:
    painter.setFont(theme.font(15, bold=True))
    painter.setPen(theme.colour("ink"))
    painter.drawText(QRectF(0, top, room, 20), theme.elided(f"{row.name}: {row.words}", room, 15, bold=True))
    said = [f"contacts {PINNING_LABELS[row.loom.pinning]}", f"screws {SCREW_LABELS[row.loom.screws]}"]
    said += [f"{row.length_m:g} m"] if row.length_m is not None else []
    painter.setFont(theme.font(12))
    painter.setPen(theme.colour("soft"))
    painter.drawText(
        QRectF(0, top + 22, room, 18),
        ", ".join([*(said if row.multipin else said[2:]), *([row.note] if row.note else [])]),
    )
    y = top + _HEAD
    if _drawn(row):
        laid = lay_multipin(row.lines, _PICTURE)
        painter.save()
        painter.translate(0, y)
        paint_multipin(painter, theme, laid)
        painter.restore()
        words = (
            "The plug with pins, from where it is soldered. Ring: hot. Filled: cold. Square: shield. Go by the numbers"
            " beside the contacts."
        )
        painter.setFont(theme.font(12))
        painter.setPen(theme.colour("soft"))
        area = QRectF(_PICTURE + 16, y, room - _PICTURE - 16, laid.height)
        painter.drawText(area, int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap), words)
        y += laid.height + 10
    painter.setPen(theme.colour("ink"))
    painter.setFont(theme.font(12))
    for line in row.lines:
        where = f"{line.start} → {line.end}" if line.end else ""
        cells = (str(line.number), line.mark, contacts_text(line.contacts), where)
        for x, wide, text in zip((0, 26, 110, 310), (22, 80, 196, room - 310), cells, strict=True):
            painter.drawText(QRectF(x, y, wide, _ROW), theme.elided(text, wide, 12))
        y += _ROW
