"""What if a unit dies tonight: for each unit the lines that are lost, whether the rest can carry them, and the re-patch."""

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from ennead.desk.places.ask_dialog import AskDialog, KeepGoing
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.worktable import Worktable
from ennead.planning.unit_loss import UnitLoss, lose_each
from ennead.studio.ids import SourceId
from ennead.survey.survey import Survey


class UnitLossDialog(AskDialog):
    """The dialog; `loss` is the unit whose loss was accepted."""

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
        bad = sum(bool(loss.left) for loss in found)
        self.say(
            "Without any one unit, the rest can carry every line of this session." if not bad
            else f"{bad} of {len(found)} units cannot be done without tonight: what is named there would find no input."
        )  # fmt: skip
        self.fill([(self._row_text(loss), tuple(self._lines_of(loss))) for loss in found])

    def can_take(self, row: int) -> bool:
        return self.found[row].change is not None

    def _row_chosen(self, row: int) -> None:
        self.loss = self.found[row] if 0 <= row < len(self.found) else None

    def _names(self, sources: Iterable[SourceId]) -> str:
        return ", ".join(self._studio.sources[s].name for s in sources)

    def _row_text(self, loss: UnitLoss) -> str:
        name = self._studio.units[loss.unit].name
        if not loss.lost and not loss.outputs_lost and not loss.led_clock:
            return f"{name}\nnothing of this session hangs on it"
        parts = [f"{len(loss.lost)} lost, {len(loss.carried)} carried by the rest"] if loss.lost else []
        if loss.left:
            parts.append(f"{len(loss.left)} without an input")
        if loss.outputs_lost:
            parts.append(f"{loss.outputs_lost} outputs silent")
        if loss.led_clock:
            parts.append("it led the clock")
        return f"{name}\n{' · '.join(parts)}"

    def _lines_of(self, loss: UnitLoss) -> Iterable[str]:
        after = {p.source: p for p in loss.proposal.placements}
        if loss.lost:
            yield f"Lost: {self._names(loss.lost)}"
        for source in loss.lost:
            if source in after:
                sockets = ", ".join(f"{self._studio.units[s.unit].name} {s.port.label}" for s in after[source].seats)
                numbers = "–".join(map(str, after[source].numbers))
                yield f"Re-patch: {self._studio.sources[source].name} → {sockets}, driver input {numbers}"
        if loss.moves:
            yield f"To make room these move as well: {self._names(loss.moves)}"
        if loss.left:
            yield f"Without an input: {self._names(loss.left)}"
        for moved in loss.renumbered:
            yield f"Track {moved.track} stays plugged but moves from {moved.before} to {moved.after}"
        if loss.led_clock:
            yield "It led the clock of others: choose another leader on the Clock sheet, or they click."
        if not loss.lost and not loss.moves:
            yield "No line of this session has to be patched anew."
        yield "Power it down and pull its mains plug before you open or re-wire anything."
