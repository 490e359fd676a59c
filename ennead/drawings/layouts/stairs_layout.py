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
    shown : tuple of LevelStop
        Its stops, and behind them what the software has of it once the return's gain is on it, where that is known.
    """

    stairs: Staircase
    left: float
    top: float
    width: float
    height: float
    scale: Axis
    step: float
    shown: tuple[LevelStop, ...]

    @property
    def software(self) -> LevelStop | None:
        """The column of the software, behind the return's gain."""
        return self.shown[-1] if len(self.shown) > len(self.stairs.stops) else None

    def column(self, x: float) -> int | None:
        """Return the stop whose column is at a place."""
        n = int((x - self.left) // self.step)
        return n if self.left <= x and n < len(self.shown) else None

    def peak_at(self, x: float, y: float, near: float) -> LevelStop | None:
        """Return the stop whose peak is drawn at a point, give or take `near` px."""
        n = self.column(x)
        stop = self.shown[n] if n is not None else None
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
    shown = (*worst.stops, *_in_software(worst))
    known = [v for s in shown for v in (s.peak_dbu, s.limit_dbu, s.nominal_dbu) if v is not None]
    scale = axis(min([-8.0, *known]), max([24.0, *known]), y + high, y, whole=8)
    return StairsLayout(worst, x, y, wide, high, scale, wide / len(shown), shown)


def _in_software(stairs: Staircase) -> tuple[LevelStop, ...]:
    """Return what the return's gain makes of a loop, on the scale of its input: full scale is what clips that."""
    last = stairs.stops[-1]
    if stairs.returned_dbfs is None or last.limit_dbu is None or last.at.what != "A/D":
        return ()
    dbfs = stairs.returned_dbfs
    return (LevelStop(last.at, last.limit_dbu + dbfs, last.limit_dbu, None, dbfs, "return gain"),)


def _least(stairs: Staircase) -> float:
    least = stairs.least
    return 1e9 if least is None or least.headroom_db is None else least.headroom_db
