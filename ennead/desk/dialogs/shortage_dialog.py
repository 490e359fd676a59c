"""What binds and what helps: the sources and rules that do not fit together, and remedies with their price in parts."""

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog, KeepGoing
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.session import set_price
from ennead.planning.growing.remedies import Remedy, find_remedies
from ennead.planning.growing.shortage import Shortage, find_shortage
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
        self.found: tuple[Remedy, ...] = ()
        self.remedy: Remedy | None = None
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
        self._show_price(None)
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
        shortage, self.found = answer
        if shortage is None:
            self.say("Everything fits: nothing binds.")
            self.fill(())
            return
        words = " ".join(shortage.said)
        self.say(words if self.found else f"{words} Nothing on the shelf helps, and no lower rate does.")
        self.fill([(_row_text(r), _details(r)) for r in self.found])

    def _row_chosen(self, row: int) -> None:
        self.remedy = self.found[row] if 0 <= row < len(self.found) else None
        self._show_price(self.remedy)

    def _show_price(self, remedy: Remedy | None) -> None:
        missing = remedy.unpriced[0] if remedy is not None and remedy.unpriced else ""
        for widget in (self.priced, self.price, self.note):
            widget.setVisible(bool(missing))
        self.priced.setText(f"Price of {missing}:" if missing else "")
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


def _row_text(remedy: Remedy) -> str:
    left = "all find a place" if not remedy.left else f"{remedy.left} still find none"
    moves = "nothing moves" if not remedy.moves else f"{remedy.moves} move"
    price = (
        "nothing to buy"
        if not remedy.buys
        else "no price entered"
        if remedy.price is None
        else f"price {remedy.price:g}" + (" and more" if remedy.unpriced else "")
    )
    return f"{remedy.label}\n{left} · {moves} · {price}"


def _details(remedy: Remedy) -> tuple[str, ...]:
    unpriced = (f"Without a price yet: {', '.join(remedy.unpriced)}",) if remedy.unpriced else ()
    return (*remedy.parts, *unpriced)
