"""Another box in the place of one that cords lead through: its plugs moved to where the other stands on the bays."""

from collections.abc import Mapping

from ennead.edits.change import Change, step
from ennead.edits.scenes import move_plug
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import CordId, UnitId
from ennead.survey.survey import survey_of

#: By way (``in`` or ``out``) and place among the sockets of that way: the point a box's socket is wired to.
_Points = Mapping[str, tuple[PortEnd, ...]]


def box_behind(studio: Studio, point: PortEnd) -> UnitId | None:
    """Return the outboard behind a point of a bay."""
    for cable in survey_of(studio).cables_at(point):
        for plug in cable.plugs:
            if isinstance(plug, PortEnd) and plug != point and studio.profile_of(plug.unit).is_outboard:
                return plug.unit
    return None


def other_boxes(studio: Studio, box: UnitId) -> list[tuple[str, Change]]:
    """Return the boxes that could take the place of one in the current scene, each with what moves the plugs over.

    A box can where as many inputs and outputs of it stand on points that are in service and hold no plug. Its first input takes what went
    into the first input in use, and so on.
    """
    held = {plug: (cord.id, n) for cord in studio.cords for n, plug in enumerate(cord.plugs, start=1)}
    used = {way: [p for p in points if p in held] for way, points in _points_of(studio, box).items()}
    if not any(used.values()):
        return []
    found = []
    for unit in studio.units.values():
        if (
            unit.id == box
            or unit.id in studio.bays
            or not studio.profile_of(unit.id).is_outboard
            or studio.settings_of(unit.id).off
        ):
            continue
        theirs = _points_of(studio, unit.id)
        free = {
            way: [p for p in points if p not in held and p.port not in studio.units[p.unit].faults]
            for way, points in theirs.items()
        }
        if any(len(free[way]) < len(used[way]) for way in used):
            continue
        moves = [(held[old], new) for way in used for old, new in zip(used[way], free[way], strict=False)]
        steps = tuple([step(move_plug, CordId(cord), n, new) for (cord, n), new in moves])
        found.append((unit.name, Change(f"{unit.name} instead of {studio.units[box].name}", steps)))
    return found


def _points_of(studio: Studio, box: UnitId) -> _Points:
    """Return the points behind which a box's analogue sockets stand, in the order of the sockets."""
    found: dict[str, list[PortEnd]] = {"in": [], "out": []}
    for port in studio.profile_of(box).ports:
        if port.direction not in found or port.is_digital:
            continue
        end = PortEnd(box, port.key)
        for cable in survey_of(studio).cables_at(end):
            found[port.direction] += [
                p for p in cable.plugs if isinstance(p, PortEnd) and p.unit in studio.bays and p.unit != box
            ]
    return {way: tuple(points) for way, points in found.items()}
