"""The Bays sheet: bays with their normals, the scenes of cords, and the moves to the one that is chosen."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QFileDialog, QMenu, QPushButton

from ennead.desk.sheets.bays.bays_view import BaysView
from ennead.desk.sheets.bays.moves_list import MovesList
from ennead.desk.sheets.bays.moves_work import MovesWork
from ennead.desk.sheets.bays.scene_strip import SceneStrip
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.scenes import BACK_TO_NORMALS
from ennead.studio.errors import EnneadError


class BaysSheet(SheetFrame):
    """Patch bays."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[6])
        self._table = table
        self.closer, self.farther, self.make_button = QPushButton("+"), QPushButton("−"), QPushButton("Make a bay…")
        for button, steps, tip in ((self.farther, -1, "See more of the bays (−)"), (self.closer, 1, "Look closer (+)")):
            button.setProperty("quiet", True)
            button.setToolTip(tip)
            button.setAccessibleName(tip)
            button.clicked.connect(lambda _=False, s=steps: self.view.set_zoom(s))
            self.add_action(button, gives_way=True)
        self.lay_button = QPushButton("Lay out…")
        self.lay_button.setObjectName("lay_out")
        self.lay_button.setProperty("quiet", True)
        self.lay_button.setToolTip("Propose which socket stands behind which point, so that few cords are needed")
        self.lay_button.clicked.connect(self.lay)
        self.add_action(self.lay_button, gives_way=True)
        self.print_button = QPushButton("Print…")
        self.print_button.setObjectName("print_bays")
        self.print_button.setProperty("quiet", True)
        self.print_button.setToolTip(
            "Designation strips at true scale, the moves as a list to tick, or all bays as one sheet"
        )
        menu = QMenu(self.print_button)
        for text, deed in (("Strips…", self.print_strips), ("Moves…", lambda: self._save("Moves", self.write_moves)),
                           ("All bays as one sheet…", lambda: self._save("Bays", self.write_sheet))):  # fmt: skip
            menu.addAction(text, deed)
        self.print_button.setMenu(menu)
        self.add_action(self.print_button, gives_way=True)
        self.make_button.setObjectName("make_bay")
        self.make_button.clicked.connect(self.make)
        self.add_action(self.make_button)
        self.view = BaysView(table, book)
        first = QPushButton("Make a bay…")
        first.clicked.connect(self.make)
        empty = EmptyNote(book, "There is no patch bay yet, so every cable runs straight. Make one, wire its rears on the Rig sheet, and lay "
                                "tonight's cords here: Ennead follows every signal through them.", first)  # fmt: skip
        self.strip, self.moves_list, self.work = SceneStrip(table, book), MovesList(book), MovesWork(table)
        self._pages = self.add_pages(self.view, empty)
        self.body.addWidget(self.strip)
        self.body.addWidget(self.moves_list)
        self.moves_list.ticked.connect(self.work.tick)
        self.work.changed.connect(self._show_moves)
        self.setFocusProxy(self.view)
        table.changed.connect(self._refresh)
        book.changed.connect(self._size)
        self._size()
        self._refresh()

    def _size(self) -> None:
        self.moves_list.setFixedHeight(min(self.book.now.px(150), max(self.book.now.px(70), self.height() // 4)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._size()

    def _refresh(self) -> None:
        there = bool(self._table.studio.bays)
        self._pages.setCurrentIndex(0 if there else 1)
        self.strip.setVisible(there)
        self.moves_list.setVisible(there)
        if self.isVisible():
            self.work.look()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.work.look()

    def _show_moves(self) -> None:
        studio = self._table.studio
        by_hand = studio.scenes[studio.scene].steps if studio.scene in studio.scenes else ()
        self.moves_list.show_moves(self.work.head(), self.work.texts(studio), self.work.done, by_hand)

    def print_strips(self) -> None:
        """Ask for paper and write the strips."""
        from ennead.desk.sheets.bays.strips_dialog import StripsDialog

        StripsDialog(self._table, self.window()).exec()

    def lay(self) -> None:
        """Propose a layout, and do it if it is wanted."""
        from ennead.desk.sheets.bays.layout_dialog import LayoutDialog

        dialog = LayoutDialog(self._table.studio, self.book, self.window())
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen)

    def _save(self, name: str, write: Callable[[Path], None]) -> None:
        path, _ = QFileDialog.getSaveFileName(
            self, f"Save {name.lower()}", f"{name}.pdf", "Pages (*.pdf *.svg)" if name == "Bays" else "PDF (*.pdf)"
        )
        if path:
            try:
                write(Path(path) if Path(path).suffix else Path(path).with_suffix(".pdf"))
            except EnneadError as error:
                self._table.said.emit(str(error))

    def write_moves(self, path: Path) -> None:
        """Write the moves as a list to tick, what is done by hand at its end."""
        from ennead.paper.pages import write_list

        studio = self._table.studio
        scene = studio.scenes.get(studio.scene)
        rows = [[text] for text in self.work.texts(studio)] + [
            [f"by hand: {s}"] for s in (scene.steps if scene else ())
        ]
        write_list(path, f"{studio.name}: {scene.name if scene else BACK_TO_NORMALS}", self.work.head(), rows)

    def write_sheet(self, path: Path) -> None:
        """Write all bays with the cords of the scene."""
        from ennead.paper.bay_sheet import write_bay_sheet

        studio = self._table.studio
        scene = studio.scenes.get(studio.scene)
        write_bay_sheet(path, self._table.survey, f"{studio.name}: bays, {scene.name if scene else BACK_TO_NORMALS}")

    def make(self) -> None:
        """Ask for a bay and add it."""
        from ennead.desk.sheets.bays.bay_dialog import BayDialog

        dialog = BayDialog(self._table.studio, self.book, self.window())
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen)
