"""Why here, and why not there: the rules behind a line's place, and what another place would cost."""

from PyQt6.QtWidgets import QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog, KeepGoing
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.routing.why import Elsewhere, Reasons, why_here, why_not_there
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey


class WhyDialog(AskDialog):
    """The dialog; `elsewhere` is the other place shown with its cost, `end` the socket asked about, if one was."""

    def __init__(
        self,
        table: Worktable,
        book: ThemeBook,
        key: SourceId | DestinationId,
        end: PortEnd | None = None,
        parent: QWidget | None = None,
    ) -> None:
        studio = table.studio
        is_destination = key in studio.destinations
        name = studio.destinations[DestinationId(key)].name if is_destination else studio.sources[SourceId(key)].name
        self._number = "driver output" if is_destination else "driver input"
        super().__init__(book, f"{name}: why {'not there' if end else 'here'}?", "Places", "Propose it", parent)
        self.setObjectName("why_dialog")
        self.places: list[Elsewhere | None] = []
        self.elsewhere: Elsewhere | None = None
        self.say("Trying it…")

        def work(keep_going: KeepGoing) -> tuple[Reasons, Elsewhere | None]:
            survey = Survey(studio)
            there = why_not_there(survey, key, end, keep_going) if end is not None else None
            return why_here(survey, key, keep_going), there

        self.rows.currentRowChanged.connect(self._row_chosen)
        self.ask(work, self._show)

    def _show(self, answer: tuple[Reasons, Elsewhere | None]) -> None:
        reasons, there = answer
        rows: list[tuple[str, tuple[str, ...]]] = []
        if there is not None:
            self.places.append(there)
            rows.append((f"{there.place}\n{self._short(there)}", _details(there)))
        self.places.append(None)
        rows.append(("where it is", reasons.here))
        if reasons.next_best is not None:
            best = reasons.next_best
            self.places.append(best)
            rows.append((f"the next best place: {best.place or 'none'}\n{self._short(best)}", _details(best)))
        self.say(
            there.broken
            if there is not None and there.broken
            else "The rules behind its place, and what another would cost."
        )
        self.fill(rows)

    def can_take(self, row: int) -> bool:
        place = self.places[row]
        return place is not None and place.proposal is not None

    def _row_chosen(self, row: int) -> None:
        self.elsewhere = self.places[row] if 0 <= row < len(self.places) else None

    def _short(self, place: Elsewhere) -> str:
        if place.broken:
            return "it may not be"
        touched = len(place.costs)
        costs = (
            "it costs nothing"
            if not touched
            else "one aim is touched"
            if touched == 1
            else f"{touched} aims are touched"
        )
        return f"{self._number} {'–'.join(map(str, place.numbers))} · {costs}"


def _details(place: Elsewhere) -> tuple[str, ...]:
    if place.broken:
        return (place.broken,)
    return place.costs or ("Nothing is worse for it.",)
