"""Work that takes a while, done aside: the window stays alive, shows that it goes on, and can drop it."""

import contextlib
import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QProgressDialog, QWidget

from ennead.studio.errors import EnneadError

#: House default: what is done sooner shows nothing.
_QUIET_MS = 400


class Aside(QObject):
    """One piece of work on a thread of its own.

    Parameters
    ----------
    saying : str
        What is being done, such as *Reading the list*.
    work : callable
        Runs on the thread; touches no widget.
    then : callable
        Is given what `work` returned, on the interface thread; not called when the work was dropped or failed.
    failed : callable
        Is given the sentence of what went wrong.
    """

    _ended = pyqtSignal(bool, object)

    def __init__(
        self, window: QWidget, saying: str, work: Callable[[], Any], then: Callable[[Any], object],
        failed: Callable[[str], object],
    ) -> None:  # fmt: skip
        super().__init__(window)
        self._work, self._then, self._failed, self._dropped = work, then, failed, False
        words = QLabel(f"{saying}…")
        words.setTextFormat(Qt.TextFormat.PlainText)
        self._progress = QProgressDialog("", "Drop it", 0, 0, window)
        self._progress.setLabel(words)
        self._progress.setWindowModality(Qt.WindowModality.WindowModal)
        self._progress.setMinimumDuration(_QUIET_MS)
        self._progress.canceled.connect(self._drop)
        self._ended.connect(self._end)
        threading.Thread(target=self._run, name="aside", daemon=True).start()

    def _run(self) -> None:
        try:
            done: tuple[bool, object] = True, self._work()
        except EnneadError as error:
            done = False, str(error)
        except Exception as error:  # noqa: BLE001 - it must come back as a sentence, or the window would wait for ever
            done = False, f"That could not be done ({type(error).__name__}). Nothing has been changed."
        # Closed in the meantime, the window no longer wants it.
        with contextlib.suppress(RuntimeError):
            self._ended.emit(*done)

    def _drop(self) -> None:
        self._dropped = True

    def _end(self, well: bool, result: object) -> None:
        self._progress.canceled.disconnect(self._drop)
        self._progress.reset()
        self._progress.deleteLater()
        self.deleteLater()
        if not self._dropped:
            (self._then if well else self._failed)(result)  # type: ignore[arg-type]
