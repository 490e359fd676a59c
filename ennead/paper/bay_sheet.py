"""All bays as one sheet, as the screen draws them: points, labels, normals, and the cords of a scene."""

from pathlib import Path
from typing import Final

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from ennead.drawings.layouts.bay_layout import BaysLayout, lay_bays
from ennead.drawings.layouts.label_strips import MARGIN_MM, PAPERS
from ennead.drawings.painters.bay_paint import BayPainter
from ennead.drawings.painters.palette import PAPER
from ennead.drawings.painters.theme import Theme
from ennead.paper.pages import paint_file, ready
from ennead.survey.survey import Survey

#: Dots an inch in which the drawing is laid out and painted: that of the screen, for its sizes of print.
_DPI: Final = 96


def write_bay_sheet(path: Path, survey: Survey, title: str, paper: str = "A4") -> tuple[Path, ...]:
    """Write all bays to a PDF, as many pages as they need, or to an SVG a page; return what was written.

    Raises
    ------
    FileTrouble
    """
    ready()
    height_mm, width_mm = PAPERS[paper]
    theme = Theme(PAPER, 1.0)
    px = _DPI / 25.4
    room, high = (width_mm - 2 * MARGIN_MM) * px, (height_mm - 2 * MARGIN_MM) * px - 24
    layout = lay_bays(survey, room, theme.width, theme.px)
    tops = _breaks(layout, high)
    plugged = {p for c in survey.cords for p in c.plugs}

    def page(painter: QPainter, top: float, bottom: float) -> None:
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(MARGIN_MM * px, MARGIN_MM * px)
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("soft"))
        painter.drawText(QRectF(0, 0, room, 18), title)
        painter.translate(0, 24 - top)
        seen = QRectF(0, top, layout.width, bottom - top)
        painter.setClipRect(seen)
        paint = BayPainter(painter, theme)
        for bay in layout.bays:
            if top <= bay.y < bottom:
                paint.bay(bay, plugged)
        paint.cords(layout.arcs, seen, (), {})
        painter.restore()

    pages = [lambda p, a=a, b=b: page(p, a, b) for a, b in zip(tops, [*tops[1:], layout.height + 1], strict=True)]
    return paint_file(path, (width_mm, height_mm), _DPI, title, pages)


def _breaks(layout: BaysLayout, high: float) -> list[float]:
    """Return where pages begin: no bay is cut in two."""
    tops = [0.0]
    for bay in layout.bays:
        if bay.y + bay.height - tops[-1] > high and bay.y > tops[-1]:
            tops.append(bay.y)
    return tops
