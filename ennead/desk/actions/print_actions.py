"""What is printed: asked for by name, written as PDF or SVG, and said where it is."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.printed import PRINTED_BY_NAME
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.desk.sheets.bays.sheet import BaysSheet

#: Of so many lines at once the paths are printed.
_MOST_PATHS = 40


class PrintActions(QObject):
    """The pages.

    Parameters
    ----------
    bays : callable
        Returns the Bays sheet: its moves are worked out already, and its point says which paths are meant.
    changeover : callable
        Shows the changeover, which is printed from there.
    """

    def __init__(
        self,
        table: Worktable,
        book: ThemeBook,
        window: QWidget,
        bays: "Callable[[], BaysSheet]",
        changeover: Callable[[], object],
    ) -> None:
        super().__init__(window)
        self._table, self._book, self._window, self._bays, self._changeover = table, book, window, bays, changeover

    def choose(self) -> None:
        """Ask what is to be printed, and print it."""
        from ennead.desk.dialogs.print_dialog import PrintDialog

        dialog = PrintDialog(self._book, self._window)
        if dialog.exec():
            self.print(dialog.chosen)
        dialog.deleteLater()

    def print(self, what: str) -> None:
        """Ask where a page is to go, and write it there."""
        if what == "changeover":
            self._changeover()
            return
        if what == "labels":
            from ennead.desk.dialogs.strips_dialog import StripsDialog

            StripsDialog(self._table, self._window).exec()
            return
        printed = PRINTED_BY_NAME[what]
        kinds = f"Pages ({' '.join(f'*{ending}' for ending in printed.pages)})"
        name, _ = QFileDialog.getSaveFileName(self._window, f"Save: {printed.label}", f"{printed.label}.pdf", kinds)
        if name:
            path = Path(name) if Path(name).suffix else Path(name).with_suffix(".pdf")
            self._table.said.emit(self.write(what, path))

    def write(self, what: str, path: Path) -> str:
        """Write a page; return where it is, or why it is not."""
        from ennead.paper.pages import pages_text
        from ennead.paper.printing import PageOf, write_page

        asked = PageOf()
        if what == "moves":
            page = self._bays().work.page(self._table.studio)
            if page is None:
                return f"{self._bays().work.head()} Print them once they are there."
            asked = PageOf(moves=page)
        elif what == "path":
            runs = self._bays().view.lit_runs[:_MOST_PATHS] or self._table.survey.signal_paths[:_MOST_PATHS]
            if not runs:
                return "There is no source in this session of which the path could be printed."
            from ennead.reports.path_proof import path_proof

            asked = PageOf(paths=tuple([path_proof(self._table.survey, run) for run in runs]))
        elif what in ("recall", "passes"):
            asked = PageOf(photos=self._table.autosave.photos)
        try:
            paths = write_page(self._table.survey, what, path, asked)
        except EnneadError as error:
            return str(error)
        scale = " Print at 100 %." if what in ("labels", "flags") else ""
        return f"{PRINTED_BY_NAME[what].label}: in {pages_text(paths)}.{scale}"
