"""Flags for cables at true scale: folded round the cable they read from either side, with a square code of the cable's number."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QLineF, QRectF
from PyQt6.QtGui import QPainter, QPen

from ennead.drawings.layouts.label_strips import MARGIN_MM, PAPERS
from ennead.paper.lettering_mm import INK, write_mm
from ennead.paper.pages import paint_file
from ennead.reports.flag_rows import FlagRow

#: Dots an inch: a module of a code is several dots, so that its edges stay sharp.
_DPI: Final = 1270
_MM: Final = _DPI / 25.4
#: A flag: two wings that are glued back to back, and what goes round the cable between them. House defaults, mm.
WING_MM, WRAP_MM, HIGH_MM = 36.0, 14.0, 13.0
_CODE_MM: Final = 11.0
_WIDE_MM: Final = 2 * WING_MM + WRAP_MM
_GAP_MM: Final = 4.0


def write_flags(path: Path, flags: Sequence[FlagRow], title: str, paper: str = "A4") -> tuple[Path, ...]:
    """Write flags to a PDF file, as many pages as they need, or to an SVG a page; return what was written.

    Raises
    ------
    FileTrouble
    """
    size = PAPERS[paper]
    across, down = places(size)
    most = len(across) * len(down)
    pages = [flags[n : n + most] for n in range(0, max(len(flags), 1), most)]
    return paint_file(path, size, _DPI, title, [partial(_page, flags=p, size=size, title=title) for p in pages])


def places(size: tuple[float, float]) -> tuple[list[float], list[float]]:
    """Return where flags begin on a page, from the left and from above, mm."""
    wide, high = (edge - 2 * MARGIN_MM for edge in size)
    columns, rows = int((wide + _GAP_MM) // (_WIDE_MM + _GAP_MM)), int(high // (HIGH_MM + _GAP_MM))
    return (
        [MARGIN_MM + n * (_WIDE_MM + _GAP_MM) for n in range(columns)],
        [MARGIN_MM + 3 + n * (HIGH_MM + _GAP_MM) for n in range(rows)],
    )


def _page(painter: QPainter, flags: Sequence[FlagRow], size: tuple[float, float], title: str) -> None:
    _text(
        painter,
        QRectF(MARGIN_MM, MARGIN_MM - 5, size[0] - 2 * MARGIN_MM, 4),
        f"{title}  ·  fold round the cable at the broken lines",
        2.4,
    )
    across, down = places(size)
    for n, flag in enumerate(flags):
        _flag(painter, flag, across[n % len(across)], down[n // len(across)])


def _flag(painter: QPainter, flag: FlagRow, x: float, y: float) -> None:
    pen = QPen(INK, 0.1 * _MM)
    painter.setPen(pen)
    painter.drawRect(QRectF(x * _MM, y * _MM, _WIDE_MM * _MM, HIGH_MM * _MM))
    folds = QPen(INK, 0.1 * _MM)
    folds.setDashPattern([5, 10])
    painter.setPen(folds)
    for fold in (x + WING_MM, x + WING_MM + WRAP_MM):
        painter.drawLine(QLineF(fold * _MM, y * _MM, fold * _MM, (y + HIGH_MM) * _MM))
    _code(painter, flag.code, x + 1, y + 1)
    # One wing has the code, the other the words as large as they get.
    for left, room, sizes in (
        (x + _CODE_MM + 2, WING_MM - _CODE_MM - 3, (3.4, 2.4)),
        (x + WING_MM + WRAP_MM + 1, WING_MM - 2, (3.8, 2.9)),
    ):
        _text(painter, QRectF(left, y + 0.8, room, 4), flag.cable, sizes[0], bold=True)
        _text(painter, QRectF(left, y + 4.9, room, 3.4), flag.here, sizes[1])
        _text(painter, QRectF(left, y + 8.6, room, 3.4), f"↔ {flag.there}", sizes[1])


def modules(text: str) -> list[list[bool]]:
    """Return the square code of a text, row by row: True where it is dark; its quiet zone is not among them.

    References
    ----------
    ISO/IEC 18004: QR code, error correction level M.
    """
    # Loaded where a flag is printed, and only then.
    import segno

    return [[bool(dark) for dark in row] for row in segno.make(text, error="m", micro=False).matrix]


def _code(painter: QPainter, text: str, x: float, y: float) -> None:
    rows = modules(text)
    edge = _CODE_MM / len(rows)
    for down, row in enumerate(rows):
        for across, dark in enumerate(row):
            if dark:
                painter.fillRect(
                    QRectF((x + across * edge) * _MM, (y + down * edge) * _MM, edge * _MM, edge * _MM), INK
                )


def _text(painter: QPainter, area: QRectF, text: str, size_mm: float, *, bold: bool = False) -> None:
    write_mm(painter, _DPI, area, text, size_mm, bold=bold)
