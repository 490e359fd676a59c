"""Blocks of wiring in words: ``Pier line out 1–8 → A 9–16`` cables eight sockets to the rears of eight points."""

import re
from typing import Final

from ennead.edits.bays import wire_block
from ennead.edits.change import Change, change
from ennead.planning.routing.cord_words import BETWEEN, cord_change, cord_in_words
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId

_RANGE: Final = re.compile(
    r"^(?P<words>.*?)\s*(?P<first>\d+)\s*(?:[–—-]\s*(?P<last>\d+))?\s*(?P<row>above|below)?$", re.IGNORECASE
)
_NUMBER: Final = re.compile(r"^(?P<stem>.*?)\s*(?P<number>\d+)$")
_REMEDY: Final = (
    "Type sockets and points with an arrow between, such as Pier line out 1–8 → A 9–16 or A 1–4 below → Buoy line in"
    " 3–6."
)


def laid_in_words(studio: Studio, text: str) -> Change:
    """Return the change a text stands for: a cord between two points, or cables between sockets and the rears of points.

    Raises
    ------
    BadValue
        If it stands for neither.
    """
    sides = [part.strip() for part in BETWEEN.split(text.strip(), maxsplit=1)]
    if len(sides) != 2 or not all(sides):
        raise BadValue("a cord or a cable", text, _REMEDY)
    units = [_unit_of(studio, side) for side in sides]
    if (
        all(found is not None and found[0] in studio.bays for found in units)
        and "–" not in text
        and not re.search(r"\d\s*-\s*\d", text)
    ):
        return cord_change(studio, *cord_in_words(studio, text))
    starts, ends = sockets_in_words(studio, sides[0], row=1), sockets_in_words(studio, sides[1], row=0)
    if len(starts) != len(ends):
        raise BadValue("a block of cables", text, f"There are {len(starts)} on the left and {len(ends)} on the right.")
    label = f"Wire {studio.end_text(starts[0])}" + (f" and {len(starts) - 1} more" if len(starts) > 1 else "")
    return change(f"{label} to {studio.units[ends[0].unit].name}", wire_block, tuple(zip(starts, ends, strict=True)))


def sockets_in_words(studio: Studio, text: str, row: int) -> list[PortEnd]:
    """Return the sockets a text names: a unit, some words of their label, and a number or a range.

    Parameters
    ----------
    row : int
        The row of a bay that is meant where none is said, from 0.

    Raises
    ------
    BadValue
    """
    found = _unit_of(studio, text)
    if found is None:
        bays = ", ".join(studio.units[b].name for b in studio.bays)
        raise BadValue("sockets or a point", text, f"No box is called so. The bays are {bays or 'still to be made'}.")
    unit, rest = found
    said = _RANGE.match(rest)
    if said is None:
        raise BadValue("sockets", text, f"Say which of {studio.units[unit].name}, by a number or a range.")
    first, last = int(said["first"]), int(said["last"] or said["first"])
    if not first <= last <= first + 95:
        raise BadValue("a range", f"{first}–{last}", "Give the lower number first, and 96 at most.")
    numbers = range(first, last + 1)
    if unit in studio.bays:
        keys = studio.bays[unit].rows[
            {"above": 0, "below": 1}.get((said["row"] or "").casefold(), min(row, len(studio.bays[unit].rows) - 1))
        ]
        if last > len(keys):
            raise BadValue("points", text, f"{studio.units[unit].name} has {len(keys)} in a row.")
        return [PortEnd(unit, keys[n - 1]) for n in numbers]
    words = said["words"].casefold().split()
    stems: dict[str, dict[int, str]] = {}
    for port in studio.profile_of(unit).ports:
        named = _NUMBER.match(port.label)
        stem = (named["stem"] if named else port.label).casefold()
        if all(word in stem for word in words):
            stems.setdefault(stem, {})[int(named["number"]) if named else 1] = port.key
    fitting = [ports for ports in stems.values() if all(n in ports for n in numbers)]
    if len(fitting) != 1:
        how = "Several rows of sockets are called so" if fitting else "It has no such sockets"
        raise BadValue(f"sockets of {studio.units[unit].name}", rest, f"{how}; say it as their labels do.")
    return [PortEnd(unit, fitting[0][n]) for n in numbers]


def _unit_of(studio: Studio, text: str) -> tuple[UnitId, str] | None:
    """Return the unit a text begins with, by the longest name that fits, and the rest of it."""
    low = text.casefold()
    fits = [
        u for u in studio.units.values() if low.startswith(u.name.casefold()) and not low[len(u.name) :][:1].isalpha()
    ]
    best = max(fits, key=lambda u: len(u.name), default=None)
    return None if best is None else (best.id, text[len(best.name) :].strip(" ·."))
