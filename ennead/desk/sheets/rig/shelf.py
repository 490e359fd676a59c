"""The shelf of profiles: type to narrow it, Enter takes one into the rig."""

import re
from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.desk.storage.preferences import shelf_folder
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.narrowing import NarrowingLine, chosen, fill
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.profile import Profile

_WORD = re.compile(r"[\w/.,×]+")
_ROOMY = 1.3


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
    """The user's own profiles, then all that ship.

    Signals `describe_wanted`; `edit_wanted` and `drop_wanted` with a profile.
    """

    describe_wanted = pyqtSignal()
    edit_wanted = pyqtSignal(object)
    drop_wanted = pyqtSignal(object)

    def __init__(self, book: ThemeBook, take: Callable[[Profile], None]) -> None:
        super().__init__()
        self._mine: tuple[Profile, ...] = ()
        self._troubles: tuple[str, ...] = ()
        self.setObjectName("lower")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._book, self._take = book, take
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 6)
        row = QHBoxLayout()
        self.title = QLabel("Shelf")
        row.addWidget(self.title)
        self.list = QListWidget()
        hint = "type what you own: “eight”, “optical”, “clock”"
        self.typed = NarrowingLine(self.list, hint, "Search the shelf")
        self.typed.setObjectName("shelf_filter")
        row.addWidget(self.typed, 1)
        self.add = QPushButton("Take into the rig")
        self.add.clicked.connect(self.take_chosen)
        row.addWidget(self.add)
        self.describe = QPushButton("Describe your box…")
        self.describe.setObjectName("describe_box")
        self.describe.setProperty("quiet", True)
        self.describe.clicked.connect(self.describe_wanted)
        row.addWidget(self.describe)
        column.addLayout(row)
        self.list.setObjectName("shelf_list")
        self.list.setAccessibleName("Profiles on the shelf")
        self.list.itemActivated.connect(lambda _: self.take_chosen())
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.about = QLabel()
        self.about.setWordWrap(True)
        self.about.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.about.setTextFormat(Qt.TextFormat.PlainText)
        right = self._about_column()
        lower = QHBoxLayout()
        lower.addWidget(self.list, 3)
        lower.addLayout(right, 2)
        column.addLayout(lower)
        self.list.currentRowChanged.connect(self._describe)
        self.typed.textChanged.connect(self._show)
        self.typed.returnPressed.connect(self.take_chosen)
        self.setFocusProxy(self.typed)
        book.changed.connect(self._dress)
        self._filled = False
        self._dress()

    def _about_column(self) -> QVBoxLayout:
        self.edit = QPushButton("Edit a copy…")
        self.edit.setObjectName("edit_copy")
        self.edit.clicked.connect(lambda: self._ask_about(self.edit_wanted))
        self.drop = QPushButton("Take off my shelf")
        self.drop.clicked.connect(lambda: self._ask_about(self.drop_wanted))
        deeds = QHBoxLayout()
        for button in (self.edit, self.drop):
            button.setProperty("quiet", True)
            deeds.addWidget(button)
        deeds.addStretch(1)
        right = QVBoxLayout()
        right.addWidget(self.about, 1)
        right.addLayout(deeds)
        return right

    def _dress(self) -> None:
        theme = self._book.now
        self.setFixedHeight(min(theme.px(170), 250))
        # At large text the long words would squeeze the line one types into.
        roomy = theme.scale <= _ROOMY
        self.title.setVisible(roomy)
        self.add.setText("Take into the rig" if roomy else "Take")
        self.describe.setText("Describe your box…" if roomy else "Describe…")
        for button, words in ((self.add, "Take into the rig"), (self.describe, "Describe your box…")):
            button.setToolTip("" if roomy else words)
            button.setAccessibleName(words)
        set_tone(self.about, "soft")

    def fill(self) -> None:
        """Read the profiles, when the shelf is first looked at."""
        if not self._filled:
            self._filled = True
            self.read_again()

    def read_again(self) -> None:
        """Read the user's own profiles anew."""
        from ennead.files.user_shelf import user_profiles

        if self._filled:
            self._mine, troubles = user_profiles(shelf_folder())
            self._troubles = tuple(f"▲ {t}" for t in troubles)
            self._show(self.typed.text())

    def _show(self, typed: str) -> None:
        from ennead.files.profiles import shelf

        mine = [(f"◇ {p.name}", p) for p in ranked(self._mine, typed)]
        fill(self.list, [*mine, *((p.name[:1].upper() + p.name[1:], p) for p in ranked(shelf(), typed))])

    def _describe(self) -> None:
        profile: Profile | None = chosen(self.list)
        own = profile is not None and any(profile is p for p in self._mine)
        text = profile.summary if profile else "Nothing on the shelf bears these words. Describe your box instead."
        self.about.setText("\n".join(filter(None, ("◇ on your own shelf" if own else "", text, *self._troubles))))
        self.edit.setEnabled(profile is not None)
        self.drop.setVisible(own)

    def _ask_about(self, signal: pyqtBoundSignal) -> None:
        if (profile := chosen(self.list)) is not None:
            signal.emit(profile)

    def take_chosen(self) -> None:
        """Take the chosen profile into the rig."""
        profile = chosen(self.list)
        if profile is not None:
            self._take(profile)
            self.typed.clear()
