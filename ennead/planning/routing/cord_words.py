"""Cords in words: ``A12 → B5`` names two points, the upper one first unless it is said otherwise."""

import re
from collections.abc import Sequence
from typing import Final

from ennead.edits.change import Change, Edit, step
from ennead.edits.scenes import add_scene, lay_cord
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd

#: What stands between the two sides: an arrow, the word, a comma.
BETWEEN: Final = re.compile(r"\s*(?:→|->|>|\bto\b|,|;)\s*")
_POINT: Final = re.compile(r"^(?P<bay>.*?)[\s·.]*(?P<number>\d+)\s*(?P<row>above|below|a|b)?$", re.IGNORECASE)
_REMEDY: Final = "Type two points with an arrow between, such as A12 → B5 or A 3 below → B 7."


def cord_in_words(studio: Studio, text: str) -> tuple[PortEnd, PortEnd]:
    """Return the two points a text names.

    Raises
    ------
    BadValue
        If it names none, or one that no bay has.
    """
    parts = [part for part in BETWEEN.split(text.strip()) if part]
    if len(parts) != 2:
        raise BadValue("a cord", text, _REMEDY)
    return point_in_words(studio, parts[0], row=0), point_in_words(studio, parts[1], row=1)


def point_in_words(studio: Studio, text: str, row: int) -> PortEnd:
    """Return the point a text names: a bay's name and a number, and the row where it is said.

    Parameters
    ----------
    row : int
        The row that is meant where none is said, from 0.

    Raises
    ------
    BadValue
    """
    own = _own_number(studio, text.strip(), row)
    if own is not None:
        return own
    found = _POINT.match(text.strip())
    name = found["bay"].strip().casefold() if found else ""
    bays = [b for b in studio.bays.values() if studio.units[b.id].name.casefold() == name]
    if found is None or not bays:
        names = ", ".join(studio.units[b].name for b in studio.bays)
        known = [
            studio.units[b].name
            for b in studio.bays
            if text.strip().casefold().startswith(studio.units[b].name.casefold())
        ]
        if found is None and known:
            raise BadValue("a point", text, f"Say which point of {known[0]}, by its number.")
        raise BadValue("a point", text, f"The bays are {names}." if names else "Make a bay first.")
    bay = bays[0]
    wanted = {"above": 0, "a": 0, "below": 1, "b": 1}.get((found["row"] or "").casefold(), row)
    keys = bay.rows[min(wanted, len(bay.rows) - 1)]
    at = int(found["number"]) - 1
    if not 0 <= at < len(keys) or not keys[at]:
        raise BadValue("a point", text, f"{studio.units[bay.id].name} has the points 1 to {len(keys)} in that row.")
    return PortEnd(bay.id, keys[at])


def _own_number(studio: Studio, text: str, row: int) -> PortEnd | None:
    """Return the point that a text names by a number of its own, which may be any word; in the row that is meant first."""
    low = text.casefold()
    for bay in studio.bays.values():
        name = studio.units[bay.id].name.casefold()
        if low.startswith(name):
            rest = low[len(name) :].strip(" ·.")
            rows = sorted(range(len(bay.rows)), key=lambda n: n != row)
            for n in rows:
                for key in bay.rows[n]:
                    own = bay.labels[key].number.casefold() if key in bay.labels else ""
                    if own and rest in (own, f"{own} {('above', 'below')[n > 0]}"):
                        return PortEnd(bay.id, key)
    return None


def cord_change(studio: Studio, one: PortEnd, other: PortEnd) -> Change:
    """Return the change that lays a cord in the scene at hand; where there is none, in a new one called after the session."""
    label = f"Lay a cord from {studio.end_text(one)} to {studio.end_text(other)}"
    return in_a_scene(studio, label, [step(lay_cord, one, other)])


def in_a_scene(studio: Studio, label: str, steps: Sequence[Edit]) -> Change:
    """Return a change of the scene at hand; back to normals has no cords, so that a new scene called after the session comes first there."""
    if studio.scene:
        return Change(label, tuple(steps))
    taken = {s.name.casefold() for s in studio.scenes.values()}
    name, n = studio.current.name, 1
    while name.casefold() in taken:
        n += 1
        name = f"{studio.current.name} ({n})"
    return Change(label, (step(add_scene, name), *steps))
