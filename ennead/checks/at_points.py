"""What rules about bays ask for: which cord is in which front, what lies behind a point, which normals plugs have broken."""

from collections.abc import Mapping
from typing import Final, NamedTuple

from ennead.studio.bays import Bay, Cord, Normal
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.asked import Parts
from ennead.survey.nets import Net

#: Of a straight cable behind a point, which way it runs.
_OUT, _IN = "out", "in"


#: A point as a plain key: thousands are looked up with every edit.
Point = tuple[UnitId, str]


def fronts(survey: Parts) -> dict[Point, Cord]:
    """Return the cord in each front that holds one."""
    return {(plug.unit, plug.port): cord for cord in survey.cords for plug in cord.plugs}


def point_nets(survey: Parts) -> tuple[tuple[Net, tuple[Point, ...]], ...]:
    """Return every net that has points of bays, with these in order."""
    points = {unit: bay.points for unit, bay in survey.bays.items()}
    if not points:
        return ()
    met: set[int] = set()
    found = []
    for net in survey.nets.values():
        if id(net) not in met:
            met.add(id(net))
            here = [
                (UnitId(key), port)
                for key, port, lane in net.contacts
                if lane == 1 and port in points.get(UnitId(key), ())
            ]
            if here:
                found.append((net, tuple(here)))
    return tuple(found)


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


def behind(survey: Parts) -> Mapping[Point, tuple[Behind, ...]]:
    """Return what is wired behind each point, cable by cable."""
    found: dict[Point, tuple[Behind, ...]] = {}
    points = {unit: bay.points for unit, bay in survey.bays.items()}
    made_up = survey.made_up
    for cable in survey.in_use.values():
        if not any(isinstance(p, PortEnd) and p.unit in points for p in cable.plugs):
            continue
        for piece in (cable,) if cable.is_plain else made_up[cable.id]:
            for here, far, way in ((piece.end, piece.start, _IN), (piece.start, piece.end, _OUT)):
                if isinstance(here, PortEnd) and here.port in points.get(here.unit, ()):
                    at = here.unit, here.port
                    found[at] = (*found.get(at, ()), Behind(way, cable.id, far))
    return found


def broken_normals(survey: Parts) -> dict[Point, tuple[Normal, tuple[Cord, ...]]]:
    """Return the normals that plugs have broken by the point they start at, each with the cords these are of."""
    held, found = fronts(survey), dict[Point, tuple[Normal, tuple[Cord, ...]]]()
    for unit, bay in survey.bays.items():
        plugged = {port for there, port in held if there == unit}
        if not plugged:
            continue
        live = set(bay.live_normals(plugged))
        for normal in bay.normals:
            if normal not in live:
                ends = [normal.end] if normal.mode == "half" else [normal.start, normal.end]
                cords = [held[unit, key] for key in ends if key in plugged]
                found[unit, normal.start] = normal, tuple(dict.fromkeys(cords))
    return found


def place_in_row(bay: Bay) -> dict[str, tuple[int, int]]:
    """Return the row and the place in it of each point, from 0."""
    return {key: (at, n) for at, row in enumerate(bay.rows) for n, key in enumerate(row) if key}


def cord_text(survey: Parts, cord: Cord) -> str:
    """Return a cord as words: ``cord W3 from A · 3 above to B · 5 below``."""
    ends = [survey.end_text(p) for p in cord.plugs]
    return f"cord {cord.id} " + (f"from {ends[0]} to {ends[1]}" if len(ends) == 2 else f"in {ends[0]}")


#: Above this, what a mult takes off is heard as a level that does not match. House default, dB.
MULT_LOSS_DB: Final = 0.5
