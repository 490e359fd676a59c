"""The moves that are being carried out: what stands, what the scene wants, and how far the list has been ticked."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ennead.desk.background.background_task import BackgroundTask
from ennead.desk.shell.worktable import Worktable
from ennead.edits.change import Change, step
from ennead.edits.scene_switches import stand_switch
from ennead.edits.scenes import lift_plug, stand_plug
from ennead.planning.moves.moves import MovePlan, MoveStep
from ennead.planning.moves.scene_moves import scene_moves
from ennead.reports.cord_moves import MoveRow, cord_moves
from ennead.reports.move_rows import sum_text
from ennead.reports.page_rows import MovesPage
from ennead.studio.bays import Cord
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError

_Cords = tuple[Cord, ...]


class MovesWork(QObject):
    """Works the moves out behind the interface, and keeps the list while it is ticked off."""

    changed = pyqtSignal()

    def __init__(self, table: Worktable) -> None:
        super().__init__()
        self._table = table
        self._task: BackgroundTask | None = None
        self._plan: MovePlan | None = None
        self._from: _Cords = ()
        self._to: _Cords = ()
        self._asked: tuple[_Cords, _Cords] | None = None
        self._ground: tuple[object, ...] | None = None
        #: Why there is no list.
        self.trouble = ""
        self.done = 0

    @property
    def steps(self) -> tuple[MoveStep, ...]:
        """What there is to do, in order."""
        return self._plan.steps if self._plan is not None else ()

    def head(self) -> str:
        """Return what is known of the list."""
        if self.trouble:
            return self.trouble
        if self._plan is None:
            return "Working the moves out …"
        return (
            f"Moves from what stands: {sum_text(self._plan)}"
            if self.steps
            else "The cords stand as the scene has them."
        )

    def rows(self, studio: Studio) -> list[MoveRow]:
        """Return the steps as they are done, cord by cord."""
        return cord_moves(studio, self._plan, self._from) if self._plan is not None else []

    def page(self, studio: Studio) -> MovesPage | None:
        """Return the list as a page; None where it is still worked out, or there is none."""
        if self._plan is None:
            return None
        scene = studio.scenes.get(studio.scene)
        return MovesPage(self.head(), tuple(self.rows(studio)), scene.steps if scene is not None else ())

    def look(self) -> None:
        """See whether the list still leads from what stands to the scene; else have it worked out anew."""
        studio = self._table.studio
        standing, wanted = tuple(studio.as_built.cords.values()), studio.cords
        survey = self._table.survey
        ground = survey.in_use, survey.settings, survey.bays, survey.profiles, studio.stock
        if self._ground is None or any(a is not b for a, b in zip(ground, self._ground, strict=True)):
            # What is wired and switched on decides which contacts may meet and what has to be muted.
            self._ground, self._asked, self._plan = ground, None, None
        if self._plan is not None and wanted == self._to:
            for done in range(len(self.steps) + 1):
                if _stands(self._from, self._plan, done) == {frozenset(c.plugs) for c in standing}:
                    # Steps that move no plug are done with those after them.
                    self.done = self.done if done <= self.done and not _between(self.steps, done, self.done) else done
                    self.changed.emit()
                    return
        if self._asked == (standing, wanted):
            return
        self._asked, self._plan, self.trouble, self.done = (standing, wanted), None, "", 0
        if not studio.bays:
            return
        if self._task is None:
            self._task = BackgroundTask(self)
        self._task.start(_working(studio), lambda found: self._take(standing, wanted, found))
        self.changed.emit()

    def _take(self, standing: _Cords, wanted: _Cords, found: MovePlan | EnneadError) -> None:
        self._from, self._to = standing, wanted
        self._plan, self.trouble = (None, str(found)) if isinstance(found, EnneadError) else (found, "")
        self.changed.emit()

    def tick(self, upto: int) -> None:
        """Note that the steps up to one are done, and those after it are not."""
        plan = self._plan
        if plan is None:
            return
        steps = []
        if upto > self.done:
            steps = [_deed(plan, s, back=False) for s in self.steps[self.done : upto]]
        else:
            steps = [_deed(plan, s, back=True) for s in reversed(self.steps[upto : self.done])]
        wanted = [s for s in steps if s is not None]
        self.done = upto
        if wanted:
            self._table.do(Change("Tick moves", tuple(wanted)))
        else:
            self.changed.emit()


def _working(studio: Studio) -> Callable[[Callable[[], bool]], MovePlan]:
    return lambda stop: scene_moves(studio, None, studio.scene, stop)


def _deed(plan: MovePlan, done: MoveStep, *, back: bool) -> Callable[[Studio], Studio] | None:
    if done.turn is not None:
        return step(stand_switch, done.turn[back])
    if done.point is None:
        return None
    if (done.action == "plug") != back:
        return step(stand_plug, done.point, Cord(done.cord, (), *plan.from_hook.get(done.cord, ())))
    return step(lift_plug, done.point)


def _stands(standing: _Cords, plan: MovePlan, done: int) -> set[frozenset[object]]:
    """Return what would be plugged after so many steps."""
    held: dict[str, set[object]] = {c.id: set(c.plugs) for c in standing}
    for s in plan.steps[:done]:
        if s.action == "pull":
            held[s.cord].discard(s.point)
        elif s.action == "plug":
            held.setdefault(s.cord, set()).add(s.point)
    return {frozenset(plugs) for plugs in held.values() if plugs}


def _between(steps: tuple[MoveStep, ...], start: int, end: int) -> bool:
    """Say whether any step from one to before another moves a plug."""
    return any(s.point is not None for s in steps[start:end])
