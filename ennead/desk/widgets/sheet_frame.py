"""The frame every sheet shares: title, the question it answers, its actions, then its drawing."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.sheet_list import SheetKind
from ennead.desk.theme.tones import set_tone
from ennead.drawings.painters.theme import ThemeBook


class SheetFrame(QWidget):
    """A sheet with its head; subclasses add what they draw to `body`."""

    def __init__(self, book: ThemeBook, kind: SheetKind) -> None:
        super().__init__()
        self.book = book
        title, question = kind.name, kind.question
        self._asked = question
        self._giving_way: dict[QWidget, bool] = {}
        self._title, self._question = QLabel(title), QLabel(question)
        self._title.setToolTip(question)
        self._head = QHBoxLayout()
        self._head.addWidget(self._title)
        self._head.addWidget(self._question, 1)
        #: What has no room in the head, behind one button.
        self.more = QPushButton("…")
        self.more.setObjectName("more_tools")
        self.more.setProperty("quiet", True)
        self.more.setAccessibleName("More tools")
        self.more.setToolTip("More tools of this sheet")
        self._more_menu = QMenu(self)
        self._more_menu.aboutToShow.connect(self._list_more)
        self.more.setMenu(self._more_menu)
        self.more.hide()
        self._head.addWidget(self.more)
        self.body = QVBoxLayout(self)
        self.body.addLayout(self._head)
        book.changed.connect(self._dress)
        self._dress()

    def add_action(self, button: QWidget, *, gives_way: bool = False) -> None:
        """Put a button at the right of the head.

        Parameters
        ----------
        gives_way : bool
            Whether it is left to the menus where there is no room for all; the first that may goes first.
        """
        self._head.insertWidget(self._head.count() - 1, button)
        if gives_way:
            self._giving_way[button] = True

    def add_pages(self, *pages: QWidget) -> QStackedLayout:
        """Put pages below the head, of which one is seen at a time: the drawing first, then what an empty sheet says."""
        holder = QWidget()
        stacked = QStackedLayout(holder)
        for page in pages:
            stacked.addWidget(page)
        self.body.addWidget(holder, 1)
        return stacked

    def want(self, button: QWidget, wanted: bool) -> None:
        """Say whether a button that gives way is of use now."""
        self._giving_way[button] = wanted
        self._fit_head()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_head()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._fit_head()

    def _list_more(self) -> None:
        """List the tools that are hidden now; each does what its button does."""
        self._more_menu.clear()
        for button, wanted in self._giving_way.items():
            if wanted and button.isHidden() and isinstance(button, QAbstractButton):
                text = button.text() if len(button.text()) > 1 else button.accessibleName()
                action = self._more_menu.addAction(text)
                assert action is not None  # noqa: S101 - a menu gives what it adds
                action.setCheckable(button.isCheckable())
                action.setChecked(button.isChecked())
                action.setEnabled(button.isEnabled())
                action.triggered.connect(lambda _=False, b=button: b.click())

    def _fit_head(self) -> None:
        """Leave to the menus, and the question to the title's tool tip, what has no room in the head; unseen, it can wait."""
        if not self.isVisible():
            return
        theme = self.book.now
        items = [self._head.itemAt(i).widget() for i in range(self._head.count())]
        aside = (None, self._question, self.more)
        wide = {w: w.sizeHint().width() + theme.px(8) for w in items if w not in aside}
        taken = sum(wide[w] for w in wide if self._giving_way.get(w, not w.isHidden()))
        hidden = False
        for button, wanted in self._giving_way.items():
            room = taken <= self.width() - theme.px(24)
            if wanted and not room and not hidden:
                hidden = True
                taken += self.more.sizeHint().width() + theme.px(8)
            button.setVisible(wanted and room)
            taken -= 0 if room or not wanted else wide[button]
        self.more.setVisible(hidden)
        self._question.setText(
            self._asked if taken + theme.width(self._asked, 13) + theme.px(30) < self.width() else ""
        )

    def _dress(self) -> None:
        theme = self.book.now
        self.body.setContentsMargins(theme.px(14), theme.px(8), theme.px(10), 0)
        self.body.setSpacing(theme.px(6))
        self._head.setSpacing(theme.px(8))
        self._title.setFont(theme.font(21, bold=True))
        set_tone(self._title, "ink")
        self._question.setFont(theme.font(13))
        set_tone(self._question, "soft")
        self._fit_head()


class EmptyNote(QWidget):
    """What an empty sheet says: what to do first, and the one action that does it."""

    def __init__(self, book: ThemeBook, sentence: str, button: QPushButton | None) -> None:
        super().__init__()
        self._book, self._label, self._button = book, QLabel(sentence), button
        self._label.setWordWrap(True)
        column = QVBoxLayout(self)
        column.addStretch(1)
        column.addWidget(self._label)
        if button is not None:
            row = QHBoxLayout()
            row.addWidget(button)
            row.addStretch()
            column.addLayout(row)
        column.addStretch(3)
        book.changed.connect(self._dress)
        self._dress()

    def say(self, sentence: str) -> None:
        """Say something else."""
        self._label.setText(sentence)

    def _dress(self) -> None:
        theme = self._book.now
        self._label.setFont(theme.font(17))
        set_tone(self._label, "ink")
        self._label.setMaximumWidth(theme.px(560))
        self._label.setAlignment(Qt.AlignmentFlag.AlignLeft)
