"""The pictures of the handbook: drawn by the painters of the sheets, in the theme that is on."""

from typing import Final

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPixmap

from ennead.drawings.layouts.bay_layout import lay_bays
from ennead.drawings.painters.bay_paint import BayPainter
from ennead.drawings.painters.theme import Theme
from ennead.edits.bays import add_bay, label_point
from ennead.edits.scenes import add_scene, lay_cord
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId

#: Modes of normals by the name of their picture.
_MODES: Final = {"bay-full": "full", "bay-half": "half", "bay-joined": "parallel", "bay-open": ""}


def picture(theme: Theme, name: str) -> QPixmap | None:
    """Return a picture by the name it has on the pages, or None."""
    return None if name not in _MODES else _normal(theme, _MODES[name])


def four_pairs(mode: str) -> Studio:
    """Return a bay of four pairs of one mode: without a plug, with one above, one below, and both."""
    studio = add_scene(add_bay(empty_studio(), "A", 4, mode=mode, pitch_mm=40.0), "Plugs")
    unit = UnitId("U1")
    for n, text in enumerate(("no plug", "above", "below", "both"), start=1):
        studio = label_point(studio, PortEnd(unit, f"a{n}"), first=text)
    for port in ("a2", "b3", "a4", "b4"):
        studio = lay_cord(studio, PortEnd(unit, port), None)
    return studio


def _normal(theme: Theme, mode: str) -> QPixmap:
    from ennead.survey.survey import Survey

    survey = Survey(four_pairs(mode))
    layout = lay_bays(survey, theme.px(430), theme.width, theme.px)
    pixmap = QPixmap(round(layout.width), round(layout.height) - theme.px(30))
    pixmap.fill(theme.colour("ground"))
    with QPainter(pixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint = BayPainter(painter, theme)
        for bay in layout.bays:
            paint.bay(bay, {p for c in survey.cords for p in c.plugs})
        paint.cords(layout.arcs, QRectF(pixmap.rect()), (), {})
    return pixmap
