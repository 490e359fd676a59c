"""What every printed page needs: an application without a screen, a PDF or an SVG to paint on, and lists to tick."""

import os
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from html import escape
from pathlib import Path

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QFont, QGuiApplication, QPageSize, QPainter, QPdfWriter, QTextDocument

from ennead.drawings.painters.theme import UI_FAMILY, load_fonts
from ennead.files.errors import FileTrouble
from ennead.files.regular import made_whole

_app: QGuiApplication | None = None


def ready() -> None:
    """See that there is an application: a script has no screen, and needs none for paper."""
    global _app  # noqa: PLW0603 - Qt's application lives as long as the process
    if QGuiApplication.instance() is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        _app = QGuiApplication(sys.argv[:1])
        load_fonts()


@contextmanager
def written(path: Path) -> Iterator[Path]:
    """Hand out a place to write to; the file is there whole or not at all.

    Raises
    ------
    FileTrouble
    """
    ready()
    with made_whole(path) as part:
        yield part
        if not part.stat().st_size:
            raise FileTrouble(path, "nothing could be written", "Choose another folder.")


def paint_pages(
    part: Path, size_mm: tuple[float, float], dpi: int, title: str, pages: Sequence[Callable[[QPainter], None]]
) -> None:
    """Paint pages of one size to a PDF.

    Parameters
    ----------
    size_mm : pair of float, mm
    dpi : int, dots an inch
        In which the pages paint.
    """
    writer = QPdfWriter(str(part))
    writer.setResolution(dpi)
    writer.setTitle(title)
    writer.setCreator("Ennead")
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setPageSize(QPageSize(QSizeF(*size_mm), QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.ExactMatch))
    painter = QPainter(writer)
    for n, page in enumerate(pages):
        if n:
            writer.newPage()
        page(painter)
    painter.end()


def paint_svg(part: Path, size_mm: tuple[float, float], dpi: int, title: str, page: Callable[[QPainter], None]) -> None:
    """Paint one page to an SVG.

    Parameters
    ----------
    size_mm : pair of float, mm
    dpi : int, dots an inch
    """
    from PyQt6.QtSvg import QSvgGenerator

    width, height = (mm * dpi / 25.4 for mm in size_mm)
    made = QSvgGenerator()
    made.setFileName(str(part))
    made.setTitle(title)
    made.setResolution(dpi)
    made.setSize(QSizeF(width, height).toSize())
    made.setViewBox(QRectF(0, 0, width, height))
    painter = QPainter(made)
    page(painter)
    painter.end()


def write_list(path: Path, title: str, words: str, rows: Sequence[Sequence[str]]) -> None:
    """Write a list to tick as PDF: a box, the number, and the cells of each row.

    Raises
    ------
    FileTrouble
    """
    lines = "".join(
        f"<tr><td>☐</td><td align='right'>{n}</td>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>"
        for n, row in enumerate(rows, start=1)
    )
    _write_text(path, title, f"<h2>{escape(title)}</h2><p>{escape(words)}</p>{_table(lines)}")


def write_tables(path: Path, title: str, parts: Sequence[tuple[str, Sequence[str], Sequence[Sequence[str]]]]) -> None:
    """Write parts one below the other as PDF, each with its heading, sentences and a table whose first row names its columns.

    Raises
    ------
    FileTrouble
    """
    html = [f"<h2>{escape(title)}</h2>"]
    for head, words, rows in parts:
        lines = "".join(
            f"<tr>{''.join(f'<{kind}>{escape(cell)}</{kind[:2]}>' for cell in row)}</tr>"
            for kind, row in zip(["th align='left'", *["td"] * len(rows)], rows, strict=False)
        )
        html.append(f"<h3>{escape(head)}</h3>{''.join(f'<p>{escape(w)}</p>' for w in words)}{_table(lines)}")
    _write_text(path, title, "".join(html))


def _table(lines: str) -> str:
    return f"<table cellspacing='0' cellpadding='4'>{lines}</table>"


def _write_text(path: Path, title: str, html: str) -> None:
    with written(path) as part:
        document = QTextDocument()
        document.setDefaultFont(QFont(UI_FAMILY, 10))
        document.setHtml(html)
        writer = QPdfWriter(str(part))
        writer.setTitle(title)
        writer.setCreator("Ennead")
        writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        document.print(writer)
