"""Where the numbers of a driver ruler lie: one cell a channel, blocks marked, long rulers on several rows."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import groupby

from ennead.drawings.layouts.wrapping import Measure, Scale
from ennead.survey.played import UnitChannel

CELL, ROW, GAP = 32, 46, 10


@dataclass(frozen=True, slots=True)
class RulerCell:
    """One number; x, y, width, height in px.

    Parameters
    ----------
    number : int
        As the recording software shows it.
    live : bool
        False for a dead number: its lane is lost at this rate.
    track : str
        The source that arrives there; empty where none does.
    """

    number: int
    x: float
    y: float
    width: float
    height: float
    live: bool
    track: str
    channel: UnitChannel


@dataclass(frozen=True, slots=True)
class RulerBlock:
    """A bracket over consecutive cells of one row: a block, or as much of it as the row holds."""

    label: str
    span: str
    x: float
    y: float
    width: float


@dataclass(frozen=True, slots=True)
class Ruler:
    """All numbers of one direction.

    Parameters
    ----------
    hang : float, px
        Room below each number for the name of its track; none where names are not shown.
    """

    cells: tuple[RulerCell, ...]
    blocks: tuple[RulerBlock, ...]
    height: float
    hang: float = 0.0

    def cell_at(self, x: float, y: float) -> RulerCell | None:
        """Return the cell at a point."""
        return next((c for c in self.cells if c.x <= x < c.x + c.width and c.y <= y < c.y + c.height), None)


def span_text(first: int, last: int) -> str:
    """Return a closed range: ``15–22``, ``7``."""
    return f"{first}–{last}" if last > first else str(first)


def lay_ruler(
    channels: Iterable[UnitChannel],
    width: float,
    measure: Measure,
    px: Scale,
    *,
    top: float = 0.0,
    left: float = 0.0,
    before: int = 0,
    tracks: Mapping[int, str] | None = None,
    hang: float = 0.0,
) -> Ruler:
    """Return the layout of one interface's channels of one direction.

    Parameters
    ----------
    before : int
        Channels of the interfaces numbered before this one.
    tracks : map of number to str
        Names of the tracks that hang from the numbers.
    hang : float, px
        How long a name may hang.
    """
    cells: list[RulerCell] = []
    blocks: list[RulerBlock] = []
    x, y, cell = left, top, px(CELL)
    row = float(px(ROW))
    for first, group in groupby(channels, key=lambda c: c.block_first):
        stretch = list(group)
        label = stretch[0].block.label
        while stretch:
            room = int((left + width - x) // cell)
            if (room < len(stretch) and x > left) or room < 1:
                # A block begins a row of its own rather than being cut where it need not be.
                if x > left:
                    x, y, row = left, y + row, float(px(ROW))
                    continue
                room = 1
            part, stretch = stretch[:room], stretch[room:]
            span = span_text(before + part[0].index, before + part[-1].index)
            wide = max(len(part) * cell, min(measure(f"{label} {span}", 12) + px(8), left + width - x))
            goes_on = " …" if part[0].index != first else ""
            blocks.append(RulerBlock(f"{label}{goes_on}", span, x, y, wide))
            for n, channel in enumerate(part):
                number = before + channel.index
                track = (tracks or {}).get(number, "")
                if track and hang:
                    # Only rows on which anything arrives need room for names.
                    row = px(ROW) + hang
                cells.append(
                    RulerCell(number, x + n * cell, y + px(18), cell, px(ROW) - px(20), channel.live, track, channel)
                )
            x += wide + px(GAP)
    return Ruler(tuple(cells), tuple(blocks), (y + row - top) if cells else 0.0, hang)
