"""Recall cards: found by any word, read, typed, compared, printed; a box set as it stood."""

from pathlib import Path

from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.sheets.loops.card_facts import CardFacts
from ennead.desk.sheets.loops.card_list import MOST_LISTED, CardList
from ennead.desk.sheets.loops.photo_strip import PhotoStrip
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.dialog_foot import DialogFoot
from ennead.desk.widgets.today import today
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.recalls import add_card, add_photo, change_card, remove_card, remove_photo, stand_as_noted
from ennead.reports.recall_rows import (
    box_name,
    card_lines,
    card_title,
    compare_cards,
    latest_card,
)
from ennead.studio.errors import EnneadError
from ennead.studio.ids import UnitId
from ennead.studio.recall import Photo


class RecallDialog(QDialog):
    """The dialog; what is typed in it is an edit each, and undone as any other.

    Parameters
    ----------
    unit : UnitId or None
        The box of which a new card would be made at first.
    words : str
        What the cards shown at first have in common.
    """

    def __init__(
        self,
        table: Worktable,
        book: ThemeBook,
        unit: UnitId | None = None,
        words: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("recall_dialog")
        self.setWindowTitle("Recall cards")
        self._table = table
        self.cards = CardList(table.studio, unit)
        self.cards.turned.connect(self._show)
        self.cards.wanted.connect(self.make)
        self.facts, self.photos, self.compared = CardFacts(book), PhotoStrip(table, book), WrappedList()
        self.compared.setAccessibleName("Two cards compared")
        self._card_area = scrolled(self.facts, self.photos)
        body = QHBoxLayout()
        body.addWidget(self.cards, 2)
        body.addWidget(self._card_area, 3)
        body.addWidget(self.compared, 3)
        foot = DialogFoot(
            self,
            (
                ("stand", "Set as noted", "Set the gains of its inputs as the card has them", self.stand),
                ("remove", "Remove", "Remove the chosen cards", self.remove),
                ("print", "Print…", "The cards chosen, or all that are shown, as PDF", self.print),
            ),
        )
        self.said, self.buttons = foot.said, foot.buttons
        column = QVBoxLayout(self)
        column.addLayout(body, 1)
        column.addLayout(foot)
        self.resize(min(book.now.px(960), 1_180), min(book.now.px(640), 700))
        self.facts.stated.connect(self._state)
        self.photos.added.connect(self._add_photo)
        self.photos.removed.connect(self._remove_photo)
        table.changed.connect(self.refresh)
        self.cards.sought.setText(words)
        self.refresh()

    def done(self, result: int) -> None:
        """End; a note that is being typed is kept."""
        self.facts.settle()
        super().done(result)

    def refresh(self) -> None:
        """Show what there is now."""
        self.cards.show_cards(self._table.studio)

    def _show(self) -> None:
        studio, cards = self._table.studio, self.cards.chosen
        one = cards[0] if len(cards) == 1 else None
        two = len(cards) == 2
        self._card_area.setVisible(not two)
        self.compared.setVisible(two)
        self.facts.show_card(studio, one)
        self.photos.show_photos(one)
        self.photos.setEnabled(one is not None)
        if one is not None and one.unit:
            self.cards.box.setCurrentIndex(max(0, self.cards.box.findData(one.unit)))
        self.compared.clear()
        if two:
            newer, older = cards
            rows = compare_cards(studio, older, newer)
            self.compared.addItem(f"{card_title(studio, older)}  →  {card_title(studio, newer)}")
            for row in sorted(rows, key=lambda r: not r.differs):
                first, second = ("not noted" if v is None else v or "–" for v in (row.first, row.second))
                words = f"{first}  →  {second}" if row.differs else f"{first}, as before"
                self.compared.addItem(f"{row.name}: {words}")
        more = len(self.cards.cards) - MOST_LISTED
        found = (
            f"{len(self.cards.cards):,} of {len(studio.recalls):,} cards" if self.cards.sought.text().strip() else ""
        )
        self.said.setText(
            "No card has been made yet. Choose a box, then New card."
            if not studio.recalls
            else f"{found}{f', the newest {MOST_LISTED} listed' if more > 0 else ''}" or "Choose two to compare them."
        )
        self.buttons["stand"].setEnabled(one is not None and bool(one.gains) and bool(one.unit))
        self.buttons["remove"].setEnabled(bool(cards))
        self.buttons["print"].setEnabled(bool(self.cards.cards))

    def make(self, unit: UnitId) -> None:
        """Make today's card of the box, with the settings of its last one to begin with."""
        last = latest_card(self._table.studio, unit)
        facts = {"settings": last.settings, "engineer": last.engineer, "loop": last.loop} if last is not None else {}
        before = set(self._table.studio.recalls)
        name = self._table.studio.units[unit].name
        self.cards.sought.clear()
        if self._table.do(change(f"Note how {name} stands", add_card, unit, today(), **facts)):
            self.cards.choose(next(key for key in self._table.studio.recalls if key not in before))
            self.facts.fields["song"].setFocus()

    def stand(self) -> None:
        """Set the gains of the box as the card has them; what is dialled by hand is said."""
        (card,) = self.cards.chosen
        studio = self._table.studio
        by_hand = ", ".join(f"{name} {value}".strip() for name, value in card_lines(studio, card)[: len(card.settings)])
        name = box_name(studio, card)
        if self._table.do(change(f"Set {name} as on {card.day}", stand_as_noted, card.id)) and by_hand:
            self.said.setText(f"By hand on {name}: {by_hand}")

    def remove(self) -> None:
        """Remove the chosen cards as one step."""
        from ennead.edits.change import Change, step

        cards = self.cards.chosen
        label = f"Remove {len(cards)} cards" if len(cards) > 1 else f"Remove the card of {cards[0].box}"
        self._table.do(Change(label, tuple([step(remove_card, card.id) for card in cards])))

    def print(self) -> None:
        """Write the chosen cards, or all that are shown, as PDF."""
        from ennead.paper.printing import PageOf, write_page

        name, _ = QFileDialog.getSaveFileName(self, "Save: Recall cards", "Recall cards.pdf", "Pages (*.pdf)")
        if not name:
            return
        cards = tuple([card.id for card in (self.cards.chosen or self.cards.cards)])
        asked = PageOf(photos=self._table.autosave.photos, cards=cards)
        try:
            (path,) = write_page(self._table.survey, "recall", Path(name).with_suffix(".pdf"), asked)
        except EnneadError as error:
            self.said.setText(str(error))
        else:
            self.said.setText(f"Recall cards: in {path.name}.")

    def _state(self, key: str, value: object) -> None:
        (card,) = self.cards.chosen
        words = {"engineer": "role"}.get(key, key)
        if not self._table.do(
            change(f"Change the {words} on the card of {card.box}", change_card, card.id, **{key: value})
        ):
            self.facts.show_card(self._table.studio, card)

    def _add_photo(self, photo: Photo) -> None:
        (card,) = self.cards.chosen
        self._table.do(change(f"Add a photograph of {card.box}", add_photo, card.id, photo))

    def _remove_photo(self, sha256: str) -> None:
        (card,) = self.cards.chosen
        self._table.do(change(f"Take a photograph of {card.box} off", remove_photo, card.id, sha256))


def scrolled(*parts: QWidget) -> QScrollArea:
    """Return widgets one below the other that scroll, rather than being squeezed, with large text on a small screen."""
    card, area = QWidget(), QScrollArea()
    inside = QVBoxLayout(card)
    for part in parts:
        inside.addWidget(part)
    inside.addStretch(1)
    area.setWidget(card)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    return area
