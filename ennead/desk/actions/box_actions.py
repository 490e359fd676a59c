"""What the Box menu does: describe a box, edit its description, and carry descriptions from shelf to shelf."""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.desk.storage.preferences import shelf_folder
from ennead.drawings.painters.theme import ThemeBook
from ennead.studio.errors import EnneadError
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile

T = TypeVar("T")

_TOML = "Profiles (*.toml)"


class BoxActions(QObject):
    """The Box menu.

    Signals `shelved` when the user's own shelf holds something else.
    """

    shelved = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook, window: QWidget, take: Callable[[Profile], None]) -> None:
        super().__init__(window)
        self._table, self._book, self._window, self._take = table, book, window, take

    def describe_box(self) -> None:
        """Ask the seven questions, and take the box they make into the rig, or into the editor."""
        from ennead.desk.sheets.rig.describe_dialog import DescribeDialog

        dialog = DescribeDialog(self._book, self.keep, self._window)
        if dialog.exec() and dialog.profile is not None:
            if dialog.edit_further:
                self.edit_profile(dialog.profile)
            else:
                self._take(dialog.profile)

    def edit_profile(self, profile: Profile) -> None:
        """Edit a copy of a description, and take the box it makes into the rig."""
        from ennead.desk.sheets.rig.profile_editor import ProfileEditor

        dialog = ProfileEditor(self._book, profile, "Take into the rig", self.keep, self.export, self._window)
        if dialog.exec() and dialog.profile is not None:
            self._take(dialog.profile)

    def edit_box(self) -> None:
        """Edit the description of the unit that is selected; all units made from it change with it."""
        from ennead.desk.sheets.rig.profile_editor import ProfileEditor
        from ennead.edits.change import change
        from ennead.edits.profiles import change_profile

        unit = self._chosen_unit()
        if unit is None:
            self._table.said.emit("Select a box on the Rig sheet first; its description is then opened.")
            return
        studio = self._table.studio
        name = studio.units[unit].name
        alike = sum(u.profile == studio.units[unit].profile for u in studio.units.values())
        use = f"Use for {name}" if alike == 1 else f"Use for {name} and {alike - 1} more"
        dialog = ProfileEditor(self._book, studio.profile_of(unit), use, self.keep, self.export, self._window)
        if dialog.exec() and dialog.profile is not None:
            self._table.do(change(f"Change the description of {name}", change_profile, unit, dialog.profile))

    def _chosen_unit(self) -> UnitId | None:
        selection = self._table.selection
        return UnitId(selection.key) if selection.kind in ("unit", "port") else None

    def import_profile(self) -> None:
        """Ask for a profile and put it on the user's shelf."""
        from ennead.files.user_shelf import read_profile_file

        name, _ = QFileDialog.getOpenFileName(self._window, "Import a profile", "", _TOML)
        if name and (profile := self._try(lambda: read_profile_file(Path(name)))) is not None and self.keep(profile):
            self._table.said.emit(f"“{profile.name}” is on your shelf.")

    def export_profile(self) -> None:
        """Write the description of the selected unit to a file."""
        unit = self._chosen_unit()
        if unit is None:
            self._table.said.emit("Select a box on the Rig sheet first; its description is then written.")
        elif self.export(self._table.studio.profile_of(unit)):
            self._table.said.emit("Its description is written.")

    def keep(self, profile: Profile) -> bool:
        """Put a profile on the user's shelf; say whether it is there."""
        from ennead.files.user_shelf import keep_profile

        done = self._try(lambda: keep_profile(shelf_folder(), profile)) is not None
        if done:
            self.shelved.emit()
        return done

    def drop(self, profile: Profile) -> None:
        """Take a profile off the user's shelf."""
        from ennead.files.user_shelf import drop_profile

        drop_profile(shelf_folder(), profile)
        self.shelved.emit()

    def export(self, profile: Profile) -> bool:
        """Ask for a file and write a profile into it; say whether that was done."""
        from ennead.files.user_shelf import profile_file_name, write_profile

        name, _ = QFileDialog.getSaveFileName(self._window, "Export the profile", profile_file_name(profile), _TOML)
        if not name:
            return False
        path = Path(name) if Path(name).suffix else Path(name).with_suffix(".toml")

        def write() -> Path:
            write_profile(path, profile)
            return path

        return self._try(write) is not None

    def _try(self, deed: Callable[[], T]) -> T | None:
        try:
            return deed()
        except EnneadError as error:
            self._table.said.emit(str(error))
            return None
