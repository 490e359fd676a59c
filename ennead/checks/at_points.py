"""What rules about bays ask for: which cord is in which front, what lies behind a point, which normals plugs have broken."""

from collections.abc import Iterable, Mapping
from typing import Final, NamedTuple

from ennead.studio.bays import Cord, Normal
from ennead.studio.house import Cable, Piece, PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port
from ennead.survey.asked import Parts
from ennead.survey.nets import Net

#: Of a straight cable behind a point, which way it runs.
_OUT, _IN = "out", "in"


#: A point as a plain key: thousands are looked up with every edit.
Point = tuple[UnitId, str]


def fronts(survey: Parts) -> dict[Point, Cord]:
    """Return the cord in each front that holds one."""
    return {(plug.unit, plug.port): cord for cord in survey.cords for plug in cord.plugs}


def points_of(survey: Parts, net: Net) -> tuple[Point, ...]:
    """Return the points of bays that a net has part in, in order; asked only of what a rule has something to say of."""
    bays = survey.bays
    return tuple([
        (UnitId(key), port) for key, port, lane in net.contacts if lane == 1 and key in bays and port in bays[UnitId(key)].points
    ])  # fmt: skip


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
    none: frozenset[str] = frozenset()
    ports = {unit: profile.port_by_key for unit, profile in survey.profiles.items()} if points else {}
    together: list[Iterable[Cable | Piece]] = [survey.at_copper, *survey.made_up.values()] if points else []
    for several in together:
        for piece in several:
            start, end = piece.start, piece.end
            # Written out for either end: with every edit behind a bay it is asked of thousands.
            if isinstance(end, PortEnd) and end.port in points.get(end.unit, none):
                at = end.unit, end.port
                there = isinstance(start, PortEnd) and start.unit not in points
                one = Behind(_IN, piece.id, start, ports[start.unit][start.port] if there else None)  # type: ignore[union-attr]
                found[at] = (*found[at], one) if at in found else (one,)
            if isinstance(start, PortEnd) and start.port in points.get(start.unit, none):
                at = start.unit, start.port
                there = isinstance(end, PortEnd) and end.unit not in points
                one = Behind(_OUT, piece.id, end, ports[end.unit][end.port] if there else None)  # type: ignore[union-attr]
                found[at] = (*found[at], one) if at in found else (one,)
    return found


def broken_normals(survey: Parts) -> dict[Point, tuple[Normal, tuple[Cord, ...]]]:
    """Return the normals that plugs have broken by the point they start at, each with the cords these are of."""
    held, found = fronts(survey), dict[Point, tuple[Normal, tuple[Cord, ...]]]()
    bays = survey.bays
    for unit, port in held:
        normal = bays[unit].switched.get(port) if unit in bays else None
        if normal is not None and (unit, normal.start) not in found:
            cords = {held[unit, key].id: held[unit, key] for key in normal.switches if (unit, key) in held}
            found[unit, normal.start] = normal, tuple(cords.values())
    return found


def cord_text(survey: Parts, cord: Cord) -> str:
    """Return a cord as words: ``cord W3 from A · 3 above to B · 5 below``."""
    units, profiles = survey.units, survey.profiles
    ends = [f"{units[p.unit].name} · {profiles[p.unit].port_by_key[p.port].label}" for p in cord.plugs]
    return f"cord {cord.id} " + (f"from {ends[0]} to {ends[1]}" if len(ends) == 2 else f"in {ends[0]}")


#: Above this, what a mult takes off is heard as a level that does not match. House default, dB.
MULT_LOSS_DB: Final = 0.5
