"""Carries out what can wait one deed at a time, each in a turn of the event loop of its own."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer


class IdleQueue(QObject):
    """A queue of deeds; between two of them keys are answered and the window is painted.

    Timers that fall due together are all served in one turn, so that three deeds of 40 ms would block for 120.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._deeds: dict[str, Callable[[], object]] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._next)

    def later(self, key: str, deed: Callable[[], object], wait_ms: int = 0) -> None:
        """Have a deed carried out after all that wait already; the same key asked for again waits once, at the end."""
        if not self._deeds:
            # What was asked for a moment ago is painted in the first turn.
            self._deeds[""] = lambda: None
        self._deeds.pop(key, None)
        self._deeds[key] = deed
        self._timer.start(max(wait_ms, self._timer.remainingTime()))

    @property
    def is_empty(self) -> bool:
        """Whether nothing waits."""
        return not self._deeds

    def clear(self) -> None:
        """Forget all that waits."""
        self._deeds.clear()
        self._timer.stop()

    def _next(self) -> None:
        deed = self._deeds.pop(next(iter(self._deeds)))
        if self._deeds:
            self._timer.start(0)
        deed()
