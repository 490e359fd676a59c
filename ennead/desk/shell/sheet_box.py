"""The sheets, each built when it is first looked at, or when the window has nothing else to do."""

import sys
from collections.abc import Callable, Iterator

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QLabel, QStackedWidget, QWidget

from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.sheet_makers import MAKERS
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook

_IDLE_MS = 250


class SheetBox(QObject):
    """All sheets by their number.

    Parameters
    ----------
    made : callable
        Told the number of each sheet when it has been built.
    """

    def __init__(
        self, table: Worktable, book: ThemeBook, stack: QStackedWidget, made: Callable[[int, QWidget], None]
    ) -> None:
        super().__init__(stack)
        self._table, self._book, self._stack, self._made = table, book, stack, made
        self._built: dict[int, QWidget] = {}
        self._idle = QTimer(self)
        self._idle.setInterval(_IDLE_MS)
        self._idle.timeout.connect(self._build_one)
        self._idle.start()

    def __getitem__(self, number: int) -> QWidget:
        if number not in self._built:
            sheet = self._built[number] = self._make(number)
            self._stack.addWidget(sheet)
            self._made(number, sheet)
        return self._built[number]

    def _make(self, number: int) -> QWidget:
        """Build a sheet; one that cannot be built says so in its place, and all others go on."""
        try:
            return MAKERS[number](self._table, self._book)
        except Exception as error:  # noqa: BLE001 - whatever it is, the rest of the window stays of use
            sys.excepthook(type(error), error, error.__traceback__)
            note = QLabel(
                "This sheet cannot be shown: the program itself failed at it. Everything else works, and your edits are"
                " kept."
            )
            note.setWordWrap(True)
            note.setMargin(self._book.now.px(40))
            return note

    def __iter__(self) -> Iterator[int]:
        return iter(BY_NUMBER)

    def is_built(self, number: int) -> bool:
        """Say whether a sheet has been looked at, or built ahead."""
        return number in self._built

    def stop(self) -> None:
        """Build no more sheets ahead."""
        self._idle.stop()

    def _build_one(self) -> None:
        """Build one sheet before it is shown."""
        waiting = next((n for n in self if n not in self._built), None)
        if waiting is None:
            self._idle.stop()
        else:
            _ = self[waiting]
