"""Where a level staircase lies: a column a stop, dBu from below; pure geometry."""

from collections.abc import Sequence
from typing import NamedTuple

from ennead.drawings.layouts.axis import Axis, axis
from ennead.drawings.layouts.wrapping import Scale
from ennead.survey.staircase import LevelStop, Staircase


class StairsLayout(NamedTuple):
    """The staircase of the channel with the least headroom.

    Parameters
    ----------
    left, top, width, height : float, px
        Of the columns, their labels apart.
    scale : Axis
        dBu, upwards.
    step : float, px
        Width of a column.
    """

    stairs: Staircase
    left: float
    top: float
    width: float
    height: float
    scale: Axis
    step: float

    def column(self, x: float) -> int | None:
        """Return the stop whose column is at a place."""
        n = int((x - self.left) // self.step)
        return n if self.left <= x and n < len(self.stairs.stops) else None

    def peak_at(self, x: float, y: float, near: float) -> LevelStop | None:
        """Return the stop whose peak is drawn at a point, give or take `near` px."""
        n = self.column(x)
        stop = self.stairs.stops[n] if n is not None else None
        known = stop is not None and stop.peak_dbu is not None
        return stop if stop is not None and known and abs(self.scale.at(stop.peak_dbu or 0.0) - y) <= near else None


def lay_stairs(
    levels: Sequence[Staircase], left: float, top: float, width: float, height: float, px: Scale
) -> StairsLayout | None:
    """Return the layout of the channel with the least headroom in an area; None where nothing is sent."""
    worst = min(levels, key=_least, default=None)
    if worst is None or not worst.stops:
        return None
    x, y, wide, high = left + px(40), top + px(30), width - px(44), height - px(66)
    known = [v for s in worst.stops for v in (s.peak_dbu, s.limit_dbu, s.nominal_dbu) if v is not None]
    scale = axis(min([-8.0, *known]), max([24.0, *known]), y + high, y, whole=8)
    return StairsLayout(worst, x, y, wide, high, scale, wide / len(worst.stops))


def _least(stairs: Staircase) -> float:
    least = stairs.least
    return 1e9 if least is None or least.headroom_db is None else least.headroom_db
