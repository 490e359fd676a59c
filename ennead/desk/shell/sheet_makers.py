"""How each sheet is made; what it needs is imported when it is first looked at."""

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Final

from ennead.desk.shell.sheet_list import BAYS, CLOCK, LINES, LINKS, LOOPS, RIG, SESSION

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

    from ennead.desk.shell.worktable import Worktable
    from ennead.drawings.painters.theme import ThemeBook


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


def _loops(table: "Worktable", book: "ThemeBook") -> "QWidget":
    from ennead.desk.sheets.loops.sheet import LoopsSheet

    return LoopsSheet(table, book)


#: What makes a sheet, by its number.
MAKERS: Final[Mapping[int, "Callable[[Worktable, ThemeBook], QWidget]"]] = {
    SESSION: _session,
    RIG: _rig,
    LINKS: _links,
    CLOCK: _clock,
    LINES: _lines,
    BAYS: _bays,
    LOOPS: _loops,
}
