"""Lay the bays out: which boxes come to them, what it would change, and how it compares with layouts that were kept."""

import time
from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtWidgets import QInputDialog, QPushButton, QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog, KeepGoing
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.tick_box import TickBox
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, change
from ennead.edits.revisions import free_name, keep_revision, remove_revision
from ennead.planning.bay_layout.bench_of import candidates
from ennead.planning.bay_layout.layout import LaidOut, lay_out
from ennead.planning.bay_layout.layout_texts import count_text, layout_text, neighbour_texts
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.ids import RevisionId, UnitId
from ennead.studio.record import replace

_HEAD = (
    "What is ticked as wired stays where it is soldered. What is only planned goes where everyday pairs and the cords"
    " of the scenes need no cord, and beside its like; labels go with it, and every line that arrives does so still."
)


class Offer(NamedTuple):
    """A layout that can be chosen: what is proposed now, or one that was kept."""

    name: str
    found: LaidOut | None
    trouble: str = ""
    revision: RevisionId | None = None


class LayoutDialog(AskDialog):
    """Shows what each layout would do; `chosen` is the change that does it."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None) -> None:
        super().__init__(book, "Lay the bays out", "Layouts: the proposal, and those kept", "Lay it out", parent)
        self.setObjectName("layout_dialog")
        self._table = table
        self.chosen: Change | None = None
        self.offers: list[Offer] = []
        self.boxes: dict[UnitId, TickBox] = {}
        for unit in candidates(table.studio):
            box = TickBox(f"{table.studio.units[unit].name} comes to the bays, with all its sockets", book.now)
            box.toggled.connect(self.look)
            self.column.insertWidget(1 + len(self.boxes), box)
            self.boxes[unit] = box
        self.keep, self.forget = QPushButton("Keep it as a revision…"), QPushButton("Let it go")
        self.keep.setToolTip("Keep the studio with this layout under a name, to be compared and taken later")
        self.forget.setToolTip("Let this kept revision go")
        for at, (button, deed) in enumerate(((self.keep, self._keep), (self.forget, self._forget)), start=2):
            button.setProperty("quiet", True)
            button.setAutoDefault(False)
            button.clicked.connect(deed)
            self.foot.insertWidget(at, button)
        self.rows.currentRowChanged.connect(self._row_chosen)
        self.look()

    def look(self) -> None:
        """Work the layouts out for what is ticked."""
        studio = self._table.studio
        bring = [unit for unit, box in self.boxes.items() if box.isChecked()]
        self.say(f"{_HEAD} Looking for the best one…")
        for button in (self.keep, self.forget):
            button.hide()
        self.ask(lambda keep_going: _offers(studio, bring, keep_going), self._show)

    def _show(self, offers: list[Offer]) -> None:
        self.offers = offers
        self.say(_HEAD)
        self.fill([(_row_text(o), _details(o)) for o in offers])

    def can_take(self, row: int) -> bool:
        found = self.offers[row].found
        return found is not None and bool(found.change.steps)

    def _row_chosen(self, row: int) -> None:
        offer = self.offers[row] if 0 <= row < len(self.offers) else None
        found = offer.found if offer is not None else None
        self.chosen = found.change if found is not None and found.change.steps else None
        self.keep.setVisible(offer is not None and offer.revision is None and self.chosen is not None)
        self.forget.setVisible(offer is not None and offer.revision is not None)

    def _keep(self) -> None:
        from ennead.files.interchange import to_json

        studio, wanted = self._table.studio, self.chosen
        name, taken = QInputDialog.getText(self, "Keep it as a revision", "Its name", text=free_name(studio, "Layout"))
        if not taken or wanted is None:
            return
        made = time.strftime("%Y-%m-%d %H:%M")
        try:
            keep_revision(studio, name, made, "")
        except EnneadError as error:
            self.say(str(error))
            return
        alone = replace(wanted.apply(studio), revisions=studio.revisions.without(*studio.revisions))

        def keep(body: str) -> None:
            self._table.do(change(f"Keep the revision {name}", keep_revision, name, made, body))
            self.look()

        # A large house takes its time to be written down.
        self.ask(lambda _: to_json(alone), keep)

    def _forget(self) -> None:
        revision = self.offers[self.rows.currentRow()].revision
        if revision is not None:
            name = self._table.studio.revisions[revision].name
            self._table.do(change(f"Let the revision {name} go", remove_revision, revision))
            self.look()


def _offers(studio: Studio, bring: list[UnitId], keep_going: KeepGoing) -> list[Offer]:
    from ennead.files.interchange import from_json
    from ennead.planning.bay_layout.kept import as_kept

    def offer(name: str, work: Callable[[], LaidOut], revision: RevisionId | None = None) -> Offer:
        try:
            return Offer(name, work(), revision=revision)
        except EnneadError as error:
            return Offer(name, None, str(error), revision)

    offers = [offer("Proposed now", lambda: lay_out(studio, bring, keep_going))]
    for kept in studio.revisions.values():
        if not keep_going(1.0):
            break
        text = f"{kept.name}, kept {kept.made}"
        offers.append(offer(text, lambda k=kept: as_kept(studio, from_json(k.body.encode(), k.name)), kept.id))  # type: ignore[misc]
    return offers


def _row_text(offer: Offer) -> str:
    found = offer.found
    if found is None:
        return f"{offer.name}\n{offer.trouble}"
    if not found.change.steps:
        return (
            f"{offer.name}\nas it is now: {count_text(found.cords_before, 'cord')},"
            f" {count_text(found.now.total, 'awkward neighbour')}"
        )
    come = f", {found.laid} come" if found.laid else ""
    return (
        f"{offer.name}\n{count_text(found.cords_after, 'cord')} (now {found.cords_before}),"
        f" {count_text(found.now.total, 'awkward neighbour')} (now {found.was.total}),"
        f" {count_text(found.moved, 'cable')} to move{come}"
    )


def _details(offer: Offer) -> tuple[str, ...]:
    return (layout_text(offer.found), *neighbour_texts(offer.found)) if offer.found is not None else (offer.trouble,)
