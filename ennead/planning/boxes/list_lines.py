"""The lines of a list pasted from recording software: which number each has in it, and which name, in all the shapes they come in."""

import re
from itertools import pairwise, zip_longest
from typing import Final, NamedTuple

#: Words that number a channel and name none.
_WORD: Final = r"(?:inputs?|ins?|outputs?|outs?|channels?|chan|ch|ports?|driver|hw|no|nr)\.?"
_NUMBER: Final = r"[\[(#]?\s*(?P<number>\d{1,4})\s*[\])]?"
#: ``13-20 ADAT``: a span of numbers before a name.
_SPAN: Final = re.compile(r"^(?P<number>\d{1,4})\s*[-–/]\s*(?P<last>\d{1,4})(?:\s*[.):=,]\s*|\s+)(?=[^\W\d])")
#: ``13 ADAT 1``, ``13: ADAT 1``, ``[13] ADAT 1``; another number may follow.
_PLAIN: Final = re.compile(rf"^{_NUMBER}(?:\s*[.):=,]\s*|\s*[-–—]\s+|\s+|-)(?=[^\W\d]|[\[(#]?\d{{1,4}}[\])]?\s)")
#: ``In 13: ADAT 1``, ``Input 13 - ADAT 1``, ``Ch. 13, ADAT 1``.
_WORDED: Final = re.compile(rf"^{_WORD}\s*{_NUMBER}\s*(?:[:=,]|\s[-–—]\s)\s*(?=[^\W\d])", re.IGNORECASE)
#: ``Input 13 (ADAT 1)``, and ``ADAT 1 (Input 13)``.
_AROUND: Final = re.compile(rf"^{_WORD}\s*#?(?P<number>\d{{1,4}})\s*[\[(](?P<name>.+)[\])]$", re.IGNORECASE)
_BEHIND: Final = re.compile(rf"^(?P<name>.+?)\s*[\[(]{_WORD}\s*#?(?P<number>\d{{1,4}})[\])]$", re.IGNORECASE)
_WORD_ALONE: Final = re.compile(rf"^{_WORD}\s*#?(?P<number>\d{{1,4}})$", re.IGNORECASE)
_NUMBER_ALONE: Final = re.compile(rf"^{_NUMBER}[.):]?$")
#: What is measured at the end of a name: ``48 kHz``, ``(+4 dBu)``, ``24 bit``.
_UNIT: Final = re.compile(
    r"\s*[\[(]?[+-]?\d+(?:[.,]\d+)?\s*(?:[kM]?Hz|dB\w*|bits?|ms|ohms?|V)\s*[\])]?$", re.IGNORECASE
)
_CELLS: Final = re.compile(r'[\t;|]|(?<=")\s*,\s*(?=")')
#: ``ADAT1-3``, ``ADAT 1.3``: two numbers at the end of a name.
_TWO: Final = re.compile(r"^(?P<stem>.*[^\W\d])(?P<gap>[\s_]*)(?P<a>\d{1,3})\s*(?P<sign>[-–.:])\s*(?P<b>\d{1,3})$")

TWO_NUMBERS: Final = "Lines have several numbers: the {nth} of each rises, and is taken as the software's."
NOT_RISING: Final = (
    "The numbers before the entries do not rise, or most have none: the entries were counted in their order."
)
FROM_ZERO: Final = "The list counts from 0: its 0 is taken as number 1, and all others with it."


class ListLine(NamedTuple):
    """One line.

    Parameters
    ----------
    number : int or None
        Its own in the list, counted from 1.
    channels : int
        How many numbers it spans; 0 where it does not say.
    name : str
    single : bool
        Whether two numbers at the end of the name are one name (``ADAT1-3``), rather than a range (``ADAT 1-8``).
    """

    number: int | None
    channels: int
    name: str
    single: bool = False


class _Cut(NamedTuple):
    """A line cut up: its numbers from the left, the last number of a span, its name; whether a word came before a number."""

    numbers: tuple[int, ...]
    last: int | None
    name: str
    worded: bool = False


def read_list_lines(text: str) -> tuple[list[ListLine], list[str]]:
    """Return the lines of a list, and what had to be assumed of them, as sentences."""
    cuts = [cut for line in re.split(r"[\r\n]+", text) if (cut := _cut(line)) is not None]
    if any(cut.worded for cut in cuts):
        # Where some lines are numbered by a word, ``In 3`` among them is number 3.
        cuts = [
            c._replace(numbers=(int(said["number"]),)) if not c.numbers and (said := _WORD_ALONE.match(c.name)) else c
            for c in cuts
        ]
    numbers, assumed = _of_the_list(cuts)
    found = [
        ListLine(number, cut.last - cut.numbers[0] + 1 if cut.last is not None else 0, cut.name)
        for cut, number in zip(cuts, numbers, strict=True)
    ]
    lines = []
    for at, line in enumerate(found):
        around = found[at - 1] if at else None, found[at + 1] if at + 1 < len(found) else None
        single, alone = _is_single(line, *around)
        lines.append(line._replace(single=single))
        if alone:
            assumed.append(f"“{line.name}” is taken as one name, not as a range.")
    return lines, assumed


def _cut(line: str) -> _Cut | None:
    cells = [" ".join(cell.strip().strip('"').split())[:200] for cell in _CELLS.split(line)]
    cells = [cell for cell in cells if cell]
    if not cells:
        return None
    if len(cells) > 1:
        numbered = [_NUMBER_ALONE.match(cell) or _WORD_ALONE.match(cell) for cell in cells]
        words = [cell for cell, number in zip(cells, numbered, strict=True) if number is None]
        if words and any(numbered):
            return _Cut(tuple([int(m["number"]) for m in numbered if m]), None, _bare(" ".join(words)), True)
    name = " ".join(cells)
    for shape in (_AROUND, _BEHIND):
        if whole := shape.match(name):
            return _Cut((int(whole["number"]),), None, _bare(whole["name"]), True)
    if worded := _WORDED.match(name):
        return _Cut((int(worded["number"]),), None, _bare(name[worded.end() :]), True)
    if (span := _SPAN.match(name)) and 0 < int(span["last"]) - int(span["number"]) < 128:
        return _Cut((int(span["number"]),), int(span["last"]), _bare(name[span.end() :]))
    numbers = []
    while plain := _PLAIN.match(name):
        numbers.append(int(plain["number"]))
        name = name[plain.end() :]
    name = _bare(name)
    return _Cut(tuple(numbers), None, name) if name else None


def _bare(name: str) -> str:
    """Return a name without what is measured at its end."""
    while (unit := _UNIT.search(name)) and name[: unit.start()].strip(" -–,:"):
        name = name[: unit.start()].rstrip(" -–,:")
    return name.strip()


def _of_the_list(cuts: list[_Cut]) -> tuple[list[int | None], list[str]]:
    """Return the number of each line: the first column of numbers that rises and that most lines have."""
    columns = list(zip_longest(*[cut.numbers for cut in cuts])) if cuts else []
    for nth, column in enumerate(columns):
        there = [number for number in column if number is not None]
        if len(there) * 2 > len(cuts) and all(a < b for a, b in pairwise(there)):
            assumed = [TWO_NUMBERS.format(nth=("first", "second", "third")[min(nth, 2)])] if len(columns) > 1 else []
            if there[0] == 0:
                assumed.append(FROM_ZERO)
            return [None if n is None else n + (there[0] == 0) for n in column], assumed
    return [None] * len(cuts), [NOT_RISING] if columns else []


def _is_single(line: ListLine, before: ListLine | None, after: ListLine | None) -> tuple[bool, bool]:
    """Say whether two numbers at the end of a name are one name, and whether nothing beside it tells so."""
    two = _TWO.match(line.name)
    if two is None:
        return False, False
    if two["sign"] in ".:":
        return True, False
    a, b = int(two["a"]), int(two["b"])
    if line.number is not None and after is not None and after.number == line.number + 1:
        return True, False
    for other, step in ((before, -1), (after, 1)):
        beside = _TWO.match(other.name) if other is not None else None
        if beside is None or beside["stem"] != two["stem"]:
            continue
        one, next_one = (int(beside["a"]), int(beside["b"])), (a, b)
        first, second = (one, next_one) if step < 0 else (next_one, one)
        if second == (first[0], first[1] + 1) or second == (first[0] + 1, 1):
            return True, False
        if second[0] == first[1] + 1:
            return False, False
    return not two["gap"], not two["gap"]
