"""Keeps the studio on disk: every edit is committed by a thread of its own, and said to be kept only then."""

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ennead.files.errors import FileTrouble, reason_of
from ennead.files.guard import WriteLock
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.files.studio_file import StudioFile


class Keeper(QObject):
    """Owns the open studio file on its own thread.

    Signals `kept` with the number of an edit once it is on disk, `failed` with a sentence when it is not;
    a failed edit is written again together with the next one.
    """

    kept = pyqtSignal(int)
    failed = pyqtSignal(str)

    def __init__(self, backups: Path | None = None) -> None:
        super().__init__()
        self._backups = backups
        self._lock: WriteLock | None = None
        self._closed = False
        self.read_only = ""
        self._thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="keeper")
        self._file: object | None = None
        self.path: Path | None = None
        self.posted = 0
        self.done = 0

    def open(self, path: Path, create: Studio | None = None) -> Studio:
        """Open a studio file, making it first when a studio is given; the one open before is closed.

        Where another window has it open, or its folder cannot be written, it is opened to look at only:
        `read_only` then holds the sentence that says so.

        Raises
        ------
        FileTrouble
            The file open before then stays open.
        """
        studio = self._thread.submit(self._open, path, create).result()
        self.path = path
        self.posted = self.done = 0
        return studio

    def _open(self, path: Path, create: Studio | None) -> Studio:
        from ennead.files.studio_file import StudioFile, check_head, read_studio_file

        if isinstance(self._file, StudioFile) and self._file.path == path:
            self._close()
        if create is None:
            check_head(path)
        lock, reason = _lock(path)
        if lock is None and create is not None:
            raise FileTrouble(path, reason, "Choose another name or folder.")
        try:
            opened = StudioFile(path, create=create) if lock is not None else None
            studio = opened.studio if opened is not None else read_studio_file(path)
        except BaseException:
            if lock is not None:
                lock.release()
            raise
        self._close()
        self._file, self._lock = opened, lock
        self.read_only = "" if lock is not None else f"{path.name}: {reason}, so it can only be looked at here."
        if opened is not None and create is None and self._backups is not None:
            self._keep_state(opened)
        return studio

    def _keep_state(self, opened: "StudioFile") -> None:
        from sqlite3 import Error

        from ennead.files.guard import keep_opened_state

        if self._backups is None:
            return
        try:
            keep_opened_state(opened.connection, self._backups, opened.path)
        except (OSError, Error) as error:
            self.failed.emit(f"The state it was opened in could not be kept as a backup ({error}).")

    def post(self, studio: Studio) -> int:
        """Hand a studio over to be committed; return the number `kept` will carry."""
        self.posted += 1
        number = self.posted
        future: Future[int] = self._thread.submit(self._commit, studio)
        future.add_done_callback(self._answer(number))
        return number

    def _commit(self, studio: Studio) -> int:
        from ennead.files.studio_file import StudioFile

        if not isinstance(self._file, StudioFile):
            raise FileTrouble(self.path or "the studio", "no file is open to write it to", "Save it as another file.")
        return self._file.commit(studio)

    def _answer(self, number: int) -> Callable[[Future[int]], None]:
        def answer(future: Future[int]) -> None:
            error = future.exception()
            if error is None:
                self.done = max(self.done, number)
                self.kept.emit(number)
            elif isinstance(error, EnneadError):
                self.failed.emit(str(error))
            else:
                self.failed.emit(f"The edit could not be written ({error}). Save a copy elsewhere.")

        return answer

    def wait(self) -> None:
        """Wait until everything posted so far is on disk."""
        self._thread.submit(lambda: None).result()

    def close(self) -> None:
        """Commit what is posted, close the file, end the thread; closing twice does no harm."""
        if not self._closed:
            self._closed = True
            self._thread.submit(self._close).result()
            self._thread.shutdown()

    def _close(self) -> None:
        from ennead.files.studio_file import StudioFile

        if isinstance(self._file, StudioFile):
            self._file.close()
        if self._lock is not None:
            self._lock.release()
        self._file = self._lock = None


def _lock(path: Path) -> tuple[WriteLock | None, str]:
    """Return the right to write a file, or None and why there is none."""
    try:
        return WriteLock(path), ""
    except BlockingIOError:
        return None, "it is open in another window"
    except OSError as error:
        return None, f"its folder cannot be written ({reason_of(error)})"
