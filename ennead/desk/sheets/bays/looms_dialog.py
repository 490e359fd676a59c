"""Looms: those that lie between boxes and those in the drawer."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.sheets.bays.loom_facts import LoomFacts
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.narrowing import chosen, fill
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.cables import set_length
from ennead.edits.change import change
from ennead.edits.looms import add_spare, change_spare, put_away, remove_spare, set_loom, take_spare
from ennead.reports.loom_rows import LoomRow, loom_rows
from ennead.standards.multipin import FIGURE_COLOURS
from ennead.studio.errors import EnneadError
from ennead.studio.looms import Loom, SpareLoom
from ennead.studio.record import replace


class LoomsDialog(QDialog):
    """The dialog; what is typed in it is an edit each, and undone as any other."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("looms_dialog")
        self.setWindowTitle("Looms")
        self._table = table
        self.listed, self.facts = QListWidget(), LoomFacts(book)
        self.listed.setAccessibleName("Looms, those in the drawer last")
        self.listed.setWordWrap(True)
        body = QHBoxLayout()
        body.addWidget(self.listed, 2)
        # With large text on a small screen the facts scroll, rather than being squeezed.
        beside = QScrollArea()
        beside.setWidget(self.facts)
        beside.setWidgetResizable(True)
        beside.setFrameShape(QFrame.Shape.NoFrame)
        beside.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body.addWidget(beside, 3)
        foot = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for key, text, tip, deed in (
            (
                "colours",
                "Mark by colours",
                "Let its lines bear brown, red, orange … in order (IEC 60062)",
                self._colours,
            ),
            ("away", "To the drawer", "Pull this loom; what is known of it stays in the drawer", self._away),
            ("use", "Take for…", "Make one of the planned looms of it", self._take),
            ("drop", "Forget it", "Take it off the list: it is gone", self._drop),
            ("add", "Add a spare…", "Note one more loom that lies in the drawer", self._add),
            ("print", "Print…", "All looms with their multipins, as PDF", self._print),
        ):
            button = QPushButton(text)
            button.setObjectName(f"loom_{key}")
            button.setToolTip(tip)
            button.setProperty("quiet", True)
            button.clicked.connect(deed)
            self.buttons[key] = button
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        for button in (*self.buttons.values(), close):
            button.setAutoDefault(False)
            foot.addWidget(button)
        foot.insertStretch(len(self.buttons), 1)
        column = QVBoxLayout(self)
        column.addLayout(body, 1)
        column.addLayout(foot)
        self.resize(min(book.now.px(900), 1_180), min(book.now.px(640), 700))
        self.listed.currentRowChanged.connect(lambda _: self._show())
        self.facts.stated.connect(self._state)
        self.facts.measured.connect(self._measure)
        table.changed.connect(self.refresh)
        self.refresh()

    @property
    def row(self) -> LoomRow | None:
        """The loom that is chosen."""
        found: LoomRow | None = chosen(self.listed)
        return found

    def refresh(self) -> None:
        """Show what there is now; what was chosen stays so as far as it can."""
        at, rows = self.listed.currentRow(), loom_rows(self._table.studio)
        self.listed.blockSignals(True)
        fill(self.listed, [(f"{'in the drawer: ' if r.cable is None else ''}{r.name}, {r.words}", r) for r in rows])
        self.listed.setCurrentRow(max(0, min(at, len(rows) - 1)))
        self.listed.blockSignals(False)
        self._show()

    def _show(self) -> None:
        row = self.row
        self.facts.show_loom(row)
        lies, spare = row is not None and row.cable is not None, row is not None and row.cable is None
        for key, there in (
            ("colours", lies or spare),
            ("away", lies),
            ("use", spare),
            ("drop", spare),
            ("print", lies or spare),
        ):
            self.buttons[key].setVisible(there)

    def _state(self, loom: Loom) -> None:
        row = self.row
        if row is not None and row.cable is not None:
            self._do(f"Say how {row.name} is made up", set_loom, row.cable, loom)
        elif row is not None:
            self._do(f"Say how {row.name} is made up", change_spare, row.spare, replace(self._spare(row), loom=loom))

    def _measure(self, length_m: float | None) -> None:
        row = self.row
        if row is not None and row.cable is not None:
            self._do(f"Measure {row.name}", set_length, row.cable, length_m)
        elif row is not None:
            self._do(f"Measure {row.name}", change_spare, row.spare, replace(self._spare(row), length_m=length_m))

    def _spare(self, row: LoomRow) -> SpareLoom:
        return self._table.studio.spares[row.spare]

    def _do(self, text: str, edit: Callable[..., Any], *args: Any) -> None:
        try:
            edit(self._table.studio, *args)
        except EnneadError as error:
            self._show()
            self.facts.words.setText(str(error))
        else:
            self._table.do(change(text, edit, *args))

    def _colours(self) -> None:
        row = self.row
        if row is not None:
            marks = tuple(FIGURE_COLOURS[n % len(FIGURE_COLOURS)] for n in range(len(row.lines)))
            self._state(replace(row.loom, marks=marks))

    def _away(self) -> None:
        row = self.row
        if row is not None and row.cable is not None:
            self._do(f"Put {row.name} in the drawer", put_away, row.cable)

    def _take(self) -> None:
        row = self.row
        if row is None:
            return
        planned = [r for r in loom_rows(self._table.studio) if r.cable is not None]
        if not planned:
            self.facts.words.setText("No loom is planned that it could be. Wire a multipin to a bay first.")
            return
        texts = [f"{r.name}, {r.words}" for r in planned]
        text, taken = QInputDialog.getItem(self, "Take it for", "The planned loom that it is to be", texts, 0, False)
        if taken:
            there = planned[texts.index(text)]
            self._do(f"Take {row.name} for {there.name}", take_spare, row.spare, there.cable)

    def _add(self) -> None:
        lanes, taken = QInputDialog.getInt(self, "Add a spare loom", "How many lines it has", 8, 1, 64)
        if taken:
            usual = f"multipin to {lanes} quarter-inch plugs"
            ends, taken = QInputDialog.getText(self, "Add a spare loom", "What is on its ends", text=usual)
        if taken:
            self._do("Add a spare loom", add_spare, SpareLoom(lanes, tuple(e.strip() for e in ends.split(" to ", 1))))
            self.listed.setCurrentRow(self.listed.count() - 1)

    def _drop(self) -> None:
        row = self.row
        if row is not None:
            self._do(f"Forget {row.name}", remove_spare, row.spare)

    def _print(self) -> None:
        from ennead.paper.looms import write_looms

        path, _ = QFileDialog.getSaveFileName(self, "Save the looms", "Looms.pdf", "PDF (*.pdf)")
        if path:
            try:
                write_looms(Path(path), loom_rows(self._table.studio), f"{self._table.studio.name}: looms")
            except EnneadError as error:
                self.facts.words.setText(str(error))
