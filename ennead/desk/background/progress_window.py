"""A background task with a small window that says what is being done, and can cancel it."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QLabel, QProgressDialog, QWidget

from ennead.desk.background.background_task import BackgroundTask
from ennead.studio.errors import EnneadError

#: House default: what is done sooner shows nothing.
_QUIET_MS = 400


class ProgressWindow(QObject):
    """One piece of work with a window of its own.

    Parameters
    ----------
    saying : str
        What is being done, such as *Reading the list*.
    work : callable
        Runs on a thread; touches no widget.
    then : callable
        Is given what `work` returned, on the interface thread; not called when the work was dropped or failed.
    failed : callable
        Is given the sentence of what went wrong.
    """

    def __init__(
        self,
        window: QWidget,
        saying: str,
        work: Callable[[], Any],
        then: Callable[[Any], object],
        failed: Callable[[str], object],
    ) -> None:
        super().__init__(window)
        self._then, self._failed, self._task = then, failed, BackgroundTask(self)
        words = QLabel(f"{saying}…")
        words.setTextFormat(Qt.TextFormat.PlainText)
        self._progress = QProgressDialog("", "Drop it", 0, 0, window)
        self._progress.setLabel(words)
        self._progress.setWindowModality(Qt.WindowModality.WindowModal)
        self._progress.setMinimumDuration(_QUIET_MS)
        self._progress.canceled.connect(self._drop)
        self._task.start(lambda _: _told(work), self._end)

    def _drop(self) -> None:
        self._task.drop()
        self._clear()

    def _clear(self) -> None:
        self._progress.canceled.disconnect(self._drop)
        self._progress.reset()
        self._progress.deleteLater()
        self.deleteLater()

    def _end(self, found: Any) -> None:
        self._clear()
        if isinstance(found, EnneadError):
            self._failed(str(found))
        else:
            self._then(found)


class _Unexpected(EnneadError):
    """What the work itself failed at, as a sentence, or the window would wait for ever."""

    def __str__(self) -> str:
        return f"That could not be done ({self.args[0]}). Nothing has been changed."


def _told(work: Callable[[], Any]) -> Any:
    try:
        return work()
    except EnneadError:
        raise
    except Exception as error:
        raise _Unexpected(type(error).__name__) from error
