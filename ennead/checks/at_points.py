"""What rules about bays ask for: which cord is in which front, which normals plugs have broken."""

from typing import Final

from ennead.studio.bays import Cord, Normal
from ennead.studio.ids import UnitId
from ennead.survey.behind import Point
from ennead.survey.nets import Net
from ennead.survey.survey_interface import Parts


def fronts(survey: Parts) -> dict[Point, Cord]:
    """Return the cord in each front that holds one."""
    return {(plug.unit, plug.port): cord for cord in survey.cords for plug in cord.plugs}


def points_of(survey: Parts, net: Net) -> tuple[Point, ...]:
    """Return the points of bays that a net has part in, in order; asked only of what a rule has something to say of."""
    bays = survey.bays
    return tuple(
        [
            (UnitId(key), port)
            for key, port, lane in net.contacts
            if lane == 1 and key in bays and port in bays[UnitId(key)].points
        ]
    )


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
