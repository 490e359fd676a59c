"""The Rig sheet: which boxes stand where, and in what mode."""

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QPushButton

from ennead.desk.sheets.rig.connect_dialog import ConnectDialog
from ennead.desk.sheets.rig.rig_view import RigView
from ennead.desk.sheets.rig.shelf import Shelf
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.house import add_unit, fresh_name
from ennead.planning.routing.partners import partners
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.studio.subjects import Subject

_SHORT = {
    "interface": "Interface", "expander": "Expander", "converter": "Converter", "preamp": "Preamp", "clock": "Clock",
    "processor": "Processor", "monitor": "Monitor", "loudspeaker": "Loudspeaker", "panel": "Panel", "bay": "Bay",
    "di": "DI box", "instrument": "Instrument", "console": "Console", "cue": "Cue",
}  # fmt: skip


class RigSheet(SheetFrame):
    """Rear strips by place, and the shelf."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[2])
        self._table = table
        self.connect_button = QPushButton("Connect…")
        self.connect_button.setObjectName("connect")
        self.connect_button.setToolTip("Cable the chosen port (Enter)")
        self.connect_button.clicked.connect(self._connect_clicked)
        self.shelf_button = QPushButton("Shelf")
        self.shelf_button.setCheckable(True)
        self.shelf_button.setChecked(True)
        self.shelf_button.setProperty("quiet", True)
        self.add_action(self.shelf_button)
        self.add_action(self.connect_button)
        self.view = RigView(table, book, self.ask_partner)
        empty = EmptyNote(
            book,
            "No box is here yet. Take your interface from the shelf below: type a word of what it "
            "is, and press Enter. If it is not there, describe it in seven answers.",
            None,
        )
        self._pages = self.add_pages(self.view, empty)
        self.shelf = Shelf(book, self.take)
        self.body.addWidget(self.shelf)
        self.shelf_button.toggled.connect(self._show_shelf)
        table.begun.connect(self._begun)
        for signal in (table.changed, table.selected):
            signal.connect(self._refresh)
        self._refresh()

    def _begun(self) -> None:
        """Open the shelf for a studio without units; leave the room to the strips of one that has them."""
        self.shelf_button.setChecked(not self._table.studio.units)

    def _show_shelf(self, shown: bool) -> None:
        self.shelf.setVisible(shown)
        if shown and self.isVisible():
            self.shelf.fill()
            self.shelf.typed.setFocus()

    def _refresh(self) -> None:
        self._pages.setCurrentIndex(0 if self._table.studio.units else 1)
        self.connect_button.setEnabled(self._table.selection.kind == "port")

    def showEvent(self, event: QShowEvent | None) -> None:
        self.shelf.fill()
        super().showEvent(event)

    def setFocus(self) -> None:
        """Give the keyboard to the strips; without any, to the shelf."""
        (self.view if self._table.studio.units else self.shelf.typed).setFocus()

    def take(self, profile: Profile) -> None:
        """Take a profile from the shelf: a unit stands where the selected one stands."""
        selection = self._table.selection
        place = self._table.studio.units[UnitId(selection.key)].place if selection.kind in ("unit", "port") else None
        name = fresh_name(self._table.studio, _SHORT[profile.role])
        if self._table.do(change(f"Take {name} from the shelf", add_unit, profile, name, place)):
            newest = list(self._table.studio.units)[-1]
            self._table.select(Subject("unit", newest))

    def _connect_clicked(self) -> None:
        if self._table.selection.kind == "port":
            self.ask_partner(self._table.selection.end)

    def ask_partner(self, end: PortEnd) -> None:
        """Ask what a port is to be cabled to, and do it."""
        dialog = ConnectDialog(self._table.studio.end_text(end), partners(self._table.survey, end), self.book, self)
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen.change)
        self.view.setFocus()
