"""What rules about bays ask for: which cord is in which front, what lies behind a point, which normals plugs have broken."""

from collections.abc import Iterable, Mapping
from typing import Final, NamedTuple

from ennead.studio.bays import Cord, Normal
from ennead.studio.house import Cable, Piece, PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port
from ennead.survey.asked import Parts
from ennead.survey.nets import Net, each_net

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
    found: list[tuple[Net, tuple[Point, ...]]] = []
    for net in each_net(survey.nets):
        here: list[Point] = []
        for key, port, lane in net.contacts:
            if lane == 1 and key in points and port in points[key]:  # type: ignore[index]
                here.append((key, port))  # type: ignore[arg-type]
        if here:
            found.append((net, tuple(here)))
    return tuple(found)


class Behind(NamedTuple):
    """What a cable behind a point runs from, or to.

    Parameters
    ----------
    way : "in" or "out"
        ``in`` where a signal comes in by it from somewhere else, ``out`` where it goes on.
    port : Port or None
        The socket at its other end; None where that is a line, or a point as well.
    """

    way: str
    cable: str
    far: object
    port: Port | None


def behind(survey: Parts) -> Mapping[Point, tuple[Behind, ...]]:
    """Return what is wired behind each point, cable by cable."""
    found: dict[Point, tuple[Behind, ...]] = {}
    points = {unit: bay.points for unit, bay in survey.bays.items()}
    ports = {unit: profile.port_by_key for unit, profile in survey.profiles.items()} if points else {}
    together: list[Iterable[Cable | Piece]] = [survey.at_copper, *survey.made_up.values()] if points else []
    for several in together:
        for piece in several:
            start, end = piece.start, piece.end
            for here, far, way in ((end, start, _IN), (start, end, _OUT)):
                if not isinstance(here, PortEnd) or here.unit not in points or here.port not in points[here.unit]:
                    continue
                at = here.unit, here.port
                there = isinstance(far, PortEnd) and far.unit not in points
                one = Behind(way, piece.id, far, ports[far.unit][far.port] if there else None)  # type: ignore[union-attr]
                found[at] = (*found[at], one) if at in found else (one,)
    return found


def broken_normals(survey: Parts) -> dict[Point, tuple[Normal, tuple[Cord, ...]]]:
    """Return the normals that plugs have broken by the point they start at, each with the cords these are of."""
    held, found = fronts(survey), dict[Point, tuple[Normal, tuple[Cord, ...]]]()
    bays = survey.bays
    for unit, port in held:
        normal = bays[unit].switched.get(port) if unit in bays else None
        if normal is not None and (unit, normal.start) not in found:
            cords = [held[unit, key] for key in normal.switches if (unit, key) in held]
            found[unit, normal.start] = normal, tuple(dict.fromkeys(cords))
    return found


def cord_text(survey: Parts, cord: Cord) -> str:
    """Return a cord as words: ``cord W3 from A · 3 above to B · 5 below``."""
    ends = [survey.end_text(p) for p in cord.plugs]
    return f"cord {cord.id} " + (f"from {ends[0]} to {ends[1]}" if len(ends) == 2 else f"in {ends[0]}")


#: Above this, what a mult takes off is heard as a level that does not match. House default, dB.
MULT_LOSS_DB: Final = 0.5
