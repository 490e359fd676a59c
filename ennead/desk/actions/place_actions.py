"""What the menus ask about places: aims, shortage, why here, the loss of a unit, sets of sources."""

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QDialog, QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.seating.allocation import Proposal
from ennead.studio.house import PortEnd
from ennead.studio.ids import ComputerId, DestinationId, SourceId, UnitId


class PlaceActions(QObject):
    """The questions; `show` is given a proposal to be shown on the Lines sheet."""

    def __init__(self, table: Worktable, book: ThemeBook, window: QWidget, show: Callable[[Proposal], None]) -> None:
        super().__init__(window)
        self._table, self._book, self._window, self._show = table, book, window, show

    def aims(self) -> None:
        """Ask what matters more than what."""
        from ennead.desk.dialogs.aims_dialog import AimsDialog

        dialog = AimsDialog(self._table, self._book, self._window)
        if _accepted(dialog):
            self._table.do(dialog.wanted)

    def make_lead(self) -> None:
        """Offer the leads of several plugs that could be made up from the selected socket."""
        from ennead.desk.dialogs.lead_dialog import LeadDialog

        selection = self._table.selection
        if selection.kind != "port":
            self._table.said.emit("Select a socket on the Rig first; then make up a lead from it.")
            return
        dialog = LeadDialog(self._table, selection.end, self._book, self._window)
        if _accepted(dialog) and dialog.wanted is not None:
            self._table.do(dialog.wanted)

    def recall(self) -> None:
        """Show the recall cards, those of the selected box, or of the selected loop's boxes, at hand."""
        from ennead.desk.sheets.loops.recall_dialog import RecallDialog

        selection, studio = self._table.selection, self._table.studio
        unit = UnitId(selection.key) if selection.kind == "unit" else None
        if selection.kind == "destination":
            unit = next(iter(studio.destinations[DestinationId(selection.key)].boxes), None)
        words = (
            studio.units[unit].name if unit is not None and any(c.unit == unit for c in studio.recalls.values()) else ""
        )
        _accepted(RecallDialog(self._table, self._book, unit, words, self._window))

    def shortage(self) -> None:
        """Say what binds, and carry out the remedy that is chosen."""
        from ennead.desk.dialogs.shortage_dialog import ShortageDialog
        from ennead.desk.storage.preferences import shelf_folder
        from ennead.files.profiles import shelf
        from ennead.files.user_shelf import user_profiles

        own, _ = user_profiles(shelf_folder())
        dialog = ShortageDialog(self._table, self._book, (*own, *shelf()), self._window)
        if _accepted(dialog) and dialog.remedy is not None:
            self._table.do(dialog.remedy.change)

    def read_computer(self) -> None:
        """Read the ports of the audio server, beside the plan of the selected computer or the first."""
        from ennead.desk.dialogs.read_computer_dialog import ReadComputerDialog
        from ennead.survey.system_names import first_computer

        selection = self._table.selection
        chosen = ComputerId(selection.key) if selection.kind == "computer" else first_computer(self._table.survey)
        _accepted(ReadComputerDialog(self._table, self._book, chosen, self._window))

    def unit_loss(self) -> None:
        """Say what the loss of each unit would mean, and carry out the re-patch that is chosen."""
        from ennead.desk.dialogs.unit_loss_dialog import UnitLossDialog

        if not self._table.studio.units:
            self._table.said.emit("There is no unit yet. Take one from the shelf on sheet 2.")
            return
        dialog = UnitLossDialog(self._table, self._book, self._window)
        if _accepted(dialog) and dialog.loss is not None and dialog.loss.change is not None:
            self._table.do(dialog.loss.change)

    def why_here(self) -> None:
        """Say why the selected line is where it is."""
        selection = self._table.selection
        if selection.kind not in ("source", "destination"):
            self._table.said.emit("Select a line first; then ask why it is where it is.")
            return
        self.why(SourceId(selection.key) if selection.kind == "source" else DestinationId(selection.key), None)

    def why(self, key: SourceId | DestinationId, end: PortEnd | None) -> None:
        """Say why a line is where it is, or why it is not on a socket; propose the other place if asked."""
        from ennead.desk.dialogs.why_dialog import WhyDialog

        dialog = WhyDialog(self._table, self._book, key, end, self._window)
        if _accepted(dialog) and dialog.elsewhere is not None and dialog.elsewhere.proposal is not None:
            self._show(dialog.elsewhere.proposal)

    def templates(self) -> None:
        """Drop a set of sources into the session."""
        from ennead.desk.dialogs.template_dialog import TemplateDialog

        dialog = TemplateDialog(self._table, self._book, self._window)
        if _accepted(dialog) and dialog.wanted is not None:
            self._table.do(dialog.wanted)

    def keep_template(self) -> None:
        """Keep the session's sources, or the selected one's group, as a set to drop in again."""
        from ennead.desk.dialogs.template_dialog import keep_template

        keep_template(self._table, self._window)


def _accepted(dialog: QDialog) -> bool:
    """Have a dialog answered; it is deleted when the caller has read the answer."""
    accepted = bool(dialog.exec())
    dialog.deleteLater()
    return accepted
