"""Sees that Python collects garbage on the interface thread only.

The collector runs wherever it is due, on the autosave's thread as well; there it could destroy a Qt object that
belongs to the interface, and Qt objects must go on their own thread.
"""

import gc

from PyQt6.QtCore import QObject, QTimer

_EVERY_MS = 2_000


class GarbageTimer(QObject):
    """Collects on a timer what the automatic collector, switched off, would have collected."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.collect)
        self._timer.start(_EVERY_MS)

    def collect(self) -> None:
        """Collect the generations that are due; a full collection is left to idle times of many edits."""
        counts, thresholds = gc.get_count(), gc.get_threshold()
        for generation in (2, 1, 0):
            if counts[generation] > thresholds[generation]:
                gc.collect(generation)
                return
