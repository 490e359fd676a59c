"""The lower part of the Loops sheet: what is to be printed in real time, how long it takes, and the passes."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ennead.desk.sheets.loops.passes_view import PassesView
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.today import today
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, step
from ennead.edits.print_jobs import set_printed
from ennead.reports.pass_rows import passes_said


class PassesPane(QWidget):
    """The pane; seen where there is anything to print."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self.view, self.said = PassesView(table, book), QLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        set_tone(self.said, "ink")
        self.jobs, self.done_button = QPushButton("Print jobs…"), QPushButton("Pass is printed")
        self.done_button.setToolTip("Note that every job of the chosen pass was printed today")
        self.done_button.clicked.connect(self.printed)
        head = QHBoxLayout()
        head.addWidget(self.said, 1)
        for button in (self.done_button, self.jobs):
            button.setProperty("quiet", True)
            head.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(head)
        column.addWidget(self.view, 1)
        self.view.planned.connect(self._say)
        self.view.opened.connect(self._say)
        self._say()

    def _say(self) -> None:
        view = self.view
        if view.is_planning:
            text = "Planning the passes…"
        elif view.found is not None:
            studio = self._table.studio
            cannot = [
                f"{studio.prints[key].track} cannot be printed: {why}."
                for key, why in view.found.cannot.items()
                if key in studio.prints
            ]
            text = " ".join([passes_said(view.found), *cannot[:2]])
        else:
            text = ""
        # With large text the first words have to do, and the whole is on hover.
        room = self.width() - self.done_button.sizeHint().width() - self.jobs.sizeHint().width()
        wide = self._book.now.width(text, 14) < 1.9 * room
        self.said.setText(text if wide else text.split(" with ")[0])
        self.said.setToolTip(text)
        self.done_button.setEnabled(not view.is_planning and view.chosen > 0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._say()

    def printed(self) -> None:
        """Note the jobs of the chosen pass as printed today."""
        row = next((r for r in self.view.rows if r.n == self.view.chosen), None)
        if row is not None:
            steps = tuple([step(set_printed, job.id, today()) for job in row.jobs])
            self._table.do(Change(f"Pass {row.n} is printed", steps))
