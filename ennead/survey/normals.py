"""Normals: what each bay joins of itself while the fronts of some of its points hold plugs."""

from collections.abc import Collection, Mapping

from ennead.studio.bays import Bay, Cord, beside
from ennead.studio.ids import UnitId
from ennead.survey.parts import each, part

#: By port key of a point, the points that normals join to it, in the order of the bay's normals.
Beside = Mapping[str, tuple[str, ...]]


@part
def fronts(cords: tuple[Cord, ...], bays: Mapping[UnitId, Bay]) -> dict[UnitId, frozenset[str]]:
    """Return the points of each bay that hold plugs in their fronts; a cord with a plug that is in no point counts for nothing."""
    found: dict[UnitId, set[str]] = {}
    for cord in cords:
        if all(p.unit in bays and p.port in bays[p.unit].points for p in cord.plugs):
            for plug in cord.plugs:
                found.setdefault(plug.unit, set()).add(plug.port)
    return {unit: frozenset(ports) for unit, ports in found.items()}


@each("normals", of={"bay": "bays", "plugged": "fronts"})
def normals(bay: Bay, plugged: Collection[str] | None) -> Beside:
    """Return what the normals of one bay join."""
    broken = [bay.switched[key] for key in plugged or () if key in bay.switched]
    if not broken:
        return bay.beside
    gone = {(n.start, n.end) for n in broken}
    # The same two points may be joined by another normal as well, which no plug breaks.
    if whole := [(n.start, n.end) for n in bay.soldered if (n.start, n.end) in gone]:
        return beside([p for p in bay.pairs if p not in gone] + whole)
    found = dict(bay.beside)
    for start, end in gone:
        for one, other in ((start, end), (end, start)):
            left = tuple([point for point in found.pop(one, ()) if point != other])
            if left:
                found[one] = left
    return found
