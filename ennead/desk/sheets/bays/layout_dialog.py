"""Lay the bays out: which boxes come to them, what it would change, and the weights it goes by."""

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QVBoxLayout, QWidget

from ennead.desk.widgets.tick_box import TickBox
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.laying.layout import candidates, lay_out, layout_text
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.ids import UnitId


class LayoutDialog(QDialog):
    """Shows what a layout would do; `chosen` is the change that does it."""

    def __init__(self, studio: Studio, book: ThemeBook, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setObjectName("layout_dialog")
        self.setWindowTitle("Lay the bays out")
        self._studio = studio
        self.chosen: Change | None = None
        column = QVBoxLayout(self)
        head = QLabel(
            "What is ticked as wired stays where it is soldered. What is only planned goes where everyday pairs and the cords of the scenes need "
            "no cord, as far as they can; labels go with it, and every line stays as it is."
        )
        head.setWordWrap(True)
        column.addWidget(head)
        self.boxes: dict[UnitId, TickBox] = {}
        for unit in candidates(studio):
            box = TickBox(f"{studio.units[unit].name} comes to the bays, with all its sockets", book.now)
            box.toggled.connect(self._look)
            column.addWidget(box)
            self.boxes[unit] = box
        self.words = QLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.take = buttons.button(QDialogButtonBox.StandardButton.Ok)
        self.take.setText("Lay it out")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.setMinimumWidth(book.now.px(520))
        self._look()

    def _look(self) -> None:
        """Work the layout out for what is ticked."""
        try:
            found = lay_out(self._studio, [unit for unit, box in self.boxes.items() if box.isChecked()])
        except EnneadError as error:
            self.chosen = None
            self.words.setText(str(error))
        else:
            self.chosen = found.change if found.change.steps else None
            self.words.setText(layout_text(found))
        self.take.setEnabled(self.chosen is not None)
