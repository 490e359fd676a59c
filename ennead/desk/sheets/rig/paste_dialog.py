"""Asks for the recording software's list of inputs, and shows at once how its numbers fall into blocks."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from ennead.drawings.painters.theme import Theme
from ennead.planning.boxes.software_list import ListedBlock, read_software_list


class PasteDialog(QDialog):
    """A place to paste into; `blocks` is what was read."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("paste_dialog")
        self.setWindowTitle("The software's list of inputs")
        self.blocks: tuple[ListedBlock, ...] = ()
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("The software's list of inputs")
        self.text.setTabChangesFocus(True)
        self.text.setPlaceholderText("one input a line, as your software lists them")
        self.read = QLabel()
        self.read.setTextFormat(Qt.TextFormat.PlainText)
        self.read.setWordWrap(True)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.text, 1)
        column.addWidget(self.read)
        column.addWidget(self.buttons)
        self.resize(theme.px(420), theme.px(420))
        self.text.textChanged.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        self.blocks, assumed = read_software_list(self.text.toPlainText())
        spans = ", ".join(f"{b.label} {b.span}" for b in self.blocks)
        self.read.setText("\n".join([spans or "Nothing is read yet.", *assumed]))
        ok = self.buttons.button(QDialogButtonBox.StandardButton.Ok)
        if ok is not None:
            ok.setEnabled(bool(self.blocks))
