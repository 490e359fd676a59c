"""The moves from cords that stand to those of a scene: plugs, and what has to be muted and switched off meanwhile."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Final, Literal, NamedTuple

from ennead.planning.moves.contact_state import ContactState, Supply, contact_state_of
from ennead.planning.moves.matching import CordDemand, Kind, Match, match
from ennead.planning.moves.ordering import (
    MOST_POINTS,
    Carried,
    Exact,
    Fronts,
    Law,
    Movement,
    Patience,
    clusters,
    exactly,
    in_some_order,
)
from ennead.standards.bays import reach_m
from ennead.studio.bays import Bay, Cord, CordStock
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import LineEnd, PortEnd
from ennead.studio.ids import LETTERS, CordId, UnitId, number_of
from ennead.studio.switches import Switch
from ennead.survey.nets import Contact

#: How long 48 V takes to fall once it is switched off, s. House default.
FALL_S: Final = 30
Action = Literal["pull", "plug", "mute", "unmute", "phantom-off", "phantom-on", "wait", "switch"]


class NoMoves(EnneadError):
    """There is no way from one set of cords to another."""

    def __init__(self, reason: str, remedy: str) -> None:
        super().__init__(reason, remedy)
        self.reason, self.remedy = reason, remedy

    def __str__(self) -> str:
        return f"{self.reason} {self.remedy}"


class MoveStep(NamedTuple):
    """One thing to do.

    Parameters
    ----------
    cord : CordId
        The cord as it stands, or the wanted one where it comes from the hook; empty for what is no movement.
    end : int
        1 or 2; 0 for what is no movement.
    point : PortEnd or None
        Out of which it is pulled, or into which it is plugged.
    on : UnitId or Supply or None
        The loudspeaker that is muted, the 48 V that is switched, or the box on which something is set.
    wait_s : int, s
    turn : pair of Switch or None
        What a scene wants set, and how it stood.
    """

    action: Action
    cord: CordId = CordId("")
    end: int = 0
    point: PortEnd | None = None
    on: UnitId | Supply | None = None
    wait_s: int = 0
    turn: tuple[Switch, Switch] | None = None


class MovePlan(NamedTuple):
    """All moves, in order.

    Parameters
    ----------
    movements : int
        Plugs pulled and inserted.
    bound : int
        No plan needs fewer.
    proven : bool
        Whether no plan that obeys the rules needs fewer than this one.
    forced : tuple of pair of Contact
        The outputs that would have met, which is why there are more movements than the bound.
    from_hook : map of CordId to Kind
        The cords that come from the hook.
    stays_off : tuple of str
        Which 48 V is not switched on again, and why, as sentences.
    """

    steps: tuple[MoveStep, ...]
    movements: int
    bound: int
    proven: bool
    forced: tuple[tuple[Contact, Contact], ...]
    from_hook: Mapping[CordId, Kind]
    stays_off: tuple[str, ...] = ()


def kind_of(cord: Cord) -> Kind:
    """Return what a cord is, wherever it is plugged."""
    return Kind(cord.length_m, cord.colour, cord.unbalanced)


def needs_m(bays: Mapping[UnitId, Bay], plugs: Sequence[PortEnd]) -> float:
    """Return how long a cord between two points has to be at least, m; zero where they are not on one bay, for their distance is not known."""
    if len(plugs) < 2 or plugs[0].unit != plugs[1].unit or plugs[0].unit not in bays:
        return 0.0
    bay = bays[plugs[0].unit]
    where = {key: at for row in bay.rows for at, key in enumerate(row) if key}
    ends = [where.get(p.port) for p in plugs]
    if ends[0] is None or ends[1] is None:
        return 0.0
    return reach_m(ends[0], ends[1], bay.pitch_mm, in_pairs=bay.in_pairs)


def on_the_hook(stock: Sequence[CordStock], standing: Iterable[Cord]) -> list[tuple[Kind, int]] | None:
    """Return the spare cords: the stock without those that stand; None where it has not been counted."""
    if not stock:
        return None
    plugged = [kind_of(c) for c in standing]
    kinds = {Kind(s.length_m, s.colour, s.unbalanced): s.count for s in stock}
    return [(kind, max(0, count - plugged.count(kind))) for kind, count in kinds.items()]


def moves(
    studio: Studio,
    standing: Sequence[Cord],
    goal: Sequence[Cord],
    board: ContactState | None = None,
    patience: Patience | None = None,
) -> MovePlan:
    """Return the moves from some cords to others.

    Parameters
    ----------
    board : ContactState, optional
        That of the studio, where it is known.

    Raises
    ------
    NoMoves
        If a cord is lacking, or two outputs would have to meet on the way.
    """
    board = board or contact_state_of(studio)
    standing = [c for c in standing if all(p in board.behind for p in c.plugs)]
    wanted = [CordDemand(c.plugs, kind_of(c), needs_m(studio.bays, c.plugs)) for c in goal]
    hook = on_the_hook(studio.stock, standing)
    found = match([(c.plugs, kind_of(c)) for c in standing], wanted, hook)
    if found.lacking:
        cord = goal[found.lacking[0]]
        where = " to ".join(studio.end_text(p) for p in cord.plugs)
        raise NoMoves(f"No cord is left for {where}.", "Count the cords anew, or lay a shorter one.")
    carried = _carried(standing, wanted, found, hook)
    before, after = Fronts(), Fronts()
    for cord in standing:
        before.lay(cord.plugs)
    for cord in goal:
        after.lay(cord.plugs)
    law = Law(board, before, after, patience)
    order = in_some_order(law, carried, before)
    forced: tuple[tuple[Contact, Contact], ...] = ()
    proven = True
    if order is None:
        # A cord that moves with both plugs may as well stay while a spare one is plugged instead.
        freed = _freed(carried, hook)
        order = in_some_order(law, freed, before)
        carried = freed if order is not None else carried
    if order is None:
        carried, order, forced, proven = _by_clusters(studio, law, carried, before, wanted, hook)
    names = _names(studio.counters.get(LETTERS["cords"], 0), standing, goal, carried)
    steps = tuple([MoveStep(m.action, names[m.cord], m.end, m.point) for m in order])
    hung = {names[k]: c.kind for k, c in enumerate(carried) if c.standing is None}
    forced = forced if len(order) > found.movements else ()
    return MovePlan(_guarded(board, before, order, carried, steps), len(order), found.movements, proven, forced, hung)


def _carried(
    standing: Sequence[Cord], wanted: Sequence[CordDemand], found: Match, hook: list[tuple[Kind, int]] | None
) -> list[Carried]:
    carried = [Carried(kind_of(c), [*c.plugs, None][:2], (None, None), at) for at, c in enumerate(standing)]
    for want, of, from_hook in zip(wanted, found.of, found.stock, strict=True):
        if of is None:
            kind = want.kind if from_hook is None or hook is None else hook[from_hook][0]
            goal = (*want.plugs, None)[:2]
            carried.append(Carried(kind, [None, None], (goal[0], goal[1]), None))
        else:
            carried[of].goal = _ends(carried[of].now, want.plugs)
    return carried


def _freed(carried: Sequence[Carried], hook: list[tuple[Kind, int]] | None) -> list[Carried]:
    """Return cords of which none goes elsewhere whole, as far as others hang on the hook."""
    left = None if hook is None else dict(hook)
    for cord in carried:
        if left is not None and cord.standing is None:
            left[cord.kind] = left.get(cord.kind, 0) - 1
    freed: list[Carried] = []
    for cord in carried:
        whole = (
            cord.standing is not None and cord.goal != (None, None) and not set(cord.now) & (set(cord.goal) - {None})
        )
        if whole and (left is None or left.get(cord.kind, 0) > 0):
            if left is not None:
                left[cord.kind] -= 1
            freed += [
                Carried(cord.kind, list(cord.now), (None, None), cord.standing),
                Carried(cord.kind, [None, None], cord.goal),
            ]
        else:
            freed.append(cord)
    return freed


def _ends(now: Sequence[PortEnd | None], plugs: Sequence[PortEnd]) -> tuple[PortEnd | None, PortEnd | None]:
    """Return where each end of a cord goes: an end that is right already stays."""
    goal: list[PortEnd | None] = [p if p in plugs else None for p in now]
    rest = [p for p in plugs if p not in goal]
    for at in range(2):
        if goal[at] is None and rest:
            goal[at] = rest.pop(0)
    return goal[0], goal[1]


def _names(last: int, standing: Sequence[Cord], goal: Sequence[Cord], carried: Sequence[Carried]) -> list[CordId]:
    """Return what each cord is called: as it stands, else as it is wanted; no two alike."""
    taken, last = {c.id for c in standing}, max([last, *[number_of(c.id) for c in (*standing, *goal)]])
    by_plugs = {frozenset(c.plugs): c.id for c in goal}
    names = []
    for cord in carried:
        if cord.standing is not None:
            names.append(standing[cord.standing].id)
            continue
        name = by_plugs.get(frozenset(p for p in cord.goal if p is not None), CordId(""))
        while not name or name in taken:
            last += 1
            name = CordId(f"{LETTERS['cords']}{last}")
        taken.add(name)
        names.append(name)
    return names


_Ordered = tuple[list[Carried], list[Movement], tuple[tuple[Contact, Contact], ...], bool]


def _by_clusters(
    studio: Studio,
    law: Law,
    carried: list[Carried],
    before: Fronts,
    wanted: Sequence[CordDemand],
    hook: list[tuple[Kind, int]] | None,
) -> _Ordered:
    """Order what has nothing to do with one another apart; where the fewest movements have no order, look at all others.

    Raises
    ------
    NoMoves
    """
    order: list[Movement] = []
    new: list[Carried] = []
    forced: list[tuple[Contact, Contact]] = []
    proven = True
    left = None if hook is None else dict(hook)
    for members, points in clusters(law.board, carried):
        mine = [carried[k] for k in members]
        law.broken = None
        found = in_some_order(law, mine, before)
        if found is None:
            broken = law.broken
            want = [w for w in wanted if w.plugs[0] in points]
            exact, kinds = _exact(law, mine, want, points, left)
            if exact.steps is None:
                raise _no_way(studio, broken, sure=exact.whole)
            mine, found = _as_carried(exact, kinds, mine)
            forced += [broken] if broken is not None else []
            proven = proven and exact.whole
        order += [m._replace(cord=m.cord + len(new)) for m in found]
        new += mine
    return new, order, tuple(dict.fromkeys(forced)), proven


def _no_way(studio: Studio, broken: tuple[Contact, Contact] | None, *, sure: bool) -> NoMoves:
    names = " and ".join(contact_text(studio, c) for c in broken) if broken else "two outputs"
    reason = (
        f"On every way {names} meet for a moment."
        if sure
        else f"No way was found on which {names} do not meet for a moment."
    )
    return NoMoves(reason, "Switch one of them off first, or take one more cord from the hook.")


def contact_text(studio: Studio, contact: Contact) -> str:
    """Return an output or a line in words."""
    key, port, _ = contact
    if key[:1] == LETTERS["units"]:
        return studio.end_text(PortEnd(UnitId(key), port))
    return studio.line_text(LineEnd(key, "return" if port else ""))  # type: ignore[arg-type]


def _exact(
    law: Law, mine: Sequence[Carried], want: Sequence[CordDemand], points: set[PortEnd], hook: Mapping[Kind, int] | None
) -> tuple[Exact, list[Kind]]:
    kinds = list(dict.fromkeys([c.kind for c in mine] + [w.kind for w in want] + list(hook or ())))
    if len(points) > MOST_POINTS:
        return Exact(None, whole=False), kinds
    plugged = [(kinds.index(c.kind), tuple(sorted((p for p in c.now if p is not None), key=str))) for c in mine]
    if hook is None:
        loose = [len(want) + 2] * len(kinds)
    else:
        loose = [hook.get(kind, 0) for kind in kinds]
    return exactly(law, kinds, [p for p in plugged if p[1]], loose, want, sorted(points, key=str)), kinds


def _as_carried(exact: Exact, kinds: Sequence[Kind], mine: Sequence[Carried]) -> tuple[list[Carried], list[Movement]]:
    """Return the cords and the movements of an exact search: which plug is which follows from where the other one is."""
    carried = [
        Carried(c.kind, list(c.now), (None, None), c.standing) for c in mine if any(p is not None for p in c.now)
    ]
    now = [list(c.now) for c in carried]
    order = []
    for action, kind, point, other in exact.steps or ():
        if action == "pull":
            k, end = next((k, at) for k, ends in enumerate(now) for at in range(2) if ends[at] == point)
            now[k][end] = None
        else:
            loose = [k for k, c in enumerate(carried) if now[k] == [None, None] and c.kind == kinds[kind]]
            if other is None and loose:
                k, end = loose[0], 0
            elif other is None:
                carried.append(Carried(kinds[kind], [None, None], (None, None), None))
                now.append([None, None])
                k, end = len(now) - 1, 0
            else:
                k, end = next((k, 1 - at) for k, ends in enumerate(now) for at in range(2) if ends[at] == other)
            now[k][end] = point
        order.append(Movement("pull" if action == "pull" else "plug", k, end + 1, point))
    for cord, ends in zip(carried, now, strict=True):
        cord.goal = ends[0], ends[1]
    return carried, order


def _guarded(
    board: ContactState,
    before: Fronts,
    order: Sequence[Movement],
    carried: Sequence[Carried],
    steps: tuple[MoveStep, ...],
) -> tuple[MoveStep, ...]:
    """Return the steps with what has to be muted and switched off around them: whatever is joined to a plug before or after it moves."""
    fronts = Fronts(dict(before.at))
    now = [list(c.now) for c in carried]
    loud: dict[UnitId, None] = {}
    supplies: dict[Supply, None] = {}
    for action, k, end, point in order:
        other = now[k][2 - end]
        ends = [p for p in (point, other) if p is not None]
        joined, heard = [board.joined(p, fronts.at) for p in ends], [board.heard_on(p, fronts.at) for p in ends]
        if action == "pull":
            fronts.pull(point)
            now[k][end - 1] = None
        else:
            fronts.plug(point, other)
            now[k][end - 1] = point
        joined += [board.joined(p, fronts.at) for p in ends]
        for units in (*heard, *[board.heard_on(p, fronts.at) for p in ends]):
            loud.update(dict.fromkeys(sorted(units)))
        for there in joined:
            supplies.update(dict.fromkeys(sorted(there.supplies)))
    first = [MoveStep("mute", on=unit) for unit in loud] + [MoveStep("phantom-off", on=supply) for supply in supplies]
    first += [MoveStep("wait", wait_s=FALL_S)] if supplies else []
    last = [MoveStep("phantom-on", on=supply) for supply in supplies] + [MoveStep("unmute", on=unit) for unit in loud]
    return (*first, *steps, *last)
