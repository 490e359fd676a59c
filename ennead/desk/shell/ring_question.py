"""Asks at once where an edit has let a normal close a ring: the pair is opened, or left."""

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QMessageBox, QWidget

from ennead.checks.finding import Finding, Fix
from ennead.desk.shell.worktable import Worktable
from ennead.studio.subjects import Subject


class RingQuestion(QObject):
    """Watches what is found after each edit."""

    def __init__(self, table: Worktable, window: QWidget) -> None:
        super().__init__(window)
        self._table, self._window = table, window
        #: Where rings were last found; None for a studio that has not been looked at yet.
        self._known: set[Subject] | None = None
        table.begun.connect(self._begin)
        table.changed.connect(lambda: table.follow_edit("ring_question", self._look))
        self._look()

    def _begin(self) -> None:
        self._known = None

    def _look(self) -> None:
        table = self._table
        if not table.is_settled:
            return
        there = {f.subject: f for f in table.findings if f.rule == "signal_in_ring" and f.fixes}
        # What a studio comes with is in the list of findings; only what is done here is asked about.
        new = [f for subject, f in there.items() if self._known is not None and subject not in self._known]
        self._known = set(there)
        if new:
            self._ask(new[0], new[0].fixes[0])

    def _ask(self, finding: Finding, fix: Fix) -> None:
        box = QMessageBox(self._window)
        box.setObjectName("ring_question")
        box.setWindowTitle("A ring")
        box.setText(f"{finding.message} A normal closes it.")
        box.setInformativeText(f"{fix.text}?")
        opens = box.addButton("Open this pair", QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        studio = self._table.studio

        def answered() -> None:
            if box.clickedButton() is opens and self._table.studio is studio:
                self._table.fix(fix)
            box.deleteLater()

        box.finished.connect(answered)
        box.open()
