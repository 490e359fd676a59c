"""What the File menu does: new, open, save as, lists in and out."""

import datetime as dt
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QFileDialog, QWidget

from ennead.desk.background.progress_window import ProgressWindow
from ennead.desk.shell.worktable import Worktable
from ennead.desk.storage.preferences import Preferences, backups_folder, draft_path, drafts_folder
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.files.photographs import PhotoSource

_STUDIO = "Ennead studio (*.ennead)"
_ANY = "Studios (*.ennead *.json)"
_LISTS = "Lists (*.csv *.txt *.tsv *.xlsx)"
_TABLES = "Tables (*.csv *.json *.md)"


class FileActions(QObject):
    """The File menu."""

    def __init__(self, table: Worktable, preferences: Preferences, window: QWidget) -> None:
        super().__init__(window)
        self._table, self._preferences, self._window = table, preferences, window

    def new_studio(self) -> None:
        """Begin a draft that has a name and a place at once."""
        path = draft_path(drafts_folder(), dt.datetime.now().astimezone().date())
        self._begin(path, empty_studio(path.stem))

    def open_demo(self) -> None:
        """Open a fresh copy of the demo studio among the drafts."""
        from ennead.demo.pictures import demo_photos
        from ennead.demo.skerry import skerry

        folder = drafts_folder()
        names = ("Skerry Sound House", *(f"Skerry Sound House ({n})" for n in range(2, 1000)))
        path = next(p for p in (folder / f"{n}.ennead" for n in names) if not p.exists())
        self._begin(path, skerry(), demo_photos())

    def open_studio(self) -> None:
        """Ask for a studio and open it."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a studio", str(drafts_folder()), _ANY)
        if name:
            self.open_path(Path(name))

    def open_backup(self) -> None:
        """Ask for a state this studio was opened in, and go on from it in a draft of its own."""
        from ennead.files.kept_copies import backup_folder
        from ennead.files.photographs import photos_of
        from ennead.files.studio_file import read_studio_file

        folder = backups_folder()
        if self._table.path is not None and backup_folder(folder, self._table.path).is_dir():
            folder = backup_folder(folder, self._table.path)
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a backup", str(folder), _STUDIO)
        if name:
            draft = draft_path(drafts_folder(), dt.datetime.now().astimezone().date())
            self._try(lambda: self._begin(draft, read_studio_file(Path(name)), photos_of(Path(name))))

    def open_path(self, path: Path) -> None:
        """Open a studio file; a JSON studio is opened as a draft of its own."""
        if path.suffix.lower() == ".json":
            from ennead.files.interchange import read_json
            from ennead.files.photographs import photos_of

            ProgressWindow(
                self._window,
                f"Reading {path.name}",
                lambda: read_json(path),
                lambda studio: self.begin_draft(studio, photos_of(path)),
                self._table.said.emit,
            )
        else:
            self._begin(path, None)

    def begin_draft(self, studio: Studio, photos: "PhotoSource") -> None:
        """Go on from a studio that was read from elsewhere, in a draft of its own, with the photographs it names."""
        self._begin(draft_path(drafts_folder(), dt.datetime.now().astimezone().date()), studio, photos)

    def _begin(self, path: Path, create: Studio | None, photos: "PhotoSource | None" = None) -> None:
        def begin() -> None:
            self._table.begin(self._table.autosave.open(path, create, photos))
            self._preferences.opened(path)

        self._try(begin)

    def save_as(self) -> None:
        """Ask for a place, put the studio there, and go on there."""
        path = self._ask("Save the studio as", self._table.studio.name, _STUDIO, ".ennead")
        if path is not None and path != self._table.path:
            self._begin(path, self._table.studio)

    def save_json(self) -> None:
        """Write the interchange form beside the studio file."""
        from ennead.files.studio_path import write_studio

        path = self._ask("Save a JSON copy", self._table.studio.name, "JSON (*.json)", ".json")
        if path is not None:
            self._try(lambda: write_studio(path, self._table.studio, self._table.autosave.photos))

    def read_list(self) -> None:
        """Ask for an input list and add its lines to the session."""
        from ennead.files.input_list import read_list_file

        name, _ = QFileDialog.getOpenFileName(self._window, "Read an input list", "", _LISTS)
        if name:
            places = [p.name for p in self._table.studio.places.values()]
            ProgressWindow(
                self._window,
                f"Reading {Path(name).name}",
                lambda: read_list_file(Path(name), places),
                self.add_lines,
                self._table.said.emit,
            )

    def add_lines(self, lines: list[dict[str, object]]) -> None:
        """Add the lines of a list to the session as one step."""
        from ennead.edits.change import change
        from ennead.edits.session import add_sources

        self._table.do(change(f"Add {len(lines)} sources", add_sources, lines))

    def write_list(self) -> None:
        """Write the session's input list as CSV."""
        from ennead.files.input_list import list_csv
        from ennead.files.regular import write_text

        path = self._ask("Write the input list", f"{self._table.studio.name} inputs", "CSV (*.csv)", ".csv")
        if path is not None:
            self._try(lambda: write_text(path, list_csv(self._table.studio)))

    def export_drivers(self) -> None:
        """Write the driver sheet."""
        self._export("drivers", "driver channels")

    def export_cables(self) -> None:
        """Write the cable schedule."""
        self._export("cables", "cables")

    def _export(self, what: str, words: str) -> None:
        from ennead.files.exports import export_list

        path = self._ask(f"Export {words}", f"{self._table.studio.name} {words}", _TABLES, ".csv")
        if path is not None:
            self._try(lambda: export_list(self._table.survey, what, path))

    def _ask(self, title: str, stem: str, kinds: str, ending: str) -> Path | None:
        bare = "".join(c if c.isalnum() or c in " -_.()" else "-" for c in stem)[:80].strip() or "studio"
        start = (self._table.path.parent if self._table.path else drafts_folder()) / f"{bare}{ending}"
        name, _ = QFileDialog.getSaveFileName(self._window, title, str(start), kinds)
        if not name:
            return None
        path = Path(name)
        return path if path.suffix else path.with_suffix(ending)

    def _try(self, deed: Callable[[], None]) -> None:
        try:
            deed()
        except EnneadError as error:
            self.refused(error)

    def refused(self, error: EnneadError) -> None:
        """Say why a file was refused; where a copy of a damaged one was kept, offer to go on from that in a draft of its own."""
        from ennead.files.errors import FileDamaged

        self._table.said.emit(str(error))
        if not isinstance(error, FileDamaged) or error.copy is None:
            return
        from PyQt6.QtWidgets import QMessageBox

        from ennead.files.photographs import photos_of
        from ennead.files.studio_file import read_studio_file

        copy = error.copy
        box = QMessageBox(self._window)
        box.setObjectName("damaged")
        box.setWindowTitle("Damaged studio")
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(str(error))
        go_on = box.addButton("Open that copy", QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is go_on:
            self._try(lambda: self.begin_draft(read_studio_file(copy), photos_of(copy)))
