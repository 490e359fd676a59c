"""Make a bay: how many points, which sockets, how its pairs are joined."""

from PyQt6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QLineEdit, QSpinBox, QWidget

from ennead.desk.widgets.tick_box import TickBox
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.bays import add_bay
from ennead.edits.change import Change, change
from ennead.standards.bays import BAY_CONNECTOR_LABELS, MOST_POINTS, MOST_ROWS
from ennead.studio.bays import NORMAL_LABELS, NORMAL_MODES
from ennead.studio.document import Studio

_SIZES = (16, 24, 48)


class BayDialog(QDialog):
    """Asks for a bay; `chosen` is the change that adds it."""

    def __init__(self, studio: Studio, book: ThemeBook, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setObjectName("bay_dialog")
        self.setWindowTitle("Make a bay")
        taken = {u.name for u in studio.units.values()}
        self.name = QLineEdit(next(n for n in (*"ABCDEFGHIJKLMNOPQRSTUVWXYZ", "Bay") if n not in taken))
        self.across, self.rows = QSpinBox(), QSpinBox()
        self.across.setRange(1, MOST_POINTS)
        self.across.setValue(24)
        self.rows.setRange(1, MOST_ROWS)
        self.rows.setValue(2)
        self.connector, self.mode, self.place = QComboBox(), QComboBox(), QComboBox()
        for key, label in BAY_CONNECTOR_LABELS.items():
            self.connector.addItem(label, key)
        for mode in ("half", "full", "", *[m for m in NORMAL_MODES if m == "parallel"]):
            self.mode.addItem(NORMAL_LABELS[mode], mode)
        self.place.addItem("nowhere yet", None)
        for place in studio.places.values():
            self.place.addItem(place.name, place.id)
        self.in_pairs, self.bussed = (
            TickBox("points in pairs, with a wider gap", book.now),
            TickBox("sleeves joined", book.now),
        )
        self.chosen: Change | None = None
        form = QFormLayout(self)
        for label, field in (
            ("Name", self.name),
            ("Points in a row", self.across),
            ("Rows", self.rows),
            ("Sockets", self.connector),
            ("Pairs are", self.mode),
            ("Place", self.place),
        ):
            field.setAccessibleName(label)
            form.addRow(label, field)
        form.addRow(self.in_pairs)
        form.addRow(self.bussed)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self.name.selectAll()

    def accept(self) -> None:
        """Keep what was asked for."""
        self.chosen = change(
            f"Make the bay {self.name.text().strip()}",
            add_bay,
            self.name.text(),
            self.across.value(),
            rows=self.rows.value(),
            mode=self.mode.currentData(),
            connector=self.connector.currentData(),
            in_pairs=self.in_pairs.isChecked(),
            bussed=self.bussed.isChecked(),
            place=self.place.currentData(),
        )
        super().accept()
