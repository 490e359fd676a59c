"""What all parts of the window share: the studio, its survey and findings, undo, the selection."""

from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from ennead.desk.background.idle_queue import IdleQueue
from ennead.desk.storage.autosave import Autosave
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import SourceEnd
from ennead.studio.subjects import NOTHING, Subject

#: Sources above which figures follow an edit a moment later, so that the edit itself is shown at once.
LONG_SESSION: Final = 300

if TYPE_CHECKING:
    from collections.abc import Callable

    from ennead.checks.finding import Finding, Fix
    from ennead.checks.setting_aside import Aside, Sorted
    from ennead.desk.background.background_task import BackgroundTask
    from ennead.edits.change import Change
    from ennead.survey.survey import Survey


class _Step(QUndoCommand):
    """One change: the studio before and after it."""

    def __init__(self, table: "Worktable", before: Studio, after: Studio, label: str) -> None:
        super().__init__(label)
        self._table, self._before, self._after = table, before, after

    def redo(self) -> None:
        self._table.put(self._after)

    def undo(self) -> None:
        self._table.put(self._before)


class Worktable(QObject):
    """The studio on the table.

    Signals `begun` when another studio is laid on it, `changed` when the studio is another value, `selected` when another thing is selected, `said`
    with a sentence for the person, `wished` with the name of a wish a sheet fulfils (``allocate``).
    """

    begun = pyqtSignal()
    settled = pyqtSignal()
    changed = pyqtSignal()
    selected = pyqtSignal()
    said = pyqtSignal(str)
    wished = pyqtSignal(str)

    def __init__(self, studio: Studio, autosave: Autosave) -> None:
        super().__init__()
        self.studio = studio
        self._survey: Survey | None = None
        self.autosave = autosave
        autosave.told.connect(self.said)
        self.undo_stack = QUndoStack(self)
        self.idle = IdleQueue(self)
        self.selection = NOTHING
        self.is_settled = False
        self.standing = False
        self._stands: Survey | None = None
        self._findings: Sorted | None = None
        self._background: BackgroundTask | None = None

    def settle(self) -> None:
        """Say that the window stands: from now on what follows from the studio is worked out and shown.

        Until its first paint a window shows the studio alone; a person sees the list at once, and what
        Ennead makes of it a moment later.
        """
        if not self.is_settled:
            self.is_settled = True
            self.settled.emit()

    @property
    def is_long(self) -> bool:
        """Whether what follows from an edit has to wait until the edit itself is shown."""
        return len(self.studio.current.sources) > LONG_SESSION

    def follow_edit(self, key: str, deed: "Callable[[], object]") -> None:
        """Carry out at once what shows what follows from an edit, or in a turn of its own where the session is long."""
        if self.is_long and self.is_settled:
            # Parts of the survey that most figures rest on have their turn first.
            self.idle.later("survey", lambda: self.survey.signal_paths, 15)
            self.idle.later("findings", lambda: self.findings, 15)
            self.idle.later(key, deed, 15)
        else:
            deed()

    @property
    def path(self) -> Path | None:
        """Where the studio is kept."""
        return self.autosave.path

    @property
    def survey(self) -> "Survey":
        """All that follows from the studio, worked out when it is first asked for."""
        from ennead.survey.survey import Survey

        if self._survey is None or self._survey.studio is not self.studio:
            self._survey = Survey(self.studio, self._survey)
        return self._survey

    @property
    def traced(self) -> "Survey":
        """The survey the run charts show: the plan's, or that of what stands."""
        from ennead.survey.survey import Survey
        from ennead.survey.view import View

        if not self.standing:
            return self.survey
        if self._stands is None:
            self._stands = Survey(self.studio, self.survey, View(standing=True))
        return self._stands

    def trace_standing(self, on: bool) -> None:
        """Let the run charts show what stands, or the plan again."""
        if on != self.standing:
            self.standing = on
            self.changed.emit()

    @property
    def findings(self) -> "tuple[Finding, ...]":
        """All open findings of the studio, trouble first."""
        return self._sorted_out.open

    @property
    def set_aside(self) -> "tuple[Aside, ...]":
        """The findings that are set aside."""
        return self._sorted_out.aside

    @property
    def _sorted_out(self) -> "Sorted":
        from ennead.checks.all_checks import find_all
        from ennead.checks.setting_aside import sort_out

        if self._findings is None:
            self._findings = sort_out(find_all(self.survey), self.studio.set_aside, self.studio.current.id)
        return self._findings

    def begin(self, studio: Studio) -> None:
        """Put another studio on the table: nothing is selected and nothing can be undone."""
        self.undo_stack.clear()
        self._lay(studio)
        self.select(NOTHING)
        self.begun.emit()
        self.changed.emit()
        if self.autosave.note:
            self.said.emit(self.autosave.note)

    def _lay(self, studio: Studio) -> None:
        self.studio = studio
        self._findings = self._stands = None
        # An edit of the plan shows the plan.
        self.standing = False

    def put(self, studio: Studio) -> None:
        """Replace the studio by another value of it and have that kept."""
        self._lay(studio)
        self.autosave.post(studio)
        if not self._is_there(self.selection):
            self.select(NOTHING)
        self.changed.emit()

    def do(self, change: "Change") -> bool:
        """Carry out a change as one step of undo; say why where it cannot be."""
        if self.autosave.read_only:
            self.said.emit(f"{self.autosave.read_only} File, Save as… makes a copy to work on.")
            return False
        try:
            after = change.apply(self.studio)
        except EnneadError as error:
            self.said.emit(str(error))
            return False
        if after is self.studio or after == self.studio:
            return False
        self.undo_stack.push(_Step(self, self.studio, after, change.label))
        return True

    def fix(self, fix: "Fix") -> None:
        """Carry out a finding's fix."""
        from ennead.edits.change import Change
        from ennead.planning.fixing import change_of

        if isinstance(fix.does, Change):
            self.do(fix.does)
        elif fix.does.name in ("allocate", "shortage"):
            # What many lines hang on is shown before it is done.
            self.wished.emit(fix.does.name)
        elif fix.does.name == "clock":
            self._search(fix)
        else:
            try:
                self.do(change_of(self.survey, fix))
            except EnneadError as error:
                self.said.emit(str(error))

    def _search(self, fix: "Fix") -> None:
        """Have a search carry a fix out; the studio may have changed by the time it answers."""
        from ennead.desk.background.background_task import BackgroundTask
        from ennead.planning.fixing import change_of
        from ennead.survey.survey import Survey

        studio = self.studio

        def take(found: "Change | EnneadError") -> None:
            if isinstance(found, EnneadError):
                self.said.emit(str(found))
            elif self.studio is studio:
                self.do(found)

        if self._background is None:
            self._background = BackgroundTask(self)
        self._background.start(lambda stop: change_of(Survey(studio), fix, stop=stop), take)

    def select(self, selection: Subject) -> None:
        """Select a thing."""
        if selection != self.selection:
            self.selection = selection
            self.selected.emit()

    def _is_there(self, selection: Subject) -> bool:
        if selection.kind == "nothing":
            return True
        if selection.kind == "computer":
            return selection.key in self.studio.hosts
        if selection.kind == "destination":
            return selection.key in self.studio.destinations
        return selection.key in (self.studio.sources if selection.kind == "source" else self.studio.units)

    def findings_about(self, selection: Subject) -> "tuple[Finding, ...]":
        """Return the open findings that concern a selection; all of them when nothing is selected."""
        if selection.kind == "nothing":
            return self.findings
        keys = self._keys_of(selection)
        return tuple(f for f in self.findings if not keys.isdisjoint(f.concerns))

    def aside_about(self, selection: Subject) -> "tuple[Aside, ...]":
        """Return the findings set aside that concern a selection; all of them when nothing is selected."""
        if selection.kind == "nothing" or not self.set_aside:
            return self.set_aside
        keys = self._keys_of(selection)
        return tuple(a for a in self.set_aside if not keys.isdisjoint(a.finding.concerns))

    def _keys_of(self, selection: Subject) -> set[str]:
        """Return the ids that what is said of a selection is about."""
        keys: set[str] = {selection.key}
        if selection.kind == "port":
            here = self.survey.cables_at(selection.end)
            cords = {str(c.id) for c in self.studio.cords if selection.end in c.plugs}
            if self.studio.is_point(selection.end):
                from ennead.reports.lit_run import lit_run

                # The lines that pass here are what the point is about.
                cords |= {run.source for run in lit_run(self.survey, selection.end).runs if run.source is not None}
            keys = {c.id for c in here} | {c.start.source for c in here if isinstance(c.start, SourceEnd)} | cords
            if self.studio.port(selection.end).is_digital:
                # What a digital cable does to the clock concerns the whole unit.
                keys.add(selection.key)
        return keys
