"""Where the cascade lies: the leader at the top, each follower one step down and to the right; pure geometry."""

from dataclasses import dataclass

from ennead.drawings.layouts.wrapping import Scale
from ennead.reports.clock_rows import ClockRow, clock_rows
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey

ROW, STEP, HEAD = 50, 40, 26


@dataclass(frozen=True, slots=True)
class CascadeBox:
    """One unit; x, y, width, height in px.

    Parameters
    ----------
    from_x, from_y : float, px
        Where the line from the unit above begins; equal to its own corner where there is none.
    """

    row: ClockRow
    x: float
    y: float
    width: float
    height: float
    from_x: float
    from_y: float


@dataclass(frozen=True, slots=True)
class CascadeLayout:
    """The whole drawing: a heading a domain, its units below."""

    width: float
    height: float
    heads: tuple[tuple[str, float], ...] = ()
    boxes: tuple[CascadeBox, ...] = ()

    def box_at(self, x: float, y: float) -> CascadeBox | None:
        """Return the unit at a point."""
        return next((b for b in self.boxes if b.x <= x < b.x + b.width and b.y <= y < b.y + b.height), None)

    def line_at(self, x: float, y: float, near: float) -> CascadeBox | None:
        """Return the unit with a clock line through a point, give or take `near` px."""
        for box in self.boxes:
            middle = box.y + box.height / 2
            down = abs(x - box.from_x) <= near and box.from_y <= y <= middle
            across = box.from_x <= x < box.x and abs(y - middle) <= near
            if box.from_y < box.y and (down or across):
                return box
        return None

    def box_of(self, unit: str) -> CascadeBox | None:
        """Return the box of a unit."""
        return next((b for b in self.boxes if b.row.unit == unit), None)


def lay_cascade(survey: Survey, width: float, px: Scale) -> CascadeLayout:
    """Return the layout of every clock domain, the largest first.

    Parameters
    ----------
    width : float, px
    """
    y = float(px(6))
    heads: list[tuple[str, float]] = []
    boxes: list[CascadeBox] = []
    for domain in sorted(survey.clocks.domains, key=lambda d: -len(d.units)):
        rows = clock_rows(survey, domain)
        if len(survey.clocks.domains) > 1:
            words = f"{len(rows)} units in step" if len(rows) > 1 else "on its own"
            heads.append((words if domain.all_locked and len(domain.leaders) == 1 else "not in step", y))
            y += px(HEAD)
        # Deep cascades step less far, so that the words beside them keep their room.
        deepest = max(r.depth for r in rows)
        step = px(STEP) if not deepest else max(px(12), min(px(STEP), (width - px(420)) / deepest))
        placed: dict[UnitId, CascadeBox] = {}
        for row in rows:
            x = px(8) + row.depth * step
            above = placed.get(row.parent) if row.parent is not None else None
            start = (above.x + px(16), above.y + above.height - px(8)) if above is not None else (x, y)
            box = CascadeBox(row, x, y, width - px(12) - x, px(ROW) - px(6), *start)
            placed[row.unit] = box
            boxes.append(box)
            y += px(ROW)
        y += px(10)
    return CascadeLayout(width, y, tuple(heads), tuple(boxes))
