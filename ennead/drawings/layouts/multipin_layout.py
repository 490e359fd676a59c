"""Where the contacts of a multipin stand, and which line each of them is of."""

from collections.abc import Sequence
from typing import NamedTuple

from ennead.reports.loom_rows import LoomLine
from ennead.standards.multipin import ROWS


class Pin(NamedTuple):
    """One contact.

    Parameters
    ----------
    x, y : float, px
        Of its middle.
    line : int
        The line it is of; 0 where it is of none, or not known.
    role : "hot", "cold", "shield" or ""
    """

    number: int
    x: float
    y: float
    line: int
    role: str


class Multipin(NamedTuple):
    """A multipin as it is drawn.

    Parameters
    ----------
    outline : tuple of pair of float, px
        The corners of its shell.
    """

    pins: tuple[Pin, ...]
    radius: float
    outline: tuple[tuple[float, float], ...]
    width: float
    height: float


def lay_multipin(lines: Sequence[LoomLine], width: float) -> Multipin:
    """Lay a multipin out as wide as there is room.

    Parameters
    ----------
    width : float, px
    """
    of: dict[int, tuple[int, str]] = {}
    for line in lines:
        if line.contacts is not None:
            of |= {number: (line.number, role) for role, number in line.contacts._asdict().items()}
    pitch = width / (len(ROWS[0]) + 1)
    radius = pitch * 0.36
    pins = []
    for row, numbers in enumerate(ROWS):
        for n, number in enumerate(numbers):
            # The lower row stands between the contacts of the upper one.
            x, y = (n + 1 + row * 0.5) * pitch, (1.1 + row * 1.7) * pitch
            pins.append(Pin(number, x, y, *of.get(number, (0, ""))))
    height = 3.9 * pitch
    slant = pitch * 0.6
    outline = ((1.0, 1.0), (width - 1, 1.0), (width - 1 - slant, height - 1), (1.0 + slant, height - 1))
    return Multipin(tuple(pins), radius, outline, width, height)
