"""What the Help menu does: the handbook, the keys, what this is."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from ennead import __version__
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.message import tell

if TYPE_CHECKING:
    from ennead.desk.handbook import Handbook

_KEYS: Final = (
    ("Alt+1 … Alt+5", "go to a sheet"),
    ("Ctrl+K", "find anything by name, number or label"),
    ("F1, Shift+F1", "the handbook at the page of this sheet; these keys"),
    ("F8, Ctrl+.", "go to the next finding; take its first fix"),
    ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo; the Edit menu names the step"),
    ("Enter, Tab", "input list: next line, next column; Ctrl+V pastes a list"),
    ("Ctrl+B, Ctrl+Shift+B", "describe a box; edit the selected one's description"),
    ("arrows, Enter", "rig: go to a port, connect it; Delete pulls its cable"),
    ("Ctrl+Return", "lines: allocate; again: take what is proposed; Escape: drop it"),
    ("Ctrl+Shift+W, +H, +L", "why is it here; what binds and what helps; what if a unit dies"),
    ("Ctrl+Shift+I", "drop in a set of sources"),
    ("digits, Enter", "lines: bring the selected line to that driver input"),
    ("Ctrl++, Ctrl+-, Ctrl+0", "text larger, smaller, 100 %"),
)

#: A word in the name of the handbook's page, by sheet.
_PAGES: Final = {1: "places", 2: "profiles", 3: "expansion", 4: "expansion", 5: "places"}


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
        from ennead.desk.handbook import Handbook

        if self._handbook is None:
            self._handbook = Handbook(self._book, self._window)
        self._handbook.go(_PAGES.get(self._sheet(), ""))
        self._handbook.show()
        self._handbook.raise_()

    def show_keys(self) -> None:
        """Show the keys."""
        rows = "\n".join(f"{keys}\n        {what}" for keys, what in _KEYS)
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
