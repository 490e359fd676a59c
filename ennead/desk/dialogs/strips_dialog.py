"""Print strips: which paper, what the ruler of the test page measured, and where the pages go."""

from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDoubleSpinBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.drawings.layouts.label_strips import MEASURED_MM, PAPERS, RULER_MM, pages_of
from ennead.studio.errors import EnneadError


class StripsDialog(QDialog):
    """Writes the strips of all bays, or the test page, to a file that any program prints at true scale."""

    def __init__(self, table: Worktable, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setObjectName("strips_dialog")
        self.setWindowTitle("Print strips")
        self._table = table
        self.paper, self.measured = QComboBox(), QDoubleSpinBox()
        self.paper.addItems(list(PAPERS))
        self.measured.setRange(*MEASURED_MM)
        self.measured.setDecimals(1)
        self.measured.setSingleStep(0.1)
        self.measured.setSuffix(" mm")
        self.measured.setValue(RULER_MM)
        form = QFormLayout(self)
        words = WholeLabel(
            "Many printers shrink a page to fit it. Print the test page at 100 %, measure its ruler from 0 to"
            f" {RULER_MM:g} with a steel rule, and type what you read: all strips are corrected by it. Long rows are"
            " cut at whole points, with marks to cut at."
        )
        form.addRow(words)
        for label, field in (("Paper", self.paper), ("The ruler measures", self.measured)):
            field.setAccessibleName(label)
            form.addRow(label, field)
        buttons = QHBoxLayout()
        self.test_button, self.strips_button, close = (
            QPushButton("Test page…"),
            QPushButton("Strips…"),
            QPushButton("Close"),
        )
        self.test_button.clicked.connect(lambda: self._ask(test=True))
        self.strips_button.clicked.connect(lambda: self._ask(test=False))
        close.setProperty("quiet", True)
        close.clicked.connect(self.accept)
        buttons.addStretch(1)
        for button in (close, self.test_button, self.strips_button):
            buttons.addWidget(button)
        form.addRow(buttons)
        self.strips_button.setDefault(True)

    def _ask(self, *, test: bool) -> None:
        name = "Test page.pdf" if test else "Strips.pdf"
        path, _ = QFileDialog.getSaveFileName(self, "Save the pages", name, "Pages (*.pdf *.svg)")
        if path:
            self.write(Path(path), test=test)

    def write(self, path: Path, *, test: bool) -> None:
        """Write the pages, and say where they are or why not."""
        from ennead.paper.pages import pages_text
        from ennead.paper.strips import write_strips

        survey = self._table.survey
        path = path if path.suffix.lower() in (".pdf", ".svg") else path.with_suffix(".pdf")
        try:
            pages = pages_of(survey, self.paper.currentText(), self.measured.value(), test=test)
            paths = write_strips(path, pages, f"{survey.studio.name}: strips")
        except EnneadError as error:
            self._table.said.emit(str(error))
            return
        self._table.said.emit(
            f"{len(pages)} page{'s' * (len(pages) != 1)} for {self.paper.currentText()} in {pages_text(paths)}."
            " Print at 100 %."
        )
