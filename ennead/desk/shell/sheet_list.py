"""The sheets there are: number, name, question, page of the handbook, and keys of their own."""

from typing import Final

from ennead.studio.record import record


@record(frozen=True)
class SheetKind:
    """One sheet.

    Parameters
    ----------
    page : str
        A word in the name of the handbook's page about it.
    keys : tuple of (keys, what they do)
        Beside the menus' own.
    """

    number: int
    name: str
    question: str
    page: str
    keys: tuple[tuple[str, str], ...]


SHEETS: Final[tuple[SheetKind, ...]] = (
    SheetKind(1, "Session", "What has to come in and go out?", "places",
              (("Enter, Tab", "input list: next line, next column; Ctrl+V pastes a list"),)),
    SheetKind(2, "Rig", "Which boxes, where, in what mode?", "profiles",
              (("arrows, Enter", "rig: go to a port, connect it; Delete pulls its cable"),)),
    SheetKind(3, "Links", "How is it expanded?", "expansion", ()),
    SheetKind(4, "Clock", "Who leads, who follows, over which cable?", "expansion", ()),
    SheetKind(5, "Lines", "Which way does every signal take, and what number comes out?", "places",
              (("digits, Enter", "lines: bring the selected line to that driver input"),)),
    SheetKind(6, "Bays", "Which point is what, and which cords make tonight?", "bays-planning",
              (("arrows, Enter, Delete", "bays: go to a point; lay a cord from one point to another; pull it"),
               ("+, −", "bays: look closer, or from farther away"))),
    SheetKind(7, "Loops", "Which box is on which send and return, how late, how loud?", "loops", ()),
)  # fmt: skip
#: Their numbers by name.
SESSION, RIG, LINKS, CLOCK, LINES, BAYS, LOOPS = (sheet.number for sheet in SHEETS)
BY_NUMBER: Final[dict[int, SheetKind]] = {sheet.number: sheet for sheet in SHEETS}
BY_NAME: Final[dict[str, SheetKind]] = {sheet.name: sheet for sheet in SHEETS}
