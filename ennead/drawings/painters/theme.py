"""The theme in force: palette, scale, fonts; and the book that signals its changes."""

from typing import Final

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QGuiApplication, QPen

from ennead.data import FOLDER
from ennead.drawings.painters.palette import NIGHT, PAPER, Palette

SCALES: Final = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)
UI_FAMILY: Final = "B612"
MONO_FAMILY: Final = "B612 Mono"
#: A layout measures the same words again and again; what was measured is forgotten beyond this.
_MOST_WIDTHS: Final = 50_000


def load_fonts() -> None:
    """Register the fonts that ship with the program."""
    for entry in (FOLDER / "fonts").glob("*.otf"):
        QFontDatabase.addApplicationFontFromData(entry.read_bytes())


class Theme:
    """One palette at one text scale.

    Parameters
    ----------
    scale : float
        0.8 to 2.0; every measure of the interface is multiplied by it.
    """

    def __init__(self, palette: Palette, scale: float) -> None:
        self.palette = palette
        self.scale = scale
        self._fonts: dict[tuple[float, bool, bool], QFont] = {}
        self._colours: dict[str, QColor] = {}
        self._measures: dict[tuple[float, bool, bool], QFontMetricsF] = {}
        self._widths: dict[tuple[str, float, bool, bool], float] = {}

    def px(self, measure: float) -> int:
        """Return a measure in pixels at the present scale."""
        return round(measure * self.scale)

    def colour(self, name: str) -> QColor:
        """Return a colour by what it means."""
        if name not in self._colours:
            self._colours[name] = QColor(getattr(self.palette, name))
        return self._colours[name]

    def pen(self, name: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
        """Return a pen; its width grows with the scale."""
        pen = QPen(self.colour(name), max(1.0, width * self.scale), style)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        return pen

    def font(self, size: float = 14, *, bold: bool = False, mono: bool = False) -> QFont:
        """Return a font by its size in pixels at scale 1; never smaller than 11."""
        key = (size, bold, mono)
        if key not in self._fonts:
            font = QFont(MONO_FAMILY if mono else UI_FAMILY)
            font.setPixelSize(max(11, self.px(size)))
            font.setBold(bold)
            self._fonts[key] = font
        return self._fonts[key]

    def width(self, text: str, size: float = 14, *, bold: bool = False, mono: bool = False) -> float:
        """Return how wide a text is, px."""
        key = (text, size, bold, mono)
        if key not in self._widths:
            if len(self._widths) > _MOST_WIDTHS:
                self._widths.clear()
            self._widths[key] = self._metrics(size, bold, mono).horizontalAdvance(text)
        return self._widths[key]

    def _metrics(self, size: float, bold: bool, mono: bool) -> QFontMetricsF:
        key = (size, bold, mono)
        if key not in self._measures:
            self._measures[key] = QFontMetricsF(self.font(size, bold=bold, mono=mono))
        return self._measures[key]

    def elided(self, text: str, room: float, size: float = 14, *, bold: bool = False, mono: bool = False) -> str:
        """Return a text that fits, cut in the middle if it must be."""
        return self._metrics(size, bold, mono).elidedText(text, Qt.TextElideMode.ElideMiddle, max(0.0, room))


def margin_width(theme: Theme) -> int:
    """Return how wide the margin is, px: wider with larger text, up to a third of a small screen."""
    return min(theme.px(286), 390)


class ThemeBook(QObject):
    """Holds the theme in force; widgets repaint on `changed`."""

    changed = pyqtSignal()

    def __init__(self, choice: str = "system", scale: float = 1.0) -> None:
        super().__init__()
        self.choice = choice
        self._scale = scale
        self.now = Theme(self._palette(), scale)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._system_changed)

    def _palette(self) -> Palette:
        if self.choice == "system":
            hints = QGuiApplication.styleHints()
            dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
            return NIGHT if dark else PAPER
        return NIGHT if self.choice == "night" else PAPER

    def _system_changed(self) -> None:
        if self.choice == "system":
            self._renew()

    def _renew(self) -> None:
        self.now = Theme(self._palette(), self._scale)
        self.changed.emit()

    def choose(self, choice: str) -> None:
        """Choose paper, night or system."""
        self.choice = choice
        self._renew()

    @property
    def scale(self) -> float:
        """The text scale in force."""
        return self._scale

    def step_scale(self, steps: int) -> None:
        """Make all text one step larger or smaller; 0 goes back to 100 %."""
        if steps == 0:
            self._scale = 1.0
        else:
            nearest = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - self._scale))
            self._scale = SCALES[max(0, min(len(SCALES) - 1, nearest + steps))]
        self._renew()
