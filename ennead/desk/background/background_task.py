"""Quiet work on a thread: the newest question counts, an older one is told to stop and its answer dropped."""

import threading
from collections.abc import Callable
from typing import Any, Final

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ennead.studio.errors import EnneadError

#: Asked by the work now and then: whether it has been cancelled.
Stopped = Callable[[], bool]


#: The tasks with a running thread, each with its threads and what these work on. A thread must never emit through an object that
#: is being destroyed, nor be the last to hold one: it would then be destroyed on that thread, under the hands of the interface's.
_BUSY: Final[dict["BackgroundTask", list[tuple[threading.Thread, object]]]] = {}

#: How long to wait until a thread that has said its last word is looked for again, ms.
_AGAIN_MS: Final = 5


class BackgroundTask(QObject):
    """Works on one thing at a time; `went` carries the part done of what is worked on now, 0 to 100.

    It has no parent in Qt's sense: it lives while its thread works, however soon the caller is gone, and
    ends on the interface thread.
    """

    went = pyqtSignal(int)
    _ended = pyqtSignal(int, object)

    def __init__(self, asker: QObject) -> None:
        super().__init__()
        self._number = 0
        self._then: Callable[[Any], object] = _nothing
        self._ended.connect(self._end)
        asker.destroyed.connect(self.drop)

    def start(self, work: Callable[[Stopped], Any], then: Callable[[Any], object]) -> None:
        """Have something worked out and handed over on the interface thread.

        Parameters
        ----------
        work : callable
            Runs on a thread of its own; touches no widget, and no survey shared with other code.
        then : callable
            Is given what `work` returned, or the `EnneadError` it raised.
        """
        self._number += 1
        self._then = then
        thread = threading.Thread(target=self._run, args=(self._number, work), name="background", daemon=True)
        _BUSY.setdefault(self, []).append((thread, work))
        thread.start()

    def tell(self, part: float) -> None:
        """Say, from the thread, how far the work is, 0 to 1."""
        self.went.emit(round(100 * part))

    def drop(self) -> None:
        """Want no answer any more."""
        self._number += 1
        self._then = _nothing

    def _run(self, number: int, work: Callable[[Stopped], Any]) -> None:
        try:
            found = work(lambda: self._number != number)
        except Exception as error:  # noqa: BLE001 - told where faults are told, on the interface thread
            found = error
        self._ended.emit(number, found)

    def _end(self, number: int, found: Any) -> None:
        # Not here: it would be destroyed while Qt still delivers this very call to it.
        QTimer.singleShot(0, self._leave)
        if number != self._number:
            return
        if isinstance(found, Exception) and not isinstance(found, EnneadError):
            raise found
        self._then(found)

    def _leave(self) -> None:
        """Be held no longer, once all threads have ended that hold it as well."""
        left = [one for one in _BUSY.get(self, ()) if one[0].is_alive()]
        if left:
            _BUSY[self] = left
            QTimer.singleShot(_AGAIN_MS, self._leave)
        else:
            _BUSY.pop(self, None)


def at_work() -> bool:
    """Say whether any thread of the background has not ended."""
    return bool(_BUSY)


def _nothing(_: Any) -> None:
    """Do nothing: the answer is no longer wanted."""
