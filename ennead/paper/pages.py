"""What every printed page needs: an application without a screen, a PDF or an SVG to paint on, and lists to tick."""

import os
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from html import escape
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QBuffer, QFile, QFileDevice, QIODevice, QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QFont, QGuiApplication, QPageSize, QPainter, QPdfWriter, QTextDocument

from ennead.drawings.painters.theme import UI_FAMILY, load_fonts
from ennead.files.regular import made_whole
from ennead.standards.visible_signs import SIGNS

_app: QGuiApplication | None = None
#: What XML allows nowhere in a document, made visible; XML 1.0, 2.2.
_NOT_IN_XML: Final = {n: sign for n, sign in SIGNS.items() if (n < 0x20 and n not in (9, 10, 13)) or n >= 0xD800}


def ready() -> None:
    """See that there is an application: a script has no screen, and needs none for paper."""
    global _app  # noqa: PLW0603 - Qt's application lives as long as the process
    if QGuiApplication.instance() is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        _app = QGuiApplication(sys.argv[:1])
        load_fonts()


class _Refused(OSError):
    """What Qt could not write; it says so of the file alone, and of every write before by nothing but its length."""


@contextmanager
def written(path: Path) -> Iterator[QFile]:
    """Hand out a file to paint to, beside the place it is meant for; it takes that place only when all of it is on disk.

    Qt's writers of pages do not say that a write failed: the file is asked, and looked at from its end.

    Raises
    ------
    FileTrouble
        What was there before is then there still.
    """
    ready()
    with made_whole(path) as part:
        file = QFile(str(part))
        if not file.open(QIODevice.OpenModeFlag.WriteOnly):
            raise _Refused(file.errorString())
        try:
            yield file
            flushed = file.flush()
            if not flushed or file.error() != QFileDevice.FileError.NoError:
                said = file.errorString()
                raise _Refused(said if said != "Unknown error" else "no room, or no file may be so large")
            os.fsync(file.handle())
        finally:
            file.close()
        if not _is_whole(part, path.suffix.lower()):
            raise _Refused("its end is missing, as where a disk is full")


def _is_whole(part: Path, ending: str) -> bool:
    """Say whether a page ends as one does."""
    with part.open("rb") as made:
        made.seek(0, os.SEEK_END)
        made.seek(max(0, made.tell() - 64))
        tail = made.read().rstrip()
    return tail.endswith(b"</svg>" if ending == ".svg" else b"%%EOF")


def paint_pages(
    part: QFile, size_mm: tuple[float, float], dpi: int, title: str, pages: Sequence[Callable[[QPainter], None]]
) -> None:
    """Paint pages of one size to a PDF.

    Parameters
    ----------
    size_mm : pair of float, mm
    dpi : int, dots an inch
        In which the pages paint.
    """
    writer = QPdfWriter(part)
    writer.setResolution(dpi)
    writer.setTitle(title)
    writer.setCreator("Ennead")
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setPageSize(QPageSize(QSizeF(*size_mm), QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.ExactMatch))
    with QPainter(writer) as painter:
        for n, page in enumerate(pages):
            if n:
                writer.newPage()
            page(painter)


def paint_file(
    path: Path, size_mm: tuple[float, float], dpi: int, title: str, pages: Sequence[Callable[[QPainter], None]]
) -> tuple[Path, ...]:
    """Paint pages to a PDF, or to an SVG each, numbered where there are several; return what was written.

    Raises
    ------
    FileTrouble
    """
    if path.suffix.lower() != ".svg":
        with written(path) as part:
            paint_pages(part, size_mm, dpi, title, pages)
        return (path,)
    several = len(pages) > 1
    paths = [path.with_name(f"{path.stem}-{n}{path.suffix}") if several else path for n in range(1, len(pages) + 1)]
    for each, page in zip(paths, pages, strict=True):
        with written(each) as part:
            paint_svg(part, size_mm, dpi, title, page)
    return tuple(paths)


def pages_text(paths: Sequence[Path]) -> str:
    """Return which files pages are in: ``flags.pdf``, ``flags-1.svg to flags-3.svg``."""
    return paths[0].name if len(paths) == 1 else f"{paths[0].name} to {paths[-1].name}"


def paint_svg(
    part: QFile, size_mm: tuple[float, float], dpi: int, title: str, page: Callable[[QPainter], None]
) -> None:
    """Paint one page to an SVG; what XML does not allow in a name is made visible.

    Parameters
    ----------
    size_mm : pair of float, mm
    dpi : int, dots an inch
    """
    from PyQt6.QtSvg import QSvgGenerator

    width, height = (mm * dpi / 25.4 for mm in size_mm)
    made, whole = QSvgGenerator(), QBuffer()
    whole.open(QIODevice.OpenModeFlag.WriteOnly)
    made.setOutputDevice(whole)
    made.setTitle(title)
    made.setResolution(dpi)
    made.setSize(QSizeF(width, height).toSize())
    made.setViewBox(QRectF(0, 0, width, height))
    with QPainter(made) as painter:
        page(painter)
    drawn = whole.data().data().decode("utf-8", "replace").translate(_NOT_IN_XML)
    part.write(drawn.encode())


def write_list(
    path: Path,
    title: str,
    words: str,
    rows: Sequence[tuple[int, Sequence[str]]],
    below: Sequence[tuple[str, Sequence[Sequence[str]]]] = (),
) -> None:
    """Write a list to tick as PDF: of each row so many boxes, its number, and its cells; tables with a heading each below it.

    Raises
    ------
    FileTrouble
    """
    lines = "".join(
        f"<tr><td>{'☐ ' * boxes}</td><td align='right'>{n}</td>{''.join(f'<td>{escape(c)}</td>' for c in row)}</tr>"
        for n, (boxes, row) in enumerate(rows, start=1)
    )
    more = "".join(
        f"<h3>{escape(head)}</h3>"
        + _table("".join(f"<tr>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>" for row in table))
        for head, table in below
    )
    _write_text(path, title, f"<h2>{escape(title)}</h2><p>{escape(words)}</p>{_table(lines)}{more}")


def write_tables(path: Path, title: str, parts: Sequence[tuple[str, Sequence[str], Sequence[Sequence[str]]]]) -> None:
    """Write parts one below the other as PDF, each with its heading, sentences and a table; the first row names the columns.

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
    write_document(path, title, QTextDocument(), html)


def write_document(path: Path, title: str, document: QTextDocument, html: str) -> None:
    """Write text as PDF, on A4.

    Parameters
    ----------
    document : QTextDocument
        With the pictures that the text names.

    Raises
    ------
    FileTrouble
    """
    with written(path) as part:
        document.setDefaultFont(QFont(UI_FAMILY, 10))
        document.setHtml(html)
        writer = QPdfWriter(part)
        writer.setTitle(title)
        writer.setCreator("Ennead")
        writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        document.print(writer)
        # The printer writes the end of the file when it goes.
        del writer
