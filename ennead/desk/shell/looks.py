"""How the window looks: theme and size of the text, chosen, remembered, laid on."""

from PyQt6.QtWidgets import QApplication, QMainWindow

from ennead.desk.background.idle_queue import IdleQueue
from ennead.desk.storage.preferences import Preferences
from ennead.desk.theme.style import apply_theme
from ennead.drawings.painters.theme import ThemeBook


class Looks:
    """The looks of one window."""

    def __init__(self, window: QMainWindow, book: ThemeBook, preferences: Preferences, idle: IdleQueue) -> None:
        self._window, self._book, self._preferences, self._idle = window, book, preferences, idle

    def choose_theme(self, choice: str) -> None:
        """Choose paper, night or the system's."""
        self._book.choose(choice)
        self._preferences.remember("theme", choice)

    def step(self, steps: int) -> None:
        """Make all text larger or smaller by steps; 0 brings it back to 100 %."""
        self._book.step_scale(steps)
        self._preferences.remember("scale", self._book.scale)

    def dress(self, *, in_turns: bool) -> None:
        """Lay theme and size on everything; in turns, dressing and painting all of it are two."""
        window = self._window
        if in_turns:
            window.setUpdatesEnabled(False)
            self._idle.later("paint", lambda: window.setUpdatesEnabled(True))
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply_theme(app, window, self._book.now)
