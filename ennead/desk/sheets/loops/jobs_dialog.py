"""Print jobs: the list in its order, one of them to be typed, and how the passes are planned."""

from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QListWidget,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.sheets.loops.job_facts import JobFacts, seconds_of
from ennead.desk.sheets.loops.recall_dialog import scrolled
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.dialog_foot import DialogFoot
from ennead.desk.widgets.field import Field
from ennead.desk.widgets.tick_box import TickBox
from ennead.desk.widgets.today import today
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, change
from ennead.edits.print_jobs import add_job, change_job, move_job, remove_job, set_printed, set_printing
from ennead.reports.pass_rows import boxes_of, clock_text
from ennead.studio.errors import EnneadError
from ennead.studio.print_job import PrintJob


class JobsDialog(QDialog):
    """The dialog; what is typed in it is an edit each, and undone as any other."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("jobs_dialog")
        self.setWindowTitle("Print jobs")
        self._table = table
        self.listed, self.facts = QListWidget(), JobFacts(book)
        self.listed.setAccessibleName("Print jobs, in the order in which a track passes its boxes")
        self.listed.setWordWrap(True)
        self.listed.currentRowChanged.connect(lambda _: self._show())
        self.setup, self.share = (
            Field(),
            TickBox("Share boxes within a pass", book.now),
        )
        self.share.setToolTip("Jobs with one box and one card may share a pass where they never sound at once")
        self.setup.setAccessibleName("Time to dial before a pass")
        self.setup.editingFinished.connect(self._set_up)
        self.share.clicked.connect(lambda on: table.do(change("Share boxes within a pass", set_printing, share=on)))
        form = QFormLayout()
        form.addRow("Before each pass", self.setup)
        form.addRow(self.share)
        left = QVBoxLayout()
        left.addWidget(self.listed, 1)
        left.addLayout(form)
        body = QHBoxLayout()
        body.addLayout(left, 3)
        body.addWidget(scrolled(self.facts), 4)
        foot = DialogFoot(
            self,
            (
                ("add", "Add a job", "One more track, of the same song", self.add),
                ("up", "Earlier", "Before the job above it", lambda: self.move(-1)),
                ("down", "Later", "After the job below it", lambda: self.move(1)),
                ("remove", "Remove", "Print it no more", self.remove),
            ),
        )
        self.said, self.buttons = foot.said, foot.buttons
        column = QVBoxLayout(self)
        column.addLayout(body, 1)
        column.addLayout(foot)
        self.resize(min(book.now.px(960), 1_180), min(book.now.px(600), 700))
        self.facts.stated.connect(self._state)
        self.facts.refused.connect(lambda error: self.said.setText(str(error)))
        table.changed.connect(self.refresh)
        table.said.connect(self.said.setText)
        self.refresh()

    @property
    def job(self) -> PrintJob | None:
        """The job that is chosen."""
        jobs = list(self._table.studio.prints.values())
        row = self.listed.currentRow()
        return jobs[row] if 0 <= row < len(jobs) else None

    def refresh(self) -> None:
        """Show what there is now; what was chosen stays so as far as it can."""
        studio, at = self._table.studio, self.listed.currentRow()
        self.listed.blockSignals(True)
        self.listed.clear()
        for job in studio.prints.values():
            song = f"{job.song}: " if job.song else ""
            done = f"  ✓ {job.printed}" if job.printed else ""
            self.listed.addItem(f"{song}{job.track} → {boxes_of(studio, job)}, {clock_text(job.length_s)}{done}")
        self.listed.setCurrentRow(max(0, min(at, len(studio.prints) - 1)) if studio.prints else -1)
        self.listed.blockSignals(False)
        self.setup.setText(clock_text(studio.printing.setup_s))
        self.share.setChecked(studio.printing.share)
        self._show()

    def _show(self) -> None:
        self.facts.show_job(self._table.studio, self.job)
        for key in ("up", "down", "remove"):
            self.buttons[key].setEnabled(self.job is not None)
        if not self._table.studio.prints:
            self.said.setText("Add the first track that is to be printed through a box.")

    def add(self) -> None:
        """Add a job: of the song of the one that is chosen, through a box of a loop."""
        studio, last = self._table.studio, self.job
        loops = [box for d in studio.session_destinations for box in d.boxes]
        boxes = last.boxes if last is not None else tuple((loops or list(studio.units))[:1])
        if not boxes:
            self.said.setText("There is no box yet. Take one from the shelf on Rig first.")
            return
        song, length = (last.song, last.length_s) if last is not None else ("", 240.0)
        track = f"Track {len(studio.prints) + 1}"
        self.said.setText("")
        if self._table.do(change(f"Print {track}", add_job, song, track, boxes, length)):
            self.listed.setCurrentRow(self.listed.count() - 1)
            self.facts.fields["track"].setFocus()
            self.facts.fields["track"].selectAll()

    def move(self, by: int) -> None:
        """Move the chosen job in the list."""
        job, row = self.job, self.listed.currentRow()
        if job is not None and self._table.do(change(f"Move {job.track} in the list", move_job, job.id, by)):
            self.listed.setCurrentRow(max(0, min(self.listed.count() - 1, row + by)))

    def remove(self) -> None:
        """Remove the chosen job."""
        if (job := self.job) is not None:
            self._table.do(change(f"Print {job.track} no more", remove_job, job.id))

    def _set_up(self) -> None:
        studio, text = self._table.studio, self.setup.text()
        if text == clock_text(studio.printing.setup_s):
            return
        try:
            seconds = seconds_of(text, "the time to dial")
        except EnneadError as error:
            self.said.setText(str(error))
            self.setup.setText(clock_text(studio.printing.setup_s))
        else:
            self._table.do(change("Time to dial before a pass", set_printing, setup_s=seconds))

    def _state(self, key: str, value: object) -> None:
        job = self.job
        if job is None:
            return
        self.said.setText("")
        wanted: Change
        if key == "printed":
            label = f"{job.track} is printed" if value else f"Print {job.track} once more"
            wanted = change(label, set_printed, job.id, today() if value else "")
        else:
            wanted = change(f"Change the print of {job.track}", change_job, job.id, **{key: value})
        if not self._table.do(wanted):
            self.facts.show_job(self._table.studio, job)
