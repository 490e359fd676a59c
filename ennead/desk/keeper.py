"""Keeps the studio on disk: every edit is committed by a thread of its own, and said to be kept only then."""

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError


class Keeper(QObject):
    """Owns the open studio file on its own thread.

    Signals `kept` with the number of an edit once it is on disk, `failed` with a sentence when it is not;
    a failed edit is written again together with the next one.
    """

    kept = pyqtSignal(int)
    failed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="keeper")
        self._file: object | None = None
        self.path: Path | None = None
        self.posted = 0
        self.done = 0

    def open(self, path: Path, create: Studio | None = None) -> Studio:
        """Open a studio file, making it first when a studio is given; the one open before is closed.

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
        from ennead.files.studio_file import StudioFile

        if isinstance(self._file, StudioFile) and self._file.path == path:
            self._file.close()
            self._file = None
        opened = StudioFile(path, create=create)
        if isinstance(self._file, StudioFile):
            self._file.close()
        self._file = opened
        return opened.studio

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
            return 0
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
        """Commit what is posted, close the file, end the thread."""
        self._thread.submit(self._close).result()
        self._thread.shutdown()

    def _close(self) -> None:
        from ennead.files.studio_file import StudioFile

        if isinstance(self._file, StudioFile):
            self._file.close()
        self._file = None
