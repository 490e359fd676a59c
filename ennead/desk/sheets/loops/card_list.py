"""The list of recall cards: narrowed by any words, the newest first; the box of a new one below."""

from typing import Final

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.desk.widgets.field import Field
from ennead.reports.recall_rows import card_title, find_cards
from ennead.studio.document import Studio
from ennead.studio.ids import RecallId, UnitId
from ennead.studio.recall import Recall

#: As many cards are listed; further words find the rest. House default.
MOST_LISTED: Final = 400


class CardList(QWidget):
    """The list; `turned` says that other cards are chosen, `wanted` carries the box of a new card."""

    turned = pyqtSignal()
    wanted = pyqtSignal(str)

    def __init__(self, studio: Studio, unit: UnitId | None) -> None:
        super().__init__()
        self._studio = studio
        self.cards: list[Recall] = []
        self.sought, self.listed = Field(), QListWidget()
        self.sought.setPlaceholderText("any words: box, song, role, setting, day")
        self.sought.setAccessibleName("Find cards")
        self.sought.textChanged.connect(lambda _: self.show_cards(self._studio))
        self.listed.setAccessibleName("Cards, the newest first; two chosen are compared")
        self.listed.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        self.listed.setWordWrap(True)
        self.listed.itemSelectionChanged.connect(self.turned)
        self.box, self.new = QComboBox(), QPushButton("New card")
        self.box.setAccessibleName("Box of a new card")
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for key, there in studio.units.items():
            self.box.addItem(there.name, key)
        self.box.setCurrentIndex(max(0, self.box.findData(unit or "")))
        self.new.setAutoDefault(False)
        self.new.setEnabled(self.box.count() > 0)
        self.new.setToolTip("Today's card of this box, with the settings of its last one to begin with")
        self.new.clicked.connect(lambda: self.wanted.emit(str(self.box.currentData())))
        below = QHBoxLayout()
        below.addWidget(self.box, 1)
        below.addWidget(self.new)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.sought)
        column.addWidget(self.listed, 1)
        column.addLayout(below)

    @property
    def chosen(self) -> list[Recall]:
        """The cards that are chosen, in the order of the list."""
        rows = sorted(self.listed.row(item) for item in self.listed.selectedItems())
        return [self.cards[n] for n in rows if n < len(self.cards)]

    def show_cards(self, studio: Studio) -> None:
        """List the cards that hold the words; those chosen stay so as far as they are there."""
        kept = {card.id for card in self.chosen}
        self._studio, self.cards = studio, find_cards(studio, self.sought.text())
        self.listed.blockSignals(True)
        self.listed.clear()
        self.listed.addItems([card_title(studio, card) for card in self.cards[:MOST_LISTED]])
        for n, card in enumerate(self.cards[:MOST_LISTED]):
            if card.id in kept and (item := self.listed.item(n)) is not None:
                item.setSelected(True)
        if not self.listed.selectedItems() and self.listed.count():
            self.listed.setCurrentRow(0)
        self.listed.blockSignals(False)
        self.turned.emit()

    def choose(self, card: RecallId) -> None:
        """Choose one card alone."""
        for n, there in enumerate(self.cards[:MOST_LISTED]):
            if there.id == card:
                self.listed.clearSelection()
                self.listed.setCurrentRow(n)
