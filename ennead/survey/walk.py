"""The walker: where a signal goes on from one lane of a socket, and everything it reaches, forwards and backwards.

The graph is that of contacts, nets and passages. Copper (cables, cords, normals, panels, leads with wires of their own) has no
direction; a digital link runs from output to input, and a passage from an input of a unit to its outputs, as the unit is set. All that is
said of ways, ears, loops, returns and orphans is a question to this module. Nothing here recurses: a chain of ten thousand boxes is one
loop.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Final, NamedTuple

from ennead.studio.ids import CableId, UnitId
from ennead.survey.links import Link
from ennead.survey.passages import Ask, Passages

#: A lane of a socket.
Lane = tuple[UnitId, str, int]


class Hop(NamedTuple):
    """One step of a signal.

    Parameters
    ----------
    to : Lane or None
        Where it is then; None for a lane that does not cross its cable.
    cable : CableId or None
        The cable or cord it came by; None within a unit.
    copper : bool
        Whether both ends are one conductor; else it goes this way alone.
    lost : Link or None
        The cable on which it is lost.
    """

    to: Lane | None
    cable: CableId | None = None
    copper: bool = True
    lost: Link | None = None


def onward(here: Passages, at: Lane) -> list[Hop]:
    """Return where a signal goes on from a lane: by normals, by cables, by what the unit does with it; each in the unit's own order."""
    unit, port, lane = at
    view, key = here.view, (port, lane)
    found: list[Hop] = []
    if here.silent and key in here.silent:
        return found
    if here.beside:
        for other in here.beside.get(port, ()):
            if lane == 1 or lane <= view.lanes[other]:
                found.append(Hop((unit, other, lane)))  # noqa: PERF401 - thousands are asked for with every edit
    for link in here.leaving.get(port, ()):
        crosses, end = link.crosses, link.end
        if crosses is None:
            into = lane if lane <= link.lanes else None
        elif lane in crosses:
            into = crosses[lane]
        else:
            # A lead with wires of its own has none for this lane.
            continue
        if into is None:
            found.append(Hop(None, link.cable, lost=link))
        else:
            found.append(Hop((end.unit, end.port, into), link.cable, not link.digital))
    if here.strands:
        for strand in here.strands.get(port, ()):
            found += [Hop((strand.unit, strand.port, into), strand.cable) for into in strand.crosses.get(lane, ())]
    if view.inserts and key in view.inserts and port not in here.opened:
        found.append(Hop((unit, *view.inserts[key]), None, False))
    outs = view.inside.get(key)
    if outs:
        joined = view.joined.get(key, ()) if view.joined else ()
        for out in outs:
            found.append(Hop((unit, *out), None, out in joined))
    if view.back:
        found += [Hop((unit, *out)) for out in view.back.get(key, ())]
    return found


class End(NamedTuple):
    """Where the first way of a signal ends.

    Parameters
    ----------
    cause : str
        Empty where it arrives; ``ring``, ``cable`` (lost on one), ``within`` (the unit sends it nowhere) or ``open`` (no cable leaves).
    """

    cause: str = ""
    lost: Link | None = None


class Path(NamedTuple):
    """A signal's way, hop by hop from where it begins; `hops[0]` is that lane itself."""

    hops: tuple[Hop, ...]
    end: End


ARRIVED: Final = End()


def first_path(
    ask: Ask, start: Lane, arrives: Callable[[Passages, Lane], bool], shut: Callable[[Hop], bool] | None = None
) -> Path:
    """Return the first way, depth first, by which a signal arrives; else the first way it goes, with where that ends.

    Parameters
    ----------
    arrives : callable
        Whether a signal that is at a lane has arrived.
    shut : callable, optional
        Hops that are not to be taken.
    """
    here = ask(start[0])
    begin = Hop(start)
    if arrives(here, start):
        return Path((begin,), ARRIVED)
    path, ahead = [begin], [iter(onward(here, start))]
    # By lane: which stretch of copper it belongs to, so that turning back within copper is not taken for a ring.
    met: dict[Lane, int] = {start: 0}
    stretches = [0]
    count = 0
    first: Path | None = None
    while ahead:
        for hop in ahead[-1]:
            to = hop.to
            if to is None:
                first = first or Path((*path, hop), End("cable", hop.lost))
                continue
            if to in met:
                if not (hop.copper and met[to] == stretches[-1]):
                    first = first or Path((*path, hop), End("ring"))
                continue
            if shut is not None and shut(hop):
                continue
            if not hop.copper:
                count += 1
            met[to] = stretch = stretches[-1] if hop.copper else count
            path.append(hop)
            here = ask(to[0])
            if arrives(here, to):
                return Path(tuple(path), ARRIVED)
            stretches.append(stretch)
            ahead.append(iter(onward(here, to)))
            break
        else:
            if first is None:
                first = Path(tuple(path), End(_stuck(ask, path)))
            path.pop()
            ahead.pop()
            stretches.pop()
    assert first is not None  # noqa: S101 - the start itself is a way
    return first


def _stuck(ask: Ask, path: list[Hop]) -> str:
    """Return why a way goes no further: no cable leaves where it is, or the unit takes it nowhere from the socket it came in by."""
    last = path[-1]
    unit, port, _ = last.to  # type: ignore[misc]
    inner = len(path) > 1 and last.cable is None
    return "open" if inner or port in ask(unit).points else "within"


@dataclass(slots=True)
class Reach:
    """Everything a signal reaches, as a tree: each lane by its first way, depth first.

    Parameters
    ----------
    lanes : list of Lane
        In the order in which they were met, the beginning first.
    parent : list of int
        From which of them each was met; -1 for the first.
    hops : list of Hop
        The step by which each was met.
    ways : list of int
        By how many ways a signal comes to each: one, or two for several. One stretch of copper is one way.
    leads_on : list of bool
        Whether each is an end of the kind asked for, or lies on a way to one.
    ends : list of int
        The ends among them.
    astray : list of (int, Path)
        Cables on the way to some end that lead to none: from which lane, and the way behind it.
    """

    lanes: list[Lane]
    parent: list[int]
    hops: list[Hop]
    ways: list[int] = field(default_factory=list)
    leads_on: list[bool] = field(default_factory=list)
    ends: list[int] = field(default_factory=list)
    astray: list[tuple[int, Path]] = field(default_factory=list)

    def path_to(self, index: int) -> tuple[Hop, ...]:
        """Return the hops to one of the lanes, the beginning first."""
        found = []
        while index >= 0:
            found.append(self.hops[index])
            index = self.parent[index]
        return tuple(reversed(found))

    def passages_to(self, through: Callable[[UnitId], bool] = lambda _: True) -> list[int]:
        """Return how many passages through units lie before each of the lanes, in their order.

        Parameters
        ----------
        through : callable
            Which units count.
        """
        found: list[int] = []
        for hop, before in zip(self.hops, self.parent, strict=True):
            passes = before >= 0 and hop.cable is None and not hop.copper and hop.to is not None and through(hop.to[0])
            found.append((found[before] if before >= 0 else 0) + passes)
        return found

    def passed_to(self, index: int) -> list[UnitId]:
        """Return the units that a signal passes, not by copper alone, on its way to one of the lanes."""
        found = []
        while index >= 0:
            hop = self.hops[index]
            if hop.cable is None and not hop.copper and hop.to is not None:
                found.append(hop.to[0])
            index = self.parent[index]
        return found


def reach(ask: Ask, start: Lane, is_end: Callable[[Passages, Lane], bool], *further: Lane) -> Reach:
    """Return everything a signal reaches from a lane; what lies behind an end it reaches by copper alone.

    Parameters
    ----------
    further : Lane
        Where else it begins, joined to the first by copper: the other leads of a line.
    is_end : callable
        Whether a signal that is at a lane has arrived there.
    """
    lanes = list(dict.fromkeys((start, *further)))
    found = Reach(lanes, [-1] * len(lanes), [Hop(lane) for lane in lanes])
    walked = _explored(ask, found, is_end)
    _count(found, walked)
    _find_astray(ask, found, walked, is_end)
    return found


class _Walked(NamedTuple):
    """What a search met beside its tree.

    Parameters
    ----------
    edges : list of (int, int, bool)
        Every step from one lane to another, and whether copper joins them.
    lost : list of (int, Hop)
        Steps on which the signal is lost, each with the lane it leaves.
    stretch : list of int
        The stretch of copper each lane belongs to.
    order : list of int
        The lanes in the order in which the search left them.
    """

    edges: list[tuple[int, int, bool]]
    lost: list[tuple[int, Hop]]
    stretch: list[int]
    order: list[int]


def _explored(ask: Ask, found: Reach, is_end: Callable[[Passages, Lane], bool]) -> _Walked:
    """Search depth first from all beginnings, one after the other, and fill the tree."""
    lanes, parents, hops = found.lanes, found.parent, found.hops
    index = {lane: n for n, lane in enumerate(lanes)}
    stretch, joined = [0] * len(lanes), _Union()
    joined.add()
    walked = _Walked([], [], stretch, [])

    def enter(at: int) -> Iterator[Hop]:
        here = ask(lanes[at][0])
        ahead = onward(here, lanes[at])
        if is_end(here, lanes[at]):
            found.ends.append(at)
            ahead = [hop for hop in ahead if hop.copper]
        return iter(ahead)

    for begin in range(len(lanes)):
        waiting, ahead = [begin], [enter(begin)]
        while ahead:
            at = waiting[-1]
            for hop in ahead[-1]:
                if hop.to is None:
                    walked.lost.append((at, hop))
                    continue
                there = index.get(hop.to)
                new = there is None
                if there is None:
                    there = index[hop.to] = len(lanes)
                    lanes.append(hop.to)
                    parents.append(at)
                    hops.append(hop)
                    stretch.append(stretch[at] if hop.copper else joined.add())
                elif hop.copper:
                    joined.unite(stretch[at], stretch[there])
                walked.edges.append((at, there, hop.copper))
                if new:
                    waiting.append(there)
                    ahead.append(enter(there))
                    break
            else:
                walked.order.append(waiting.pop())
                ahead.pop()
    return walked._replace(stretch=[joined.find(s) for s in stretch])


class _Union:
    """Disjoint sets of stretches of copper.

    References
    ----------
    R. Tarjan, Efficiency of a good but not linear set union algorithm, J. ACM 22 (1975).
    """

    def __init__(self) -> None:
        self._parent: list[int] = []

    def add(self) -> int:
        self._parent.append(len(self._parent))
        return len(self._parent) - 1

    def find(self, one: int) -> int:
        parent = self._parent
        while parent[one] != one:
            parent[one] = parent[parent[one]]
            one = parent[one]
        return one

    def unite(self, one: int, other: int) -> None:
        a, b = self.find(one), self.find(other)
        self._parent[max(a, b)] = min(a, b)


def _count(found: Reach, walked: _Walked) -> None:
    """Count by how many ways each stretch of copper is reached, to two: the sum over the passages into it, beginning first.

    Stretches are taken in topological order; a passage back to one that is not behind it is a ring and counts for nothing.
    """
    stretch = walked.stretch
    into: dict[int, list[int]] = {}
    for at, there, copper in walked.edges:
        one, other = stretch[at], stretch[there]
        if not copper and one != other:
            into.setdefault(one, []).append(other)
    # The reverse of the order in which a depth-first search leaves them; of a stretch the lane it was met by is left last.
    ranked = list(dict.fromkeys([stretch[at] for at in reversed(walked.order)]))
    rank = {s: n for n, s in enumerate(ranked)}
    counts = dict.fromkeys(ranked, 0)
    counts[stretch[0]] = 1
    for one in ranked:
        for other in into.get(one, ()):
            if rank[other] > rank[one]:
                counts[other] = min(2, counts[other] + counts[one])
    found.ways = [max(1, counts[s]) for s in stretch]


def _find_astray(ask: Ask, found: Reach, walked: _Walked, is_end: Callable[[Passages, Lane], bool]) -> None:
    """Tell which lanes lie on a way to an end, and which cables leave such a way for nowhere."""
    back: dict[int, list[int]] = {}
    for at, there, copper in walked.edges:
        # Copper that was met already leads back, unless it closes another stretch.
        if found.parent[there] == at or not copper:
            back.setdefault(there, []).append(at)
    leads_on = [False] * len(found.lanes)
    waiting = list(found.ends)
    for at in waiting:
        leads_on[at] = True
    while waiting:
        for before in back.get(waiting.pop(), ()):
            if not leads_on[before]:
                leads_on[before] = True
                waiting.append(before)
    found.leads_on = leads_on
    found.astray += [(at, Path((hop,), End("cable", hop.lost))) for at, hop in walked.lost if leads_on[at]]
    children: dict[int, list[int]] = {}
    for index, before in enumerate(found.parent):
        children.setdefault(before, []).append(index)
    waiting = [
        there for there, before in enumerate(found.parent) if before >= 0 and leads_on[before] and not leads_on[there]
    ]
    for there in waiting:
        if found.hops[there].cable is None:
            # An output that no way to an end leaves by; what is plugged into it counts.
            waiting += children.get(there, ())
            continue
        met = _before(found, found.parent[there])
        behind = first_path(ask, found.lanes[there], is_end, lambda hop, met=met: hop.to in met)  # type: ignore[misc]
        if behind.end.cause not in ("", "ring"):
            found.astray.append((found.parent[there], Path((found.hops[there], *behind.hops[1:]), behind.end)))


def _before(found: Reach, at: int) -> set[Lane]:
    """Return the lanes on the way to one, itself among them."""
    lanes = set()
    while at >= 0:
        lanes.add(found.lanes[at])
        at = found.parent[at]
    return lanes


def along_copper(ask: Ask, start: Lane) -> Iterator[Lane]:
    """Yield the lanes that copper joins to one, depth first, itself first."""
    met, waiting = set[Lane](), [start]
    while waiting:
        at = waiting.pop()
        if at in met:
            continue
        met.add(at)
        yield at
        waiting += [
            hop.to
            for hop in reversed(onward(ask(at[0]), at))
            if hop.copper and hop.to is not None and hop.to not in met
        ]


def is_record(here: Passages, at: Lane) -> bool:
    """Say whether a lane is a driver input of a computer at which something can arrive."""
    key = at[1], at[2]
    return here.on_computer and key in here.view.input_at and key not in here.silent
