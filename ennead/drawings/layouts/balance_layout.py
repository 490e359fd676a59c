"""Where the bars of the balance lie: rectangles from needs, nothing drawn."""

from collections.abc import Sequence
from dataclasses import dataclass

from ennead.survey.balance import Need


@dataclass(frozen=True, slots=True)
class Bars:
    """One need's two facing bars, px: needed grows to the left of the axis, available to the right.

    Parameters
    ----------
    short : float, px
        How much of the needed bar, from its far end, finds no input.
    """

    need: Need
    top: float
    axis: float
    needed: float
    available: float
    short: float


def lay_bars(needs: Sequence[Need], width: float, top: float, row: float, numbers: float) -> tuple[Bars, ...]:
    """Return the bars of all needs; the two of a need share a unit, so that a shortage of one in nine is seen beside hundreds.

    Parameters
    ----------
    row : float, px
        Height of a need.
    numbers : float, px
        Room kept for a number at each end.
    """
    axis = width / 2
    room = max(8.0, axis - numbers)
    bars = []
    for i, n in enumerate(needs):
        unit = room / max(n.needed, n.available, 1)
        bars.append(
            Bars(n, top + i * row, axis, n.needed * unit, n.available * unit, max(0, n.needed - n.available) * unit)
        )
    return tuple(bars)
