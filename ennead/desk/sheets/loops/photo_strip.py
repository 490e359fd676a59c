"""The photographs of a recall card, side by side; one is added from a file, looked at large, taken off."""

from pathlib import Path
from typing import Final, NamedTuple

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.background.progress_window import ProgressWindow
from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.recall import Photo, Recall

_PICTURES: Final = "Pictures (*.jpg *.jpeg *.png)"
#: Of a file of a camera; more is not read. House default.
_MOST_READ: Final = 60_000_000


class _Read(NamedTuple):
    """A picture that was read: its bytes as they are stored, and the day of its file."""

    body: bytes
    day: str


def read_picture(path: Path) -> _Read:
    """Return a picture from a file as a studio stores it, scaled, with the day on which the file was made.

    Raises
    ------
    FileTrouble
        If it is no picture, or one that is too large.
    """
    from datetime import UTC, datetime

    from ennead.drawings.painters.photo_image import picture_fault, stored_form
    from ennead.files.errors import FileTrouble
    from ennead.files.regular import read_regular

    body = read_regular(path, _MOST_READ + 1)
    if len(body) > _MOST_READ:
        raise FileTrouble(path, f"it has more than {_MOST_READ // 1_000_000} MB", "Make it smaller first.")
    if fault := picture_fault(body):
        raise FileTrouble(path, fault, "Choose another one.")
    stored = stored_form(body)
    if stored is None:
        raise FileTrouble(path, "it is damaged", "Choose another one.")
    return _Read(stored, datetime.fromtimestamp(path.stat().st_mtime, UTC).date().isoformat())


class PhotoStrip(QWidget):
    """The strip. `added` carries a photograph with its bytes on the shelf, `removed` the hash of one."""

    added = pyqtSignal(object)
    removed = pyqtSignal(str)

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self._shown: tuple[Photo, ...] | None = None
        self.listed = QListWidget()
        self.listed.setAccessibleName("Photographs")
        self.listed.setViewMode(QListWidget.ViewMode.IconMode)
        self.listed.setMovement(QListWidget.Movement.Static)
        self.listed.setWordWrap(True)
        side = book.now.px(96)
        self.listed.setIconSize(QSize(side, side))
        self.listed.setGridSize(QSize(side + book.now.px(24), side + book.now.px(40)))
        self.listed.setFixedHeight(side + book.now.px(64))
        self.listed.itemActivated.connect(lambda _: self.look())
        grid = QGridLayout()
        self.buttons: dict[str, QPushButton] = {}
        for n, (key, text, deed) in enumerate(
            (
                ("whole", "Add the whole box…", lambda: self.ask("whole")),
                ("close-up", "Add a close-up…", lambda: self.ask("close-up")),
                ("look", "Look at it", self.look),
                ("off", "Take it off", self.take_off),
            )
        ):
            button = QPushButton(text)
            button.setProperty("quiet", True)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _=False, deed=deed: deed())
            self.buttons[key] = button
            grid.addWidget(button, n // 2, n % 2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.listed)
        column.addLayout(grid)

    def show_photos(self, card: Recall | None) -> None:
        """Show the photographs of a card."""
        from ennead.drawings.painters.photo_image import image_of

        photos = card.photos if card is not None else ()
        if photos == self._shown:
            # Every edit shows the card anew, and pictures take long to read.
            return
        self._shown = photos
        self.listed.clear()
        for photo in photos:
            body = self._table.autosave.photos.photo(photo.sha256)
            image = image_of(body, 320) if body is not None else None
            words = f"{photo.shows}, {photo.taken or 'no day'}" if image is not None else "not in this file"
            item = QListWidgetItem(words)
            if image is not None:
                item.setIcon(QIcon(QPixmap.fromImage(image)))
            item.setToolTip(photo.note)
            item.setData(Qt.ItemDataRole.UserRole, photo.sha256)
            self.listed.addItem(item)
        self.listed.setVisible(bool(photos))
        if self.listed.count():
            self.listed.setCurrentRow(0)
        for key in ("look", "off"):
            self.buttons[key].setEnabled(self.listed.count() > 0)

    @property
    def chosen(self) -> str:
        """The hash of the photograph that is chosen; empty for none."""
        item = self.listed.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    def ask(self, shows: str) -> None:
        """Ask for a picture file, read it aside, and hand it over."""
        name, _ = QFileDialog.getOpenFileName(self, f"A photograph: {shows}", "", _PICTURES)
        if name:
            path = Path(name)
            ProgressWindow(
                self,
                f"Reading {path.name}",
                lambda: read_picture(path),
                lambda found: self.take(found, shows),
                self._table.said.emit,
            )

    def take(self, found: _Read, shows: str) -> None:
        """Put a picture that was read on the shelf, and hand it over."""
        key = self._table.autosave.photos.put(found.body)
        self.added.emit(Photo(key, "close-up" if shows == "close-up" else "whole", found.day))

    def take_off(self) -> None:
        """Take the chosen photograph off the card."""
        if self.chosen:
            self.removed.emit(self.chosen)

    def look(self) -> None:
        """Look at the chosen photograph as large as the screen allows."""
        from ennead.drawings.painters.photo_image import SIDE_PX, image_of

        body = self._table.autosave.photos.photo(self.chosen) if self.chosen else None
        image = image_of(body, SIDE_PX) if body is not None else None
        if image is not None:
            _Large(image, self).exec()


class _Large(QDialog):
    """One photograph by itself."""

    def __init__(self, image: QImage, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("photo_large")
        self.setWindowTitle("Photograph")
        shown = QLabel()
        room = QSize(1_000, 640)
        shown.setPixmap(
            QPixmap.fromImage(
                image.scaled(room, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
            )
        )
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        column = QVBoxLayout(self)
        column.addWidget(shown)
        column.addWidget(close)
