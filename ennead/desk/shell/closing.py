"""Closing the window, and what is said when the program itself fails: what was done is on disk either way."""

import contextlib
from types import TracebackType
from typing import TYPE_CHECKING

from ennead.desk.shell.sheet_list import BY_NAME
from ennead.desk.storage.preferences import drafts_folder
from ennead.desk.widgets.message import tell
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.desk.shell.window import Window
    from ennead.desk.shell.worktable import Worktable


def report_fault(
    table: "Worktable", kind: type[BaseException], error: BaseException, trace: TracebackType | None
) -> None:
    """Say that the program itself failed; what was done before is on disk, and the details go to a file."""
    import traceback

    path = drafts_folder().parent / "faults.txt"
    with contextlib.suppress(OSError), path.open("a", encoding="utf-8") as log:
        log.write("".join(traceback.format_exception(kind, error, trace)) + "\n")
    table.said.emit(f"Ennead itself failed at that ({kind.__name__}). Your edits are kept; details: {path}")


def may_leave(window: "Window") -> bool:
    """Ask about cords that are still plugged when the window is closed; say whether it may close.

    At the end of the day bays go back to normals; if that is chosen the moves are shown, and the window stays.
    """
    studio = window.table.studio
    count = len(studio.as_built.cords)
    if not count or not studio.bays or window.table.autosave.read_only:
        return True
    from PyQt6.QtWidgets import QMessageBox

    from ennead.edits.change import change
    from ennead.edits.scenes import BACK_TO_NORMALS, choose_scene
    from ennead.studio.ids import SceneId

    box = QMessageBox(window)
    box.setObjectName("leaving")
    box.setWindowTitle("Leaving")
    box.setText(f"{count} cord{'s are' if count > 1 else ' is'} still plugged in the bays.")
    box.setInformativeText(
        "Whoever comes next expects the normals. The list of moves says which plugs to pull, and in which order."
    )
    back = box.addButton(BACK_TO_NORMALS, QMessageBox.ButtonRole.RejectRole)
    box.addButton("Leave them plugged", QMessageBox.ButtonRole.AcceptRole)
    box.exec()
    if box.clickedButton() is not back:
        return True
    if studio.scene:
        window.table.do(change(f"Go to {BACK_TO_NORMALS.lower()}", choose_scene, SceneId("")))
    window.go(BY_NAME["Bays"].number)
    return False


def close_down(window: "Window") -> None:
    """Do what has to be done before a window goes; it always closes: what fails on the way is told and kept, and the rest is done."""
    for deed in (
        window.sheets.stop,
        lambda: _stop_lines(window),
        lambda: _remember_place(window),
        lambda: _close_file(window),
        lambda: _fall_silent(window),
    ):
        try:
            deed()
        except Exception as error:  # noqa: BLE001
            report_fault(window.table, type(error), error, error.__traceback__)


def _stop_lines(window: "Window") -> None:
    if window.sheets.is_built(5):
        window.lines_sheet.stop()


def _remember_place(window: "Window") -> None:
    window.preferences.remember("geometry", window.saveGeometry())


def _close_file(window: "Window") -> None:
    """Close the studio file; what could not be written to it is kept in a file that opens next time."""
    autosave = window.table.autosave
    autosave.close()
    try:
        copy = autosave.rescue()
    except EnneadError as error:
        tell(window, "Not on disk", f"The last edits could not be written anywhere.\n\n{error}")
        return
    if copy is not None:
        window.preferences.opened(copy)
        where = f"The last edits could not be written to {autosave.path}. This is the copy that was kept of everything."
        window.preferences.remember("say_first", where)


def _fall_silent(window: "Window") -> None:
    """Disconnect what would reach widgets that are about to be deleted."""
    window.table.idle.clear()
    for speaker in (window.table, window.table.undo_stack, window.table.autosave, window.book):
        speaker.blockSignals(True)
    if window.tape is not None:
        window.tape.close()
