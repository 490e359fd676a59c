"""What is wired behind each point of a bay: from where a signal comes, and where it goes on."""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from ennead.studio.bays import Bay
from ennead.studio.house import Cable, Piece, PortEnd
from ennead.studio.ids import CableId, UnitId
from ennead.studio.profile import Port, Profile
from ennead.survey.parts import Held, between, in_that_order, kept, part, renews

#: Of a straight cable behind a point, which way it runs.
_OUT, _IN = "out", "in"

#: A point as a plain key: thousands are looked up with every edit.
Point = tuple[UnitId, str]


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


@part
def behind(
    at_copper: list[Cable],
    made_up: Mapping[CableId, tuple[Piece, ...]],
    profiles: Mapping[UnitId, Profile],
    bays: Mapping[UnitId, Bay],
) -> dict[Point, tuple[Behind, ...]]:
    """Return what is wired behind each point, cable by cable."""
    found: dict[Point, tuple[Behind, ...]] = {}
    points = {unit: bay.points for unit, bay in bays.items()}
    none: frozenset[str] = frozenset()
    ports = {unit: profile.port_by_key for unit, profile in profiles.items()} if points else {}
    together: list[Iterable[Cable | Piece]] = [at_copper, *made_up.values()] if points else []
    for several in together:
        for piece in several:
            start, end = piece.start, piece.end
            # Written out for either end: a house has thousands.
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


@renews(behind)
def _behind_again(
    was: Held,
    at_copper: list[Cable],
    made_up: Mapping[CableId, tuple[Piece, ...]],
    profiles: Mapping[UnitId, Profile],
    bays: Mapping[UnitId, Bay],
) -> dict[Point, tuple[Behind, ...]] | None:
    """Return it, found again at the points behind which a cable is new, gone or another."""
    then, *others = was.reads
    if made_up or others != [made_up, profiles, bays]:
        return None
    ends = {seat for c in between(then, at_copper) for seat in c.places if seat[0] in bays}
    if not ends:
        return was.value  # type: ignore[no-any-return]
    again = behind([c for c in at_copper if not ends.isdisjoint(c.places)], made_up, profiles, bays)
    found: dict[Point, tuple[Behind, ...]] = {at: there for at, there in was.value.items() if at not in ends}
    new = {at: there for at, there in again.items() if at in ends}
    if in_that_order({c.id: c for c in then}, {c.id: c for c in at_copper}) and all(
        (was_there := was.value.get(at)) and was_there[0][:2] == there[0][:2] for at, there in new.items()
    ):
        # Each in its place.
        return {at: new.get(at, there) for at, there in was.value.items() if at in new or at not in ends}
    # In the order of the cables, of each first the point where it ends: so what rules say is in order.
    place = {c.id: n for n, c in enumerate(at_copper)}
    ordered = sorted({**found, **new}.items(), key=lambda of: (place[CableId(of[1][0].cable)], of[1][0].way))
    before: dict[Point, tuple[Behind, ...]] = was.value
    return kept(before, dict(ordered))
