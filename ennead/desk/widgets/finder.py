"""Ctrl+K: finds anything by name, number or label."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QWidget

from ennead.checks.finding import Fix
from ennead.desk.shell.finding_places import seen_at
from ennead.desk.shell.sheet_list import BY_NAME, LINES, RIG
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.narrowing import NarrowingDialog
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.session import set_rate
from ennead.edits.sessions import choose_session, pair_of, take_in, take_in_outputs
from ennead.edits.settings import set_clock_source, set_mode
from ennead.standards.rates import RATES_HZ, rate_text
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey

_MOST = 60


@dataclass(frozen=True, slots=True)
class Find:
    """Something that can be found: its text, what to look in, and where it leads."""

    text: str
    words: str
    sheet: int = 0
    selection: Subject | None = None
    action: QAction | None = None
    fix: Fix | None = None


def everything(table: Worktable, actions: list[QAction]) -> list[Find]:
    """Return all that can be found: sources, driver numbers, units, ports, cables, findings, actions."""
    survey, studio = table.survey, table.studio
    finds = [Find(f"{s.name}  ·  source", s.name, LINES, Subject("source", s.id)) for s in studio.session_sources]
    finds += _driver_finds(survey)
    for unit in studio.units.values():
        profile = studio.profiles[unit.profile]
        finds.append(
            Find(f"{unit.name}  ·  {profile.name}", f"{unit.name} {profile.name}", RIG, Subject("unit", unit.id))
        )
        finds += [
            Find(
                f"{unit.name} · {p.label}",
                f"{unit.name} {p.label} {unit.name}{p.label}",
                6 if unit.id in studio.bays and p.direction == "either" else 2,
                Subject("port", unit.id, p.key),
            )
            for p in profile.ports
        ]
    for cable in table.survey.every_cable.values():
        text = f"Cable {cable.id}  ·  {' → '.join(studio.ends_text(cable))}"
        sheet = RIG if isinstance(cable.start, PortEnd) and isinstance(cable.end, PortEnd) else LINES
        finds.append(Find(text, text, sheet, seen_at(studio, Subject("cable", cable.id))))
    from ennead.reports.sheet_of import sheet_of

    for finding in table.findings:
        sheet = BY_NAME[sheet_of(finding)].number
        finds.append(Find(f"▲ {finding.message}", finding.message, sheet, seen_at(studio, finding.subject)))
        finds += [Find(f"→ {fix.text}", f"fix {fix.text}", fix=fix) for fix in finding.fixes]
    finds += [Find(fix.text, fix.text, fix=fix) for fix in _menu_settings(survey)]
    for action in actions:
        text = action.text().replace("&", "")
        if text and action.isEnabled() and action.menu() is None:
            keys = action.shortcut().toString()
            finds.append(Find(f"{text}" + (f"   ({keys})" if keys else ""), text, action=action))
    return finds


def _menu_settings(survey: Survey) -> list[Fix]:
    """Return every mode, clock source and rate one could set, as deeds."""
    studio, deeds = survey.studio, []
    for unit in studio.units.values():
        profile = studio.profiles[unit.profile]
        for mode in profile.modes:
            for choice in mode.choices:
                text = f"Set {unit.name}'s {mode.label} to {choice.label}"
                deeds.append(Fix(text, change(text, set_mode, unit.id, mode.key, choice.key)))
        for entry in profile.clock_sources:
            text = f"Set {unit.name}'s clock to {entry.label}"
            deeds.append(Fix(text, change(text, set_clock_source, unit.id, entry.key)))
    for session in studio.sessions.values():
        if session.id == studio.session:
            continue
        text = f"Go to the session {session.name}"
        deeds.append(Fix(text, change(text, choose_session, session.id)))
        for key in (*session.sources, *session.destinations):
            if key not in studio.current.sources and key not in studio.current.destinations:
                line = (
                    studio.sources[SourceId(key)] if key in studio.sources else studio.destinations[DestinationId(key)]
                )
                text = f"Take in {line.name} of the session {session.name}"
                deeds.append(Fix(text, change(text, take_in, key)))
    known = {end for source in studio.session_sources for end in source.at}
    for cable in survey.in_use.values():
        if isinstance(cable.start, PortEnd) and isinstance(cable.end, PortEnd) and cable.start not in known:
            profile = studio.profile_of(cable.start.unit)
            if profile.role in ("instrument", "panel", "console", "processor", "preamp"):
                text = f"Take in {studio.end_text(cable.start)} as a source"
                deeds.append(Fix(text, change(text, take_in_outputs, pair_of(studio, cable.start))))
    for rate in RATES_HZ:
        text = f"Go to {rate_text(rate)}"
        deeds.append(Fix(text, change(text, set_rate, rate)))
    return deeds


def _driver_finds(survey: Survey) -> list[Find]:
    tracks = {(r.driver.unit, r.driver.channel.index): r for r in survey.signal_paths if r.driver}
    finds = []
    for driver in survey.numbering.inputs:
        run = tracks.get((driver.unit, driver.channel.index))
        unit = survey.studio.units[driver.unit].name
        there = run.track if run else "free" if driver.channel.live else "dead"
        text = f"Driver input {driver.number}  ·  {unit} {driver.label}  ·  {there}"
        if run and run.source:
            finds.append(Find(text, text, LINES, Subject("source", run.source)))
        elif driver.channel.port:
            finds.append(Find(text, text, RIG, Subject("port", driver.unit, driver.channel.port)))
        else:
            finds.append(Find(text, text, RIG, Subject("unit", driver.unit)))
    return finds


def matching(finds: list[Find], typed: str) -> list[Find]:
    """Return what holds every typed word; what begins with the first word, or bears that very number, comes first."""
    words = typed.casefold().split()
    if not words:
        return finds[:_MOST]
    found = [f for f in finds if all(w in f.words.casefold() for w in words)]

    def rank(find: Find) -> tuple[int, int]:
        parts = find.words.casefold().replace("·", " ").split()
        return (-sum(w in parts for w in words), 0 if find.words.casefold().startswith(words[0]) else 1)

    return sorted(found, key=rank)[:_MOST]


class Finder(NarrowingDialog):
    """The box that opens with Ctrl+K."""

    def __init__(
        self,
        table: Worktable,
        book: ThemeBook,
        actions: list[QAction],
        go: Callable[[int, Subject], None],
        parent: QWidget | None = None,
    ) -> None:
        self._finds, self._go, self._do = everything(table, actions), go, table.fix
        super().__init__(book.now, "Find", "a name, a number, a cable, an action", "Find", parent)
        self.setObjectName("finder")

    def rows(self, typed: str) -> Iterable[tuple[str, Find]]:
        """Return what matches the typed words."""
        return ((f.text, f) for f in matching(self._finds, typed))

    def take(self, meaning: Find) -> None:
        """Go there, or do it."""
        if meaning.action is not None:
            meaning.action.trigger()
        elif meaning.fix is not None:
            self._do(meaning.fix)
        elif meaning.selection is not None:
            self._go(meaning.sheet, meaning.selection)
