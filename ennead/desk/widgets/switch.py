"""A switch between a few views: flat words side by side, the chosen one underlined."""

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from ennead.drawings.painters.theme import ThemeBook


class ChoiceSwitch(QWidget):
    """Two or three words of which one is chosen; `chosen` carries its key when a person picks another."""

    chosen = pyqtSignal(str)

    def __init__(self, book: ThemeBook, words: Sequence[tuple[str, str]], name: str) -> None:
        super().__init__()
        self._book = book
        self.setAccessibleName(name)
        self.buttons: dict[str, QPushButton] = {}
        self._group = QButtonGroup(self)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        for key, word in words:
            button = QPushButton(word)
            button.setCheckable(True)
            button.setProperty("switch", True)
            button.setObjectName(f"switch_{key}")
            button.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            self._group.addButton(button)
            self.buttons[key] = button
            row.addWidget(button)
        self.buttons[words[0][0]].setChecked(True)

    @property
    def key(self) -> str:
        """What is chosen."""
        return next(k for k, b in self.buttons.items() if b.isChecked())

    def choose(self, key: str) -> None:
        """Choose by key, as if a person had; nothing happens where it is chosen already."""
        if not self.buttons[key].isChecked():
            self.buttons[key].setChecked(True)
            self.chosen.emit(key)

    def say(self, key: str, word: str) -> None:
        """Change the word of a choice."""
        self.buttons[key].setText(word)
