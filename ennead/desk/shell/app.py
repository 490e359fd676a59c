"""Starts the interface: fonts, theme, the studio left last time, the window."""

import gc
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.window import Window


#: The plain style, named as an argument of the application: naming it later costs a twentieth of the start.
STYLE = ("-style", "fusion")


def has_screen() -> bool:
    """Say whether Qt will find something to draw on."""
    chosen = os.environ.get("QT_QPA_PLATFORM", "")
    if chosen and not chosen.startswith(("xcb", "wayland")):
        return True
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY"))


def open_window(name: str | None) -> int:
    """Open the window on a studio, on the one left last time, or on a new draft; return the exit status."""
    if sys.platform.startswith("linux") and not has_screen():
        print(  # noqa: T201 - there is no window to say it in
            "ennead: there is no screen here (neither DISPLAY nor WAYLAND_DISPLAY is set). "
            "Start it from a desktop session; verbs such as “ennead check” work without one.",
            file=sys.stderr,
        )
        return 2
    from ennead.studio.errors import EnneadError

    try:
        app, window = start(Path(name) if name else None)
    except EnneadError as error:
        print(f"ennead: {error}", file=sys.stderr)  # noqa: T201 - there is no window to say it in
        return 2
    # Read after the start: what it needs of Qt is to be read while nothing is collected.
    from ennead.desk.shell.closing import report_fault

    sys.excepthook = lambda kind, error, trace: report_fault(window.table, kind, error, trace)
    status = app.exec()
    sys.excepthook = sys.__excepthook__
    take_down(window)
    return status


def start(path: Path | None) -> "tuple[QApplication, Window]":
    """Make the application and show its window on a studio.

    Raises
    ------
    FileTrouble
        When the named studio cannot be opened.
    """
    # Collecting while everything is being made finds nothing and costs a tenth of the time; GarbageTimer takes over.
    gc.disable()
    from PyQt6.QtWidgets import QApplication

    app = QApplication([*sys.argv[:1], *STYLE])
    app.setApplicationName("Ennead")
    app.setDesktopFileName("ennead")
    prepare()
    window = build_window(path)
    window.show()
    return app, window


def take_down(window: "Window") -> None:
    """Destroy the window now, while everything it speaks to is still there; Python would do it in any order."""
    from PyQt6.QtCore import QCoreApplication, QEvent

    window.deleteLater()
    QCoreApplication.sendPostedEvents(window, QEvent.Type.DeferredDelete)


def prepare() -> None:
    """Set what holds for the whole process, once: the fonts."""
    from ennead.drawings.painters.theme import load_fonts

    load_fonts()


def build_window(path: Path | None) -> "Window":
    """Return the window on a studio; `path` None means the one left last time, or a new draft.

    Raises
    ------
    FileTrouble
        When the named studio cannot be opened.
    """
    from ennead.desk.background.collector import GarbageTimer
    from ennead.desk.shell.window import Window
    from ennead.desk.shell.worktable import Worktable
    from ennead.desk.storage.autosave import Autosave
    from ennead.desk.storage.preferences import Preferences, backups_folder, drafts_folder
    from ennead.drawings.painters.theme import ThemeBook
    from ennead.studio.document import empty_studio
    from ennead.studio.errors import EnneadError

    preferences = Preferences()
    scale = min(2.0, max(0.8, preferences.number("scale", 1.0)))
    book = ThemeBook(preferences.text("theme", "system"), scale)
    autosave = Autosave(backups_folder(), drafts_folder())
    first = path or next(iter(preferences.recent), None)
    if first is not None and first.suffix.lower() != ".json":
        # The file is read while the window is being built.
        autosave.open_ahead(first)
    table = Worktable(empty_studio(), autosave)
    # Until the first paint no rule is asked, and nothing is logged.
    table.settled.connect(_keep_log)
    window = Window(table, book, preferences)
    GarbageTimer(window)
    geometry = preferences.data("geometry")
    if geometry is None or not window.restoreGeometry(geometry):
        window.resize(1280, 800)
    try:
        _open_first(window, path)
    except EnneadError:
        table.autosave.close()
        raise
    if left := preferences.text("say_first"):
        preferences.remember("say_first", "")
        table.said.emit(left)
    return window


def _keep_log() -> None:
    from ennead.files.fault_log import keep_log

    keep_log()


def _open_first(window: "Window", path: Path | None) -> None:
    from PyQt6.QtCore import QTimer

    from ennead.studio.errors import EnneadError

    table, preferences = window.table, window.preferences
    if path is not None and path.suffix.lower() != ".json":
        table.begin(table.autosave.open(path))
        # Writing the settings can wait until the window is seen.
        table.settled.connect(lambda: preferences.opened(path))
        return
    if path is not None:
        from ennead.files.interchange import read_json
        from ennead.files.photographs import photos_of

        window.files.begin_draft(read_json(path), photos_of(path))
        return
    for last in preferences.recent[:1]:
        try:
            table.begin(table.autosave.open(last))
        except EnneadError as error:
            window.files.new_studio()
            refusal = error
            # Asked once the window is seen.
            QTimer.singleShot(0, lambda refusal=refusal: window.files.refused(refusal))
        return
    window.files.new_studio()
