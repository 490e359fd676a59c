"""The chart of outputs as rows and their layout, read in signal order: number first, ear last; nothing drawn."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from ennead.checks.finding import Finding
from ennead.drawings.layouts.chart_rows import worst_by_id
from ennead.drawings.layouts.wrapping import Measure, Scale
from ennead.planning.seating.allocation import Proposal
from ennead.reports.in_rows import number_text
from ennead.reports.out_rows import OutWay, out_way, way_of
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.session import DESTINATION_LABELS
from ennead.survey.survey import Survey

#: Columns between the number and the ear, with what is dropped first where there is no room.
COLUMNS: Final = (
    ("mix", "carries"),
    ("link", "link"),
    ("socket", "output"),
    ("feeds", "wired to"),
    ("returns", "comes back by"),
)
_DROPPED_FIRST: Final = ("mix", "returns", "link", "feeds")
TEXT: Final = 14.0
NUMBER: Final = 17.0
#: A cell's text is cut in the middle beyond this; whole on hover and in the margin.
WIDEST: Final = 210.0


@dataclass(frozen=True, slots=True)
class OutRow:
    """One destination's line, or an output that is wired and serves no destination of this session.

    Parameters
    ----------
    key : DestinationId
        Empty for an output without a destination.
    cells : map of column to text
    worst : str
        The worst severity of a finding about it.
    ghost, ghost_socket : str
        What an allocation proposes.
    """

    key: DestinationId | str
    name: str
    numbers: str
    cells: dict[str, str]
    placed: bool
    stereo: bool
    headphones: bool
    worst: str
    selected: bool
    end: PortEnd | None = None
    broken: bool = False
    ghost: str = ""
    ghost_socket: str = ""
    taken: bool = False


@dataclass(frozen=True, slots=True)
class Heading:
    """A heading between rows."""

    name: str
    words: str


@dataclass(frozen=True, slots=True)
class Placed:
    """A row with its place, px."""

    item: OutRow | Heading
    y: float
    height: float


@dataclass(frozen=True, slots=True)
class OutChart:
    """The layout, px.

    Parameters
    ----------
    number, ear : float, px
        Left edges of the number boxes and of the names.
    columns : map of column to left edge
        Those that find room.
    """

    width: float
    height: float
    head: float
    number: float
    ear: float
    columns: dict[str, float]
    rows: tuple[Placed, ...]

    def row_at(self, y: float) -> Placed | None:
        """Return the row at a height."""
        return next((r for r in self.rows if r.y <= y < r.y + r.height), None)

    def row_of(self, key: str) -> Placed | None:
        """Return the row of a destination."""
        return next((r for r in self.rows if isinstance(r.item, OutRow) and r.item.key == key), None)


def out_rows(
    survey: Survey, findings: Iterable[Finding], selected: str, proposal: Proposal | None, taken: frozenset[str]
) -> tuple[OutRow | Heading, ...]:
    """Return the rows from top to bottom: destinations in the order of the list, then wired outputs without one."""
    worst = worst_by_id(findings)
    studio = survey.studio
    rows: list[OutRow | Heading] = []
    used: set[PortEnd] = set()
    for destination in survey.destinations:
        used.update(destination.outputs)
        new = proposal.out_of(destination.id) if proposal is not None else None
        ghost = out_way(survey, new.outputs, new.returns) if new is not None else None
        way = way_of(survey, destination)
        rows.append(
            OutRow(
                destination.id,
                destination.name,
                number_text(way.numbers),
                _cells(way, DESTINATION_LABELS[destination.kind]),
                bool(destination.outputs),
                destination.channels == 2,
                any("headphone" in studio.port(e).carries for e in destination.outputs),
                worst.get(destination.id, ""),
                selected == destination.id,
                None,
                way.broken,
                number_text(ghost.numbers) if ghost is not None else "",
                _ghost_text(ghost),
                destination.id in taken,
            )
        )
    idle = _idle(survey, used)
    if idle:
        rows += [
            Heading("Wired, for nobody in this session", f"{len(idle)} {'output' if len(idle) == 1 else 'outputs'}"),
            *idle,
        ]
    return tuple(rows)


def _ghost_text(way: OutWay | None) -> str:
    if way is None:
        return ""
    return f"{way.sockets}, back by {way.returns}" if way.returns else way.sockets


def _cells(way: OutWay, mix: str) -> dict[str, str]:
    back = f"{way.returns} · {number_text(way.return_numbers)}" if way.returns else ""
    return {"mix": mix, "link": " → ".join(way.links), "socket": way.sockets, "feeds": way.feeds, "returns": back}


def _idle(survey: Survey, used: set[PortEnd]) -> list[OutRow]:
    rows = []
    for point in survey.output_points:
        if point.end in used or not point.feeds or point.port.key not in survey.passages[point.unit].leaving:
            continue
        way = out_way(survey, (point.end,))
        # Where it ends at a point it is not heard: the point is said once.
        fed = way.feeds.removesuffix(", no cord")
        heard = way.feeds if fed == way.feeds else "no cord"
        rows.append(
            OutRow(
                "",
                heard,
                str(point.number),
                _cells(way, "–") | {"feeds": fed},
                True,
                False,
                False,
                "",
                False,
                point.end,
            )
        )
    return rows


def lay_out_chart(items: Sequence[OutRow | Heading], width: float, measure: Measure, px: Scale) -> OutChart:
    """Return the layout of rows for a width, px: columns that find no room are left out, the least needed first."""
    lines = [i for i in items if isinstance(i, OutRow)]
    number = float(px(22))
    boxes = max((measure(line.ghost or line.numbers, NUMBER) for line in lines), default=0.0) * 1.12 + px(34)
    first = number + max(boxes, float(px(62)))
    names = max((measure(line.name, TEXT) for line in lines), default=0.0)
    name_width = min(max(names * 1.06, px(90)), width * 0.3, px(260)) + px(14)
    ear = max(width - name_width, first + px(60))
    widths = {}
    for key, heading in COLUMNS:
        texts = [line.cells[key] for line in lines]
        if key == "socket":
            texts += [line.ghost_socket for line in lines]
        widest = min(max((measure(t, TEXT) for t in texts if t), default=0.0), px(WIDEST))
        if widest or key == "socket":
            widths[key] = max(widest, measure(heading, 13)) + px(28)
    for key in _DROPPED_FIRST:
        if sum(widths.values()) <= ear - first:
            break
        widths.pop(key, None)
    spare = max(0.0, ear - first - sum(widths.values())) / max(1, len(widths))
    columns, x = {}, first + px(8)
    for key, wide in widths.items():
        columns[key] = x
        x += wide + spare
    head = float(px(30))
    y = head + px(2)
    rows = []
    for item in items:
        height = float(px(34 if isinstance(item, Heading) else 32))
        rows.append(Placed(item, y, height))
        y += height
    return OutChart(width, y + px(16), head, number, ear, columns, tuple(rows))
