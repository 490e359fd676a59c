"""The window: navigation, sheets, margin and tally around one worktable."""

import contextlib
from collections.abc import Callable
from functools import cached_property
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence, QPaintEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from ennead.desk.finding_places import SHEET_NUMBERS, count_by_sheet, selection_of
from ennead.desk.menus import add_choices, all_actions, build_menus, fill_menus
from ennead.desk.preferences import Preferences, drafts_folder
from ennead.desk.selection import NOTHING, Selection
from ennead.desk.sheet_box import SheetBox
from ennead.desk.theme.style import apply_theme
from ennead.desk.theme.theme import ThemeBook, margin_width
from ennead.desk.widgets.message import tell
from ennead.desk.widgets.navigation import Navigation
from ennead.desk.widgets.tally import Tally
from ennead.desk.widgets.undo_actions import UndoActions
from ennead.desk.worktable import Worktable
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.desk.box_actions import BoxActions
    from ennead.desk.file_actions import FileActions
    from ennead.desk.help_actions import HelpActions
    from ennead.desk.margin.margin import Margin
    from ennead.desk.place_actions import PlaceActions
    from ennead.desk.session_actions import SessionActions
    from ennead.desk.sheets.lines.sheet import LinesSheet
    from ennead.desk.sheets.lines.tape_view import TapeView
    from ennead.desk.sheets.rig.sheet import RigSheet
    from ennead.desk.sheets.session.sheet import SessionSheet
    from ennead.planning.allocation import Proposal
    from ennead.studio.house import PortEnd
    from ennead.studio.ids import DestinationId, SourceId
    from ennead.studio.profile import Profile



def _read_shelf_aside() -> None:
    """Read the shipped profiles while nobody waits for them, so that the Rig sheet and the remedies find them read."""
    import threading

    from ennead.files.profiles import shelf

    threading.Thread(target=shelf, name="shelf", daemon=True).start()


class Window(QMainWindow):
    """The main window."""

    def __init__(self, table: Worktable, book: ThemeBook, preferences: Preferences) -> None:
        super().__init__()
        self.table, self.book, self.preferences = table, book, preferences
        self.setMinimumSize(QSize(760, 480))
        self.number = 1
        self._tape: TapeView | None = None
        self._dress()
        self._build()
        self.menus = build_menus(self)
        self._filled = False
        # Nobody opens a menu before the window is seen; keys pressed before then wait for their actions.
        table.settled.connect(self._fill_menus)
        table.settled.connect(lambda: QTimer.singleShot(300, _read_shelf_aside))
        for signal in (table.changed, table.settled, book.changed):
            signal.connect(self._refresh)
        book.changed.connect(self._dress)
        table.wished.connect(self._wished)
        self.go(1)
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

    def _fill_menus(self) -> None:
        if self._filled:
            return
        self._filled = True
        self.margin.show()
        fill_menus(self.menus, self, self._method)
        menu = self.menus["Sess&ion"]
        menu.aboutToShow.connect(lambda: self.sessions.list_sessions(menu))
        self.undo_actions = UndoActions(self.table.undo_stack, self)
        self.menus["&Edit"].addActions([self.undo_actions.undo, self.undo_actions.redo])
        self._sheet_actions()
        themes = {"system": "As the system", "paper": "Paper", "night": "Night"}
        add_choices(self.menus["&View"], "T&heme", themes, self.book.choice, self.choose_theme)

    def _build(self) -> None:
        names = {n: name for name, n in SHEET_NUMBERS.items()}
        self.navigation = Navigation(self.book, names)
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

    # What the menus do is made when the first of them is asked for: after the first paint.
    @cached_property
    def files(self) -> "FileActions":
        """The File menu."""
        from ennead.desk.file_actions import FileActions

        return FileActions(self.table, self.preferences, self)

    @cached_property
    def boxes(self) -> "BoxActions":
        """The Box menu."""
        from ennead.desk.box_actions import BoxActions

        return BoxActions(self.table, self.book, self, self._take_box)

    @cached_property
    def places(self) -> "PlaceActions":
        """Questions about places."""
        from ennead.desk.place_actions import PlaceActions

        return PlaceActions(self.table, self.book, self, self._show_proposal)

    def _ask_why(self, key: "SourceId | DestinationId", end: "PortEnd") -> None:
        self.places.why(key, end)

    def _show_proposal(self, proposal: "Proposal") -> None:
        self.go(5)
        self.lines_sheet.show_proposal(proposal)

    @cached_property
    def sessions(self) -> "SessionActions":
        """The Session menu."""
        from ennead.desk.session_actions import SessionActions

        return SessionActions(self.table, self.book, self)

    @cached_property
    def help(self) -> "HelpActions":
        """The Help menu."""
        from ennead.desk.help_actions import HelpActions

        return HelpActions(self.book, self, lambda: self.number)

    def _method(self, name: str) -> Callable[[], object]:
        owner = next(o for o in (self, self.files, self.boxes, self.places, self.sessions, self.help) if hasattr(o, name))
        found: Callable[[], object] = getattr(owner, name)
        return found

    def _take_box(self, profile: "Profile") -> None:
        self.go(2)
        self.rig_sheet.take(profile)

    @property
    def rig_sheet(self) -> "RigSheet":
        """The Rig sheet."""
        sheet: RigSheet = self.sheets[2]  # type: ignore[assignment]
        return sheet

    def _sheet_actions(self) -> None:
        for name, number in SHEET_NUMBERS.items():
            action = QAction(f"&{number} {name}", self)
            action.setShortcut(QKeySequence(f"Alt+{number}"))
            action.triggered.connect(lambda _=False, n=number: self.go(n))
            self.menus["&Sheet"].addAction(action)
        self.menus["&Sheet"].addSeparator()
        for text, key, called in (
            ("&Allocate, then take", "Ctrl+Return", self._allocate_or_take),
            ("&Drop the proposal", "Esc", self._drop_proposal),
            ("Next &finding", "F8", self.next_finding),
            ("Take the first f&ix", "Ctrl+.", self.first_fix),
        ):
            action = QAction(text, self)
            action.setShortcut(QKeySequence(key))
            action.triggered.connect(called)
            self.menus["&Sheet"].addAction(action)
            # Escape belongs to whoever has the keyboard unless there is a proposal to drop.
            if key == "Esc":
                action.setEnabled(False)
                self._drop_action = action

    def _allocate_or_take(self) -> None:
        self.lines_sheet.allocate_or_take()

    def _drop_proposal(self) -> None:
        self.lines_sheet.drop()

    @property
    def lines_sheet(self) -> "LinesSheet":
        """The Lines sheet."""
        sheet: LinesSheet = self.sheets[5]  # type: ignore[assignment]
        return sheet

    def _made(self, number: int, sheet: QWidget) -> None:
        if number == 5:
            self._fill_menus()
            sheet.proposing.connect(self._drop_action.setEnabled)  # type: ignore[attr-defined]
            sheet.asked.connect(self._ask_why)  # type: ignore[attr-defined]
        elif number == 2:
            shelf = sheet.shelf  # type: ignore[attr-defined]
            shelf.describe_wanted.connect(self.boxes.describe_box)
            shelf.edit_wanted.connect(self.boxes.edit_profile)
            shelf.drop_wanted.connect(self.boxes.drop)
            self.boxes.shelved.connect(shelf.read_again)

    # -- going about ---------------------------------------------------------------------------
    def go(self, number: int, selection: Selection | None = None) -> None:
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
        here = self.table.selection
        places = [(SHEET_NUMBERS[f.sheet], selection_of(self.table.studio, f.subject)) for f in loud]
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

        Finder(self.table, self.book, list(all_actions(self.menus)), self.go, self).exec()

    def _wished(self, name: str) -> None:
        if name == "allocate":
            self.go(5)
            self.lines_sheet.allocate()
        elif name in ("list", "outs"):
            self.go(1)
            session: SessionSheet = self.sheets[1]  # type: ignore[assignment]
            session.way.choose("in" if name == "list" else "out")
        elif name in ("aims", "shortage", "unit_loss", "why_here", "make_lead"):
            self._method(name)()
        elif name == "shelf":
            self.go(2)

    def tape_view(self) -> None:
        """Open the tape view: driver numbers and names, large, for the wall."""
        from ennead.desk.sheets.lines.tape_view import TapeView

        tape = TapeView(self.table, self.book)
        tape.show()
        self._tape = tape

    def trace_standing(self) -> None:
        """Show on the run charts what stands instead of the plan, or the plan again."""
        self.table.trace_standing(not self.table.standing)
        if self.table.standing:
            self.go(5)

    # -- looks ---------------------------------------------------------------------------------
    def choose_theme(self, choice: str) -> None:
        """Choose paper, night or the system's."""
        self.book.choose(choice)
        self.preferences.remember("theme", choice)

    def text_larger(self) -> None:
        """Make all text one step larger."""
        self._scale(1)

    def text_smaller(self) -> None:
        """Make all text one step smaller."""
        self._scale(-1)

    def text_normal(self) -> None:
        """Bring all text back to 100 %."""
        self._scale(0)

    def _scale(self, steps: int) -> None:
        self.book.step_scale(steps)
        self.preferences.remember("scale", self.book.scale)

    def _dress(self) -> None:
        # Its page is built anew for another theme anyway; dressing the old one first would be for nothing.
        if "margin" in self.__dict__:
            self.margin.clear()
        if self.table.is_settled and self.isVisible():
            # Dressing and painting all of it are two turns.
            self.setUpdatesEnabled(False)
            self.table.turns.later("paint", lambda: self.setUpdatesEnabled(True))
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply_theme(app, self, self.book.now)

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
        self.go(1)
        self.files.read_list()

    def report_fault(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Say that the program itself failed; what was done before is on disk, and the details go to a file."""
        import traceback

        path = drafts_folder().parent / "faults.txt"
        with contextlib.suppress(OSError), path.open("a", encoding="utf-8") as log:
            log.write("".join(traceback.format_exception(kind, error, trace)) + "\n")
        self.table.said.emit(f"Ennead itself failed at that ({kind.__name__}). Your edits are kept; details: {path}")

    def _close_file(self) -> None:
        """Close the studio file; what could not be written to it is kept in a file that opens next time."""
        autosave = self.table.autosave
        autosave.close()
        try:
            copy = autosave.rescue()
        except EnneadError as error:
            tell(self, "Not on disk", f"The last edits could not be written anywhere.\n\n{error}")
            return
        if copy is not None:
            self.preferences.opened(copy)
            where = f"The last edits could not be written to {autosave.path}. This is the copy that was kept of everything."
            self.preferences.remember("say_first", where)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.table.is_settled:
            QTimer.singleShot(0, self.table.settle)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        for deed in (self.sheets.stop, self._stop_lines, self._remember_place, self._close_file, self._fall_silent):
            # A window always closes: what fails on the way is told and kept, and the rest is done all the same.
            try:
                deed()
            except Exception as error:  # noqa: BLE001
                self.report_fault(type(error), error, error.__traceback__)
        super().closeEvent(event)

    def _stop_lines(self) -> None:
        if self.sheets.is_built(5):
            self.lines_sheet.stop()

    def _remember_place(self) -> None:
        self.preferences.remember("geometry", self.saveGeometry())

    def _fall_silent(self) -> None:
        """From here on nobody has anything to say to widgets that are about to go."""
        self.table.turns.clear()
        for speaker in (self.table, self.table.undo_stack, self.table.autosave, self.book):
            speaker.blockSignals(True)
        if self._tape is not None:
            self._tape.close()
