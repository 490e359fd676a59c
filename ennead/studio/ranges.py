"""Texts that end in numbers, with neighbours told as ranges."""

import re
from collections.abc import Sequence
from typing import Final

_LAST_NUMBER: Final = re.compile(r"^(.*?)(\d+)$")


def in_ranges(texts: Sequence[str]) -> str:
    """Return texts that end in numbers with neighbours as ranges: ``Slipway Mic 1–2``, ``Buoy Line in 3–10 + 12``.

    Examples
    --------
    >>> in_ranges(["Slipway Mic 1", "Slipway Mic 2", "Pier Mic 7"])
    'Slipway Mic 1–2 + Pier Mic 7'
    """
    if len(texts) == 1:
        return texts[0]
    groups: list[tuple[str, list[list[int]]]] = []
    for text in dict.fromkeys(texts):
        found = _LAST_NUMBER.match(text)
        stem, number = (found.group(1), int(found.group(2))) if found else (text, 0)
        if not found or not groups or groups[-1][0] != stem or not groups[-1][1]:
            groups.append((stem, [[number, number]] if found else []))
        elif number == groups[-1][1][-1][1] + 1:
            groups[-1][1][-1][1] = number
        else:
            groups[-1][1].append([number, number])
    return " + ".join(stem + " + ".join(f"{a}–{b}" if b > a else f"{a}" for a, b in ranges) for stem, ranges in groups)
