"""Where everything on the run chart lies: columns shared by all lines, rows from top to bottom; nothing drawn."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Final

from ennead.drawings.layouts.chart_rows import BEFORE, FOLDED, ZONES, GroupRow, LineRow
from ennead.drawings.layouts.wrapping import Measure, Scale, wrap

HEADINGS: Final = {
    "before": "on the way",
    "panel": "panel",
    "bay": "bay",
    "back": "bay",
    "outboard": "outboard",
    "converter": "converter",
    "link": "link",
}
NAME_SIZE: Final = 14.0
STOP_SIZE: Final = 14.0
GAP_SIZE: Final = 13.0
NUMBER_SIZE: Final = 17.0
#: A stop's text is cut in the middle beyond this; whole on hover and in the margin.
WIDEST_STOP: Final = 210.0


@dataclass(frozen=True, slots=True)
class Row:
    """One row with its place, px.

    Parameters
    ----------
    extra : float, px
        How much of its height, at the foot, a proposal takes beneath the line that is there.
    """

    item: GroupRow | LineRow
    y: float
    height: float
    gap_lines: tuple[str, ...] = ()
    extra: float = 0.0


@dataclass(frozen=True, slots=True)
class Chart:
    """The whole chart, px.

    Parameters
    ----------
    name, middle, number, track : float, px
        Left edges of the frozen name column, the middle that may scroll, and the frozen right columns.
    zones : map of zone to (left edge, width)
        Within the middle, before it is scrolled.
    middle_width : float, px
        Full width of the middle; where it is more than there is room, the middle scrolls.
    """

    width: float
    height: float
    head: float
    name: float
    middle: float
    number: float
    track: float
    middle_width: float
    zones: dict[str, tuple[float, float]] = field(default_factory=dict)
    rows: tuple[Row, ...] = ()

    @property
    def middle_room(self) -> float:
        """How much of the middle is seen at once, px."""
        return self.number - self.middle

    def row_at(self, y: float) -> Row | None:
        """Return the row at a height."""
        low, high = 0, len(self.rows)
        while low < high:
            mid = (low + high) // 2
            if self.rows[mid].y + self.rows[mid].height <= y:
                low = mid + 1
            else:
                high = mid
        return self.rows[low] if low < len(self.rows) and self.rows[low].y <= y else None

    def row_of(self, source: str) -> Row | None:
        """Return the row of a source."""
        return next((r for r in self.rows if isinstance(r.item, LineRow) and r.item.source == source), None)

    def between(self, top: float, bottom: float) -> Sequence[Row]:
        """Return the rows that are seen between two heights."""
        return [r for r in self.rows if r.y <= bottom and r.y + r.height >= top]


def lay_chart(items: Sequence[GroupRow | LineRow], width: float, measure: Measure, px: Scale) -> Chart:
    """Return the layout of rows for a width, px."""
    lines = [i for i in items if isinstance(i, LineRow)]
    pad = px(12)
    names = max((measure(line.name, NAME_SIZE * 1.06) for line in lines), default=0.0)
    tracks = max((measure(line.track, NAME_SIZE) for line in lines), default=0.0)
    numbers = max((measure(line.number or line.ghost, NUMBER_SIZE) for line in lines), default=0.0)
    name_x = float(px(20))
    track_width = min(max(tracks, px(60)), width * 0.17) + pad
    name_width = min(max(names, px(90)), width * 0.24, px(230)) + pad
    number_width = max(numbers * 1.12 + px(16), px(58)) + pad
    middle = name_x + name_width
    if width - track_width - number_width - middle < px(150):
        # Too narrow for all: source and driver number stay, the track's name is in the margin and on hover.
        track_width = 0.0
        name_width = min(max(names, px(90)), width * 0.36, px(230)) + pad
        middle = name_x + name_width
    number = max(width - track_width - number_width, name_x + px(80))
    middle = min(middle, number - px(30))
    zones, natural = _zones(lines, ZONES, measure, px)
    room = number - middle
    if natural > room and sum(zone in zones for zone in BEFORE) > 1:
        zones, natural = _zones(lines, FOLDED, measure, px)
    if natural < room and zones:
        spare = (room - natural) / len(zones)
        zones = {z: (x + i * spare, w + spare) for i, (z, (x, w)) in enumerate(zones.items())}
    head = float(px(30))
    rows, y = [], head + px(2)
    for item in items:
        row = _row(item, y, zones, max(natural, room), measure, px)
        rows.append(row)
        y += row.height
    return Chart(
        width,
        y + px(16),
        head,
        name_x,
        middle,
        number,
        number + number_width,
        max(natural, room),
        zones,
        tuple(rows),
    )


def _zones(
    lines: Sequence[LineRow], columns: Sequence[str], measure: Measure, px: Scale
) -> tuple[dict[str, tuple[float, float]], float]:
    zones: dict[str, tuple[float, float]] = {}
    x = float(px(26))
    for zone in columns:
        texts = [t for line in lines for t in shown_stops(line, zone)]
        texts += [line.ghost_port for line in lines if zone == "converter"]
        widest = min(max((measure(t, STOP_SIZE) for t in texts if t), default=0.0), px(WIDEST_STOP))
        if zone != "converter" and not widest:
            continue
        phantom = px(30) if zone in ("converter", "outboard", "before") else 0
        if zone == "converter" and any(line.late for line in lines):
            phantom += px(52)
        width = max(widest + phantom, measure(HEADINGS[zone], 13)) + px(30)
        zones[zone] = (x, width)
        x += width
    return zones, x


def shown_stops(line: LineRow, zone: str) -> tuple[str, ...]:
    """Return what a row shows in a zone: all stops when it is selected, else the last with a count of the rest."""
    stops = line.stops.get(zone, ())
    if zone == "link" and not line.selected:
        if line.gap:
            # The reason of the break stands there and names the link.
            return ()
        # Each hop is two stops, out and in; the arrival says enough.
        stops = stops[1::2] if len(stops) > 1 else stops
    if line.selected or len(stops) < 2:
        return stops
    return (f"{stops[-1]}  +{len(stops) - 1}",)


def _row(
    item: GroupRow | LineRow,
    y: float,
    zones: dict[str, tuple[float, float]],
    width: float,
    measure: Measure,
    px: Scale,
) -> Row:
    if isinstance(item, GroupRow):
        return Row(item, y, px(32))
    deep = max((len(shown_stops(item, z)) for z in zones), default=1)
    gap: tuple[str, ...] = ()
    if item.gap:
        gap = wrap(item.gap, width - gap_left(item, zones, measure, px) - px(14), GAP_SIZE, measure)
    height = px(30) if max(deep, len(gap)) <= 1 else px(12) + px(20) * max(deep, len(gap))
    extra = float(px(22)) if item.ghost and item.placed else 0.0
    return Row(item, y, height + extra, gap, extra)


def gap_left(item: LineRow, zones: dict[str, tuple[float, float]], measure: Measure, px: Scale) -> float:
    """Return where, within the middle, a broken line ends and its reason begins."""
    last = next((z for z in reversed(list(zones)) if shown_stops(item, z)), None)
    if last is None:
        return float(px(40))
    widest = min(max(measure(t, STOP_SIZE) for t in shown_stops(item, last)), px(WIDEST_STOP))
    return zones[last][0] + widest + px(42 if item.phantom and last != "link" else 14)
