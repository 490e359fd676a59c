"""Asks what a socket is to be cabled to: legal partners only, found by typing."""

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from ennead.desk.widgets.narrowing import NarrowingDialog
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.routing.partners import Partner


class ConnectDialog(NarrowingDialog):
    """A list of partners; `chosen` is the one taken."""

    def __init__(self, socket: str, partners: tuple[Partner, ...], book: ThemeBook, parent: QWidget | None) -> None:
        self._partners = partners
        self.chosen: Partner | None = None
        head = f"{socket} goes to" if partners else f"Nothing free fits {socket}."
        hint = "type to narrow the list, Enter to connect"
        super().__init__(book.now, f"Connect {socket}", hint, "Partner", parent, head)
        self.setObjectName("connect_dialog")

    def rows(self, typed: str) -> Iterable[tuple[str, Partner]]:
        """Return the partners with every typed word in their text."""
        words = typed.casefold().split()
        return ((p.text, p) for p in self._partners if all(w in p.text.casefold() for w in words))

    def take(self, meaning: Partner) -> None:
        """Keep the partner for the caller."""
        self.chosen = meaning
