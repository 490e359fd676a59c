"""The moves from what stands to the scene as a list to tick, and what is done by hand after them."""

from collections.abc import Sequence

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ennead.desk.theme.tones import set_tone
from ennead.drawings.painters.theme import ThemeBook


class MovesList(QWidget):
    """The moves from what stands to the scene, to be ticked one by one."""

    ticked = pyqtSignal(int)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        self.head, self.rows = QLabel(), QListWidget()
        self.head.setWordWrap(True)
        self.rows.setObjectName("moves")
        self.rows.setAccessibleName("Moves, in order")
        self.rows.setFlow(QListWidget.Flow.TopToBottom)
        self.rows.setWrapping(True)
        self.rows.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.rows.itemChanged.connect(self._changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.head)
        column.addWidget(self.rows, 1)
        book.changed.connect(self._dress)
        self._dress()

    def show_moves(self, head: str, texts: list[str], done: int, by_hand: Sequence[str] = ()) -> None:
        """Show what there is to do, of which the first so many are done, and what is done by hand after it."""
        self.head.setText(head)
        self.rows.blockSignals(True)
        self.rows.clear()
        for at, text in enumerate(texts):
            item = QListWidgetItem(f"{at + 1:>2}  {text}")
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if at < done else Qt.CheckState.Unchecked)
            self.rows.addItem(item)
        for text in by_hand:
            item = QListWidgetItem(f"by hand:  {text}")
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            self.rows.addItem(item)
        self.rows.blockSignals(False)
        theme = self._book.now
        wide = max([theme.width(f"88  {text}", 13) for text in (*texts, *by_hand)], default=0.0)
        self.rows.setGridSize(QSize(round(wide) + theme.px(52), theme.px(22)))
        self.rows.setWrapping(self.width() >= 2 * (round(wide) + theme.px(52)))
        self.rows.setVisible(bool(texts or by_hand))

    def _changed(self, item: QListWidgetItem) -> None:
        at = self.rows.row(item)
        self.ticked.emit(at + 1 if item.checkState() == Qt.CheckState.Checked else at)

    def _dress(self) -> None:
        theme = self._book.now
        self.head.setFont(theme.font(14, bold=True))
        set_tone(self.head, "ink")
        self.rows.setFont(theme.font(13))
