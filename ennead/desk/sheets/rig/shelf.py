"""The shelf of profiles: type to narrow it, Enter takes one into the rig."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.narrowing import NarrowingLine, chosen, fill
from ennead.studio.profile import Profile


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

        words = typed.casefold().split()
        found = [p for p in shelf() if all(w in f"{p.name} {p.summary} {p.role}".casefold() for w in words)]
        # What bears the very words in its name comes before what only mentions them; the shortest name first.
        phrase = " ".join(words)
        found.sort(key=lambda p: (phrase not in p.name.casefold(), len(p.name)) if phrase else (False, 0))
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
