"""Which output stands above which input: the pairs that need no cord, chosen so that as many cords as possible are saved."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ennead.studio.house import PortEnd

#: A place a pair may have: a column of a bay, by its number over all bays.
Column = int


class Bench(NamedTuple):
    """What is to be laid out.

    Parameters
    ----------
    outs, ins : tuple of PortEnd
        Sockets for the upper and for the lower points, in the order they are wanted in.
    fixed_outs, fixed_ins : map of PortEnd to Column
        Those that are soldered already, and stay.
    columns : int
        How many columns there are; each has an upper point and a lower one.
    shut_above, shut_below : frozenset of Column
        Points that nothing may be laid behind: out of service, or held by what is no part of this.
    """

    outs: tuple[PortEnd, ...]
    ins: tuple[PortEnd, ...]
    fixed_outs: Mapping[PortEnd, Column]
    fixed_ins: Mapping[PortEnd, Column]
    columns: int
    shut_above: frozenset[Column] = frozenset()
    shut_below: frozenset[Column] = frozenset()


class Laid(NamedTuple):
    """Where everything stands.

    Parameters
    ----------
    above, below : map of PortEnd to Column
    saved : float
        The weight of the wishes that need no cord.
    bound : float
        No layout that moves nothing soldered saves more.
    """

    above: Mapping[PortEnd, Column]
    below: Mapping[PortEnd, Column]
    saved: float
    bound: float


def saved_by(
    above: Mapping[PortEnd, Column], below: Mapping[PortEnd, Column], wishes: Mapping[tuple[PortEnd, PortEnd], float]
) -> float:
    """Return the weight of the pairs in which the output stands straight above its input."""
    return sum(weight for (out, into), weight in wishes.items() if out in above and above[out] == below.get(into))


def in_order(bench: Bench) -> Laid | None:
    """Return everything in the order in which it is wanted, point after point; None where there are not enough points."""
    above, below = dict(bench.fixed_outs), dict(bench.fixed_ins)
    for wanted, held, shut in ((bench.outs, above, bench.shut_above), (bench.ins, below, bench.shut_below)):
        taken = set(held.values()) | shut
        free = iter([c for c in range(bench.columns) if c not in taken])
        for socket in wanted:
            if socket not in held:
                column = next(free, None)
                if column is None:
                    return None
                held[socket] = column
    return Laid(above, below, 0.0, 0.0)


def lay(bench: Bench, wishes: Mapping[tuple[PortEnd, PortEnd], float]) -> Laid | None:
    """Return the layout that saves most; None where there are not enough points.

    The pairing is one assignment of outputs to inputs: an output has one input below it, a soldered one stays where it is, and a
    free one may come to it if the point across is free. Where more free pairs are chosen than there are free columns the lightest give way, and
    the bound says by how much.
    """
    import numpy as np
    from scipy.optimize import linear_sum_assignment  # type: ignore[import-untyped]

    base = in_order(bench)
    if base is None:
        return None
    held_above, held_below = (
        set(bench.fixed_outs.values()) | bench.shut_above,
        set(bench.fixed_ins.values()) | bench.shut_below,
    )
    outs, ins = list(bench.outs), list(bench.ins)
    row_of, column_of = {o: n for n, o in enumerate(outs)}, {i: n for n, i in enumerate(ins)}
    worth = np.zeros((len(outs), len(ins)))
    for (out, into), weight in wishes.items():
        if out not in row_of or into not in column_of:
            continue
        here, there = bench.fixed_outs.get(out), bench.fixed_ins.get(into)
        together = (
            here == there
            if here is not None and there is not None
            else (
                here not in held_below if here is not None else there not in held_above if there is not None else True
            )
        )
        worth[row_of[out], column_of[into]] = weight if together else 0.0
    rows, columns = linear_sum_assignment(-worth) if outs and ins else ((), ())
    pairs = [(outs[r], ins[c], float(worth[r, c])) for r, c in zip(rows, columns, strict=True) if worth[r, c] > 0]
    bound = sum(weight for *_, weight in pairs)
    laid = _place(bench, pairs)
    return laid._replace(saved=saved_by(laid.above, laid.below, wishes), bound=bound)


def _place(bench: Bench, pairs: Sequence[tuple[PortEnd, PortEnd, float]]) -> Laid:
    """Give every socket its column: pairs with something soldered go to it, free pairs to free columns, the rest where there is room."""
    above, below = dict(bench.fixed_outs), dict(bench.fixed_ins)
    partner_of: dict[PortEnd, PortEnd] = {}
    for out, into, _ in pairs:
        partner_of[out], partner_of[into] = into, out
        if out in bench.fixed_outs and into not in below:
            below[into] = bench.fixed_outs[out]
        elif into in bench.fixed_ins and out not in above:
            above[out] = bench.fixed_ins[into]
    full = [
        c
        for c in range(bench.columns)
        if c not in {*above.values(), *bench.shut_above, *below.values(), *bench.shut_below}
    ]
    singles_out = [o for o in bench.outs if o not in above and partner_of.get(o) is None]
    singles_in = [i for i in bench.ins if i not in below and partner_of.get(i) is None]
    half_above = [c for c in range(bench.columns) if c not in {*above.values(), *bench.shut_above} and c not in full]
    half_below = [c for c in range(bench.columns) if c not in {*below.values(), *bench.shut_below} and c not in full]
    # What has no partner goes first where only one of the two points is free; what is left of it takes whole columns.
    needed = max(0, len(singles_out) - len(half_above), len(singles_in) - len(half_below))
    free_pairs = [(o, i, w) for o, i, w in pairs if o not in above and i not in below]
    kept = {o for o, _, _ in sorted(free_pairs, key=lambda p: -p[2])[: max(0, len(full) - needed)]}
    wanted = [(o, partner_of[o] if o in kept else None) for o in bench.outs if o not in above]
    wanted_in = [i for i in bench.ins if i not in below and partner_of.get(i) not in kept]
    queue = list(full)
    # With columns enough nothing is torn apart: all outputs follow one another, whether an input stands below them or not.
    roomy = len(queue) >= len(wanted)
    for out, partner in wanted:
        if partner is not None or roomy:
            above[out] = queue.pop(0)
            if partner is not None:
                below[partner] = above[out]
    shut_below = {*below.values(), *bench.shut_below}
    spare_above = [*half_above, *queue]
    for out, _ in wanted:
        if out not in above:
            above[out] = spare_above.pop(0)
    spare_below = (
        [c for c in [*full, *half_below] if c not in shut_below]
        if roomy
        else [c for c in [*half_below, *full] if c not in shut_below]
    )
    for into in wanted_in:
        below[into] = spare_below.pop(0)
    return Laid(above, below, 0.0, 0.0)
