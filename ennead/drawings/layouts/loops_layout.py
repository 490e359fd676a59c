"""Where the loops lie: a row each with its numbers, its delay on one axis of ms and its levels on one of dBu; pure geometry."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from ennead.drawings.layouts.axis import Axis, axis
from ennead.drawings.layouts.stairs_layout import StairsLayout, lay_stairs
from ennead.drawings.layouts.wrapping import Scale
from ennead.reports.loop_rows import LoopFigures
from ennead.studio.ids import DestinationId

ROW, HEAD = 38, 46
#: Heights of what the chosen loop opens to, before scaling.
CIRCUIT, DELAY, LINE = 172, 96, 22


class Columns(NamedTuple):
    """Left edges of the columns, px, and the width of a box of numbers."""

    name: float
    send: float
    boxes: float
    back: float
    number: float


@dataclass(frozen=True, slots=True)
class LoopRow:
    """One loop; y and height in px."""

    figures: LoopFigures
    y: float
    height: float


@dataclass(frozen=True, slots=True)
class LoopsLayout:
    """The whole drawing.

    Parameters
    ----------
    late, loud : Axis
        ms and dBu, the same for all rows.
    chosen : LoopFigures or None
        The loop that is opened below the rows.
    detail : float, px
        Where that begins.
    stacked : bool
        Whether its levels stand below its circuit, for want of width, and not beside it.
    stairs : StairsLayout or None
        Its levels; None where it is sent nowhere.
    circuit : float, px
        The room of its circuit from side to side.
    """

    width: float
    height: float
    columns: Columns
    late: Axis
    loud: Axis
    rows: tuple[LoopRow, ...] = ()
    chosen: LoopFigures | None = None
    detail: float = 0.0
    stacked: bool = False
    stairs: StairsLayout | None = None
    circuit: float = 0.0

    def row_at(self, y: float) -> LoopRow | None:
        """Return the row at a height."""
        return next((r for r in self.rows if r.y <= y < r.y + r.height), None)

    def row_of(self, loop: str) -> LoopRow | None:
        """Return the row of a loop."""
        return next((r for r in self.rows if r.figures.loop.id == loop), None)


def lay_loops(
    several: Sequence[LoopFigures], chosen: DestinationId | None, rate_hz: int, width: float, px: Scale
) -> LoopsLayout:
    """Return the layout of some loops, the chosen one opened below; of none chosen the first.

    Parameters
    ----------
    width : float, px
        What there is to see; the drawing is never narrower than its columns need.
    """
    width = max(width, float(px(640)))
    tight = width < px(800)
    name, number, gap = px(100 if tight else 118), px(68), px(8 if tight else 14)
    rest = width - px(8) - name - 2 * number - 4 * gap
    boxes, late_room = rest * (0.24 if tight else 0.30), rest * (0.42 if tight else 0.38)
    send = px(8) + name
    columns = Columns(px(8), send, send + number + gap / 2, send + number + gap + boxes, number)
    begin = columns.back + number + gap
    late = axis(0.0, max([_latest(f, rate_hz) for f in several] or [1.0]), begin, begin + late_room - px(48))
    levels = [s for f in several for stairs in f.levels for s in stairs.stops]
    known = [v for s in levels for v in (s.peak_dbu, s.limit_dbu) if v is not None]
    loud = axis(min([-8.0, *known]), max([24.0, *known]), begin + late_room + px(6), width - px(26), whole=8)
    rows = tuple([LoopRow(f, px(HEAD) + n * px(ROW), px(ROW)) for n, f in enumerate(several)])
    opened = next((f for f in several if f.loop.id == chosen), several[0] if several else None)
    top = px(HEAD) + len(rows) * px(ROW) + px(14)
    height = top + (px(CIRCUIT) * (1 + tight) + px(DELAY) + 8 * px(LINE) if opened is not None else 0.0)
    room = width - px(16)
    circuit = room * (1.0 if tight else 0.56)
    left, down = (0.0, px(CIRCUIT)) if tight else (circuit, 0)
    area = px(8) + left, top + down, room - left, float(px(CIRCUIT - 10))
    stairs = lay_stairs(opened.levels, *area, px) if opened is not None else None
    return LoopsLayout(width, height, columns, late, loud, rows, opened, top, tight, stairs, circuit)


def _latest(figures: LoopFigures, rate_hz: int) -> float:
    """Return how far a loop's bar reaches, ms."""
    time = figures.time
    whole = [p.samples for p in time.parts if p.samples is not None] if time is not None else []
    samples = [sum(whole), (time.reported or 0.0) if time is not None else 0.0]
    if figures.held is not None and time is not None:
        samples.append((time.reported or sum(whole)) + figures.held.samples)
    return max(samples) / rate_hz * 1e3
