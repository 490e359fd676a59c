"""Where the ribbons lie: one a digital link, a cell a lane, and below them the driver rulers; pure geometry."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ennead.drawings.layouts.ruler_layout import Ruler, lay_ruler
from ennead.drawings.layouts.wrapping import Measure, Scale
from ennead.reports.cable_schedule import cable_type
from ennead.reports.lane_rows import Lane, link_lanes
from ennead.standards.links import LINKS
from ennead.survey.links import Link
from ennead.survey.survey import Survey

CELL, ROW, HEAD, GAP, HANG = 44, 40, 24, 18, 92


@dataclass(frozen=True, slots=True)
class LaneCell:
    """One lane; x, y, width, height in px."""

    lane: Lane
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class Ribbon:
    """One link: the words above it, its lanes, and what is wrong with it."""

    link: Link
    x: float
    y: float
    width: float
    height: float
    ends: str
    facts: str
    wrong: str
    cells: tuple[LaneCell, ...]


@dataclass(frozen=True, slots=True)
class LinksLayout:
    """The whole drawing."""

    width: float
    height: float
    ribbons: tuple[Ribbon, ...] = ()
    rulers: tuple[tuple[str, float, Ruler], ...] = ()
    tracks: Mapping[int, str] = field(default_factory=dict)

    def ribbon_at(self, x: float, y: float) -> Ribbon | None:
        """Return the ribbon at a point."""
        return next((r for r in self.ribbons if r.x <= x < r.x + r.width and r.y <= y < r.y + r.height), None)

    def cell_at(self, x: float, y: float) -> LaneCell | None:
        """Return the lane at a point."""
        ribbon = self.ribbon_at(x, y)
        cells = ribbon.cells if ribbon is not None else ()
        return next((c for c in cells if c.x <= x < c.x + c.width and c.y <= y < c.y + c.height), None)


def lay_links(survey: Survey, width: float, measure: Measure, px: Scale) -> LinksLayout:
    """Return the layout of all digital links that carry sound, and of the rulers they end in.

    Parameters
    ----------
    width : float, px
    """
    left, room, y = px(4), width - px(12), float(px(6))
    ribbons = []
    lanes = link_lanes(survey)
    for link in survey.links.values():
        if link.cable in lanes:
            ribbon = _lay_ribbon(survey, link, lanes[link.cable], left, y, room, measure, px)
            ribbons.append(ribbon)
            y += ribbon.height + px(GAP)
    rulers = []
    tracks = {r.driver.number: r.track for r in survey.signal_paths if r.driver is not None}
    for computer in survey.studio.hosts.values():
        for way in ("inputs", "outputs"):
            top = y
            y += px(26)
            placed = 0.0
            for unit in computer.interfaces:
                view = survey.views[unit]
                before = (survey.numbering.before_in if way == "inputs" else survey.numbering.before_out)[unit]
                channels = view.inputs if way == "inputs" else view.outputs
                named = tracks if way == "inputs" else {}
                # Names hang from the rows of an interface on which any arrives.
                hang = float(px(HANG)) if any(before + c.index in named for c in channels) else 0.0
                ruler = lay_ruler(
                    channels, room, measure, px, top=y + placed, left=left, before=before, tracks=named, hang=hang
                )
                rulers.append(("", y + placed, ruler))
                placed += ruler.height
            count = (
                sum(len(r[2].cells) for r in rulers[len(rulers) - len(computer.interfaces) :])
                if computer.interfaces
                else 0
            )
            if count:
                rulers.append((f"{computer.name}: driver {way} 1–{count}", top, Ruler((), (), 0)))
                y += placed + px(8)
            else:
                y = top
    return LinksLayout(width, y + px(8), tuple(ribbons), tuple(rulers), tracks)


def _lay_ribbon(
    survey: Survey, link: Link, lanes: tuple[Lane, ...], x: float, y: float, room: float, measure: Measure, px: Scale
) -> Ribbon:
    studio = survey.studio
    cell, row = px(CELL), px(ROW)
    across = max(1, min(len(lanes), int((room - px(8)) // cell)))
    if across < len(lanes):
        # Rows of eight, or of four, are counted at a glance.
        across = across // 8 * 8 or across // 4 * 4 or across
    used = sum(lane.state == "used" for lane in lanes)
    ends = f"{studio.end_text(link.start)}  →  {studio.end_text(link.end)}"
    length = f", {link.of.length_m:g} m" if link.of.length_m is not None else ""
    adapters = "".join(f", {a.label}" for a in link.adapters)
    facts = (
        f"{link.cable} · {LINKS[link.sends].label} · {cable_type(studio, link.of)}{length}{adapters} · {used} of"
        f" {link.lanes or len(lanes)} channels in use"
    )
    # Where both do not fit on one line, the facts stand below the ends.
    two = measure(ends, 15) + measure(facts, 12) + px(24) > room
    head = px(HEAD) + (px(18) if two else 0)
    wrong = (
        ""
        if link.agrees
        else (
            f"▲ {studio.units[link.end.unit].name} is set to {LINKS[link.takes].label}, {LINKS[link.sends].label}"
            " arrives: no channel gets through"
        )
    )
    cells = tuple(
        LaneCell(lane, x + (i % across) * cell, y + head + (i // across) * row, cell, row - px(4))
        for i, lane in enumerate(lanes)
    )
    rows = -(-len(lanes) // across)
    height = head + rows * row + (px(20) if wrong else 0)
    return Ribbon(link, x, y, room, height, ends, facts, wrong, cells)
