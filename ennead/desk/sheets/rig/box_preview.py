"""A box as it would stand in the rig: its rear strip, and its numbers in the recording software."""

from collections.abc import Iterable

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ennead.drawings.layouts.ruler_layout import Ruler, lay_ruler
from ennead.drawings.layouts.strip_layout import RigLayout, lay_rig
from ennead.drawings.painters.ruler_paint import paint_ruler
from ennead.drawings.painters.strip_paint import StripPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.house import add_unit
from ennead.edits.settings import set_driver_map
from ennead.standards.rates import rate_text
from ennead.studio.document import empty_studio
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.studio.record import replace
from ennead.studio.subjects import NOTHING
from ennead.survey.played import UnitChannel
from ennead.survey.survey import Survey
from ennead.survey.unit_view import view_unit


class BoxPreview(QWidget):
    """The drawing; `show_profile` gives it another box."""

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        self._profile: Profile | None = None
        self._map = ""
        self._strips = RigLayout(0, 0)
        self._up = 0.0
        self.rulers: list[tuple[str, float, Ruler]] = []
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("The box as it would stand in the rig")

    def show_profile(self, profile: Profile | None, driver_map: str = "") -> None:
        """Show another profile; None keeps the last one in sight, paler, while something in it cannot be read."""
        self.setEnabled(profile is not None)
        if profile is not None:
            self._profile, self._map = profile, driver_map
        self._lay()

    def _lay(self) -> None:
        theme, profile = self._book.now, self._profile
        if profile is None or self.width() < theme.px(120):
            return
        studio = add_unit(empty_studio(), profile, profile.name)
        if self._map:
            studio = set_driver_map(studio, UnitId("U1"), self._map)
        laid = lay_rig(Survey(studio), self.width(), theme.width, theme.px)
        # Without the heading of its place: it stands nowhere yet.
        self._strips = replace(laid, places=(), hosts=(), strips=(replace(laid.strips[0], profile=""),))
        self._up = laid.strips[0].y
        top = laid.strips[0].height + theme.px(12)
        self.rulers = []
        settings = studio.settings_of(UnitId("U1"))
        views = [(rate, view_unit(profile, settings, rate)) for rate in self._rates(profile)]
        for way in ("inputs", "outputs"):
            shown = [(rate, getattr(view, way)) for rate, view in views if getattr(view, way)]
            for n, (_, channels) in enumerate(shown):
                if n and _plain(channels) == _plain(shown[n - 1][1]):
                    continue
                ruler = lay_ruler(
                    channels,
                    self.width() - theme.px(8),
                    theme.width,
                    theme.px,
                    top=top + theme.px(24),
                    left=theme.px(4),
                )
                at = [rate_text(r).removesuffix(" kHz") for r, c in shown if _plain(c) == _plain(channels)]
                when = f", {', '.join(at)} kHz" if len(at) < len(shown) else ""
                self.rulers.append((f"driver {way}{when}", top, ruler))
                top += ruler.height + theme.px(32)
        self.setMinimumHeight(round(top))
        self.updateGeometry()
        self.update()

    @staticmethod
    def _rates(profile: Profile) -> list[int]:
        """Return a rate of every speed it runs at."""
        rates: list[int] = [r for r in (48_000, 96_000, 192_000) if r in profile.rates_hz]
        return rates or list(profile.rates_hz[:1]) or [48_000]

    def sizeHint(self) -> QSize:
        return QSize(self._book.now.px(560), max(self.minimumHeight(), self._book.now.px(200)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            theme = self._book.now
            if self._profile is None:
                return
            if not self.isEnabled():
                painter.setOpacity(0.45)
            painter.save()
            painter.translate(0, -self._up)
            StripPainter(painter, theme, NOTHING, set(), {}).draw(self._strips, QRectF(0, 0, self.width(), 1e6))
            painter.restore()
            for head, y, ruler in self.rulers:
                painter.setFont(theme.font(13, bold=True))
                painter.setPen(theme.colour("ink"))
                area = QRectF(theme.px(4), y, self.width(), theme.px(20))
                painter.drawText(area, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, head)
                paint_ruler(painter, ruler, theme)


def _plain(channels: Iterable[UnitChannel]) -> list[tuple[object, ...]]:
    """Return what two rulers must share to be drawn once."""
    return [(c.index, c.label, c.live) for c in channels]
