"""A plain message the person has to read; its text is never taken for marks."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget


def tell(parent: QWidget, title: str, text: str) -> None:
    """Show a message and wait until it has been read."""
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    box.exec()
