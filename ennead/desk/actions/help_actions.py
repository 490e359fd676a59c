"""What the Help menu does: the handbook, the keys, what this is."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from ennead import __version__
from ennead.desk.shell.commands import key_rows
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.widgets.message import tell
from ennead.drawings.painters.theme import ThemeBook

if TYPE_CHECKING:
    from ennead.desk.dialogs.handbook import Handbook


class HelpActions(QObject):
    """The Help menu.

    Parameters
    ----------
    sheet : callable
        Returns the number of the sheet that is looked at.
    """

    def __init__(self, book: ThemeBook, window: QWidget, sheet: Callable[[], int]) -> None:
        super().__init__(window)
        self._book, self._window, self._sheet = book, window, sheet
        self._handbook: Handbook | None = None

    def show_handbook(self) -> None:
        """Open the handbook beside the work, at the page of the sheet that is looked at."""
        from ennead.desk.dialogs.handbook import Handbook

        if self._handbook is None:
            self._handbook = Handbook(self._book, self._window)
        self._handbook.go(BY_NUMBER[self._sheet()].page)
        self._handbook.show()
        self._handbook.raise_()

    def show_keys(self) -> None:
        """Show the keys."""
        rows = "\n".join(f"{keys}\n        {what}" for keys, what in key_rows())
        tell(self._window, "Keys", rows)

    def about(self) -> None:
        """Say what this is."""
        text = (
            f"Ennead {__version__}\n\nPlans, checks and explains the wiring of a recording studio.\n"
            "GPL-3.0-or-later. Fonts: B612, under the SIL Open Font License.\n\n"
            "Ennead never claims that an installation is safe. Never lift a safety earth to cure hum; power off "
            "before opening or rewiring; local codes and licensed practice come first."
        )
        tell(self._window, "About Ennead", text)
