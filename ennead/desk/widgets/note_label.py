"""A label of plain, wrapped text that can be selected and copied."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QEnterEvent
from PyQt6.QtWidgets import QLabel


class NoteLabel(QLabel):
    """Text from anywhere, shown as text.

    What selecting takes is made when the mouse comes: made for each of fifty labels at once it costs as much as
    all the rest of a page.
    """

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setMinimumWidth(0)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        super().enterEvent(event)
