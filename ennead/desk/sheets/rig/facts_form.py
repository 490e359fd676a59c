"""The plain facts of a profile as a form: name, kind, rates, clock, power, and what to mind."""

from collections.abc import Callable

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QFormLayout, QWidget

from ennead.desk.widgets.field import Field
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.painters.theme import Theme
from ennead.files.profile_rows import COLUMNS, Row

_HINTS = {
    "rates_hz": "44100, 48000, 88200, 96000",
    "ppm": "as its data sheet says; empty when it says nothing",
    "last_system": "such as 14.2; empty when nobody states an end",
    "cautions": "sentences, divided by |",
    "setup": "what must be stored in it once, divided by |",
}


class FactsForm(QWidget):
    """A line for each fact."""

    def __init__(self, theme: Theme, changed: Callable[[], None]) -> None:
        super().__init__()
        self._theme, self._told = theme, changed
        form = QFormLayout(self)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        self._fields: dict[str, Field | QComboBox] = {}
        for column in COLUMNS["facts"]:
            field: Field | QComboBox
            if column.kind == "one":
                field = QComboBox()
                for choice in column.choices:
                    field.addItem(choice or "none", choice)
                field.activated.connect(lambda _: self._told())
            else:
                field = Field("")
                field.setPlaceholderText(_HINTS.get(column.field, ""))
                field.textChanged.connect(lambda _: self._told())
            field.setAccessibleName(column.heading)
            field.setObjectName(f"fact_{column.field}")
            self._fields[column.field] = field
            form.addRow(column.heading, field)

    def fill(self, rows: list[Row]) -> None:
        """Show the facts."""
        row = rows[0] if rows else {}
        for name, field in self._fields.items():
            with QSignalBlocker(field):
                text = row.get(name, "")
                if isinstance(field, QComboBox):
                    field.setCurrentIndex(max(0, field.findData(text)))
                else:
                    field.setText(text)
                    field.setCursorPosition(0)

    def rows(self) -> list[Row]:
        """Return the facts as one row."""
        return [{n: str(f.currentData()) if isinstance(f, QComboBox) else f.text() for n, f in self._fields.items()}]

    def mark(self, wrong: dict[int, str]) -> None:
        """Say at the form what is wrong with the facts."""
        self.setToolTip(plain_tip(wrong.get(0, "")))
