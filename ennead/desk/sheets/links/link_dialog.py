"""Pick a single link: every free digital output with every free digital input it fits, found by typing."""

from collections.abc import Iterable, Iterator

from PyQt6.QtWidgets import QWidget

from ennead.desk.widgets.narrowing import NarrowingDialog
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.routing.partners import partners
from ennead.standards.links import LINKS
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey


class LinkDialog(NarrowingDialog):
    """A list of possible links; `chosen` is the change that runs the one taken."""

    def __init__(self, survey: Survey, book: ThemeBook, parent: QWidget | None) -> None:
        self._links = tuple(possible_links(survey))
        self.chosen: Change | None = None
        head = "Run one digital cable" if self._links else "No free digital output fits a free digital input."
        super().__init__(book.now, "Run a link", "type to narrow the list, Enter to run it", "Link", parent, head)
        self.setObjectName("link_dialog")

    def rows(self, typed: str) -> Iterable[tuple[str, Change]]:
        """Return the links with every typed word in their text."""
        words = typed.casefold().split()
        return ((text, deed) for text, deed in self._links if all(w in text.casefold() for w in words))

    def take(self, meaning: Change) -> None:
        """Keep the link for the caller."""
        self.chosen = meaning


def possible_links(survey: Survey) -> Iterator[tuple[str, Change]]:
    """Yield every digital cable that could be run between two units, in words, with the change that runs it."""
    for unit, view in survey.views.items():
        faults = survey.faults.get(unit, ())
        for port in view.profile.ports:
            free = (
                port.direction == "out" and port.key in view.digital and not survey.passages[unit].leaving.get(port.key)
            )
            if not free or port.key in faults:
                continue
            start = PortEnd(unit, port.key)
            for partner in partners(survey, start):
                if partner.end is not None and partner.end.unit != unit:
                    label = LINKS[view.formats[port.key]].label
                    yield f"{label}: {survey.studio.end_text(start)} → {partner.text}", partner.change
