"""The line in which cords, rears and routes are typed; beside it what they would do, or what of them is not understood."""

import re
from typing import Final

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.layouts.wrapping import at_a_word
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.routing.block_words import laid_in_words
from ennead.planning.routing.cord_words import cord_in_words
from ennead.reports.plug_effects import plug_effects
from ennead.studio.errors import EnneadError

#: What tells a route from a cord: words between its names.
_ROUTE: Final = re.compile(r"\s(?:into|through)\s", re.IGNORECASE)
#: After so long without a key what is typed is looked at, ms.
_PAUSE: Final = 150


class WordsField(QWidget):
    """Words for a cord, for cables behind a bay, or for a route."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self.words, self.said, self.nearest = QLineEdit(), QLabel(), QPushButton()
        self.words.setObjectName("cord_words")
        self.words.setPlaceholderText("A 12 → B 5, or Pier line out 1–8 → A 9–16")
        self.words.setAccessibleName("A cord in words")
        self.words.setToolTip(
            "Two points lay a cord; sockets and points wire rears; “through” and “into” ask for a route"
        )
        self.words.returnPressed.connect(self._typed)
        self.words.textChanged.connect(self._begun)
        self.nearest.setProperty("quiet", True)
        self.nearest.setToolTip("Take this reading instead")
        self.nearest.clicked.connect(self._take_nearest)
        self.nearest.hide()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.words)
        row.addWidget(self.said, 1)
        row.addWidget(self.nearest)
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.timeout.connect(self._look)
        book.changed.connect(self._dress)
        self._dress()

    def _dress(self) -> None:
        self.said.setFont(self._book.now.font(13))
        # Its room is fixed, so that nothing moves when something is said.
        self.setFixedHeight(self._book.now.px(36))
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        self.words.setFixedWidth(min(self._book.now.px(470), round(self.width() * 0.55)))

    def _begun(self) -> None:
        self._say("")
        self._pause.start(_PAUSE)

    def _say(self, text: str, tone: str = "soft", nearest: str = "") -> None:
        set_tone(self.said, tone)
        self.nearest.setText(nearest.replace("&", "&&"))
        self.nearest.setVisible(bool(nearest))
        theme = self._book.now
        room = self.width() - self.words.width() - theme.px(14)
        room -= self.nearest.sizeHint().width() + theme.px(8) if nearest else 0
        # As much as two lines hold, cut at a word; the whole is in the tip.
        self.said.setText(at_a_word(text, lambda said: theme.width(said, 13) <= 1.75 * room))
        self.said.setToolTip(plain_tip(text))

    def _look(self) -> None:
        """Say what a cord would break, tap or join while it is typed; of what is not finished, nothing."""
        text = self.words.text()
        if not text.strip() or _ROUTE.search(text):
            return
        try:
            effects = plug_effects(self._table.survey, cord_in_words(self._table.studio, text))
        except EnneadError:
            return
        harm = any(effect.harms for effect in effects)
        self._say("; ".join([effect.text for effect in effects]), "trouble" if harm else "soft")

    def _typed(self) -> None:
        text = self.words.text()
        self._pause.stop()
        if not text.strip():
            return
        try:
            if _ROUTE.search(text):
                self._lay_route(text)
                return
            wanted = laid_in_words(self._table.studio, text)
        except EnneadError as error:
            self._not_understood(text, error)
            return
        if self._table.do(wanted):
            self.words.clear()

    def _not_understood(self, text: str, error: EnneadError) -> None:
        from ennead.planning.routing.nearest_words import nearest_words

        self._say(str(error), "trouble", nearest_words(self._table.studio, text))

    def _take_nearest(self) -> None:
        self.words.setText(self.nearest.text().replace("&&", "&"))
        self.words.setFocus()
        self._look()

    def _lay_route(self, text: str) -> None:
        """Show the ways to lay a route that is asked for, and lay the one chosen."""
        from ennead.desk.sheets.bays.route_dialog import RouteDialog
        from ennead.planning.routing.cord_routes import route_in_words

        studio = self._table.studio
        dialog = RouteDialog(studio, route_in_words(studio, text), self._book, self.window())
        if not dialog.found_routes:
            self._say("No free points lead there. Pull a cord, or ask for another input.", "trouble")
        elif dialog.exec() and dialog.chosen is not None and self._table.do(dialog.chosen):
            self.words.clear()
