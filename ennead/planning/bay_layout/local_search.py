"""A layout made less awkward without one cord more: whole columns and single sockets change places as long as that helps."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Final, NamedTuple

from ennead.planning.bay_layout.neighbours import (
    BOX_APART,
    FURTHER_BAY,
    KINDS_MIXED,
    LEFT_FROM_RIGHT,
    MIC_BESIDE_LINE,
    NO_ROOM_TO_GROW,
    OUT_OF_ORDER,
    BenchSurroundings,
    Nature,
    apart,
    at_least,
    awkward,
    boxes,
    lacking,
    links,
    torn,
)
from ennead.planning.bay_layout.pairing import Bench, Column, Laid, saved_by
from ennead.studio.house import PortEnd

#: What one planned cable weighs that is to go elsewhere than one has read it. House default.
READ_ANEW: Final = 0.2

#: Layouts looked at before what has been found is taken. House default; small benches end long before.
MOST_TRIED: Final = 60_000

KeepGoing = Callable[[float], bool]
Wishes = Mapping[tuple[PortEnd, PortEnd], float]


class Tidied(NamedTuple):
    """A layout with what is awkward about it.

    Parameters
    ----------
    weight, least : float
        What it weighs, and what no layout can be below.
    """

    laid: Laid
    weight: float
    least: float


class _State:
    """Two rows of sockets and what is awkward about them; what is soldered or shut does not move, nor one of a pair without the other.

    What a change does to the weight is worked out from the columns and sockets it touches; `awkward` says the same of the whole.
    Sockets are numbers here, upper ones first, -1 where a point holds none: all of it is asked for tens of thousands of times.
    """

    def __init__(self, bench: Bench, ground: BenchSurroundings, laid: Laid, wishes: Wishes) -> None:
        self._ground, self._bay_of = ground, ground.bay_of
        self._sockets = [*laid.above, *laid.below]
        split = len(laid.above)
        number = {(n >= split, socket): n for n, socket in enumerate(self._sockets)}
        self._at = [*laid.above.values(), *laid.below.values()]
        empty = [-1] * bench.columns
        self.rows: tuple[list[int], list[int]] = (list(empty), list(empty))
        self._levels: tuple[list[str], list[str]] = ([""] * bench.columns, [""] * bench.columns)
        kinds = ([""] * bench.columns, [""] * bench.columns)
        for side in (0, 1):
            seats = dict(ground.others[side])
            for n, socket in enumerate(self._sockets):
                if (n >= split) == side:
                    self.rows[side][self._at[n]] = n
                    seats[self._at[n]] = ground.natures[socket]
            for column, nature in seats.items():
                self._levels[side][column], kinds[side][column] = nature.level, nature.kind
        self._side_kinds = kinds
        self._kinds = [frozenset({*pair} - {""}) for pair in zip(*kinds, strict=True)]
        following = {
            number[side == 1, s]: number.get((side == 1, then), -1)
            for (side, s), then in links(ground).items()
            if (side == 1, s) in number
        }
        self._links: list[list[tuple[int, int, float]]] = [[] for _ in self._sockets]
        for one, then in following.items():
            if then >= 0:
                weight = OUT_OF_ORDER if ground.natures[self._sockets[one]].place % 2 else LEFT_FROM_RIGHT
                for end in (one, then):
                    self._links[end].append((one, then, weight))
        self._boxes = [
            ([number[False, s] for s in outs], [number[True, s] for s in ins])
            for outs, ins in boxes(ground, (laid.above, laid.below)).values()
        ]
        self._box_of = {n: at for at, both in enumerate(self._boxes) for side in both for n in side}
        self._far = [FURTHER_BAY if s in ground.wished else 0.0 for s in self._sockets]
        self._columns_of: dict[int, list[Column]] = {}
        for column, bay in enumerate(ground.bay_of):
            self._columns_of.setdefault(bay, []).append(column)
        fixed, shut = {*bench.fixed_outs, *bench.fixed_ins}, (bench.shut_above, bench.shut_below)
        pairs = {(number.get((False, out), -2), number.get((True, into), -2)) for out, into in wishes}
        self.paired = {c for c in range(bench.columns) if (self.rows[0][c], self.rows[1][c]) in pairs}
        self.free = tuple(
            frozenset(
                [
                    c
                    for c in range(bench.columns)
                    if c not in shut[side] and (row[c] < 0 or self._sockets[row[c]] not in fixed)
                ]
            )
            for side, row in enumerate(self.rows)
        )
        self._split = split

    def maps(self) -> tuple[dict[PortEnd, Column], dict[PortEnd, Column]]:
        """Return where every socket is."""
        seats = list(zip(self._sockets, self._at, strict=True))
        return dict(seats[: self._split]), dict(seats[self._split :])

    def may(self, side: int, column: Column) -> bool:
        """Say whether what a point holds may move alone."""
        return column in self.free[side] and column not in self.paired

    def try_swap(self, sides: tuple[int, ...], one: Column, other: Column) -> float:
        """Let two points change what they hold, or two columns; return by how much the weight changes."""
        moved = [n for side in sides for c in (one, other) if (n := self.rows[side][c]) >= 0]
        kinds = [self._kinds[one], self._kinds[other]]
        ends = {self._bay_of[one], self._bay_of[other]}
        before = self._part(one, other, moved)
        for side in sides:
            row, levels, held = self.rows[side], self._levels[side], self._side_kinds[side]
            row[one], row[other] = row[other], row[one]
            levels[one], levels[other] = levels[other], levels[one]
            held[one], held[other] = held[other], held[one]
            for column in (one, other):
                if row[column] >= 0:
                    self._at[row[column]] = column
        if len(sides) == 2 and (one in self.paired) != (other in self.paired):
            self.paired ^= {one, other}
        upper, lower = self._side_kinds
        now = [_SETS[upper[c], lower[c]] for c in (one, other)]
        if now != kinds:
            before += self._growth(ends)
            self._kinds[one], self._kinds[other] = now
            before -= self._growth(ends)
        return self._part(one, other, moved) - before

    def _part(self, one: Column, other: Column, moved: list[int]) -> float:
        """Return the weight of all that two columns and the sockets in them take part in, but for room to grow."""
        bay_of, kinds, at, weight = self._bay_of, self._kinds, self._at, 0.0
        for here in {one, one + 1, other, other + 1}:
            if 0 < here < len(bay_of) and bay_of[here] == bay_of[here - 1]:
                for levels in self._levels:
                    a, b = levels[here], levels[here - 1]
                    if a and b and a != b:
                        weight += MIC_BESIDE_LINE
                if kinds[here] and kinds[here - 1] and kinds[here] != kinds[here - 1]:
                    weight += KINDS_MIXED
        pairs = {link for n in moved for link in self._links[n]}
        for first, second, torn_weight in pairs:
            if torn(self._ground, at[first], at[second]):
                weight += torn_weight
        for n in moved:
            weight += self._far[n] * bay_of[at[n]]
        for box in {self._box_of[n] for n in moved if n in self._box_of}:
            outs, ins = self._boxes[box]
            weight += BOX_APART * apart(self._ground, [at[n] for n in outs], [at[n] for n in ins])
        return weight

    def _growth(self, bays: set[int]) -> float:
        return NO_ROOM_TO_GROW * sum(lacking([self._kinds[c] for c in self._columns_of[bay]]) for bay in bays)


#: The kinds at both points of a column, made once for all.
_SETS: Final = {(a, b): frozenset({a, b} - {""}) for a in ("", "line", "outboard") for b in ("", "line", "outboard")}


def improved(
    bench: Bench,
    ground: BenchSurroundings,
    wishes: Wishes,
    starts: Sequence[Laid],
    keep_going: KeepGoing = lambda _: True,
) -> Tidied:
    """Return the least awkward layout found from some that all save equally much.

    Parameters
    ----------
    starts : sequence of Laid
        Of equals the first is taken.
    keep_going : callable
        Is told the part done, 0 to 1, and says whether to go on; what has been found by then is returned.
    """
    least = at_least(bench, ground)
    found = [Tidied(s, awkward(ground, s.above, s.below).weight, least) for s in starts]
    for n, start in enumerate(starts):
        going = True

        def told(part: float, n: int = n) -> bool:
            nonlocal going
            going = keep_going((n + part) / len(starts))
            return going

        found.append(_climbed(bench, ground, wishes, start, found[n].weight, least, told))
        if not going:
            break
    return max(found, key=lambda t: (t.laid.saved, -t.weight - READ_ANEW * _moved(ground, t.laid)))


def _moved(ground: BenchSurroundings, laid: Laid) -> int:
    sides = ((socket, column) for side in (laid.above, laid.below) for socket, column in side.items())
    return sum(ground.seats.get(socket, column) != column for socket, column in sides)


def _climbed(
    bench: Bench,
    ground: BenchSurroundings,
    wishes: Wishes,
    start: Laid,
    weight: float,
    least: float,
    keep_going: KeepGoing,
) -> Tidied:
    """Return where one comes to from a layout by changes each of which makes it less awkward."""
    state, tried, better = _State(bench, ground, start, wishes), 0, True
    while better and weight > least and tried < MOST_TRIED:
        better = False
        for sides, one, other in _changes(state, len(ground.bay_of)):
            tried += 1
            if tried >= MOST_TRIED or (tried % 512 == 0 and not keep_going(tried / MOST_TRIED)):
                tried = MOST_TRIED
                break
            change = state.try_swap(sides, one, other)
            if change < 0:
                weight, better = weight + change, True
            else:
                state.try_swap(sides, one, other)
    above, below = state.maps()
    # A single socket may have stood by chance where it saves a cord.
    saved = saved_by(above, below, wishes)
    if saved < start.saved:
        return Tidied(start, awkward(ground, start.above, start.below).weight, least)
    return Tidied(start._replace(above=above, below=below, saved=saved), weight, least)


def _changes(state: _State, count: int) -> Iterator[tuple[tuple[int, ...], Column, Column]]:
    """Yield what can be tried on a state as it is then: two columns that change places, or what two upper or two lower points hold."""
    both, (upper, lower) = state.free[0] & state.free[1], state.rows
    for one in range(count):
        for other in range(one + 1, count):
            if one in both and other in both and max(upper[one], upper[other], lower[one], lower[other]) >= 0:
                yield (0, 1), one, other
            for side, row in ((0, upper), (1, lower)):
                if state.may(side, one) and state.may(side, other) and (row[one] >= 0 or row[other] >= 0):
                    yield (side,), one, other


def in_blocks(bench: Bench, ground: BenchSurroundings, wishes: Wishes, laid: Laid, gap: int) -> Laid | None:
    """Return a layout with its free columns in order of kind, box and row, with so many left between kinds; None where they do not fit.

    Columns of which a point is soldered or shut stay as they are in the layout given; a box's own input goes under its output, or beside it.
    """
    held = {*bench.fixed_outs.values(), *bench.fixed_ins.values(), *bench.shut_above, *bench.shut_below}
    upper = {c: s for s, c in laid.above.items() if c not in held}
    lower = {c: s for s, c in laid.below.items() if c not in held}
    joined = {c for c in upper if c in lower and (upper[c], lower[c]) in wishes}
    items: list[tuple[PortEnd | None, PortEnd | None]] = [(upper[c], lower[c]) for c in joined]
    outs = sorted([s for c, s in upper.items() if c not in joined], key=lambda s: _order(ground.natures[s]))
    ins = sorted([s for c, s in lower.items() if c not in joined], key=lambda s: _order(ground.natures[s]))
    for first in outs:
        nature = ground.natures[first]
        own = (i for i in ins if ground.natures[i].unit == nature.unit and nature.kind == "outboard")
        mate = next(own, None) or next((i for i in ins if _alike(ground.natures[i], nature)), None)
        items.append((first, mate))
        if mate is not None:
            ins.remove(mate)
    items += [(None, i) for i in ins]
    items.sort(key=lambda pair: _order(ground.natures[pair[0] or pair[1]]))  # type: ignore[index]
    places = [c for c in range(bench.columns) if c not in held]
    above, below = (
        {s: c for s, c in laid.above.items() if c in held},
        {s: c for s, c in laid.below.items() if c in held},
    )
    at, before = 0, ("", "")
    for out, into in items:
        nature = ground.natures[out or into]  # type: ignore[index]
        kind = nature.kind, nature.level
        if before[0] and kind != before:
            at += gap
        if at >= len(places):
            return None
        before = kind
        if out is not None:
            above[out] = places[at]
        if into is not None:
            below[into] = places[at]
        at += 1
    return laid._replace(above=above, below=below)


def _order(nature: Nature) -> tuple[bool, bool, int, str, int]:
    return nature.kind == "outboard", nature.level != "mic", int(nature.unit[1:]), nature.row, nature.place


def _alike(one: Nature, other: Nature) -> bool:
    return (one.kind, one.level) == (other.kind, other.level) and one.kind != "outboard"
