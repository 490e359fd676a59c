"""The sheets there are: number, name, question, page of the handbook, keys of their own, and how each is built."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Final

from ennead.studio.record import record

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

    from ennead.desk.shell.worktable import Worktable
    from ennead.drawings.painters.theme import ThemeBook


@record(frozen=True)
class SheetKind:
    """One sheet.

    Parameters
    ----------
    page : str
        A word in the name of the handbook's page about it.
    keys : tuple of (keys, what they do)
        Beside the menus' own.
    build : callable
        Makes it; what it needs is read when it is first looked at.
    """

    number: int
    name: str
    question: str
    page: str
    keys: tuple[tuple[str, str], ...]
    build: "Callable[[Worktable, ThemeBook], QWidget]"


def _session(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.session.sheet import SessionSheet

    return SessionSheet(table, book)


def _rig(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.rig.sheet import RigSheet

    return RigSheet(table, book)


def _links(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.links.sheet import LinksSheet

    return LinksSheet(table, book)


def _clock(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.clock.sheet import ClockSheet

    return ClockSheet(table, book)


def _lines(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.lines.sheet import LinesSheet

    return LinesSheet(table, book)


def _bays(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.bays.sheet import BaysSheet

    return BaysSheet(table, book)


SHEETS: Final[tuple[SheetKind, ...]] = (
    SheetKind(1, "Session", "What has to come in and go out?", "places",
              (("Enter, Tab", "input list: next line, next column; Ctrl+V pastes a list"),), _session),
    SheetKind(2, "Rig", "Which boxes, where, in what mode?", "profiles",
              (("arrows, Enter", "rig: go to a port, connect it; Delete pulls its cable"),), _rig),
    SheetKind(3, "Links", "How is it expanded?", "expansion", (), _links),
    SheetKind(4, "Clock", "Who leads, who follows, over which cable?", "expansion", (), _clock),
    SheetKind(5, "Lines", "Which way does every signal take, and what number comes out?", "places",
              (("digits, Enter", "lines: bring the selected line to that driver input"),), _lines),
    SheetKind(6, "Bays", "Which point is what, and which cords make tonight?", "bays-planning",
              (("arrows, Enter, Delete", "bays: go to a point; lay a cord from one point to another; pull it"),
               ("+, −", "bays: look closer, or from farther away")), _bays),
)  # fmt: skip
#: Their numbers by name.
SESSION, RIG, LINKS, CLOCK, LINES, BAYS = (sheet.number for sheet in SHEETS)
BY_NUMBER: Final[dict[int, SheetKind]] = {sheet.number: sheet for sheet in SHEETS}
BY_NAME: Final[dict[str, SheetKind]] = {sheet.name: sheet for sheet in SHEETS}
