"""The board: what the fronts of the points join, as far as trying movements out needs it."""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from ennead.studio.bays import NormalMode, carries
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.studio.record import replace
from ennead.survey.nets import Contact
from ennead.survey.passages import Ask
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.survey import Survey, wiring
from ennead.survey.walk import Lane, reach
from ennead.survey.wiring import Wiring

#: The fronts that hold plugs, each with the front its cord runs to; None where the other end hangs loose.
Fronts = Mapping[PortEnd, PortEnd | None]
#: A bank of 48 V: the unit and the bank's key.
Supply = tuple[UnitId, str]


class Soldered(NamedTuple):
    """What is soldered behind some points that copper joins whatever is plugged.

    Parameters
    ----------
    drivers : frozenset of Contact
        Outputs and sources.
    heard_on : frozenset of UnitId
        The loudspeakers that sound goes on to from here, whatever is plugged.
    supplies : frozenset of Supply
        The 48 V that is on and reaches it.
    receivers : frozenset of Contact
        Inputs and destinations.
    leads_on : frozenset of PortEnd
        Points that boxes behind these drive with what comes to them.
    """

    points: tuple[PortEnd, ...]
    drivers: frozenset[Contact] = frozenset()
    heard_on: frozenset[UnitId] = frozenset()
    supplies: frozenset[Supply] = frozenset()
    receivers: frozenset[Contact] = frozenset()
    leads_on: frozenset[PortEnd] = frozenset()


class Joined(NamedTuple):
    """What is joined to one point at some moment."""

    drivers: frozenset[Contact]
    supplies: frozenset[Supply]


class ContactState:
    """Points, what is soldered behind them, and the normals between them.

    Parameters
    ----------
    behind : iterable of Soldered
        Every point is in one of them.
    normals : iterable of (PortEnd, PortEnd, NormalMode)
    """

    def __init__(self, behind: Iterable[Soldered], normals: Iterable[tuple[PortEnd, PortEnd, NormalMode]]) -> None:
        self.behind: dict[PortEnd, Soldered] = {point: group for group in behind for point in group.points}
        self.normals: dict[PortEnd, list[tuple[PortEnd, PortEnd, NormalMode]]] = {}
        for normal in normals:
            for end in normal[:2]:
                self.normals.setdefault(end, []).append(normal)

    def groups(self, point: PortEnd, fronts: Fronts) -> list[Soldered]:
        """Return what is joined to a point while some fronts hold plugs."""
        first = self.behind[point]
        met, found = {id(first)}, [first]
        for group in found:
            for here in group.points:
                others = [
                    a if b == here else b
                    for a, b, mode in self.normals.get(here, ())
                    if carries(mode, start=a in fronts, end=b in fronts)
                ]
                far = fronts.get(here)
                for other in others if far is None else (*others, far):
                    if id(there := self.behind[other]) not in met:
                        met.add(id(there))
                        found.append(there)
        return found

    def joined(self, point: PortEnd, fronts: Fronts) -> Joined:
        """Return what drives the copper joined to a point, and what 48 V is on it."""
        groups = self.groups(point, fronts)
        if len(groups) == 1:
            return Joined(groups[0].drivers, groups[0].supplies)
        return Joined(
            frozenset([d for group in groups for d in group.drivers]),
            frozenset([s for group in groups for s in group.supplies]),
        )

    def heard_on(self, point: PortEnd, fronts: Fronts) -> frozenset[UnitId]:
        """Return the loudspeakers on which it is heard when something is plugged at a point: through boxes, and what these drive in turn."""
        waiting, met, found = [point], set[int](), set[UnitId]()
        for here in waiting:
            for group in self.groups(here, fronts) if id(self.behind[here]) not in met else ():
                met.add(id(group))
                found |= group.heard_on
                waiting += group.leads_on
        return frozenset(found)

    def parties(self, fronts: Fronts) -> dict[Contact, int]:
        """Return by a number which drivers are joined with one another."""
        found: dict[Contact, int] = {}
        for point, group in self.behind.items():
            if not group.drivers.issubset(found):
                number = len(found)
                found.update(dict.fromkeys(self.joined(point, fronts).drivers, number))
        return found


def contact_state_of(studio: Studio, laid: Wiring | None = None) -> ContactState:
    """Return the board of a studio; what is plugged in its fronts does not matter.

    Parameters
    ----------
    laid : Wiring, optional
        Cables and settings, where they are not those of the current session in its scene.
    """
    bare = {key: replace(bay, normals=()) for key, bay in studio.bays.items()}
    survey = Survey(studio, laid=(laid or wiring(studio))._replace(bays=bare, cords=()))
    nets, banks = survey.nets, survey.phantom_on
    points = {PortEnd(unit, key) for unit, bay in studio.bays.items() for key in bay.points}
    behind: list[Soldered] = []
    met: set[PortEnd] = set()
    ask = remembered(survey.passages.__getitem__)
    for point in sorted(points, key=lambda p: (p.unit, p.port)):
        if point in met:
            continue
        lanes = survey.views[point.unit].lanes[point.port]
        found = [net for lane in range(1, lanes + 1) if (net := nets.get((point.unit, point.port, lane))) is not None]
        contacts = {c for net in found for c in net.contacts}
        mine = tuple(dict.fromkeys([point, *sorted((e for c in contacts if (e := _end(c)) in points), key=str)]))
        met.update(mine)
        takes = [e for net in found for c in net.receivers if (e := _end(c)) is not None]
        ahead = [lane for net in found for c in net.receivers for lane in _behind(ask, c)]
        supplies = frozenset(
            (end.unit, bank.key)
            for end in takes
            if (bank := survey.profiles[end.unit].bank_of_port.get(end.port)) is not None
            and bank.key in banks[end.unit]
        )
        behind.append(
            Soldered(
                mine,
                frozenset(c for net in found for c in net.drivers),
                frozenset(unit for unit, _, _ in ahead if survey.profiles[unit].role == "loudspeaker"),
                supplies,
                frozenset(c for net in found for c in net.receivers),
                frozenset(e for unit, port, _ in ahead if (e := PortEnd(unit, port)) in points),
            )
        )
    normals = [
        (PortEnd(unit, n.start), PortEnd(unit, n.end), n.mode) for unit, bay in studio.bays.items() for n in bay.normals
    ]
    return ContactState(behind, normals)


def _end(contact: Contact) -> PortEnd | None:
    unit, port, _ = contact
    return PortEnd(UnitId(unit), port) if unit[:1] == LETTERS["units"] else None


def _behind(ask: Ask, contact: Contact) -> list[Lane]:
    """Return what sound that comes in at a contact reaches, but for what is recorded."""
    unit = UnitId(contact[0])
    return reach(ask, (unit, contact[1], contact[2]), is_terminal).lanes if unit[:1] == LETTERS["units"] else []
