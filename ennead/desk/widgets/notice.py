"""A sentence that is too long for the foot of the window, laid over the sheet: nothing moves, and clicks go through it."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget

from ennead.desk.theme.tones import set_tone
from ennead.drawings.painters.theme import ThemeBook


class Notice(QLabel):
    """The sentence, above the foot at the right."""

    def __init__(self, foot: QWidget, book: ThemeBook) -> None:
        super().__init__(foot.window())
        self._foot, self._book = foot, book
        self.setObjectName("notice")
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def tell(self, sentence: str) -> None:
        """Show a sentence over whatever is there; an empty one shows nothing."""
        window = self._foot.window()
        if self.parent() is not window:
            # Made before the foot stood in its window.
            self.setParent(window)
        self.setVisible(bool(sentence))
        if not sentence or window is None:
            return
        theme = self._book.now
        self.setFont(theme.font(14))
        set_tone(self, "trouble")
        self.setText(sentence)
        wide = min(theme.px(620), round(window.width() * 0.7))
        self.setFixedWidth(wide)
        self.adjustSize()
        top = self._foot.mapTo(window, self._foot.rect().topRight())
        self.move(top.x() - wide - theme.px(10), top.y() - self.height() - theme.px(8))
        self.raise_()
