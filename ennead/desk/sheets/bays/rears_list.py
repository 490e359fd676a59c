"""What is on no bay yet, row by row: drag one onto a point, or take it with Enter and go there with the arrows."""

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent, QShowEvent
from PyQt6.QtWidgets import QApplication, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.desk.sheets.bays.bays_view import BaysView
from ennead.desk.sheets.bays.drag_block import DragBlock
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.narrowing import chosen, fill
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.routing.blocks import free_blocks


class RearsList(QListWidget):
    """The rows of sockets that hold no cable."""

    def __init__(self, table: Worktable, view: BaysView) -> None:
        super().__init__()
        self._table, self._view = table, view
        self._from: QPointF | None = None
        self.setObjectName("rears_list")
        self.setAccessibleName("Sockets on no bay yet")
        self.setToolTip(
            "Drag a row onto the first point it is to lie on; or press Enter here, go to that point, and press Enter"
            " there"
        )
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.itemActivated.connect(lambda _: self.take())
        table.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show what is free now."""
        if self.isVisible():
            row = self.currentRow()
            fill(self, [(block.text, block) for block in free_blocks(self._table.studio)])
            self.setCurrentRow(max(0, min(row, self.count() - 1)))

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def take(self) -> None:
        """Take the chosen row in hand: Enter at a point wires it there."""
        block = chosen(self)
        if block is not None:
            self._view.carry(block)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        self._from = event.position() if event is not None else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        block = chosen(self)
        if event is None or block is None or self._from is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        view, at = self._view, self._over(event)
        if view.gesture is None:
            if (event.position() - self._from).manhattanLength() >= QApplication.startDragDistance():
                view.settle()
                view.begin(DragBlock(self._table, view.layout_now, block), at)
        else:
            view.gesture.move(at + view.offset())
            view.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        self._from = None
        if event is not None and self._view.gesture is not None:
            self._view.end_gesture(self._over(event))

    def _over(self, event: QMouseEvent) -> QPointF:
        """Return where the mouse is over the bays."""
        return self._view.viewport().mapFromGlobal(event.globalPosition())


class RearsPanel(QWidget):
    """The list with what it is, and the way to the looms."""

    def __init__(self, table: Worktable, book: ThemeBook, view: BaysView) -> None:
        super().__init__()
        self._book = book
        self.rears, self.looms_button, self.head = RearsList(table, view), QPushButton("Looms…"), QLabel()
        self.head.setText("On no bay yet: drag a row onto the point where it begins.")
        self.head.setWordWrap(True)
        self.looms_button.setObjectName("looms")
        self.looms_button.setProperty("quiet", True)
        self.looms_button.setToolTip("How looms are made up, their multipins, and which lie in the drawer")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for part in (self.head, self.rears, self.looms_button):
            column.addWidget(part)
        book.changed.connect(self._dress)
        self._dress()
        self.hide()

    def fit(self, room: int) -> None:
        """Take as much of the sheet's width as leaves the bays more than half of it."""
        self.setFixedWidth(min(self._book.now.px(230), round(room * 0.42)))

    def _dress(self) -> None:
        self.head.setFont(self._book.now.font(13))
        set_tone(self.head, "soft")
