"""A window offscreen with a home of its own; Qt's warnings fail the test that caused them."""

import gc
import os
import sys
import tempfile
import time
import traceback
import unittest
import weakref
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import (
    QCoreApplication,
    QEvent,
    QObject,
    QPoint,
    QPointF,
    Qt,
    QTimer,
    QtMsgType,
    qInstallMessageHandler,
)
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QPushButton

from ennead.desk.background.background_task import at_work
from ennead.desk.shell.app import STYLE, build_window, prepare, take_down
from ennead.files.studio_path import write_studio
from ennead.studio.document import Studio, empty_studio
from tests.builders import SCRATCH, read_back

_messages: list[str] = []


def _caught(kind: type[BaseException], error: BaseException, trace: object) -> None:
    """Qt calls slots where no test can catch; what they raise is kept and fails the test."""
    _messages.append("".join(traceback.format_exception(kind, error, trace)))  # type: ignore[arg-type]


_HARMLESS = ("This plugin does not support", "propagateSizeHints", "XDG_RUNTIME_DIR")


def _listen(kind: QtMsgType, _context: object, message: str | None) -> None:
    if kind != QtMsgType.QtDebugMsg and not any(h in (message or "") for h in _HARMLESS):
        _messages.append(message or "")


def application() -> QApplication:
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["ennead", *STYLE])
        prepare()
    qInstallMessageHandler(_listen)
    sys.excepthook = _caught
    return app


class DeskCase(unittest.TestCase):
    """Builds a window on a studio; `self.studio` is what is on its table now."""

    start: Studio | None = None

    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory(dir=SCRATCH)
        self.addCleanup(held.cleanup)
        self.home = Path(held.name)
        for name in ("XDG_CONFIG_HOME", "XDG_DATA_HOME"):
            os.environ[name] = held.name
        self.app = application()
        _messages.clear()
        self.path = self.home / "test.ennead"
        self.window = None
        self.open(self.start or empty_studio("Test"))

    def open(self, studio: Studio | None = None) -> None:
        """Close the window that is open and open one anew, on a studio or on what was left."""
        if self.window is not None:
            self.leave()
        if studio is not None:
            write_studio(self.path, studio)
        self.window = build_window(self.path if studio is not None else None)
        self.window.resize(1280, 800)
        self.window.book.choose("paper")
        self.window.show()
        self.window.activateWindow()
        QTest.qWaitForWindowExposed(self.window)
        self.table = self.window.table
        self.said: list[str] = []
        self.table.said.connect(self.said.append)
        # What is made on the table is written, read and equal; a fault comes by `_caught` and fails the test.
        self.table.undo_stack.indexChanged.connect(self._read_back)
        self.settle()

    def _read_back(self, index: int) -> None:
        if index == self.table.undo_stack.count():
            read_back(self.table.studio)

    def leave(self) -> None:
        """Close the window and see that nothing of it is left.

        What Python still holds of widgets that are gone keeps names for their viewports and scroll bars, and another window's may lie at
        the same addresses before the collector comes by.
        """
        # Hidden, it asks nobody about cords that are left plugged.
        self.window.hide()
        self.window.close()
        self.settle()
        take_down(self.window)
        self.settle()
        self.until(lambda: not at_work())
        window = weakref.ref(self.window)
        for name in [name for name, value in vars(self).items() if isinstance(value, QObject) and name != "app"]:
            setattr(self, name, None)
        for _ in range(3):
            # Outside of an event loop Qt keeps what is to be deleted later, the slots' proxies among it, until it is told.
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            gc.collect()
            if window() is None:
                return
        self.fail("something still holds the window")

    def tearDown(self) -> None:
        self.leave()
        self.assertEqual(_messages, [])

    @property
    def studio(self) -> Studio:
        return self.table.studio

    def settle(self) -> None:
        for _ in range(4):
            self.app.processEvents()

    def until(self, condition, seconds: float = 60.0) -> None:
        """Wait for something that happens on another thread."""
        deadline = time.monotonic() + seconds
        while not condition():
            self.assertLess(time.monotonic(), deadline, "it never happened")
            QTest.qWait(5)

    def press(self, *keys: str, into=None) -> None:
        """Press keys by name (``Ctrl+Z``, ``Return``, ``Down``) in the widget that has the keyboard."""
        for name in keys:
            if self.app.focusWidget() is None:
                # A window manager gives the keyboard back after a dialog; offscreen there is none.
                self.window.activateWindow()
                self.settle()
            *held, last = name.split("+") if name != "+" else [name]
            modifiers = Qt.KeyboardModifier.NoModifier
            for word in held:
                modifiers |= {
                    "Ctrl": Qt.KeyboardModifier.ControlModifier,
                    "Alt": Qt.KeyboardModifier.AltModifier,
                    "Shift": Qt.KeyboardModifier.ShiftModifier,
                }[word]
            QTest.keyClick(into or self.app.focusWidget() or self.window, getattr(Qt.Key, f"Key_{last}"), modifiers)
            self.settle()

    def type(self, text: str, into=None) -> None:
        for letter in text:
            QTest.keyClick(into or self.app.focusWidget() or self.window, letter)
        self.settle()

    def in_dialog(self, name: str, deed) -> None:
        """Have something done in a modal dialog once it is open."""

        def look() -> None:
            dialog = next((w for w in self.app.topLevelWidgets() if w.objectName() == name and w.isVisible()), None)
            if dialog is None:
                QTimer.singleShot(10, look)
            else:
                try:
                    deed(dialog)
                except BaseException:
                    # Left open, it would wait for somebody for ever.
                    QDialog.reject(dialog)
                    raise

        QTimer.singleShot(0, look)

    def field(self) -> QLineEdit | None:
        """Return the field a driver number is typed into, if one is open."""
        return next((f for f in self.window.findChildren(QLineEdit, "number_entry") if f.isVisible()), None)

    def undo_all(self) -> None:
        for _ in range(self.table.undo_stack.count() + 1):
            self.press("Ctrl+Z")
        self.assertFalse(self.table.undo_stack.canUndo())

    def drag(self, widget, start: QPointF, end: QPointF, *keys: str) -> None:
        """Press, move in steps and let go with the left button; keys are pressed before it is let go."""
        a, b = start.toPoint(), end.toPoint()
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=a)
        for part in (0.3, 0.6, 1.0):
            QTest.mouseMove(
                widget, QPoint(round(a.x() + part * (b.x() - a.x())), round(a.y() + part * (b.y() - a.y())))
            )
            self.settle()
        self.press(*keys)
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=b)
        self.settle()

    def button(self, text: str) -> QPushButton:
        """Return the visible button whose text, on one line, begins so."""
        self.settle()
        found = [
            b
            for b in self.window.findChildren(QPushButton)
            if b.isVisible() and b.text().replace("\n", " ").startswith(text)
        ]
        self.assertTrue(found, f"no button “{text}”")
        return found[0]

    def click(self, widget) -> None:
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
        self.settle()
