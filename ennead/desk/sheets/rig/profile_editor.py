"""The profile editor: tables of text at the left, the box they make at the right, what is wrong at its place."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSplitter,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.sheets.rig.box_preview import BoxPreview
from ennead.desk.sheets.rig.describe_dialog import scrolled
from ennead.desk.sheets.rig.facts_form import FactsForm
from ennead.desk.sheets.rig.paste_dialog import PasteDialog
from ennead.desk.sheets.rig.profile_table import ProfileTable
from ennead.drawings.painters.theme import ThemeBook
from ennead.files.profile_rows import COLUMNS, Row, profile_rows, read_rows, row_of
from ennead.planning.boxes.matching import match_blocks
from ennead.rules.profile_holds_together import ProfileFault
from ennead.studio.profile import Profile

_TABS = {
    "facts": "Box",
    "ports": "Sockets",
    "blocks": "Numbers",
    "driver_maps": "Maps",
    "clock_sources": "Clock",
    "modes": "Switches",
    "banks": "48 V",
    "inner_paths": "Inside",
    "mixes": "Own mixes",
}


class ProfileEditor(QDialog):
    """The dialog; `profile` is what stands in the tables, None while they cannot be read or do not hang together.

    Parameters
    ----------
    use : str
        What the button that ends it says, such as *Take into the rig*.
    keep, export : callable
        Put a profile on the user's shelf, or into a file; they return whether it was done.
    """

    def __init__(
        self,
        book: ThemeBook,
        profile: Profile,
        use: str,
        keep: Callable[[Profile], bool],
        export: Callable[[Profile], bool],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._book, self._keep, self._export = book, keep, export
        self.setObjectName("profile_editor")
        self.setWindowTitle(f"Description of {profile.name}")
        self.profile: Profile | None = profile
        self._changed = self._warned = False
        self.faults: tuple[ProfileFault, ...] = ()
        self.tabs = QTabWidget()
        self.tables: dict[str, FactsForm | ProfileTable] = {}
        for name, title in _TABS.items():
            table = (
                FactsForm(book.now, self._edited)
                if name == "facts"
                else ProfileTable(COLUMNS[name], book.now, self._edited)
            )
            self.tables[name] = table
            self.tabs.addTab(scrolled(table) if name == "facts" else table, title)
        self.wrong = QListWidget()
        self.wrong.setWordWrap(True)
        self.wrong.setAccessibleName("What is wrong")
        self.wrong.itemActivated.connect(self._go)
        self.wrong.itemClicked.connect(self._go)
        self.preview = BoxPreview(book)
        self.said = QLabel()
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setWordWrap(True)
        left, column = QWidget(), QVBoxLayout()
        left.setLayout(column)
        column.addWidget(self.tabs, 1)
        column.addLayout(self._row_buttons())
        column.addWidget(self.wrong)
        # Beside each other two such halves would leave large text no room.
        split = QSplitter(Qt.Orientation.Vertical if book.scale > 1.3 else Qt.Orientation.Horizontal)
        split.addWidget(left)
        split.addWidget(scrolled(self.preview))
        split.setStretchFactor(0, 6)
        split.setStretchFactor(1, 5)
        whole = QVBoxLayout(self)
        whole.addWidget(split, 1)
        whole.addWidget(self.said)
        whole.addLayout(self._end_buttons(use))
        theme = book.now
        self.resize(min(theme.px(1_220), 1_260), min(theme.px(720), 760))
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._read)
        self.fill(profile)

    def _row_buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        for text, name, deed in (
            ("Row up", "row_up", lambda: self._on_rows(lambda t: t.move_row(-1))),
            ("Row down", "row_down", lambda: self._on_rows(lambda t: t.move_row(1))),
            ("Take row away", "row_away", lambda: self._on_rows(ProfileTable.drop_row)),
            ("Paste the software's list…", "paste_list", self._paste),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setProperty("quiet", True)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _=False, d=deed: d())
            row.addWidget(button)
        row.addStretch(1)
        return row

    def _end_buttons(self, use: str) -> QHBoxLayout:
        self.keep_button, self.export_button = QPushButton("Keep on my shelf"), QPushButton("Export…")
        self.use_button, cancel = QPushButton(use), QPushButton("Cancel")
        self.keep_button.clicked.connect(lambda: self._hand_over(self._keep, "It is on your shelf."))
        self.export_button.clicked.connect(lambda: self._hand_over(self._export, "It is written."))
        self.use_button.clicked.connect(self.accept)
        cancel.clicked.connect(self.reject)
        row = QHBoxLayout()
        for button in (self.keep_button, self.export_button):
            row.addWidget(button)
        row.addStretch(1)
        row.addWidget(cancel)
        row.addWidget(self.use_button)
        for button in (self.keep_button, self.export_button, cancel, self.use_button):
            button.setAutoDefault(False)
            button.setProperty("quiet", button is not self.use_button)
        self.use_button.setObjectName("editor_use")
        self.keep_button.setObjectName("editor_keep")
        return row

    def _hand_over(self, deed: Callable[[Profile], bool], done: str) -> None:
        if self.profile is not None and deed(self.profile):
            self._changed = False
            self.said.setText(done)

    def _on_rows(self, deed: Callable[[ProfileTable], object]) -> None:
        table = self.tables[list(_TABS)[self.tabs.currentIndex()]]
        if isinstance(table, ProfileTable):
            deed(table)

    # -- reading and showing -------------------------------------------------------------------
    def fill(self, profile: Profile) -> None:
        """Show a profile."""
        for name, rows in profile_rows(profile).items():
            self.tables[name].fill(rows)
        self._read()

    def _edited(self) -> None:
        self._changed = True
        self._warned = False
        self._soon.start()

    def _read(self) -> None:
        """Read the tables, draw the box, and say at each row what is wrong with it."""
        rows = {name: table.rows() for name, table in self.tables.items()}
        read, self.faults = read_rows(rows)
        holds = read is not None and not any(f.breaks for f in self.faults)
        self.profile = read if not self.faults else None
        self.preview.show_profile(read if holds else None, self._map_shown(rows["blocks"]))
        marks: dict[str, dict[int, str]] = {name: {} for name in _TABS}
        self.wrong.clear()
        for fault in self.faults:
            table, row = row_of(fault, rows)
            marks[table].setdefault(row, f"{fault.what}. {fault.remedy}")
            where = _TABS[table] + (f", row {row + 1}" if row >= 0 and table != "facts" else "")
            item = QListWidgetItem(f"▲ {where}: {fault.what}. {fault.remedy}")
            item.setData(Qt.ItemDataRole.UserRole, (table, row))
            item.setForeground(self._book.now.colour("trouble"))
            self.wrong.addItem(item)
        if not self.faults:
            self.wrong.addItem("Everything hangs together.")
        self.wrong.setFixedHeight(self._book.now.px(96 if self.faults else 30))
        for at, name in enumerate(_TABS):
            self.tables[name].mark(marks[name])
            self.tabs.setTabText(at, f"▲ {_TABS[name]}" if marks[name] else _TABS[name])
        for button in (self.use_button, self.keep_button, self.export_button):
            button.setEnabled(self.profile is not None)

    def _map_shown(self, blocks: list[Row]) -> str:
        """Return the map of the selected block; the first where none is selected."""
        table = self.tables["blocks"]
        row = table.currentRow() if isinstance(table, ProfileTable) else -1
        return blocks[row].get("map", "") if 0 <= row < len(blocks) else ""

    def _go(self, item: QListWidgetItem) -> None:
        place = item.data(Qt.ItemDataRole.UserRole)
        if not place:
            return
        name, row = place
        self.tabs.setCurrentIndex(list(_TABS).index(name))
        table = self.tables[name]
        if isinstance(table, ProfileTable) and row >= 0:
            table.setCurrentCell(row, 0)
        table.setFocus()

    def _paste(self) -> None:
        """Put the blocks of a pasted list in the place of the inputs of the map that is being looked at."""
        dialog = PasteDialog(self._book.now, self)
        if not dialog.exec():
            return
        rows = {name: table.rows() for name, table in self.tables.items()}
        read, _ = read_rows({**rows, "blocks": []})
        if read is None:
            self.said.setText("The sockets cannot be read yet; mend them first, then paste the list.")
            return
        maps = [m["key"] for m in rows["driver_maps"] if m.get("key")]
        shown = self._map_shown(rows["blocks"]) or (maps[0] if maps else "standard")
        if not maps:
            self.tables["driver_maps"].fill([{"key": shown, "label": "As pasted", "numbering": "collapsing"}])
        blocks, assumed = match_blocks(dialog.blocks, read.ports)
        others = [b for b in rows["blocks"] if (b.get("map"), b.get("way")) != (shown, "in")]
        pasted = [
            {
                "map": shown,
                "way": "in",
                "label": b.label,
                "ports": ", ".join(b.ports),
                "channels": str(b.channels) if b.channels else "",
            }
            for b in blocks
        ]
        self.tables["blocks"].fill([*pasted, *others])
        self.tabs.setCurrentIndex(list(_TABS).index("blocks"))
        self.said.setText(" ".join(assumed))
        self._edited()

    def reject(self) -> None:
        """Close without using it; what has been changed is dropped only when asked for twice."""
        if self._changed and not self._warned:
            self._warned = True
            self.said.setText("What you changed here is kept nowhere yet. Press Escape or Cancel once more to drop it.")
            return
        super().reject()
