"""Where print passes lie: a row each, its setup and its roll on one axis of time, its tracks beside; pure geometry."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from ennead.drawings.layouts.wrapping import Scale
from ennead.reports.pass_rows import PassRow

ROW, HEAD, LINE = 30, 34, 20
#: Steps of the axis that read well, s.
_STEPS: Final = (10, 30, 60, 120, 300, 600, 1_200, 1_800, 3_600, 7_200, 14_400, 36_000, 86_400)


class Bar(NamedTuple):
    """A pass on the axis: where its setup begins, its roll begins and ends, px."""

    setup: float
    begin: float
    end: float


@dataclass(frozen=True, slots=True)
class PassLine:
    """One pass.

    Parameters
    ----------
    tracks : float, px
        How much of the height its tracks take, a line each.
    below : tuple of str
        What to dial, where it is the chosen one.
    """

    row: PassRow
    bar: Bar
    y: float
    height: float
    tracks: float
    below: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class PassesLayout:
    """The whole drawing.

    Parameters
    ----------
    ticks : tuple of (px, s)
    words : float, px
        Where the tracks of a pass begin.
    """

    width: float
    height: float
    number: float
    words: float
    ticks: tuple[tuple[float, float], ...] = ()
    lines: tuple[PassLine, ...] = ()

    def line_at(self, y: float) -> PassLine | None:
        """Return the pass at a height."""
        return next((line for line in self.lines if line.y <= y < line.y + line.height), None)


def lay_passes(
    rows: Sequence[PassRow], setup_s: float, chosen: int, below: Sequence[str], width: float, px: Scale
) -> PassesLayout:
    """Return the layout of the passes; the chosen one opens to what has to be done before and after it.

    Parameters
    ----------
    chosen : int
        Its number, from 1.
    below : sequence of str
        What it opens to, a line each.
    """
    width = max(width, float(px(640)))
    number = float(px(8))
    left, right = number + px(84), number + px(84) + (width - px(100)) * 0.46
    words = right + px(16)
    end = rows[-1].starts_s + rows[-1].length_s if rows else 1.0

    def at(seconds: float) -> float:
        return left + (right - left) * seconds / max(1.0, end)

    room = max(2, int((right - left) / px(72)))
    every = next((s for s in _STEPS if end / s <= room), _STEPS[-1])
    ticks = tuple([(at(n * every), float(n * every)) for n in range(int(end // every) + 1)])
    lines, y = [], float(px(HEAD))
    for row in rows:
        bar = Bar(at(row.starts_s - setup_s), at(row.starts_s), at(row.starts_s + row.length_s))
        more = tuple(below) if row.n == chosen else ()
        tracks = float(px(ROW)) + (len(row.jobs) - 1) * px(LINE)
        height = tracks + len(more) * px(LINE) + (px(6) if more else 0)
        lines.append(PassLine(row, bar, y, height, tracks, more))
        y += height
    return PassesLayout(width, y + px(8), number, words, ticks, tuple(lines))
