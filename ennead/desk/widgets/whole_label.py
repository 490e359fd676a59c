"""Words that wrap and are never cut: a form asks a label for its height before it knows how wide it will be."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QLabel


class WholeLabel(QLabel):
    """Plain words, as high as they are at their width."""

    def __init__(self, text: str = "") -> None:
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)

    def setText(self, text: str | None) -> None:
        """Show other words, and ask for the room that they need."""
        super().setText(text)
        self.setMinimumHeight(max(0, self.heightForWidth(self.width())))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Ask for the height that this width needs."""
        super().resizeEvent(event)
        self.setMinimumHeight(max(0, self.heightForWidth(self.width())))
