"""Rehearse a rate, or a switch: what is lost, which tracks change number, what would be wrong, before it is done."""

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ennead.checks.all_checks import find_all
from ennead.desk.theme.theme import ThemeBook
from ennead.desk.theme.tones import set_tone
from ennead.desk.worktable import Worktable
from ennead.edits.change import Change, change
from ennead.edits.session import set_rate
from ennead.edits.settings import set_mode
from ennead.standards.rates import RATES_HZ, rate_text
from ennead.survey.rehearsal import Rehearsal, rehearse
from ennead.survey.survey import Survey
from ennead.survey.words import gap_text


class RehearseDialog(QDialog):
    """The dialog; `wanted` is the change to make when it was accepted."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("rehearse_dialog")
        self.setWindowTitle("Rehearse")
        self._table = table
        self.wanted: Change | None = None
        self.rate = QComboBox()
        self.rate.setAccessibleName("Rate or switch to try")
        for rate in RATES_HZ:
            now_too = "  (now)" if rate == table.studio.rate_hz else ""
            self.rate.addItem(f"the session goes to {rate_text(rate)}{now_too}", change(f"Go to {rate_text(rate)}", set_rate, rate))
        for text, deed in _switches(table):
            self.rate.addItem(text, deed)
        now = RATES_HZ.index(table.studio.rate_hz)
        self.rate.setCurrentIndex(now + 2 if now + 2 < len(RATES_HZ) else now - 2)
        self.sum = QLabel()
        self.sum.setTextFormat(Qt.TextFormat.PlainText)
        self.sum.setWordWrap(True)
        set_tone(self.sum, "ink")
        self.rows = QListWidget()
        self.rows.setAccessibleName("What changes")
        self.rows.setWordWrap(True)
        self.go, stay = QPushButton(), QPushButton("Stay")
        stay.setProperty("quiet", True)
        self.go.setAutoDefault(False)
        stay.setAutoDefault(False)
        self.go.clicked.connect(self.accept)
        stay.clicked.connect(self.reject)
        head, foot = QHBoxLayout(), QHBoxLayout()
        head.addWidget(QLabel("What if"))
        head.addWidget(self.rate)
        head.addStretch(1)
        foot.addStretch(1)
        foot.addWidget(stay)
        foot.addWidget(self.go)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.sum)
        column.addWidget(self.rows, 1)
        column.addLayout(foot)
        theme = book.now
        self.resize(min(theme.px(640), 1_000), min(theme.px(520), 720))
        self.rate.currentIndexChanged.connect(self._try)
        self._try()

    def _try(self) -> None:
        table = self._table
        wanted: Change = self.rate.currentData()
        self.wanted = wanted
        after = Survey(wanted.apply(table.studio), table.survey)
        tried = rehearse(table.survey, after)
        known = {(f.rule, f.subject, f.message) for f in table.findings}
        new = [f for f in find_all(after) if (f.rule, f.subject, f.message) not in known and f.severity != "note"]
        self.sum.setText(_summary(tried, len(new)))
        self.rows.clear()
        for run in tried.lost:
            self.rows.addItem(f"✗ {run.track}: {gap_text(after, run)}")
        for moved in tried.renumbered:
            self.rows.addItem(f"{moved.before} → {moved.after}  {moved.track}")
        for run in tried.found:
            self.rows.addItem(f"+ {run.track} arrives at {run.driver.number if run.driver else '?'}")
        for finding in new:
            self.rows.addItem(f"▲ {finding.message}")
        if not self.rows.count():
            self.rows.addItem("Nothing changes for the tracks.")
        self.go.setText(wanted.label)
        self.go.setEnabled(after.studio != table.studio)


def _switches(table: Worktable) -> Iterator[tuple[str, Change]]:
    """Yield every position of every switch of a digital unit at which it does not stand now."""
    studio = table.studio
    for unit in studio.units.values():
        profile = studio.profile_of(unit.id)
        for mode in profile.modes if profile.is_digital else ():
            for choice in mode.choices:
                if choice.key != unit.settings.modes.get(mode.key, mode.default):
                    label = f"Set {unit.name}'s {mode.label} to {choice.label}"
                    yield f"{unit.name}: {mode.label} to {choice.label}", change(label, set_mode, unit.id, mode.key, choice.key)


def _summary(tried: Rehearsal, wrong: int) -> str:
    before, after = tried.inputs
    return (
        f"{len(tried.lost)} tracks lost, {len(tried.renumbered)} change their number, {len(tried.found)} come back. "
        f"Driver inputs {before} → {after}. {wrong} new things to look at."
    )
