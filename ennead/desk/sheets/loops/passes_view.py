"""The passes to look at and to walk about by arrows; planned aside whenever what they rest on is another."""

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QShowEvent

from ennead.desk.background.background_task import BackgroundTask, Stopped
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.layouts.passes_layout import PassesLayout, lay_passes
from ennead.drawings.painters.passes_paint import PassesPainter
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.passes.print_plan import StudioPasses, print_plan
from ennead.reports.pass_rows import PassRow, afterwards_line, boxes_of, pass_rows
from ennead.studio.errors import EnneadError
from ennead.survey.survey import Survey

_NOWHERE = PassesLayout(0, 0, 0, 0)


class PassesView(Drawing):
    """Rows of passes, the chosen one opened.

    `planned` says that there is another plan, or that one is being made, `opened` that another pass
    is chosen.
    """

    planned = pyqtSignal()
    opened = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        self.layout_now, self.rows, self.chosen = _NOWHERE, list[PassRow](), 0
        self.found: StudioPasses | None = None
        self.is_planning = False
        self._rests_on: tuple[object, ...] = ()
        super().__init__(table, book)
        self.setObjectName("passes")
        self.setAccessibleName("Print passes")
        self._background = BackgroundTask(self)
        table.changed.connect(self._plan)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._plan()

    def _plan(self) -> None:
        """Have the passes planned anew where anything they rest on is another; unseen, it can wait."""
        studio = self.table.studio
        now: tuple[object, ...] = (studio.prints, studio.printing, studio.recalls)
        if studio.prints:
            survey = self.table.survey
            now += (
                survey.destinations,
                survey.output_points,
                survey.input_points,
                survey.signal_paths,
                survey.settings,
            )
        same = len(now) == len(self._rests_on) and all(a is b for a, b in zip(now, self._rests_on, strict=True))
        if same or not self.isVisible():
            return
        self._rests_on = now
        self.is_planning = True

        def work(stopped: Stopped) -> StudioPasses:
            return print_plan(Survey(studio), stopped=stopped)

        self._background.start(work, self._planned)
        self.planned.emit()

    def _planned(self, found: StudioPasses | EnneadError) -> None:
        self.is_planning = False
        if isinstance(found, EnneadError):
            self.table.said.emit(str(found))
            return
        self.found = found
        self.rows = pass_rows(self.table.studio, found)
        self.chosen = min(self.chosen, len(self.rows))
        self.refresh()
        self.planned.emit()

    def lay_out(self) -> None:
        theme, studio = self.book.now, self.table.studio
        row = next((r for r in self.rows if r.n == self.chosen), None)
        # What the plan names may have left since it was made; the next plan is on its way.
        there = row is not None and all(j.id in studio.prints and set(j.boxes) <= set(studio.units) for j in row.jobs)
        below: list[str] = []
        if row is not None and there:
            below = [f"Dial  {line}" for line in row.dials]
            below += [f"Then  {afterwards_line(studio, job)}" for job in row.jobs]
        setup = self.found.problem.setup_s if self.found is not None else 0.0
        width = float(self.viewport().width())
        self.layout_now = lay_passes(self.rows, setup, self.chosen, below, width, theme.px)

    def content_size(self) -> tuple[float, float]:
        return self.layout_now.width, self.layout_now.height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        studio = self.table.studio
        if self.layout_now.lines and all(set(j.boxes) <= set(studio.units) for r in self.rows for j in r.jobs):
            PassesPainter(painter, self.book.now, lambda job: boxes_of(studio, job)).draw(self.layout_now, self.chosen)

    def choose(self, n: int) -> None:
        """Open a pass by its number."""
        if self.rows:
            self.chosen = max(1, min(n, len(self.rows)))
            self.refresh()
            self.settle()
            line = next(line for line in self.layout_now.lines if line.row.n == self.chosen)
            self.reveal(QRectF(0, line.y, 1, line.height))
            self.opened.emit()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (line := self.layout_now.line_at((event.position() + self.offset()).y())) is not None:
            self.choose(line.row.n)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key())) if event is not None else None
        if step is not None:
            self.choose(self.chosen + step)
        else:
            super().keyPressEvent(event)
