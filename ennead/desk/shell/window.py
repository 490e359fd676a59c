"""The window: navigation, sheets, margin and tally around one worktable."""

from functools import cached_property
from importlib import import_module
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from ennead.desk.shell.action_groups import ActionGroups
from ennead.desk.shell.closing import close_down, may_leave
from ennead.desk.shell.commands import COMMANDS, WISHES
from ennead.desk.shell.finding_places import count_by_sheet, seen_at
from ennead.desk.shell.looks import Looks
from ennead.desk.shell.menus import add_choices, all_actions, build_menus, fill_menus
from ennead.desk.shell.sheet_box import SheetBox
from ennead.desk.shell.sheet_list import BY_NAME, LINES, RIG, SESSION, SHEETS
from ennead.desk.shell.worktable import Worktable
from ennead.desk.storage.preferences import Preferences
from ennead.desk.widgets.navigation import Navigation
from ennead.desk.widgets.tally import Tally
from ennead.desk.widgets.undo_actions import UndoActions
from ennead.drawings.painters.theme import ThemeBook, margin_width
from ennead.studio.subjects import NOTHING, Subject

if TYPE_CHECKING:
    from ennead.desk.margin.margin import Margin
    from ennead.desk.sheets.lines.tape_view import TapeView
    from ennead.planning.seating.allocation import Proposal
    from ennead.studio.house import PortEnd
    from ennead.studio.ids import DestinationId, SourceId
    from ennead.studio.profile import Profile


class Window(ActionGroups, QMainWindow):
    """The main window."""

    def __init__(self, table: Worktable, book: ThemeBook, preferences: Preferences) -> None:
        super().__init__()
        self.table, self.book, self.preferences = table, book, preferences
        self.setMinimumSize(QSize(760, 480))
        self.number = 1
        self.tape: TapeView | None = None
        self.looks: Looks = Looks(self, book, preferences, table.idle)
        self._dress()
        self._build()
        self.menus = build_menus(self)
        self._filled = False
        # No menu opens before the window is seen; keys pressed before then wait for their actions.
        table.settled.connect(self._fill_menus)
        table.settled.connect(lambda: QTimer.singleShot(300, self._read_shelf))
        for signal in (table.changed, table.settled, book.changed):
            signal.connect(self._refresh)
        book.changed.connect(self._dress)
        table.wished.connect(self._wished)
        self.go(SESSION)
        self._refresh()

    @cached_property
    def margin(self) -> "Margin":
        """The margin."""
        from ennead.desk.margin.margin import Margin

        margin = Margin(self.table, self.book)
        self._middle.replaceWidget(self._blank, margin)
        self._blank.hide()
        self._blank.deleteLater()
        margin.rebuild()
        return margin

    def _read_shelf(self) -> None:
        """Read the shipped profiles, and what reads a list, in an idle moment, so that the Rig sheet and the first paste find them read."""
        from ennead.desk.background.background_task import BackgroundTask
        from ennead.files.profiles import shelf

        BackgroundTask(self).start(lambda _: (shelf(), import_module("ennead.files.input_list")), lambda _: None)

    def _fill_menus(self) -> None:
        if self._filled:
            return
        self._filled = True
        from ennead.desk.shell.ring_question import RingQuestion

        RingQuestion(self.table, self)
        self.margin.show()
        self.actions_by_name = fill_menus(self.menus, self)
        menu = self.menus["Sess&ion"]
        menu.aboutToShow.connect(lambda: self.sessions.list_sessions(menu))
        self.undo_actions = UndoActions(self.table.undo_stack, self)
        self.menus["&Edit"].addActions([self.undo_actions.undo, self.undo_actions.redo])
        themes = {"system": "As the system", "paper": "Paper", "night": "Night"}
        add_choices(self.menus["&View"], "T&heme", themes, self.book.choice, self.looks.choose_theme)

    def _build(self) -> None:
        self.navigation = Navigation(self.book, {sheet.number: sheet.name for sheet in SHEETS})
        self.stack = QStackedWidget()
        self.sheets = SheetBox(self.table, self.book, self.stack, self._made)
        self.tally = Tally(self.table, self.book)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.navigation)
        middle.addWidget(self.stack, 1)
        # Until the first paint the margin has nothing to say; a blank of its width keeps its place.
        self._middle, self._blank = middle, QWidget()
        self._blank.setObjectName("margin")
        self._blank.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._blank.setFixedWidth(margin_width(self.book.now))
        middle.addWidget(self._blank)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(middle, 1)
        column.addWidget(self.tally)
        self.setCentralWidget(page)
        self.navigation.chosen.connect(self.go)
        self.tally.opened.connect(self.go)
        self.tally.findings_wanted.connect(self.next_finding)

    def _ask_why(self, key: "SourceId | DestinationId", end: "PortEnd") -> None:
        self.places.why(key, end)

    def _show_proposal(self, proposal: "Proposal") -> None:
        self.go(LINES)
        self.lines_sheet.show_proposal(proposal)

    def _take_box(self, profile: "Profile") -> None:
        self.go(RIG)
        self.rig_sheet.take(profile)

    def _made(self, number: int, sheet: QWidget) -> None:
        if number == LINES:
            self._fill_menus()
            sheet.proposing.connect(self.actions_by_name["drop_proposal"].setEnabled)  # type: ignore[attr-defined]
            sheet.asked.connect(self._ask_why)  # type: ignore[attr-defined]
        elif number == RIG:
            shelf = sheet.shelf  # type: ignore[attr-defined]
            shelf.describe_wanted.connect(self.boxes.describe_box)
            shelf.edit_wanted.connect(self.boxes.edit_profile)
            shelf.drop_wanted.connect(self.boxes.drop)
            self.boxes.shelved.connect(shelf.read_again)

    # -- going about ---------------------------------------------------------------------------
    def go(self, number: int, selection: Subject | None = None) -> None:
        """Show a sheet, and select a thing on it."""
        self.number = number
        self.navigation.choose(number)
        sheet = self.sheets[number]
        self.stack.setCurrentWidget(sheet)
        if selection is not None:
            self.table.select(selection)
        sheet.setFocus()

    def next_finding(self) -> None:
        """Go to the next finding that is more than a note, round and round."""
        loud = [f for f in self.table.findings if f.severity != "note"]
        if not loud:
            self.table.select(NOTHING)
            return
        from ennead.reports.sheet_of import sheet_of

        here = self.table.selection
        places = [(BY_NAME[sheet_of(f)].number, seen_at(self.table.studio, f.subject)) for f in loud]
        at = next((i for i, p in enumerate(places) if p[1] == here), -1)
        self.go(*places[(at + 1) % len(places)])

    def first_fix(self) -> None:
        """Carry out the first fix of what the margin shows."""
        fixes = [f for finding in self.table.findings_about(self.table.selection) for f in finding.fixes]
        if fixes:
            self.table.fix(fixes[0])
        else:
            self.table.said.emit("Nothing here has a fix to take. F8 goes to the next finding.")

    def find(self) -> None:
        """Open the finder."""
        from ennead.desk.widgets.finder import Finder

        # The sessions of the menu are listed when it opens; one that was undone since is none to find.
        self.sessions.list_sessions(self.menus["Sess&ion"])
        found = [*all_actions(self.menus), *[self.actions_by_name[c.name] for c in COMMANDS if c.text and not c.menu]]
        Finder(self.table, self.book, found, self.go, self).exec()

    def _wished(self, name: str) -> None:
        WISHES[name](self)

    def tape_view(self) -> None:
        """Open the tape view: driver numbers and names, large, for the wall."""
        from ennead.desk.sheets.lines.tape_view import TapeView

        tape = TapeView(self.table, self.book)
        tape.show()
        self.tape = tape

    def trace_standing(self) -> None:
        """Show on the run charts what stands instead of the plan, or the plan again."""
        self.table.trace_standing(not self.table.standing)
        if self.table.standing:
            self.go(LINES)

    def _dress(self) -> None:
        # The margin's page is built anew for another theme anyway; dressing the old one first would be for nothing.
        if "margin" in self.__dict__:
            self.margin.clear()
        self.looks.dress(in_turns=self.table.is_settled and self.isVisible())

    def fold_margin(self) -> None:
        """Fold the margin away, or bring it back."""
        self.margin.fold(not self.margin.folded)

    def _refresh(self) -> None:
        studio = self.table.studio
        only = "  (to look at only)" if self.table.autosave.read_only else ""
        self.setWindowTitle(f"{studio.name} · {studio.current.name}{only} – Ennead")
        if self.table.is_settled:
            self.table.follow_edit("count", self._count)

    def _count(self) -> None:
        """Show on each sheet's tab how many findings are open there."""
        counts = count_by_sheet(self.table.findings)
        for number, tab in self.navigation.tabs.items():
            tab.mark(*counts.get(number, (0, "note")))

    def read_list(self) -> None:
        """Read an input list from a file into the session."""
        self.go(SESSION)
        self.files.read_list()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.table.is_settled:
            QTimer.singleShot(0, self.table.settle)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is not None and self.isVisible() and not may_leave(self):
            event.ignore()
            return
        close_down(self)
        super().closeEvent(event)
