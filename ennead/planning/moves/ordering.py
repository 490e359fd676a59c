"""In which order plugs are pulled and inserted so that at no moment two outputs meet that meet neither before nor after."""

import heapq
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import count
from typing import Final, Literal, NamedTuple

from ennead.planning.moves.contact_state import ContactState
from ennead.planning.moves.matching import CordDemand, Kind, suits
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.nets import Contact

#: How many points, and how many states, an exact search looks at before it says that it does not know.
MOST_POINTS, MOST_STATES = 14, 30_000
#: How long all the searches for one list of moves may take together, s. House default.
LIMIT_S: Final = 5.0


class Movement(NamedTuple):
    """One plug pulled or inserted.

    Parameters
    ----------
    cord : int
        The cord by its place among those carried.
    end : 1 or 2
    """

    action: Literal["pull", "plug"]
    cord: int
    end: int
    point: PortEnd


@dataclass(slots=True)
class Carried:
    """A cord from where its plugs are to where they go; None for a plug that hangs loose.

    Parameters
    ----------
    standing : int or None
        Its place among the cords that stand; None for one from the hook.
    """

    kind: Kind
    now: list[PortEnd | None]
    goal: tuple[PortEnd | None, PortEnd | None]
    standing: int | None = None


@dataclass(slots=True)
class Fronts:
    """What is plugged at some moment: each front with the one its cord runs to."""

    at: dict[PortEnd, PortEnd | None] = field(default_factory=dict)

    def lay(self, plugs: Iterable[PortEnd | None]) -> None:
        """Plug a whole cord, or one plug of it."""
        held = [p for p in plugs if p is not None]
        for plug in held:
            self.at[plug] = next((p for p in held if p != plug), None)

    def pull(self, point: PortEnd) -> None:
        """Pull the plug at a point."""
        other = self.at.pop(point)
        if other is not None:
            self.at[other] = None

    def plug(self, point: PortEnd, other: PortEnd | None) -> None:
        """Insert a plug of a cord; the cord's other plug is in another point, or hangs loose."""
        self.at[point] = other
        if other is not None:
            self.at[other] = point


class Patience:
    """How long a search for moves may go on, s; and whether it was told to stop."""

    def __init__(self, stop: Callable[[], bool] = lambda: False, limit_s: float = LIMIT_S) -> None:
        self._stop, self._until = stop, time.monotonic() + limit_s

    def is_over(self) -> bool:
        """Say whether the search must end now, with nothing found."""
        return self._stop() or time.monotonic() > self._until


class Law:
    """Which outputs may meet: those that do so in the state before or in the state after."""

    def __init__(self, board: ContactState, before: Fronts, after: Fronts, patience: Patience | None = None) -> None:
        self.board, self.patience = board, patience or Patience()
        self._parties = board.parties(before.at), board.parties(after.at)
        self.broken: tuple[Contact, Contact] | None = None

    def holds(self, point: PortEnd, fronts: Fronts) -> bool:
        """Say whether what is joined to a point may be; if not, the first two outputs that must not meet are noted."""
        drivers = self.board.joined(point, fronts.at).drivers
        if len(drivers) < 2:
            return True
        known = sorted(drivers)
        for at, one in enumerate(known):
            for other in known[at + 1 :]:
                if not any(party.get(one, -1) == party.get(other, -2) for party in self._parties):
                    self.broken = one, other
                    return False
        return True


def in_some_order(law: Law, carried: Sequence[Carried], before: Fronts) -> list[Movement] | None:
    """Return an order for the movements that the cords need at least, or None where none was found.

    First pulls as far as they may go, then plugs, by turns; failing that plugs first; an order in which every single state is as it may
    be is what was asked for, whichever it is.
    """
    for first in ("pull", "plug"):
        found = _try(law, carried, before, first)
        if found is not None:
            return found
    return None


def _try(law: Law, carried: Sequence[Carried], before: Fronts, first: str) -> list[Movement] | None:
    fronts = Fronts(dict(before.at))
    now = [list(cord.now) for cord in carried]
    left = [
        Movement(action, k, end, point)
        for k, cord in enumerate(carried)
        for end in (1, 2)
        for action, point in _both(cord.now[end - 1], cord.goal[end - 1])
        if point is not None and cord.now[end - 1] != cord.goal[end - 1]
    ]
    left.sort(key=lambda m: m.action != first)
    done: list[Movement] = []
    while left:
        waiting = []
        for movement in left:
            if may(movement, now, fronts) and _done(law, movement, now, fronts):
                done.append(movement)
            else:
                waiting.append(movement)
        if len(waiting) == len(left):
            return None
        left = waiting
    return done


def _both(now: PortEnd | None, goal: PortEnd | None) -> tuple[tuple[Literal["pull", "plug"], PortEnd | None], ...]:
    return ("pull", now), ("plug", goal)


def may(movement: Movement, now: Sequence[list[PortEnd | None]], fronts: Fronts) -> bool:
    """Say whether hands could do it: the plug is there, or it hangs loose and the front is free."""
    here = now[movement.cord][movement.end - 1]
    return here == movement.point if movement.action == "pull" else here is None and movement.point not in fronts.at


def _done(law: Law, movement: Movement, now: Sequence[list[PortEnd | None]], fronts: Fronts) -> bool:
    """Do a movement; where it may not be, undo it and say so."""
    action, k, end, point = movement
    other = now[k][2 - end]
    if action == "pull":
        fronts.pull(point)
        if law.holds(point, fronts):
            now[k][end - 1] = None
            return True
        fronts.plug(point, other)
        return False
    fronts.plug(point, other)
    if law.holds(point, fronts):
        now[k][end - 1] = point
        return True
    fronts.pull(point)
    return False


#: A plugged cord in an exact search: its kind by number, and its plugs in order.
_Laid = tuple[int, tuple[PortEnd, ...]]


#: States after which a search looks whether it must end.
_LOOKS_UP: Final = 16


class Exact(NamedTuple):
    """What an exact search found.

    Parameters
    ----------
    steps : tuple of (action, kind, point, other plug) or None
        The fewest movements; None where there is no way, or none was found in time.
    whole : bool
        Whether it looked everywhere.
    """

    steps: tuple[tuple[str, int, PortEnd, PortEnd | None], ...] | None
    whole: bool


def exactly(
    law: Law,
    kinds: Sequence[Kind],
    plugged: Sequence[_Laid],
    loose: Sequence[int],
    wanted: Sequence[CordDemand],
    points: Sequence[PortEnd],
) -> Exact:
    """Return the fewest movements of all, others than those the cords need at least among them.

    Parameters
    ----------
    plugged : sequence of (kind, plugs)
    loose : sequence of int
        How many cords of each kind hang on the hook.

    Notes
    -----
    States by the least that is still to do (A*): each plug where none is wanted is pulled, each front where one is wanted and none is
    gets one, and a cord that joins the wrong two, or is of the wrong kind, comes out once more. No movement does two of these.
    """
    want = {tuple(sorted(w.plugs, key=str)): w for w in wanted}
    goals = {plug for w in wanted for plug in w.plugs}
    total = [loose[k] + sum(kind == k for kind, _ in plugged) for k in range(len(kinds))]

    def least(state: frozenset[_Laid]) -> int:
        held = {plug for _, plugs in state for plug in plugs}
        todo = len(held - goals) + len(goals - held)
        for kind, plugs in state:
            here = [p for p in plugs if p in goals]
            if len(here) == 2 and plugs not in want:
                todo += 2
            elif plugs in want and not suits(kinds[kind], want[plugs]):
                todo += 2 * len(plugs)
        return todo

    first = frozenset(plugged)
    tie = count()
    waiting: list[tuple[int, int, int, frozenset[_Laid]]] = [(least(first), next(tie), 0, first)]
    came: _Came = {first: (0, None, ("", 0, _NOWHERE, None))}
    closed: set[frozenset[_Laid]] = set()
    while waiting:
        _, _, done, state = heapq.heappop(waiting)
        if state in closed:
            continue
        closed.add(state)
        if {plugs for _, plugs in state} == set(want) and all(suits(kinds[kind], want[plugs]) for kind, plugs in state):
            return Exact(_steps_to(state, came), whole=True)
        if len(closed) > MOST_STATES or (len(closed) % _LOOKS_UP == 0 and law.patience.is_over()):
            return Exact(None, whole=False)
        for step, after in _next(law, state, total, points):
            if after not in came or came[after][0] > done + 1:
                came[after] = done + 1, state, step
                heapq.heappush(waiting, (done + 1 + least(after), next(tie), done + 1, after))
    return Exact(None, whole=True)


def _steps_to(state: frozenset[_Laid], came: "_Came") -> tuple[tuple[str, int, PortEnd, PortEnd | None], ...]:
    """Return the movements by which a state was come to, the first one first."""
    steps = []
    back: frozenset[_Laid] | None = state
    while back is not None and came[back][1] is not None:
        steps.append(came[back][2])
        back = came[back][1]
    return tuple(steps[::-1])


#: By state the movements up to it, the state before, and the movement that led to it.
_Came = dict[frozenset[_Laid], tuple[int, frozenset[_Laid] | None, tuple[str, int, PortEnd, PortEnd | None]]]
_NOWHERE: Final = PortEnd(UnitId(""), "")


def _next(
    law: Law, state: frozenset[_Laid], total: Sequence[int], points: Sequence[PortEnd]
) -> Iterator[tuple[tuple[str, int, PortEnd, PortEnd | None], frozenset[_Laid]]]:
    fronts = Fronts()
    for _, plugs in state:
        fronts.lay(plugs)
    for laid in state:
        kind, plugs = laid
        for plug in plugs:
            left = tuple(p for p in plugs if p != plug)
            other = left[0] if left else None
            fronts.pull(plug)
            if law.holds(plug, fronts):
                yield ("pull", kind, plug, other), (state - {laid}) | ({(kind, left)} if left else set())
            fronts.plug(plug, other)
    free = [p for p in points if p not in fronts.at]
    halves: list[tuple[int, _Laid | None]] = [(laid[0], laid) for laid in state if len(laid[1]) == 1]
    halves += [(k, None) for k, most in enumerate(total) if sum(kind == k for kind, _ in state) < most]
    for kind, half in halves:
        other = half[1][0] if half is not None else None
        for point in free:
            fronts.plug(point, other)
            if law.holds(point, fronts):
                whole = tuple(sorted((point, other), key=str)) if other is not None else (point,)
                yield ("plug", kind, point, other), (state - {half} if half is not None else state) | {(kind, whole)}
            fronts.pull(point)


def clusters(board: ContactState, carried: Sequence[Carried]) -> list[tuple[list[int], set[PortEnd]]]:
    """Return the cords in groups that have nothing to do with one another, each with the points it could ever touch."""
    near: dict[PortEnd, set[PortEnd]] = {}

    def join(a: PortEnd, b: PortEnd) -> None:
        near.setdefault(a, set()).add(b)
        near.setdefault(b, set()).add(a)

    for group in {id(g): g for g in board.behind.values()}.values():
        for other in group.points:
            join(group.points[0], other)
    for normals in board.normals.values():
        for a, b, _ in normals:
            join(a, b)
    for cord in carried:
        ends = [p for p in (*cord.now, *cord.goal) if p is not None]
        for end in ends:
            join(ends[0], end)
    found: list[tuple[list[int], set[PortEnd]]] = []
    where: dict[PortEnd, int] = {}
    for k, cord in enumerate(carried):
        start = next((p for p in (*cord.now, *cord.goal) if p is not None), None)
        if start is None:
            continue
        if start not in where:
            met, waiting = {start}, [start]
            while waiting:
                new = near[waiting.pop()] - met
                met |= new
                waiting += new
            where.update(dict.fromkeys(met, len(found)))
            found.append(([], met))
        found[where[start]][0].append(k)
    return found
