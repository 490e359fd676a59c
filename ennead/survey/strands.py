"""Strands: where copper leads on from a socket beside what its cables say by the order of their plugs.

A cable between two units is a link from its first plug to its last. Copper has no direction: what comes to the far end of a tie line, to
one tail of a Y lead, to a socket that holds two plugs, goes on by the others. Only sockets that can pass something on have strands.
"""

from collections.abc import Collection, Iterable, Iterator, Mapping
from itertools import permutations
from operator import is_
from typing import Any, NamedTuple

from ennead.studio.house import Cable, Piece, PortEnd, Seat, Span
from ennead.studio.ids import LETTERS, CableId, UnitId
from ennead.studio.pieces import joined_lanes
from ennead.studio.profile import Profile
from ennead.survey.nets import Contact, contact_of, joints_of, side_of
from ennead.survey.parts import Held, between, changed_keys, part, renews
from ennead.survey.sorted_cables import SpanKey
from ennead.survey.unit_view import UnitView


class Strand(NamedTuple):
    """Copper from one socket to another.

    Parameters
    ----------
    cable : CableId
        A cable, or a cord.
    crosses : map of int to tuple of int
        Which lanes there each lane here is joined to.
    """

    cable: CableId
    unit: UnitId
    port: str
    crosses: Mapping[int, tuple[int, ...]]


#: A contact, with the cable by which it is joined to others.
_Held = tuple[Contact, CableId]
_Views = Mapping[UnitId, UnitView]


class Copper(NamedTuple):
    """Where copper leads on from sockets, and into which sockets it leads from the channels of lines that are on several leads."""

    strands: dict[UnitId, dict[str, tuple[Strand, ...]]]
    at_lines: dict[Contact, tuple[tuple[Contact, CableId], ...]]


@part
def strands(copper_paths: Copper) -> dict[UnitId, dict[str, tuple[Strand, ...]]]:
    """Return the strands that leave each socket of each unit, in the order of their cables."""
    return copper_paths.strands


@part
def at_lines(copper_paths: Copper) -> dict[Contact, tuple[tuple[Contact, CableId], ...]]:
    """Return the sockets that each channel of a line on several leads is joined to, each with its cable."""
    return copper_paths.at_lines


@part
def copper_paths(
    conductors: tuple[tuple[Cable, ...], tuple[Cable, ...]],
    corded: Mapping[SpanKey, Span],
    made_up: Mapping[CableId, tuple[Piece, ...]],
    shared: frozenset[Seat],
    profiles: Mapping[UnitId, Profile],
    views: _Views,
) -> Copper:
    """Return where copper leads on beside the links."""
    straight, with_wires = conductors
    passing = _Passing(views, shared)
    pairs: dict[tuple[UnitId, str, CableId, UnitId, str], dict[int, tuple[int, ...]]] = {}
    lines: dict[Contact, tuple[_Held, ...]] = {}
    for here, (there, cable) in _joined(straight, with_wires, corded, made_up, profiles, passing, lines):
        key = UnitId(here[0]), here[1], cable, UnitId(there[0]), there[1]
        lanes = pairs.setdefault(key, {})
        lanes[here[2]] = (*lanes.get(here[2], ()), there[2])
    found: dict[UnitId, dict[str, tuple[Strand, ...]]] = {}
    for (unit, port, cable, other, into), crosses in pairs.items():
        ports = found.setdefault(unit, {})
        ports[port] = (*ports.get(port, ()), Strand(cable, other, into, crosses))
    return Copper(found, lines)


@renews(copper_paths)
def _copper_paths_again(
    was: Held, conductors: tuple[tuple[Cable, ...], tuple[Cable, ...]], *reads: Any
) -> Copper | None:
    """Return it as it was where only such cables are otherwise as end in a box that passes nothing on by copper."""
    had, *then, had_views = was.reads
    *same, views = reads
    if (
        not all(map(is_, then, same))
        or had[1] != conductors[1]
        or any(not _joins_alike(views.get(unit), had_views.get(unit)) for unit in changed_keys(views, had_views))
    ):
        return None
    shared = same[2]
    return None if any(_Passing(views, shared).several(between(had[0], conductors[0]))) else was.value


def _joins_alike(one: UnitView | None, other: UnitView | None) -> bool:
    """Say whether copper leads through a unit as it did."""
    return (
        one is not None
        and other is not None
        and (one.profile, one.joined, one.carrying, one.digital, one.sides)
        == (
            other.profile,
            other.joined,
            other.carrying,
            other.digital,
            other.sides,
        )
    )


class _Passing:
    """Which contacts a signal can come from, and go on at."""

    def __init__(self, views: _Views, shared: Collection[Seat]) -> None:
        self._views, self._shared = views, shared

    def carries(self, contact: Contact) -> bool:
        """Say whether what comes to a contact by one cable can go on from it by copper."""
        unit, port, lane = contact
        view = self._views.get(UnitId(unit))
        if view is None or port in view.digital:
            return False
        if port in view.carrying and ((port, lane) in view.joined or not view.profile.sides[port]):
            return True
        return (unit, port) in self._shared

    def several(self, cables: Iterable[Cable | Span]) -> Iterator[Cable | Span]:
        """Yield the cables at both ends of which a signal may go on by copper, and those of lines."""
        carrying, shared = {unit: view.carrying for unit, view in self._views.items()}, self._shared
        for cable in cables:
            start, end = cable.start, cable.end
            # Most of what is wired behind a bay leads to a box at its other end.
            if isinstance(start, PortEnd) and isinstance(end, PortEnd):
                if start.port not in carrying[start.unit] and not (shared and (start.unit, start.port) in shared):
                    continue
                if end.port not in carrying[end.unit] and not (shared and (end.unit, end.port) in shared):
                    continue
            yield cable

    def gives(self, contact: Contact) -> bool:
        return self.carries(contact) or self._side(contact) == "out"

    def takes(self, contact: Contact) -> bool:
        return self.carries(contact) or self._side(contact) == "in"

    def _side(self, contact: Contact) -> str:
        view = self._views.get(UnitId(contact[0]))
        return "" if view is None or contact[1] in view.digital else side_of(contact, self._views)


def _joined(
    straight: Iterable[Cable],
    with_wires: Iterable[Cable],
    corded: Mapping[SpanKey, Span],
    made_up: Mapping[CableId, tuple[Piece, ...]],
    profiles: Mapping[UnitId, Profile],
    passing: _Passing,
    lines_found: dict[Contact, tuple[_Held, ...]],
) -> Iterator[tuple[Contact, _Held]]:
    """Yield every contact with one that copper joins to it where no link leads from the one to the other."""
    at_lines: dict[Contact, list[_Held]] = {}
    beside: dict[Contact, set[Contact]] = {}
    # What one cable joins itself is told already.
    told = set[tuple[Contact, Contact, CableId]]()
    for cable in passing.several((*straight, *corded.values())):
        for first, last in joints_of(cable, profiles):
            if _of_unit(first) and _of_unit(last):
                if passing.carries(first) and passing.carries(last):
                    yield last, (first, cable.id)
            else:
                line, there = (last, first) if _of_unit(first) else (first, last)
                at_lines.setdefault(line, []).append((there, cable.id))
    for cable in with_wires:
        linked = {
            ((p.start.unit, p.start.port, a), (p.end.unit, p.end.port, b))
            for p in made_up.get(cable.id, ())
            if isinstance(p.start, PortEnd) and isinstance(p.end, PortEnd)
            for a, b in p.crosses.items()
        }
        for group in joined_lanes(cable, lambda end: profiles[end.unit].port_by_key[end.port]):
            contacts = [contact_of(cable.plugs[at], lane, profiles) for at, lane in group]
            sockets = [c for c in contacts if _of_unit(c)]
            for one, other in permutations(sockets, 2):
                if (one, other) not in linked and passing.gives(one) and passing.takes(other):
                    yield one, (other, cable.id)
            lines = [c for c in contacts if not _of_unit(c)]
            if lines:
                told.update([(one, other, cable.id) for one, other in permutations(sockets, 2)])
            for line in lines:
                at_lines.setdefault(line, []).extend([(c, cable.id) for c in sockets])
                beside.setdefault(line, set()).update(lines)
    # What hangs on one line by several cables is joined there, and so is what hangs on lines that one lead joins.
    for together, held in _together(at_lines, beside):
        if len(held) > 1:
            lines_found |= dict.fromkeys(together, tuple(held))
        for (one, by), (other, further) in permutations(held, 2):
            if (
                one != other
                and (one, other, by) not in told
                and (one, other, further) not in told
                and passing.gives(one)
                and passing.takes(other)
            ):
                yield one, (other, further)


def _together(
    at_lines: Mapping[Contact, list[_Held]], beside: Mapping[Contact, set[Contact]]
) -> Iterator[tuple[list[Contact], list[_Held]]]:
    """Yield each set of lines that leads join with one another, with the sockets at them, each socket once a cable."""
    met = set[Contact]()
    for first in at_lines:
        if first in met:
            continue
        group = [first]
        met.add(first)
        for line in group:
            more = [other for other in beside.get(line, ()) if other not in met]
            met.update(more)
            group += more
        yield group, list(dict.fromkeys([held for line in group for held in at_lines.get(line, ())]))


def _of_unit(contact: Contact) -> bool:
    return contact[0][:1] == LETTERS["units"]
