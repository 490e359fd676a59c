"""The ranked alternatives: possible leaders, what each takes, what it brings; one is taken by Enter or by its button."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.background.background_task import BackgroundTask, Stopped
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.clock.clock_plan import (
    POLICIES,
    POLICY_TEXTS,
    Alternative,
    ClockPlan,
    Policy,
    clock_change,
    consequences,
    forced,
    menus,
    plan_clock,
)
from ennead.planning.clock.clock_ways import way_text
from ennead.studio.document import Studio
from ennead.studio.ids import UnitId
from ennead.survey.clock import Domain
from ennead.survey.survey import Survey

_LIST, _ROOMY = 150, 1.3


def _menu_now(survey: Survey, unit: UnitId) -> str:
    entry = survey.profiles[unit].clock_source(survey.settings[unit].clock_source)
    return entry.label if entry is not None else ""


class Alternatives(QWidget):
    """The lower strip of the Clock sheet."""

    simulate_wanted = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self.setObjectName("lower")
        self._table, self._book = table, book
        self.plan: ClockPlan | None = None
        self._asked: tuple[object, ...] = ()
        self._background = BackgroundTask(self)
        self.policy = QComboBox()
        self.policy.setObjectName("clock_policy")
        self.policy.setAccessibleName("School of clock leadership")
        for policy in POLICIES:
            self.policy.addItem(POLICY_TEXTS[policy][0], policy)
        self.why = QLabel()
        self.why.setTextFormat(Qt.TextFormat.PlainText)
        self.why.setWordWrap(True)
        set_tone(self.why, "soft")
        self.list = WrappedList()
        self.list.setAccessibleName("Alternatives")
        self.take_button, self.play_button = QPushButton("Let it lead"), QPushButton("Simulate")
        self.take_button.setObjectName("take_clock")
        self.play_button.setObjectName("simulate")
        self.play_button.setProperty("quiet", True)
        head = QHBoxLayout()
        head.addWidget(self.policy)
        head.addWidget(self.why, 1)
        head.addWidget(self.play_button)
        head.addWidget(self.take_button)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.list)
        self.policy.currentIndexChanged.connect(self.refresh)
        self.take_button.clicked.connect(self.take)
        self.play_button.clicked.connect(self.simulate_wanted)
        self.list.itemActivated.connect(self.take)
        self._dress()
        book.changed.connect(self._dress)

    def _dress(self) -> None:
        theme = self._book.now
        self.list.setFixedHeight(min(theme.px(_LIST), 190))
        # Large text leaves the sentence to the tool tip of the school it explains.
        self.why.setVisible(theme.scale <= _ROOMY)
        self.policy.setMinimumWidth(min(theme.px(230), 320))

    def _domain(self) -> Domain | None:
        """Return the domain of the selected unit, or the largest."""
        clocks, selection = self._table.survey.clocks, self._table.selection
        if selection.key in clocks.by_unit:
            return next(d for d in clocks.domains if selection.key in d.units)
        return max(clocks.domains, key=lambda d: len(d.units), default=None)

    def refresh(self) -> None:
        """Rank anew for the selected domain; a large one takes a moment, in the background."""
        studio, domain = self._table.studio, self._domain()
        policy: Policy = self.policy.currentData()
        self.why.setText(POLICY_TEXTS[policy][1])
        self.policy.setToolTip(POLICY_TEXTS[policy][1])
        if domain is None:
            self._background.drop()
            self._show(None)
            return
        if self._asked == (studio, domain.units, policy):
            return
        self._asked = (studio, domain.units, policy)
        if self.plan is None:
            self.list.clear()
            self.list.addItem("Looking who could lead…")
        self.take_button.setEnabled(False)
        unit = domain.units[0]

        def work(stop: Stopped) -> tuple[Studio, ClockPlan]:
            survey = Survey(studio)
            return studio, plan_clock(survey, survey.clocks.domain_of(unit), policy, stop=stop)

        self._background.start(work, self._found)

    def _found(self, found: tuple[Studio, ClockPlan]) -> None:
        studio, plan = found
        if studio is self._table.studio:
            self._show(plan)

    def _show(self, plan: ClockPlan | None) -> None:
        survey = self._table.survey
        same = (
            self.plan is not None
            and plan is not None
            and self.plan.units == plan.units
            and self.plan.policy == plan.policy
        )
        row = max(0, self.list.currentRow()) if same else 0
        self.plan = plan
        self.list.clear()
        if plan is None:
            self.list.addItem("Nothing digital is here yet.")
        else:
            for alternative in plan.alternatives:
                item = QListWidgetItem(self._text(alternative))
                item.setData(Qt.ItemDataRole.UserRole, alternative)
                lines = [f"{survey.studio.units[u].name}: {menu}" for u, menu in menus(survey, alternative).items()]
                item.setToolTip(plain_tip("clock menus\n" + "\n".join(lines)))
                self.list.addItem(item)
            said = [forced(survey, plan), *(f"✗ {why}" for why in dict.fromkeys(plan.cannot_lead.values()))]
            for sentence in filter(None, said):
                item = QListWidgetItem(sentence)
                item.setForeground(self._book.now.colour("soft"))
                self.list.addItem(item)
        self.list.setCurrentRow(min(row, self.list.count() - 1))
        self.take_button.setEnabled(bool(plan and plan.alternatives))

    def _text(self, alternative: Alternative) -> str:
        survey = self._table.survey
        now = survey.clocks.by_unit[alternative.leader].state == "leads"
        cables = "; ".join(way_text(survey, w) for w in alternative.added) or "no cable to add"
        hops = f"{alternative.most_hops} hop{'s' if alternative.most_hops != 1 else ''} at most"
        changed = [
            f"{survey.studio.units[u].name} to {menu}"
            for u, menu in menus(survey, alternative).items()
            if menu != _menu_now(survey, u)
        ]
        head = f"{survey.studio.units[alternative.leader].name}{' (leads now)' if now else ''} · {hops} · {cables}"
        turned = (f"Set {', '.join(changed)}.",) if changed else ()
        said = " ".join((*turned, *consequences(survey, alternative)))
        return f"{head}\n    {said}" if said else head

    @property
    def chosen(self) -> Alternative | None:
        """The alternative that is chosen."""
        item = self.list.currentItem()
        return item.data(Qt.ItemDataRole.UserRole) if item is not None else None

    def take(self, *_: object) -> None:
        """Carry the chosen alternative out."""
        chosen = self.chosen
        if chosen is None:
            return
        change = clock_change(self._table.survey, chosen)
        if not change.steps:
            self._table.said.emit(
                f"{self._table.studio.units[chosen.leader].name} leads as planned already; nothing has to change."
            )
            return
        self._table.do(change)
