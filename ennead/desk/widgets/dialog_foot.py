"""The foot of a dialog in which every change is an edit at once: what there is to say, quiet buttons, Close."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton

from ennead.desk.theme.tones import set_tone

#: Its name, text and tool tip, and what it does.
FootButton = tuple[str, str, str, Callable[[], object]]


class DialogFoot(QHBoxLayout):
    """The row; `said` is the label, `buttons` the quiet ones by name."""

    def __init__(self, dialog: QDialog, quiet: Sequence[FootButton]) -> None:
        super().__init__()
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        set_tone(self.said, "soft")
        self.addWidget(self.said, 1)
        self.buttons: dict[str, QPushButton] = {}
        for key, text, tip, deed in quiet:
            button = self.buttons[key] = QPushButton(text)
            button.setProperty("quiet", True)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, deed=deed: deed())
            self.addWidget(button)
        close = QPushButton("Close")
        close.clicked.connect(dialog.accept)
        self.addWidget(close)
        for button in (*self.buttons.values(), close):
            button.setAutoDefault(False)
