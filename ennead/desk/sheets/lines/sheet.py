"""The Lines sheet: which way every signal takes, and what number comes out."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QPushButton, QStackedLayout, QWidget

from ennead.desk.sheets.lines.allocator import Allocator
from ennead.desk.sheets.lines.chart_rows import Sort
from ennead.desk.sheets.lines.chart_view import ChartView
from ennead.desk.sheets.lines.free_inputs import FreeInputs
from ennead.desk.sheets.lines.proposal_bar import ProposalBar
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.desk.worktable import Worktable
from ennead.planning.allocation import Proposal
from ennead.planning.taking import take
from ennead.studio.document import Studio

_SORTS: tuple[tuple[Sort, str], ...] = (("group", "by group"), ("number", "by number"), ("place", "by place"))


class LinesSheet(SheetFrame):
    """The run chart, its proposal, and the free inputs; `proposing` says whether there is a proposal to drop."""

    proposing = pyqtSignal(bool)

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, "Lines", "Which way does every signal take, and what number comes out?")
        self._table = table
        self.sort = QComboBox()
        self.sort.setAccessibleName("Sort the lines")
        for key, words in _SORTS:
            self.sort.addItem(words, key)
        self.allocate_button = QPushButton("Allocate")
        self.allocate_button.setObjectName("allocate")
        self.allocate_button.setToolTip("Propose a place for every source (Ctrl+Return)")
        self.allocate_button.clicked.connect(self.allocate)
        self.add_action(self.sort)
        self.add_action(self.allocate_button)
        self.bar = ProposalBar(book)
        self.body.addWidget(self.bar)
        self.chart = ChartView(table, book)
        list_button = QPushButton("Write the input list")
        list_button.clicked.connect(lambda: table.wished.emit("list"))
        empty = EmptyNote(book, "No source is listed yet. Every source of the session becomes one line here, with the "
                                "number you pick in the recording software at its end.", list_button)  # fmt: skip
        page = QWidget()
        self._pages = QStackedLayout(page)
        self._pages.addWidget(self.chart)
        self._pages.addWidget(empty)
        self.body.addWidget(page, 1)
        self.free = FreeInputs(table, book)
        self.body.addWidget(self.free)
        self._allocator = Allocator()
        self._allocator.done.connect(self._proposed)
        self._allocator.went.connect(self.bar.progress.setValue)
        self.sort.activated.connect(lambda i: self.chart.set_sort(_SORTS[i][0]))
        self.bar.taken.connect(self.take)
        self.bar.dropped.connect(self.drop)
        self.chart.toggled.connect(self._show_bar)
        self.setFocusProxy(self.chart)
        table.changed.connect(self._changed)
        self._changed()

    def _changed(self) -> None:
        self._pages.setCurrentIndex(0 if self._table.studio.current.sources else 1)
        self.free.setVisible(bool(self._table.survey.seats))
        self.drop()

    def allocate(self) -> None:
        """Have a place proposed for every source."""
        if not self._table.survey.seats:
            self._table.said.emit("There is no input to allocate to. Take an interface from the shelf on sheet 2.")
            return
        if not self._table.studio.current.sources:
            self._table.said.emit("There is no source to allocate. Write the input list on sheet 1.")
            return
        self.bar.working()
        self.proposing.emit(True)
        self._allocator.start(self._table.studio)

    def allocate_or_take(self) -> None:
        """Allocate; while a proposal is shown, take what is ticked of it."""
        if not self.isVisible():
            self._table.wished.emit("allocate")
        elif self.chart.proposal is not None and self.chart.taken:
            self.take()
        else:
            self.allocate()

    def _proposed(self, proposal: Proposal, studio: Studio) -> None:
        if studio is not self._table.studio:
            return
        self.chart.propose(proposal)
        self._show_bar()
        self.proposing.emit(True)

    def _show_bar(self) -> None:
        if self.chart.proposal is not None:
            self.bar.propose(self.chart.proposal, self._table.studio, len(self.chart.taken))

    def take(self) -> None:
        """Carry out what is ticked of the proposal, as one step."""
        proposal, taken = self.chart.proposal, self.chart.taken
        if proposal is not None and taken:
            self._table.do(take(self._table.survey, proposal, taken))

    def drop(self) -> None:
        """Stop a search; show no proposal."""
        self._allocator.stop()
        self.proposing.emit(False)
        self.bar.hide()
        if self.chart.proposal is not None:
            self.chart.propose(None)

    def stop(self) -> None:
        """End the allocator's thread."""
        self._allocator.close()
