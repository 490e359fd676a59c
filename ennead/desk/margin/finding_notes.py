"""Findings in the margin: what is wrong with the selection, with its ways out; and what was set aside."""

from typing import TYPE_CHECKING, Protocol

from PyQt6.QtWidgets import QLabel, QPushButton, QVBoxLayout

from ennead.desk.shell.worktable import Worktable
from ennead.edits.change import change
from ennead.edits.set_aside import set_aside, take_up
from ennead.studio.set_aside import SetAside

if TYPE_CHECKING:
    from ennead.checks.finding import Finding
    from ennead.checks.setting_aside import Aside
    from ennead.drawings.painters.theme import ThemeBook

_MARKS = {"trouble": "▲", "caution": "△", "note": "·"}
_MOST_FINDINGS = 12


class Page(Protocol):
    """What the margin makes its pages of."""

    def label(self, text: str, size: float, *, bold: bool = False, colour: str = "ink", mono: bool = False) -> QLabel:
        """Return a text."""

    def button(self, text: str) -> QPushButton:
        """Return a button with wrapped words."""

    def rule(self, column: QVBoxLayout) -> None:
        """Add a thin line."""


class FindingNotes:
    """Adds findings to the column of a page."""

    def __init__(self, page: Page, table: Worktable, book: "ThemeBook") -> None:
        self._page, self._table, self._book = page, table, book

    def add(self, column: QVBoxLayout) -> None:
        """Add the findings about the selection, then those that are set aside."""
        page, table = self._page, self._table
        findings = table.findings_about(table.selection)
        for finding in findings[:_MOST_FINDINGS]:
            self._add_finding(column, finding)
        if (rest := len(findings) - _MOST_FINDINGS) > 0:
            column.addWidget(page.label(f"and {rest} more", 13, colour="soft"))
        aside = table.aside_about(table.selection)
        if not aside:
            return
        page.rule(column)
        column.addWidget(page.label("Set aside", 14, bold=True, colour="soft"))
        for one in aside[:_MOST_FINDINGS]:
            self._add_aside(column, one)
        if (rest := len(aside) - _MOST_FINDINGS) > 0:
            column.addWidget(page.label(f"and {rest} more", 13, colour="soft"))

    def _add_finding(self, column: QVBoxLayout, finding: "Finding") -> None:
        page = self._page
        page.rule(column)
        colour = finding.severity if finding.severity != "note" else "ink"
        mark = _MARKS[finding.severity]
        column.addWidget(page.label(f"{mark} {finding.message}", 14, bold=finding.severity != "note", colour=colour))
        column.addWidget(page.label(finding.why, 13))
        for fix in finding.fixes:
            button = page.button(fix.text)
            button.setProperty("fix", True)
            button.setObjectName("fix")
            button.clicked.connect(lambda _=False, f=fix: self._table.fix(f))
            column.addWidget(button)
        if self._table.selection.kind == "nothing" or finding.rule == "rule_failed":
            return
        aside = page.button("Set aside…")
        aside.setProperty("quiet", True)
        aside.setObjectName("set_aside")
        aside.clicked.connect(lambda _=False: self._ask(finding, aside))
        column.addWidget(aside)
        for line in finding.working:
            column.addWidget(page.label(line, 12, colour="soft", mono=True))

    def _add_aside(self, column: QVBoxLayout, one: "Aside") -> None:
        page, entry = self._page, one.entry
        column.addWidget(page.label(one.finding.message, 13, colour="soft"))
        decided = ", ".join(part for part in (entry.by, entry.at[:10]) if part)
        where = "on every session" if not entry.session else "on this session"
        text = f"{entry.reason or 'No reason was given'} — {decided + ', ' if decided else ''}{where}"
        column.addWidget(page.label(text, 12, colour="soft"))
        again = page.button("Take up again")
        again.setProperty("quiet", True)
        again.setObjectName("take_up")
        again.clicked.connect(lambda _=False: self._table.do(change("Take a finding up again", take_up, entry)))
        column.addWidget(again)

    def _ask(self, finding: "Finding", button: QPushButton) -> None:
        from ennead.desk.dialogs.set_aside_dialog import SetAsideDialog

        dialog = SetAsideDialog(self._book, self._table.studio, finding, button.window())
        dialog.accepted.connect(lambda: self.keep(dialog.entry()))
        dialog.open()

    def keep(self, entry: SetAside) -> None:
        """Set a finding aside as one step of undo."""
        self._table.do(change("Set a finding aside", set_aside, entry))
