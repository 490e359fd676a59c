"""What can be printed: one list, for every sheet."""

from PyQt6.QtWidgets import QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.printed import PRINTED


class PrintDialog(AskDialog):
    """The list; `chosen` is the name of what is to be printed."""

    def __init__(self, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(book, "Print", "What can be printed", "Print…", parent)
        self.setObjectName("print_dialog")
        self.progress.hide()
        self.chosen = PRINTED[0].what
        self.say("Pages at true scale are printed at 100 %, not fitted to the paper.")
        self.rows.currentRowChanged.connect(self._row_chosen)
        self.fill([(p.label, (f"{p.says}.", f"As {_endings(p.pages)}.")) for p in PRINTED])

    def _row_chosen(self, row: int) -> None:
        if 0 <= row < len(PRINTED):
            self.chosen = PRINTED[row].what


def _endings(endings: tuple[str, ...]) -> str:
    return " or ".join(ending[1:].upper() for ending in endings)
