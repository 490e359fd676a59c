"""A scale along a stretch of a drawing, with its ticks; pure geometry."""

import math
from typing import Final, NamedTuple

#: Steps of an axis.
_STEPS: Final = (0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)


class Axis(NamedTuple):
    """A scale from one figure to another along a stretch of px.

    Parameters
    ----------
    ticks : tuple of float
        The figures that are written on it.
    """

    least: float
    most: float
    left: float
    right: float
    ticks: tuple[float, ...]

    def at(self, value: float) -> float:
        """Return where a figure lies, held within the stretch."""
        part = (value - self.least) / (self.most - self.least)
        return self.left + (self.right - self.left) * min(1.0, max(0.0, part))


def axis(least: float, most: float, left: float, right: float, whole: float = 0.0) -> Axis:
    """Return an axis from a figure to at least another, with four to eight ticks.

    Parameters
    ----------
    whole : float
        The step of its ticks; zero for the first that serves.
    """
    step = whole or next((s for s in _STEPS if (most - least) / s <= 6), _STEPS[-1])
    first, last = math.floor(least / step), max(math.ceil(most / step), math.floor(least / step) + 1)
    ticks = tuple([n * step for n in range(first, last + 1)])
    return Axis(ticks[0], ticks[-1], left, right, ticks)
