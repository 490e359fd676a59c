"""Designation strips as PDF or SVG at true scale, and the test page that says whether a printer prints true."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ennead.drawings.layouts.label_strips import MARGIN_MM, RULER_MM, STRIP_MM, StripCell, StripPage, StripPiece
from ennead.paper.lettering_mm import INK, write_mm
from ennead.paper.pages import paint_file

#: Fine enough that a coordinate is never off by more than a hundredth of a millimetre, dots an inch.
_DPI: Final = 2540
_MM: Final = _DPI / 25.4
#: The largest print on a strip, mm.
_LARGEST: Final = 2.9


def write_strips(path: Path, pages: Sequence[StripPage], title: str) -> tuple[Path, ...]:
    """Write pages to a PDF file, or to an SVG each; return what was written.

    Raises
    ------
    FileTrouble
    """
    size = pages[0].width, pages[0].height
    return paint_file(path, size, _DPI, title, [partial(paint_page, page=page, title=title) for page in pages])


def paint_page(painter: QPainter, page: StripPage, title: str) -> None:
    """Paint one page in dots of `_DPI`: every strip with its ticks and cut marks, or the ruler."""
    _text(
        painter, QRectF(MARGIN_MM, MARGIN_MM - 5, page.width - 2 * MARGIN_MM, 4), title, 2.6, Qt.AlignmentFlag.AlignLeft
    )
    if page.ruler:
        _ruler(painter, page)
    for piece in page.pieces:
        _piece(painter, piece)


def _piece(painter: QPainter, piece: StripPiece) -> None:
    high = STRIP_MM
    painter.setPen(_pen(0.1))
    painter.drawRect(_rect(piece.x, piece.y, piece.width, high))
    painter.setPen(_pen(0.15))
    for x in piece.ticks:
        _line(painter, x, piece.y, x, piece.y + 1.2)
        _line(painter, x, piece.y + high - 1.2, x, piece.y + high)
    # Where it is cut: beyond the strip above and below, at its ends.
    for x in (piece.ticks[0], piece.ticks[-1]):
        _line(painter, x, piece.y - 3, x, piece.y - 0.8)
        _line(painter, x, piece.y + high + 0.8, x, piece.y + high + 3)
    part = f"  ·  part {piece.part} of {piece.parts}" if piece.parts > 1 else ""
    _text(painter, QRectF(piece.x + 1, piece.y - 3.6, 80, 3), f"{piece.name}{part}", 1.9, Qt.AlignmentFlag.AlignLeft)
    for cell in piece.cells:
        _cell(painter, cell, piece.y, high)


def _cell(painter: QPainter, cell: StripCell, y: float, high: float) -> None:
    wide = cell.right - cell.left
    lines = [cell.number, cell.first, cell.second] if cell.second else [cell.number, cell.first]
    step = (high - 1.4) / len(lines)
    for n, text in enumerate(lines):
        area = QRectF(cell.left + 0.3, y + 0.7 + n * step, wide - 0.6, step)
        _text(painter, area, text, min(step * 0.82, _LARGEST), Qt.AlignmentFlag.AlignHCenter)


def _ruler(painter: QPainter, page: StripPage) -> None:
    x, y = MARGIN_MM + 10, page.height / 2
    painter.setPen(_pen(0.15))
    _line(painter, x, y, x + RULER_MM, y)
    for mm in range(round(RULER_MM) + 1):
        tall = 8.0 if mm % 10 == 0 else 5.5 if mm % 5 == 0 else 3.5
        _line(painter, x + mm, y, x + mm, y - tall)
        if mm % 10 == 0:
            _text(painter, QRectF(x + mm - 5, y + 1, 10, 4), str(mm), 2.6, Qt.AlignmentFlag.AlignHCenter)
    words = (
        f"Print this page at 100 %, not fitted to the page, and measure from 0 to {RULER_MM:g} with a steel rule.",
        "What you read is typed beside the paper, and all strips are corrected by it.",
    )
    for n, text in enumerate(words):
        _text(painter, QRectF(x, y - 34 + 6 * n, page.width - x - MARGIN_MM, 5), text, 3.2, Qt.AlignmentFlag.AlignLeft)


def _pen(mm: float) -> QPen:
    pen = QPen(INK, mm * _MM)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen


def _line(painter: QPainter, x0: float, y0: float, x1: float, y1: float) -> None:
    painter.drawLine(QLineF(x0 * _MM, y0 * _MM, x1 * _MM, y1 * _MM))


def _rect(x: float, y: float, width: float, height: float) -> QRectF:
    return QRectF(x * _MM, y * _MM, width * _MM, height * _MM)


def _text(painter: QPainter, area: QRectF, text: str, size_mm: float, align: Qt.AlignmentFlag) -> None:
    write_mm(painter, _DPI, area, text, size_mm, align)
