"""What rules about bays ask for: which cord is in which front, what lies behind a point, which normals plugs have broken."""

from collections.abc import Iterator, Mapping
from typing import Final, NamedTuple

from ennead.studio.bays import Bay, Cord, Normal
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.asked import Parts
from ennead.survey.nets import Net

#: Of a straight cable behind a point, which way it runs.
_OUT, _IN = "out", "in"


def fronts(survey: Parts) -> dict[PortEnd, Cord]:
    """Return the cord in each front that holds one."""
    return {plug: cord for cord in survey.cords for plug in cord.plugs}


def point_nets(survey: Parts) -> dict[Net, tuple[PortEnd, ...]]:
    """Return every net that has points of bays, with these in order."""
    found: dict[Net, dict[PortEnd, None]] = {}
    nets = survey.nets
    for unit, bay in survey.bays.items():
        for row in bay.rows:
            for key in row:
                net = nets.get((unit, key, 1)) if key else None
                if net is not None:
                    found.setdefault(net, {})[PortEnd(unit, key)] = None
    return {net: tuple(points) for net, points in found.items()}


class Behind(NamedTuple):
    """What a cable behind a point runs from, or to.

    Parameters
    ----------
    way : "in" or "out"
        ``in`` where a signal comes in by it from somewhere else, ``out`` where it goes on.
    """

    way: str
    cable: str
    far: object


def behind(survey: Parts) -> Mapping[PortEnd, tuple[Behind, ...]]:
    """Return what is wired behind each point, cable by cable."""
    found: dict[PortEnd, tuple[Behind, ...]] = {}
    points = {unit: bay.points for unit, bay in survey.bays.items()}
    for cable in survey.in_use.values():
        pieces = (cable,) if cable.is_plain else survey.made_up[cable.id]
        for piece in pieces:
            for here, far, way in ((piece.end, piece.start, _IN), (piece.start, piece.end, _OUT)):
                if isinstance(here, PortEnd) and here.port in points.get(here.unit, ()):
                    found[here] = (*found.get(here, ()), Behind(way, cable.id, far))
    return found


def broken_normals(survey: Parts) -> Iterator[tuple[UnitId, Normal, tuple[Cord, ...]]]:
    """Yield the normals that plugs have broken, each with the cords these are of."""
    held = fronts(survey)
    for unit, bay in survey.bays.items():
        plugged = {p.port for p in held if p.unit == unit}
        if not plugged:
            continue
        live = set(bay.live_normals(plugged))
        for normal in bay.normals:
            if normal not in live:
                ends = [normal.end] if normal.mode == "half" else [normal.start, normal.end]
                cords = [held[PortEnd(unit, key)] for key in ends if key in plugged]
                yield unit, normal, tuple(dict.fromkeys(cords))


def place_in_row(bay: Bay) -> dict[str, tuple[int, int]]:
    """Return the row and the place in it of each point, from 0."""
    return {key: (at, n) for at, row in enumerate(bay.rows) for n, key in enumerate(row) if key}


def cord_text(survey: Parts, cord: Cord) -> str:
    """Return a cord as words: ``cord W3 from A · 3 above to B · 5 below``."""
    ends = [survey.end_text(p) for p in cord.plugs]
    return f"cord {cord.id} " + (f"from {ends[0]} to {ends[1]}" if len(ends) == 2 else f"in {ends[0]}")


#: Above this, what a mult takes off is heard as a level that does not match. House default, dB.
MULT_LOSS_DB: Final = 0.5
