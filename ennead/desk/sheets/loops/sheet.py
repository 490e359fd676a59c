"""The Loops sheet: rows of loops on one axis of delay and one of level, the chosen one opened."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QSplitter

from ennead.desk.background.background_task import BackgroundTask, Stopped
from ennead.desk.sheets.loops.calibrate_dialog import CalibrateDialog
from ennead.desk.sheets.loops.jobs_dialog import JobsDialog
from ennead.desk.sheets.loops.loops_view import LoopsView
from ennead.desk.sheets.loops.new_loop import NewLoop
from ennead.desk.sheets.loops.passes_pane import PassesPane
from ennead.desk.shell.sheet_list import BY_NUMBER, LOOPS
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.routing.loop_making import make_loop
from ennead.studio.errors import EnneadError
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey


class LoopsSheet(SheetFrame):
    """Outboard as inserts."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[LOOPS])
        self._table, self._background = table, BackgroundTask(self)
        self.view = LoopsView(table, book)
        self.new, first = QPushButton("New loop…"), QPushButton("New loop…")
        for button in (self.new, first):
            button.clicked.connect(self.make_loop)
        self.calibrate_button = QPushButton("Calibrate…")
        self.calibrate_button.clicked.connect(self.calibrate)
        self.measure_button = QPushButton("Measure by files…")
        self.measure_button.clicked.connect(self.measure)
        self.add_action(self.calibrate_button, gives_way=True)
        self.live_button = QPushButton("Measure live…")
        self.live_button.clicked.connect(self.measure_live)
        self.add_action(self.measure_button, gives_way=True)
        self.add_action(self.live_button, gives_way=True)
        self.add_action(self.new)
        empty = EmptyNote(
            book,
            "No outboard loop is on this session's list. A loop sends a track out of the"
            " computer, through a box and back in."
            " Take the box from the shelf on Rig first, then make its loop here.",
            first,
        )
        self.passes = PassesPane(table, book)
        self.passes.jobs.clicked.connect(self.list_jobs)
        self.recall_button, self.jobs_button = QPushButton("Recall cards…"), QPushButton("Print jobs…")
        self.recall_button.clicked.connect(lambda: table.wished.emit("recall"))
        self.jobs_button.clicked.connect(self.list_jobs)
        for button in (self.jobs_button, self.recall_button):
            self.add_action(button, gives_way=True)
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.setChildrenCollapsible(False)
        parts.addWidget(self.view)
        parts.addWidget(self.passes)
        parts.setSizes([530, 190])
        self._pages = self.add_pages(parts, empty)
        self.setFocusProxy(self.view)
        table.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        some = any(d.kind == "loop" for d in self._table.survey.destinations)
        self._pages.setCurrentIndex(0 if some else 1)
        self.new.setVisible(some)
        self.want(self.calibrate_button, some)
        self.want(self.measure_button, some)
        self.want(self.live_button, some)
        self.want(self.recall_button, bool(self._table.studio.units))
        prints = bool(self._table.studio.prints)
        self.want(self.jobs_button, some and not prints)
        self.passes.setVisible(prints)

    def list_jobs(self) -> None:
        """Show the print jobs, to be added to and changed."""
        dialog = JobsDialog(self._table, self.book, self)
        dialog.exec()
        dialog.deleteLater()
        self.view.setFocus()

    def calibrate(self) -> None:
        """Go through the steps for the chosen loop."""
        self.view.settle()
        chosen = self.view.layout_now.chosen
        if chosen is None or not chosen.circuit.closed:
            self._table.said.emit("Choose a loop that goes round: only such a one can be calibrated.")
            return
        CalibrateDialog(self._table, self.book, chosen, self).exec()
        self.view.setFocus()

    def measure(self) -> None:
        """Measure the chosen loop by files."""
        self.view.settle()
        chosen = self.view.layout_now.chosen
        if chosen is None or not chosen.circuit.closed:
            self._table.said.emit("Choose a loop that goes round: only such a one can be measured.")
            return
        # NumPy is read with it, which the start does without.
        from ennead.desk.sheets.loops.measure_dialog import MeasureDialog

        dialog = MeasureDialog(self._table, self.book, chosen, self)
        dialog.exec()
        dialog.deleteLater()
        self.view.setFocus()

    def measure_live(self) -> None:
        """Measure loops through the running audio server."""
        self.view.settle()
        chosen = self.view.layout_now.chosen
        from ennead.desk.sheets.loops.live_dialog import LiveDialog

        dialog = LiveDialog(self._table, self.book, chosen.loop.id if chosen is not None else None, self)
        dialog.exec()
        dialog.deleteLater()
        self.view.setFocus()

    def make_loop(self) -> None:
        """Ask for boxes, find the loop its places aside, and put it on the session's list."""
        dialog = NewLoop(self._table.survey, self)
        if not dialog.exec():
            return
        wanted = dialog.wanted
        studio = self._table.studio
        self._table.said.emit(f"Looking for free outputs and inputs for {wanted.name}…")

        def work(_: Stopped) -> Change:
            return make_loop(
                Survey(studio),
                wanted.name,
                wanted.boxes,
                wanted.channels,
                wanted.back,
                parallel=wanted.parallel,
                digital=wanted.digital,
            )

        self._background.start(work, self._made)
        self.view.setFocus()

    def _made(self, found: Change | EnneadError) -> None:
        if isinstance(found, EnneadError):
            self._table.said.emit(str(found))
            return
        before = set(self._table.studio.destinations)
        if self._table.do(found):
            for key in self._table.studio.destinations:
                if key not in before:
                    self._table.select(Subject("destination", key))
