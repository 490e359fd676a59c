"""Loss of a unit: for each unit the lines that are lost, whether the others can carry them, and the re-patch."""

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog, KeepGoing
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.growing.unit_loss import UnitLoss, lose_each
from ennead.reports.out_rows import sockets_text
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey


class UnitLossDialog(AskDialog):
    """The dialog; `loss` is the unit accepted as lost."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(book, "What if a unit dies tonight?", "Units, the worst loss first", "Do without it", parent)
        self.setObjectName("unit_loss_dialog")
        self._studio = table.studio
        self.found: tuple[UnitLoss, ...] = ()
        self.loss: UnitLoss | None = None
        self.say("Taking out one unit after the other…")
        studio = table.studio

        def work(keep_going: KeepGoing) -> tuple[UnitLoss, ...]:
            return lose_each(Survey(studio), keep_going)

        self.rows.currentRowChanged.connect(self._row_chosen)
        self.ask(work, self._show)

    def _show(self, found: tuple[UnitLoss, ...]) -> None:
        self.found = found
        bad = sum(bool(loss.left or loss.left_outs) for loss in found)
        self.say(
            "Without any one unit, the rest can carry every line of this session."
            if not bad
            else f"{bad} of {len(found)} units cannot be done without tonight: what is named there would find no place."
        )
        self.fill([(self._row_text(loss), tuple(self._lines_of(loss))) for loss in found])

    def can_take(self, row: int) -> bool:
        return self.found[row].change is not None

    def _row_chosen(self, row: int) -> None:
        self.loss = self.found[row] if 0 <= row < len(self.found) else None

    def _names(self, *keys: SourceId | DestinationId) -> str:
        studio = self._studio
        return ", ".join((studio.sources.get(SourceId(k)) or studio.destinations[DestinationId(k)]).name for k in keys)

    def _row_text(self, loss: UnitLoss) -> str:
        name = self._studio.units[loss.unit].name
        lost, carried = len(loss.lost) + len(loss.silent), len(loss.carried) + len(loss.carried_outs)
        if not lost and not loss.led_clock:
            return f"{name}\nnothing of this session hangs on it"
        parts = [f"{lost} lost, {carried} carried by the rest"] if lost else []
        if loss.left:
            parts.append(f"{len(loss.left)} without an input")
        if loss.left_outs:
            parts.append(f"{len(loss.left_outs)} without an output")
        if loss.led_clock:
            parts.append("it led the clock")
        return f"{name}\n{' · '.join(parts)}"

    def _lines_of(self, loss: UnitLoss) -> Iterable[str]:
        after = {p.source: p for p in loss.proposal.placements}
        if loss.lost or loss.silent:
            yield f"Lost: {self._names(*loss.lost, *loss.silent)}"
        for source in loss.lost:
            if source in after:
                sockets = ", ".join(f"{self._studio.units[s.unit].name} {s.port.label}" for s in after[source].points)
                numbers = "–".join(map(str, after[source].numbers))
                yield f"Re-patch: {self._studio.sources[source].name} → {sockets}, driver input {numbers}"
        for out in loss.proposal.outs:
            if out.destination in loss.silent:
                numbers = "–".join(map(str, out.numbers))
                yield (
                    f"Re-patch: {self._names(out.destination)} → {sockets_text(self._studio, out.outputs)}, driver"
                    f" output {numbers}"
                )
        if loss.moves:
            yield f"To make room these move as well: {self._names(*loss.moves)}"
        if loss.left:
            yield f"Without an input: {self._names(*loss.left)}"
        if loss.left_outs:
            yield f"Without an output: {self._names(*loss.left_outs)}"
        for moved in loss.renumbered:
            yield f"Track {moved.track} stays plugged but moves from {moved.before} to {moved.after}"
        if loss.led_clock:
            yield "It led the clock of others: choose another leader on the Clock sheet, or they click."
        if not loss.lost and not loss.moves and not loss.silent:
            yield "No line of this session has to be patched anew."
        yield "Power it down and pull its mains plug before you open or re-wire anything."
