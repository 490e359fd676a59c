"""What binds and what helps: the sources and rules that do not fit together, and remedies with their price in parts."""

from collections.abc import Sequence

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog, KeepGoing
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.session import set_price
from ennead.planning.growing.remedies import Remedy, by_way, find_remedies
from ennead.planning.growing.shortage import Shortage, find_shortage
from ennead.reports.allocation_rows import price_text
from ennead.studio.profile import Profile
from ennead.survey.survey import Survey


class ShortageDialog(AskDialog):
    """The dialog; `remedy` is the one that was chosen."""

    def __init__(
        self, table: Worktable, book: ThemeBook, catalogue: tuple[Profile, ...], parent: QWidget | None = None
    ) -> None:
        super().__init__(book, "What binds, what helps", "Remedies, the best first", "Carry it out", parent)
        self.setObjectName("shortage_dialog")
        self._table, self._catalogue = table, catalogue
        #: The ways out, each with the boxes it may take.
        self.found: list[list[Remedy]] = []
        self.remedy: Remedy | None = None
        self.box_label, self.boxes = QLabel("Box:"), QComboBox()
        self.boxes.setAccessibleName("Box to be bought")
        self.priced, self.price = QLabel(), QLineEdit()
        self.price.setAccessibleName("Price of what the chosen remedy buys")
        self.price.setPlaceholderText("what it costs you")
        self.price.setFixedWidth(book.now.px(150))
        self.note = QPushButton("Note the price")
        self.note.setProperty("quiet", True)
        self.note.setAutoDefault(False)
        row = QHBoxLayout()
        for widget in (self.priced, self.price, self.note):
            row.addWidget(widget)
        row.addStretch(1)
        self.column.insertLayout(2, row)
        # A long name must not make the dialog wide.
        self.boxes.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.boxes.setMinimumContentsLength(24)
        choice = QHBoxLayout()
        choice.addWidget(self.box_label)
        choice.addWidget(self.boxes, 1)
        self.column.insertLayout(2, choice)
        self._show_boxes(())
        self._show_price(None)
        self.boxes.currentIndexChanged.connect(self._box_chosen)
        self.note.clicked.connect(self._note_price)
        self.rows.currentRowChanged.connect(self._row_chosen)
        self.begin()

    def begin(self) -> None:
        """Work it out for the studio as it is now."""
        studio, catalogue = self._table.studio, self._catalogue
        self.say("Looking for what binds and what helps…")

        def work(keep_going: KeepGoing) -> tuple[Shortage | None, tuple[Remedy, ...]]:
            survey = Survey(studio)
            shortage = find_shortage(survey, lambda part: keep_going(part / 4))
            return shortage, find_remedies(survey, catalogue, lambda part: keep_going(0.25 + 0.75 * part))

        self.ask(work, self._show)

    def _show(self, answer: tuple[Shortage | None, tuple[Remedy, ...]]) -> None:
        shortage, remedies = answer
        self.found = by_way(remedies)
        if shortage is None:
            self.say("Everything fits: nothing binds.")
            self.fill(())
            return
        words = " ".join(shortage.said)
        self.say(words if self.found else f"{words} Nothing on the shelf helps, and no lower rate does.")
        self.fill([(_row_text(boxes[0], len(boxes)), _details(boxes[0])) for boxes in self.found])

    def _row_chosen(self, row: int) -> None:
        boxes = self.found[row] if 0 <= row < len(self.found) else []
        self.remedy = boxes[0] if boxes else None
        self._show_boxes(boxes)
        self._show_price(self.remedy)

    def _show_boxes(self, boxes: Sequence[Remedy]) -> None:
        with QSignalBlocker(self.boxes):
            self.boxes.clear()
            self.boxes.addItems([f"{r.box} · {price_text(r)}" for r in boxes])
        for widget in (self.box_label, self.boxes):
            widget.setVisible(len(boxes) > 1)

    def _box_chosen(self, at: int) -> None:
        row = self.rows.currentRow()
        if not (0 <= row < len(self.found) and 0 <= at < len(self.found[row])):
            return
        self.remedy = self.found[row][at]
        self.put(row, _row_text(self.remedy, len(self.found[row])), _details(self.remedy))
        self._show_price(self.remedy)

    def _show_price(self, remedy: Remedy | None) -> None:
        missing = remedy.unpriced[0] if remedy is not None and remedy.unpriced else ""
        for widget in (self.priced, self.price, self.note):
            widget.setVisible(bool(missing))
        its = remedy is not None and missing == remedy.box
        self.priced.setText("Price of the box:" if its else f"Price of {missing}:" if missing else "")
        self.price.clear()

    def _note_price(self) -> None:
        if self.remedy is None or not self.remedy.unpriced:
            return
        name, typed = self.remedy.unpriced[0], self.price.text().strip().replace(",", ".")
        try:
            price = float(typed)
        except ValueError:
            self._table.said.emit(f"“{typed}” is no price. Type a number such as 450.")
            return
        if self._table.do(change(f"Note the price of {name}", set_price, name, price)):
            self.begin()


def _row_text(remedy: Remedy, boxes: int) -> str:
    left = "all find a place" if not remedy.left else f"{remedy.left} still find none"
    moves = "nothing moves" if not remedy.moves else f"{remedy.moves} move"
    choice = f" · {boxes} boxes to choose from" if boxes > 1 else ""
    return f"{remedy.label}\n{left} · {moves} · {price_text(remedy)}{choice}"


def _details(remedy: Remedy) -> tuple[str, ...]:
    unpriced = (f"Without a price yet: {', '.join(remedy.unpriced)}",) if remedy.unpriced else ()
    return (*remedy.parts, *unpriced)
