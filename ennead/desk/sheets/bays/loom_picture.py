"""A plain picture of a loom's multipin."""

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ennead.drawings.layouts.multipin_layout import lay_multipin
from ennead.drawings.painters.multipin_paint import paint_multipin
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.loom_rows import LoomRow


class LoomPicture(QWidget):
    """The contacts of the plug with pins, seen from the solder side; the chosen line stands out."""

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        self._row: LoomRow | None = None
        self._chosen = 0
        self.setAccessibleName("The multipin, seen from where it is soldered")
        self.setFixedHeight(self.sizeHint().height())

    def sizeHint(self) -> QSize:
        width = self._book.now.px(400)
        return QSize(width, round(lay_multipin((), width).height) + 2)

    def show_loom(self, row: LoomRow | None, chosen: int = 0) -> None:
        """Show a loom, and one line of it."""
        self._row, self._chosen = row, chosen
        self.setVisible(row is not None and row.multipin)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._row is None:
            return
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            laid = lay_multipin(self._row.lines, min(self._book.now.px(400), self.width()))
            paint_multipin(painter, self._book.now, laid, self._chosen)
