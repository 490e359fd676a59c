"""Work on a thread with a bar of its progress and a button that stops it."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QProgressBar, QPushButton

from ennead.desk.background.background_task import BackgroundTask
from ennead.studio.errors import EnneadError


class Stopped(EnneadError):
    """The work was stopped by the person."""

    def __str__(self) -> str:
        return "Stopped; nothing was measured."


class CancelledWork(QObject):
    """One piece of work at a time; `busy` says when it begins and ends, `failed` carries what went wrong, in words."""

    busy = pyqtSignal(bool)
    failed = pyqtSignal(str)

    def __init__(self, owner: QObject) -> None:
        super().__init__(owner)
        self._background = BackgroundTask(owner)
        self.progress, self.stop = QProgressBar(), QPushButton("Stop")
        self.progress.setTextVisible(False)
        self.stop.setProperty("quiet", True)
        self.stop.setAutoDefault(False)
        self.stop.clicked.connect(self._stop)
        self._background.went.connect(self.progress.setValue)
        self.show_busy(False)

    def show_busy(self, busy: bool) -> None:
        """Show the bar and the button, or hide them."""
        for part in (self.progress, self.stop):
            part.setVisible(busy)

    def start(self, work: Callable[[Callable[[float], None]], object], then: Callable[[object], None]) -> None:
        """Have something done aside.

        Parameters
        ----------
        work : callable
            Is given what it tells its progress, 0 to 1, which raises where it is stopped.
        then : callable
            Is given what the work returned.
        """
        background = self._background

        def done(stopped: Callable[[], bool]) -> object:
            def progress(part: float) -> None:
                background.tell(part)
                if stopped():
                    raise Stopped

            return work(progress)

        def ended(found: object) -> None:
            self._working(False)
            if isinstance(found, EnneadError):
                self.failed.emit(str(found))
            else:
                then(found)

        self.progress.setValue(0)
        self._working(True)
        background.start(done, ended)

    def drop(self) -> None:
        """Want no answer any more, and have the work stopped."""
        self._background.drop()

    def _stop(self) -> None:
        self.drop()
        self._working(False)
        self.failed.emit(str(Stopped()))

    def _working(self, busy: bool) -> None:
        self.show_busy(busy)
        self.busy.emit(busy)
