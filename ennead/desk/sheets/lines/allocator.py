"""Runs an allocation off the interface thread, with progress and a way to stop it."""

import threading
from concurrent.futures import Future, ThreadPoolExecutor

from PyQt6.QtCore import QObject, pyqtSignal

from ennead.planning.seating.allocation import Proposal, allocate
from ennead.studio.document import Studio
from ennead.survey.survey import Survey


class Allocator(QObject):
    """One allocation at a time; `done` carries the proposal and the studio it is for, `went` the part done, 0 to 100."""

    done = pyqtSignal(object, object)
    went = pyqtSignal(int)
    _failed = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="allocator")
        self._stop = threading.Event()
        self._failed.connect(self._fail)

    def _fail(self, error: BaseException) -> None:
        # A slot of this object, so that it is called on the interface thread, where a fault of the program is said and kept.
        raise error

    def start(self, studio: Studio) -> None:
        """Begin; a search that is under way is stopped first."""
        self._stop.set()
        self._stop = stop = threading.Event()

        def keep_going(part: float) -> bool:
            self.went.emit(round(100 * part))
            return not stop.is_set()

        def work() -> Proposal:
            return allocate(Survey(studio), keep_going=keep_going)

        def answer(future: Future[Proposal]) -> None:
            if future.cancelled() or stop.is_set():
                return
            error = future.exception()
            if error is not None:
                self._failed.emit(error)
            else:
                self.done.emit(future.result(), studio)

        self._thread.submit(work).add_done_callback(answer)

    def stop(self) -> None:
        """End the search; nothing is proposed."""
        self._stop.set()

    def close(self) -> None:
        """End the search and its thread."""
        self._stop.set()
        self._thread.shutdown()
