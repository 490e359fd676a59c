"""A question that takes a moment: progress while it is worked out, then a list with the details of what is chosen."""

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QProgressBar,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.background.background_task import BackgroundTask
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.errors import EnneadError

KeepGoing = Callable[[float], bool]


class AskDialog(QDialog):
    """Base of the questions. `ask` begins the work; a subclass shows the answer by `say` and `fill`."""

    def __init__(self, book: ThemeBook, title: str, rows: str, take: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self._book, self._background = book, BackgroundTask(self)
        self.words = QLabel()
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setWordWrap(True)
        set_tone(self.words, "ink")
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setRange(0, 100)
        self.rows, self.details = WrappedList(), WrappedList()
        self.rows.setAccessibleName(rows)
        self.details.setAccessibleName("What it takes and brings")
        for those in (self.rows, self.details):
            those.setSpacing(book.now.px(3))
        self.details.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.details.setSelectionMode(QListWidget.SelectionMode.NoSelection)
        self.take, self.leave = QPushButton(take), QPushButton("Leave it")
        self.take.setEnabled(False)
        self.leave.setProperty("quiet", True)
        for button, deed in ((self.take, self.accept), (self.leave, self.reject)):
            button.setAutoDefault(False)
            button.clicked.connect(deed)
        self.panes = QSplitter(Qt.Orientation.Horizontal)
        self.panes.addWidget(self.rows)
        self.panes.addWidget(self.details)
        self.panes.setSizes([400, 460])
        self.foot = QHBoxLayout()
        self.foot.addWidget(self.progress)
        self.foot.addStretch(1)
        self.foot.addWidget(self.leave)
        self.foot.addWidget(self.take)
        self.column = QVBoxLayout(self)
        self.column.addWidget(self.words)
        self.column.addWidget(self.panes, 1)
        self.column.addLayout(self.foot)
        theme = book.now
        self.resize(min(theme.px(900), 1_180), min(theme.px(520), 700))
        self._background.went.connect(self.progress.setValue)
        self.rows.currentRowChanged.connect(self._chosen)
        self.rows.itemActivated.connect(lambda _: self.take.click())
        self._details: list[tuple[str, ...]] = []

    def ask(self, work: Callable[[KeepGoing], Any], then: Callable[[Any], object]) -> None:
        """Have something worked out aside; what it raises is said in its place."""
        self.progress.setValue(0)
        self.progress.show()
        self.take.setEnabled(False)
        background = self._background

        def thought(stop: Callable[[], bool]) -> Any:
            def keep_going(part: float) -> bool:
                background.tell(part)
                return not stop()

            return work(keep_going)

        def ended(found: Any) -> None:
            self.progress.hide()
            if isinstance(found, EnneadError):
                self.say(str(found))
            else:
                then(found)

        self._background.start(thought, ended)

    def say(self, text: str) -> None:
        """Say something above the list."""
        self.words.setText(text)

    def fill(self, rows: Sequence[tuple[str, tuple[str, ...]]]) -> None:
        """Show rows, each with its details; the first is chosen."""
        self._details = [details for _, details in rows]
        self.rows.clear()
        for text, _ in rows:
            self.rows.addItem(text)
        if rows:
            self.rows.setCurrentRow(0)

    def put(self, row: int, text: str, details: tuple[str, ...]) -> None:
        """Show a row otherwise than it was, with other details."""
        item = self.rows.item(row)
        if item is not None:
            item.setText(text)
            self._details[row] = details
            self._chosen(row)

    def _chosen(self, row: int) -> None:
        self.details.clear()
        if 0 <= row < len(self._details):
            self.details.addItems(list(self._details[row]))
        self.take.setEnabled(0 <= row < len(self._details) and self.can_take(row))

    def can_take(self, row: int) -> bool:
        """Say whether there is something to carry out for a row."""
        return row >= 0

    def done(self, result: int) -> None:
        """End; the answer is no longer wanted."""
        self._background.drop()
        super().done(result)
