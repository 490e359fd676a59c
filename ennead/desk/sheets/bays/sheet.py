"""The Bays sheet: bays with their normals, the scenes of cords, and the moves to the one that is chosen."""

from collections.abc import Callable

from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from ennead.desk.sheets.bays.bays_view import BaysView
from ennead.desk.sheets.bays.moves_list import MovesList
from ennead.desk.sheets.bays.moves_work import MovesWork
from ennead.desk.sheets.bays.rears_list import RearsPanel
from ennead.desk.sheets.bays.scene_strip import SceneStrip
from ennead.desk.sheets.bays.words_field import WordsField
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook


class BaysSheet(SheetFrame):
    """Patch bays."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[6])
        self._table = table
        self.view, self.work = BaysView(table, book), MovesWork(table)
        self.farther = self._tool("−", "bays_farther", "See more of the bays (−)", lambda: self.view.set_zoom(-1))
        self.closer = self._tool("+", "bays_closer", "Look closer (+)", lambda: self.view.set_zoom(1))
        tip = "Show the rows of sockets that are on no bay yet, to drag onto its points"
        self.wire_button = self._tool("Wire…", "wire_rears", tip, checkable=True)
        tip = "Propose which socket stands behind which point, so that few cords are needed"
        self.lay_button = self._tool("Lay out…", "lay_out", tip, self.lay)
        tip = "Strips and flags at true scale, moves, wiring, looms, paths (Ctrl+P)"
        self.print_button = self._tool("Print…", "print", tip, lambda: table.wished.emit("print"))
        self.make_button = QPushButton("Make a bay…")
        self.make_button.setObjectName("make_bay")
        self.make_button.clicked.connect(self.make)
        self.add_action(self.make_button)
        first = QPushButton("Make a bay…")
        first.clicked.connect(self.make)
        empty = EmptyNote(
            book,
            "There is no patch bay yet, so every cable runs straight. Make one, wire its rears on the Rig sheet, and"
            " lay tonight's cords here: Ennead follows every signal through them.",
            first,
        )
        self.strip, self.words, self.moves_list = SceneStrip(table, book), WordsField(table, book), MovesList(book)
        self.rears_panel = RearsPanel(table, book, self.view)
        self.rears = self.rears_panel.rears
        self.rears_panel.looms_button.clicked.connect(self.show_looms)
        self.wire_button.toggled.connect(self._show_rears)
        page = QWidget()
        beside = QHBoxLayout(page)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.addWidget(self.view, 1)
        beside.addWidget(self.rears_panel)
        self._pages = self.add_pages(page, empty)
        self.body.addWidget(self.strip)
        self.body.addWidget(self.words)
        self.body.addWidget(self.moves_list)
        self.moves_list.ticked.connect(self.work.tick)
        self.work.changed.connect(self._show_moves)
        self.setFocusProxy(self.view)
        table.changed.connect(self._refresh)
        book.changed.connect(self._size)
        self._size()
        self._refresh()

    def _tool(
        self, text: str, name: str, tip: str, deed: Callable[[], object] | None = None, *, checkable: bool = False
    ) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.setProperty("quiet", True)
        button.setCheckable(checkable)
        button.setToolTip(tip)
        if len(text) == 1:
            button.setAccessibleName(tip)
        if deed is not None:
            button.clicked.connect(lambda _=False: deed())
        self.add_action(button, gives_way=True)
        return button

    def _size(self) -> None:
        self.moves_list.setFixedHeight(min(self.book.now.px(150), max(self.book.now.px(70), self.height() // 4)))
        self.rears_panel.fit(self.width())

    def _show_rears(self, shown: bool) -> None:
        self.rears_panel.setVisible(shown)
        (self.rears if shown else self.view).setFocus()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._size()

    def _refresh(self) -> None:
        there = bool(self._table.studio.bays)
        self._pages.setCurrentIndex(0 if there else 1)
        self.strip.setVisible(there)
        self.words.setVisible(there)
        self.moves_list.setVisible(there)
        if self.isVisible():
            self.work.look()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.work.look()

    def _show_moves(self) -> None:
        studio = self._table.studio
        by_hand = studio.scenes[studio.scene].steps if studio.scene in studio.scenes else ()
        self.moves_list.show_moves(self.work.head(), self.work.rows(studio), self.work.done, by_hand)

    def show_looms(self) -> None:
        """Show the looms, their multipins and the drawer."""
        from ennead.desk.sheets.bays.looms_dialog import LoomsDialog

        LoomsDialog(self._table, self.book, self.window()).exec()

    def lay(self) -> None:
        """Propose a layout, and do it if it is wanted."""
        if not self._table.studio.bays:
            self._table.said.emit("There is no patch bay yet. Make one on sheet 6, then lay it out.")
            return
        from ennead.desk.sheets.bays.layout_dialog import LayoutDialog

        dialog = LayoutDialog(self._table, self.book, self.window())
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen)

    def make(self) -> None:
        """Ask for a bay and add it."""
        from ennead.desk.sheets.bays.bay_dialog import BayDialog

        dialog = BayDialog(self._table.studio, self.book, self.window())
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen)
