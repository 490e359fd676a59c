"""Where the bays lie: each as its rows at true proportions, labels in brackets, normals as bridges, cords as arcs; pure geometry."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final, Literal, NamedTuple

from ennead.drawings.layouts.wrapping import Measure, Scale
from ennead.reports.point_labels import PointText, point_texts, shared_name
from ennead.standards.bays import place_mm
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.bays import Bay
from ennead.studio.house import PortEnd
from ennead.studio.ids import CordId, UnitId
from ennead.survey.survey import Survey

#: Heights in px at scale 1: a bay's head, the band of labels of a row, the way between two rows, between two bays.
HEAD, BAND, BETWEEN, GAP = 26, 40, 42, 34
#: Height of a line of a label, px at scale 1.
LINE: Final = 14
#: Below this many px a point every number no longer fits, and every fourth is written.
CLOSE: Final = 17

How = Literal["whole", "tap", "broken", "joined"]


@dataclass(frozen=True, slots=True)
class Spot:
    """One point: its middle and its radius, px."""

    end: PortEnd
    x: float
    y: float
    radius: float
    number: str
    wired: bool
    fault: str
    row: int


class Bracket(NamedTuple):
    """What several points beside each other are: a name on one line or two over, or under, a bracket from x to x."""

    lines: tuple[str, ...]
    left: float
    right: float
    y: float
    above: bool


class Bridge(NamedTuple):
    """A normal between two points, and how it stands."""

    start: PortEnd
    end: PortEnd
    x0: float
    y0: float
    x1: float
    y1: float
    how: How


class Arc(NamedTuple):
    """A cord: its number in the scene, and its plugs; one that hangs loose ends below its point."""

    cord: CordId
    number: int
    x0: float
    y0: float
    x1: float
    y1: float
    loose: bool


@dataclass(frozen=True, slots=True)
class BayPicture:
    """One bay, px."""

    unit: UnitId
    name: str
    facts: str
    x: float
    y: float
    width: float
    height: float
    cell: float
    spots: tuple[Spot, ...]
    brackets: tuple[Bracket, ...]
    bridges: tuple[Bridge, ...]


@dataclass(frozen=True, slots=True)
class BaysLayout:
    """The whole drawing."""

    width: float
    height: float
    bays: tuple[BayPicture, ...] = ()
    arcs: tuple[Arc, ...] = ()
    spot_of: Mapping[PortEnd, Spot] = field(default_factory=dict)

    def spot_at(self, x: float, y: float) -> Spot | None:
        """Return the point at, or next to, a place."""
        for bay in self.bays:
            if bay.y <= y < bay.y + bay.height:
                near = [s for s in bay.spots if abs(s.y - y) <= BETWEEN / 2 and abs(s.x - x) <= bay.cell / 2]
                return min(near, key=lambda s: (abs(s.y - y), abs(s.x - x)), default=None)
        return None

    def beside(self, end: PortEnd, right: int, down: int) -> PortEnd:
        """Return the point so many to the right or below one; the nearest there is where a row ends, over the edge of a bay to the next."""
        here = self.spot_of.get(end)
        if here is None:
            return self.bays[0].spots[0].end if self.bays else end
        rows = [
            (at, row, _row(bay, row)) for at, bay in enumerate(self.bays) for row in sorted({s.row for s in bay.spots})
        ]
        mine = next(n for n, (at, row, _) in enumerate(rows) if self.bays[at].unit == end.unit and row == here.row)
        spots = rows[max(0, min(len(rows) - 1, mine + down))][2]
        if down:
            return min(spots, key=lambda s: abs(s.x - here.x)).end
        at = [s.end for s in spots].index(end)
        return spots[max(0, min(len(spots) - 1, at + right))].end


def _row(bay: BayPicture, row: int) -> list[Spot]:
    return [s for s in bay.spots if s.row == row]


def lay_bays(survey: Survey, width: float, measure: Measure, px: Scale, zoom: float = 1.0) -> BaysLayout:
    """Return the layout of all bays, one below the other.

    Parameters
    ----------
    width : float, px
    zoom : float
        How much wider than the sheet the widest bay is.
    """
    bays = survey.bays
    if not bays:
        return BaysLayout(0, 0)
    plugged = {plug for cord in survey.cords for plug in cord.plugs}
    room = (width - px(36)) * zoom
    widest = max(_width_mm(bay) for bay in bays.values())
    per_mm = min(room / widest, px(2.4) * zoom)
    y, pictures = float(px(6)), []
    for unit, bay in bays.items():
        picture = _picture(survey, unit, bay, plugged, y, per_mm, measure, px)
        pictures.append(picture)
        y += picture.height + px(GAP)
    spots = {s.end: s for bay in pictures for s in bay.spots}
    right = max(b.x + b.width for b in pictures) + px(14)
    return BaysLayout(
        max(width, right) if zoom > 1 else width, y, tuple(pictures), tuple(_arcs(survey, spots, px)), spots
    )


def _width_mm(bay: Bay) -> float:
    return max(_place_mm(bay, len(row) - 1) for row in bay.rows) + bay.pitch_mm


def _place_mm(bay: Bay, at: int) -> float:
    return place_mm(at, bay.pitch_mm, in_pairs=bay.in_pairs)


def _picture(
    survey: Survey,
    unit: UnitId,
    bay: Bay,
    plugged: set[PortEnd],
    top: float,
    per_mm: float,
    measure: Measure,
    px: Scale,
) -> BayPicture:
    texts = point_texts(survey, unit)
    faults = survey.faults.get(unit, {})
    cell = bay.pitch_mm * per_mm
    radius = max(2.5, min(px(7.5), cell * 0.3))
    left = px(10) + cell / 2
    spots: list[Spot] = []
    brackets: list[Bracket] = []
    y = top + px(HEAD)
    last = len(bay.rows) - 1
    for row, keys in enumerate(bay.rows):
        above = row % 2 == 0
        mine = [
            Spot(
                PortEnd(unit, key),
                left + _place_mm(bay, at) * per_mm,
                0,
                radius,
                texts[key].number,
                texts[key].wired,
                faults.get(key, ""),
                row,
            )
            for at, key in enumerate(keys)
            if key
        ]
        said = _brackets(mine, texts, 0, cell, measure, px, above=above)
        band = px(BAND) + px(LINE) * any(len(b.lines) > 1 for b in said)
        y += band if above else 0
        spots += [replace(spot, y=y) for spot in mine]
        brackets += [b._replace(y=b.y + y) for b in said]
        y += px(BETWEEN) if above and row < last else band
    facts = _facts(survey, unit, bay)
    bridges = _bridges(bay, spots, {p.port for p in plugged if p.unit == unit})
    width = max(s.x for s in spots) + cell / 2 - px(10)
    return BayPicture(
        unit,
        survey.units[unit].name,
        facts,
        px(10),
        top,
        width,
        y - top,
        cell,
        tuple(spots),
        tuple(brackets),
        bridges,
    )


def _bridges(bay: Bay, spots: Iterable[Spot], held: set[str]) -> tuple[Bridge, ...]:
    """Return the normals of a bay as they are drawn, each broken or not by the points that hold a plug."""
    where = {s.end.port: s for s in spots}
    return tuple(
        Bridge(
            where[n.start].end,
            where[n.end].end,
            where[n.start].x,
            where[n.start].y,
            where[n.end].x,
            where[n.end].y,
            _how(n.mode, n.start in held, n.end in held),
        )
        for n in bay.normals
    )


def _facts(survey: Survey, unit: UnitId, bay: Bay) -> str:
    """Return what a bay is: its note, its place, its size and sockets."""
    studio = survey.studio
    place = studio.units[unit].place
    across = " and ".join(str(n) for n in dict.fromkeys(sum(1 for k in row if k) for row in bay.rows))
    facts = [f"{len(bay.rows)} × {across}", CONNECTOR_LABELS[studio.port(PortEnd(unit, min(bay.points))).connector]]
    return " · ".join([*([bay.note] if bay.note else []), *([studio.places[place].name] if place else []), *facts])


def _how(mode: str, start: bool, end: bool) -> How:
    if mode == "parallel":
        return "joined"
    if end or (start and mode == "full"):
        return "broken"
    return "tap" if mode == "half" and start else "whole"


def _brackets(
    spots: Sequence[Spot],
    texts: Mapping[str, PointText],
    y: float,
    cell: float,
    measure: Measure,
    px: Scale,
    *,
    above: bool,
) -> list[Bracket]:
    """Return what points of a row beside each other have in common; a name may stand out over points that have none."""
    groups: list[list[Spot]] = []
    for spot in spots:
        stem = texts[spot.end.port].stem
        if groups and texts[groups[-1][-1].end.port].stem == stem and spot.x - groups[-1][-1].x < cell * 1.6:
            groups[-1].append(spot)
        else:
            groups.append([spot])
    line = y - px(25) if above else y + px(25)
    named = [g for g in groups if texts[g[0].end.port].stem]
    ends = [(g[0].x - cell * 0.4, g[-1].x + cell * 0.4) for g in named]
    if not named:
        return []
    edges = (spots[0].x - cell / 2, spots[-1].x + cell / 2)
    # Between two names each may go half the way.
    limits = [edges[0], *((one[1] + other[0]) / 2 for one, other in pairwise(ends)), edges[1]]
    found = []
    for group, (left, right), (first, last) in zip(named, ends, pairwise(limits), strict=True):
        middle = (left + right) / 2
        room = 2 * min(middle - first, last - middle) - px(4)
        lines = lettered(*shared_name([texts[s.end.port] for s in group]), max(room, right - left), measure)
        found.append(Bracket(lines, left, right, line, above))
    return found


def lettered(stem: str, count: str, room: float, measure: Measure) -> tuple[str, ...]:
    """Return a name on one line or two, shortened at a word where it must be; its numbers stay."""
    words = stem.split()
    for kept in range(len(words), 0, -1):
        said = [*words[:kept], *([] if kept == len(words) else ["…"]), *([count] if count else [])]
        ways = [(" ".join(said),), *((" ".join(said[:n]), " ".join(said[n:])) for n in range(1, len(said)))]
        fitting = [way for way in ways if max(measure(text, 12) for text in way) <= room]
        if fitting:
            return min(fitting, key=lambda way: (len(way), max(measure(text, 12) for text in way)))
    return next(((text,) for text in (count, "…") if text and measure(text, 12) <= room), ())


def _arcs(survey: Survey, spots: Mapping[PortEnd, Spot], px: Scale) -> Iterator[Arc]:
    for number, cord in enumerate(survey.cords, start=1):
        there = [spots[p] for p in cord.plugs if p in spots]
        if len(there) == 2:
            yield Arc(cord.id, number, there[0].x, there[0].y, there[1].x, there[1].y, False)
        elif there:
            yield Arc(cord.id, number, there[0].x, there[0].y, there[0].x + px(9), there[0].y + px(30), True)
