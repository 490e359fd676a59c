"""Ask for a route: the ways to lay it, fewest cords first, with what each breaks; Enter lays the one chosen."""

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from ennead.desk.widgets.narrowing import NarrowingDialog
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.routing.cord_routes import RouteRequest, route_change, route_text, routes
from ennead.studio.document import Studio


class RouteDialog(NarrowingDialog):
    """The alternatives of one route; `chosen` is the change that lays the one taken."""

    def __init__(self, studio: Studio, wanted: RouteRequest, book: ThemeBook, parent: QWidget | None) -> None:
        self.found_routes = [(route_text(studio, r), route_change(studio, wanted, r)) for r in routes(studio, wanted)]
        self.chosen: Change | None = None
        head = "Fewest cords first" if self.found_routes else "No free points lead there."
        super().__init__(book.now, "Lay a route", "type to narrow the list, Enter to lay it", "Lay it", parent, head)
        self.setObjectName("route_dialog")

    def rows(self, typed: str) -> Iterable[tuple[str, Change]]:
        """Return the routes with every typed word in their text."""
        words = typed.casefold().split()
        return ((text, deed) for text, deed in self.found_routes if all(w in text.casefold() for w in words))

    def take(self, meaning: Change) -> None:
        """Keep the route for the caller."""
        self.chosen = meaning
