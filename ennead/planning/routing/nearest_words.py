"""The nearest reading of words that name no cord: the bay or box that is called most like what was typed, the point that is there."""

import re
from difflib import get_close_matches
from typing import Final

from ennead.planning.routing.block_words import laid_in_words
from ennead.planning.routing.cord_words import BETWEEN
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError

_SIDE: Final = re.compile(
    r"^(?P<name>.*?)[\s·.]*(?P<numbers>\d+(?:\s*[–-]\s*\d+)?)?\s*(?P<row>above|below)?$", re.IGNORECASE
)


def nearest_words(studio: Studio, text: str) -> str:
    """Return words like some that were not understood that are; empty where none come near."""
    sides = [side.strip() for side in BETWEEN.split(text.strip(), maxsplit=1)]
    if len(sides) == 1:
        # Without an arrow: where a second name could begin.
        words = text.split()
        tries = [(" ".join(words[:n]), " ".join(words[n:])) for n in range(1, len(words))]
    else:
        tries = [(sides[0], sides[1])]
    for one, other in tries:
        for first in _readings(studio, one):
            for second in _readings(studio, other):
                said = f"{first} → {second}"
                try:
                    laid_in_words(studio, said).apply(studio)
                except EnneadError:
                    continue
                return said
    return ""


def _readings(studio: Studio, side: str) -> list[str]:
    """Return a side as it was typed, then with the names that are most like it, and with a number that its row has."""
    found = _SIDE.match(side)
    if found is None:
        return [side]
    names = {studio.units[u].name.casefold(): studio.units[u].name for u in studio.bays}
    like = [names[n] for n in get_close_matches(found["name"].strip().casefold(), names, n=2, cutoff=0.3)]
    like += [name for name in names.values() if name not in like and len(names) <= 2]
    bays = {studio.units[u].name: bay for u, bay in studio.bays.items()}
    readings = [side]
    for name in like:
        most = max(len(row) for row in bays[name].rows)
        number = (found["numbers"] or "1").strip()
        last = int(re.split(r"\D+", number)[-1])
        number = number if 1 <= last <= most else str(min(max(1, last), most))
        readings.append(f"{name} {number} {found['row'] or ''}".strip())
    return readings
