"""Quiet work on a thread: the newest question counts, an older one is told to stop and its answer dropped."""

import contextlib
import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from ennead.studio.errors import EnneadError

#: Asked by the work now and then: whether nobody waits for it any more.
Stop = Callable[[], bool]


class Thinker(QObject):
    """Thinks about one thing at a time."""

    _ended = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0
        self._then: Callable[[Any], object] = lambda _: None
        self._ended.connect(self._end)

    def think(self, work: Callable[[Stop], Any], then: Callable[[Any], object]) -> None:
        """Have something worked out and handed over on the interface thread.

        Parameters
        ----------
        work : callable
            Runs on a thread of its own; touches no widget, and no survey that anybody else has.
        then : callable
            Is given what `work` returned, or the `EnneadError` it raised.
        """
        self._number += 1
        self._then = then
        number = self._number
        threading.Thread(target=self._run, args=(number, work), name="thinker", daemon=True).start()

    def drop(self) -> None:
        """Want no answer any more."""
        self._number += 1

    @property
    def _now(self) -> int:
        return self._number

    def _run(self, number: int, work: Callable[[Stop], Any]) -> None:
        try:
            found = work(lambda: self._now != number)
        except Exception as error:  # noqa: BLE001 - told where faults are told, on the interface thread
            found = error
        # Whoever asked may be gone by now.
        with contextlib.suppress(RuntimeError):
            self._ended.emit(number, found)

    def _end(self, number: int, found: Any) -> None:
        if isinstance(found, Exception) and not isinstance(found, EnneadError):
            raise found
        if number == self._number:
            self._then(found)
