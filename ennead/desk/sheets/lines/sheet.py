"""The Lines sheet: which way every signal takes, in and out, and what number it has."""

from functools import cached_property

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QPushButton, QStackedLayout, QWidget

from ennead.desk.background.background_task import BackgroundTask, Stopped
from ennead.desk.sheets.lines.chart_view import ChartView
from ennead.desk.sheets.lines.free_sockets import FreeInputs, FreeOutputs
from ennead.desk.sheets.lines.out_view import OutView
from ennead.desk.sheets.lines.proposal_bar import ProposalBar
from ennead.desk.sheets.lines.standing_bar import StandingBar
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.desk.widgets.switch import ChoiceSwitch
from ennead.drawings.layouts.chart_rows import Sort
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.seating.allocation import Proposal, allocate
from ennead.planning.seating.proposal_change import take
from ennead.studio.document import Studio
from ennead.survey.survey import Survey

_SORTS: tuple[tuple[Sort, str], ...] = (("group", "by group"), ("number", "by number"), ("place", "by place"))


class LinesSheet(SheetFrame):
    """The run charts, their proposal, and the free inputs.

    Signals `proposing` with whether there is a proposal to drop, `asked` with what a line is of and the socket of
    another line it was dropped on.
    """

    proposing = pyqtSignal(bool)
    asked = pyqtSignal(str, object)

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[5])
        self._table = table
        self.proposal: Proposal | None = None
        self.taken: frozenset[str] = frozenset()
        self._build_head(table)
        self.bar = ProposalBar(book)
        self.body.addWidget(self.bar)
        self.standing = StandingBar(lambda: table.trace_standing(False))
        self.body.addWidget(self.standing)
        self.chart = ChartView(table, book)
        page = QWidget()
        self._pages = QStackedLayout(page)
        self._pages.addWidget(self.chart)
        self._pages.addWidget(
            self._empty(
                "No source is listed yet. Every source of the session becomes one line here, with the "
                "number you pick in the recording software at its end.",
                "Write the input list",
                "list",
            )
        )
        self._pages.addWidget(
            self._empty(
                "Nobody listens yet. Loudspeakers, cues, sends, click and loops become lines here, from "
                "the number you pick in the recording software to the ear.",
                "Write what goes out",
                "outs",
            )
        )
        self.body.addWidget(page, 1)
        self.free = FreeInputs(table, book)
        self.body.addWidget(self.free)
        self._search = BackgroundTask(self)
        self._search.went.connect(self.bar.progress.setValue)
        self.sort.activated.connect(lambda i: self.chart.set_sort(_SORTS[i][0]))
        self.bar.taken.connect(self.take)
        self.bar.dropped.connect(self.drop)
        self.bar.asked.connect(lambda: table.wished.emit("shortage"))
        self.chart.toggled.connect(self.toggle)
        self.chart.asked.connect(self.asked)
        table.changed.connect(self._changed)
        table.selected.connect(self._follow)
        self._changed()

    def _build_head(self, table: Worktable) -> None:
        self.way = ChoiceSwitch(self.book, (("in", "Inputs"), ("out", "Outputs")), "Inputs or outputs")
        self.way.chosen.connect(lambda _: self._show_page())
        self.sort = QComboBox()
        self.sort.setAccessibleName("Sort the lines")
        for key, words in _SORTS:
            self.sort.addItem(words, key)
        self.ask = QPushButton("What if…")
        self.ask.setObjectName("what_if")
        self.ask.setProperty("quiet", True)
        self.ask.setToolTip("What if a unit dies tonight? (Ctrl+Shift+L)")
        self.ask.clicked.connect(lambda: table.wished.emit("unit_loss"))
        self.aims_button = QPushButton("Aims…")
        self.aims_button.setObjectName("aims")
        self.aims_button.setProperty("quiet", True)
        self.aims_button.setToolTip("What matters more than what when places are found")
        self.aims_button.clicked.connect(lambda: table.wished.emit("aims"))
        self.allocate_button = QPushButton("Allocate")
        self.allocate_button.setObjectName("allocate")
        self.allocate_button.setToolTip("Propose a place for everything that comes in and goes out (Ctrl+Return)")
        self.allocate_button.clicked.connect(self.allocate)
        self.add_action(self.way)
        self.add_action(self.sort)
        # In the order in which they give way; all three are in the Sheet menu or can be done without.
        for button in (self.ask, self.aims_button):
            self.add_action(button, gives_way=True)
        self.want(self.sort, True)
        self.add_action(self.allocate_button)

    def _empty(self, sentence: str, words: str, wish: str) -> EmptyNote:
        button = QPushButton(words)
        button.clicked.connect(lambda: self._table.wished.emit(wish))
        return EmptyNote(self.book, sentence, button)

    @cached_property
    def outs(self) -> OutView:
        """The chart of outputs; made when it is first looked at."""
        outs = OutView(self._table, self.book)
        outs.toggled.connect(self.toggle)
        outs.asked.connect(self.asked)
        outs.propose(self.proposal, self.taken)
        self._pages.addWidget(outs)
        return outs

    @cached_property
    def free_outs(self) -> FreeOutputs:
        """The free outputs; made when they are first looked at."""
        free = FreeOutputs(self._table, self.book)
        self.body.addWidget(free)
        return free

    def _changed(self) -> None:
        self.standing.tell(self._table.studio, shown=self._table.standing)
        self._show_page()
        self.drop()

    def _show_page(self) -> None:
        session, out = self._table.studio.current, self.way.key == "out"
        shown: QWidget | None
        if out:
            shown = self.outs if session.destinations or self._table.survey.output_paths else None
        else:
            shown = self.chart if session.sources else None
        if shown is None:
            self._pages.setCurrentIndex(2 if out else 1)
        else:
            self._pages.setCurrentWidget(shown)
        self.setFocusProxy(self.outs if out and shown is not None else self.chart)
        self.want(self.sort, not out)
        self.free.setVisible(not out and bool(self._table.survey.input_points))
        if out or "free_outs" in self.__dict__:
            self.free_outs.setVisible(out and bool(session.destinations) and bool(self._table.survey.output_points))

    def _follow(self) -> None:
        """Show the page that holds what is selected."""
        kind = self._table.selection.kind
        if kind in ("source", "destination") and self.isVisible():
            self.way.choose("out" if kind == "destination" else "in")

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._follow()

    def allocate(self) -> None:
        """Have a place proposed for everything that comes in and goes out."""
        survey, session = self._table.survey, self._table.studio.current
        if not survey.input_points and not survey.output_points:
            self._table.said.emit("There is no input to allocate to. Take an interface from the shelf on sheet 2.")
            return
        if not session.sources and not session.destinations:
            self._table.said.emit("There is no source to allocate. Write the input list on sheet 1.")
            return
        self.bar.working()
        self.proposing.emit(True)
        studio, search = self._table.studio, self._search

        def work(stopped: Stopped) -> Proposal:
            def keep_going(part: float) -> bool:
                search.tell(part)
                return not stopped()

            return allocate(Survey(studio), keep_going=keep_going)

        search.start(work, lambda found: self._proposed(found, studio))

    def allocate_or_take(self) -> None:
        """Allocate; while a proposal is shown, take what is ticked of it."""
        if not self.isVisible():
            self._table.wished.emit("allocate")
        elif self.proposal is not None and self.proposal.changes and (self.taken or not self.proposal.count):
            self.take()
        else:
            self.allocate()

    def _proposed(self, proposal: Proposal, studio: Studio) -> None:
        if studio is self._table.studio:
            self.show_proposal(proposal)

    def show_proposal(self, proposal: Proposal | None) -> None:
        """Show a proposal as ghost lines, all of them taken at first; None shows none."""
        self.proposal = proposal
        self.taken = frozenset(proposal.keys) if proposal is not None else frozenset()
        self._tell_charts()
        if proposal is not None:
            self.proposing.emit(True)
            # What only the other page has to show is shown there.
            if proposal.outs and not proposal.placements:
                self.way.choose("out")
            elif proposal.placements and not proposal.outs:
                self.way.choose("in")

    def toggle(self, key: str) -> None:
        """Take or leave one proposed line."""
        if self.proposal is not None and key in self.proposal.keys:
            self.taken = self.taken ^ {key}
            self._tell_charts()

    def _tell_charts(self) -> None:
        self.chart.propose(self.proposal, self.taken)
        if "outs" in self.__dict__:
            self.outs.propose(self.proposal, self.taken)
        if self.proposal is not None:
            self.bar.propose(self.proposal, self._table.studio, len(self.taken))

    def take(self) -> None:
        """Carry out what is ticked of the proposal, as one step."""
        if self.proposal is None or not self.proposal.changes:
            return
        some = [k for k in self.proposal.keys if k in self.taken]
        if some or not self.proposal.count:
            self._table.do(take(self._table.survey, self.proposal, None if len(some) == self.proposal.count else some))

    def drop(self) -> None:
        """Stop a search; show no proposal."""
        self._search.drop()
        self.proposing.emit(False)
        self.bar.hide()
        if self.proposal is not None:
            self.show_proposal(None)

    def stop(self) -> None:
        """End the search."""
        self._search.drop()
