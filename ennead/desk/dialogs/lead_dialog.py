"""A lead of several plugs, made up from the selected socket."""

from PyQt6.QtWidgets import QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.routing.lead_offers import lead_offers
from ennead.studio.house import PortEnd


class LeadDialog(AskDialog):
    """The dialog; `wanted` is the change that adds the chosen lead."""

    def __init__(self, table: Worktable, end: PortEnd, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(book, "Make up a lead", "Leads from this socket", "Make it up", parent)
        self.setObjectName("lead_dialog")
        self.progress.hide()
        self.details.setAccessibleName("Wire by wire")
        self.wanted: Change | None = None
        self.offers = lead_offers(table.survey, end)
        words = table.studio.end_text(end)
        self.say(
            f"One lead from {words}, with a plug for each end; what is joined stands beside it."
            if self.offers
            else (
                f"No lead of several plugs fits {words} now: it is digital, holds a cable, or has no free socket to"
                " go to."
            )
        )
        self.rows.currentRowChanged.connect(self._row_chosen)
        self.fill([(offer.text, offer.wires) for offer in self.offers])

    def _row_chosen(self, row: int) -> None:
        if 0 <= row < len(self.offers):
            self.wanted = self.offers[row].does
