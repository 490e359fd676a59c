"""The shelf of profiles: type to narrow it, Enter takes one into the rig."""

import re
from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.narrowing import NarrowingLine, chosen, fill
from ennead.studio.profile import Profile

_WORD = re.compile(r"[\w/.,×]+")


def ranked(profiles: Sequence[Profile], typed: str) -> list[Profile]:
    """Return the profiles with a word beginning with each of those typed, best first.

    What bears the words in its name comes before what only mentions them; then the shortest name.
    """
    words = _WORD.findall(typed.casefold())
    if not words:
        return list(profiles)

    def missing(text: str) -> int:
        there = _WORD.findall(text.casefold())
        return sum(not any(t.startswith(w) for t in there) for w in words)

    found = [p for p in profiles if missing(f"{p.name} {p.summary} {p.role}") == 0]
    phrase = " ".join(words)
    return sorted(found, key=lambda p: (phrase not in p.name.casefold(), missing(p.name), len(p.name)))


class Shelf(QWidget):
    """All shipped profiles."""

    def __init__(self, book: ThemeBook, take: Callable[[Profile], None]) -> None:
        super().__init__()
        self.setObjectName("lower")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._book, self._take = book, take
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 6)
        row = QHBoxLayout()
        row.addWidget(QLabel("Shelf"))
        self.list = QListWidget()
        hint = "type what you own: “eight”, “optical”, “clock”"
        self.typed = NarrowingLine(self.list, hint, "Search the shelf")
        self.typed.setObjectName("shelf_filter")
        row.addWidget(self.typed, 1)
        self.add = QPushButton("Take into the rig")
        self.add.clicked.connect(self.take_chosen)
        row.addWidget(self.add)
        column.addLayout(row)
        self.list.setObjectName("shelf_list")
        self.list.setAccessibleName("Profiles on the shelf")
        self.list.itemActivated.connect(lambda _: self.take_chosen())
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.about = QLabel()
        self.about.setWordWrap(True)
        self.about.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.about.setTextFormat(Qt.TextFormat.PlainText)
        lower = QHBoxLayout()
        lower.addWidget(self.list, 3)
        lower.addWidget(self.about, 2)
        column.addLayout(lower)
        self.list.currentRowChanged.connect(self._describe)
        self.typed.textChanged.connect(self._show)
        self.typed.returnPressed.connect(self.take_chosen)
        self.setFocusProxy(self.typed)
        book.changed.connect(self._dress)
        self._filled = False
        self._dress()

    def _dress(self) -> None:
        theme = self._book.now
        self.setFixedHeight(min(theme.px(170), 250))
        self.about.setStyleSheet(f"color: {theme.palette.soft};")

    def fill(self) -> None:
        """Read the profiles, when the shelf is first looked at."""
        if not self._filled:
            self._filled = True
            self._show("")

    def _show(self, typed: str) -> None:
        from ennead.files.profiles import shelf

        found = ranked(shelf(), typed)
        fill(self.list, ((p.name[:1].upper() + p.name[1:], p) for p in found))

    def _describe(self) -> None:
        profile: Profile | None = chosen(self.list)
        self.about.setText(profile.summary if profile else "")

    def take_chosen(self) -> None:
        """Take the chosen profile into the rig."""
        profile = chosen(self.list)
        if profile is not None:
            self._take(profile)
            self.typed.clear()
