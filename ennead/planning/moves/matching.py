"""Which cord becomes which: the fewest plugs moved, whatever the order, by one assignment of cords to wishes."""

from collections.abc import Sequence
from typing import Final, NamedTuple

from ennead.studio.house import PortEnd

#: A pair that cannot be; more than all plugs of a scene together.
_NEVER: Final = 1_000_000


class Kind(NamedTuple):
    """What a cord is, wherever it is plugged.

    Parameters
    ----------
    length_m : float or None, m
        None where it has not been measured.
    """

    length_m: float | None = None
    colour: str = ""
    unbalanced: bool = False


class CordDemand(NamedTuple):
    """A cord a scene wants: between which points, of which kind, and how long at least.

    Parameters
    ----------
    needs_m : float, m
    """

    plugs: tuple[PortEnd, ...]
    kind: Kind = Kind()
    needs_m: float = 0.0


class Match(NamedTuple):
    """The assignment of standing cords to cords of the goal.

    Parameters
    ----------
    of : tuple of int or None
        For each cord wanted, the place of the one that stands and becomes it; None for one from the stock.
    stock : tuple of int or None
        For each cord wanted from a counted stock, the place of its kind there.
    movements : int
        Plugs pulled and inserted: no order needs fewer.
    lacking : tuple of int
        The cords wanted that nothing there can be.
    """

    of: tuple[int | None, ...]
    stock: tuple[int | None, ...]
    movements: int
    lacking: tuple[int, ...]


def suits(kind: Kind, wanted: CordDemand) -> bool:
    """Say whether a cord of a kind may be what is wanted: of the colour that is asked for, and long enough as far as it is known."""
    if wanted.kind.unbalanced != kind.unbalanced or (wanted.kind.colour and wanted.kind.colour != kind.colour):
        return False
    return kind.length_m is None or kind.length_m >= max(wanted.needs_m, wanted.kind.length_m or 0.0)


def movements(plugs: Sequence[PortEnd], wanted: Sequence[PortEnd]) -> int:
    """Return how many plugs are pulled and inserted to bring a cord from some points to others."""
    kept = len(set(plugs) & set(wanted))
    return len(plugs) + len(wanted) - 2 * kept


def match(
    standing: Sequence[tuple[tuple[PortEnd, ...], Kind]],
    wanted: Sequence[CordDemand],
    stock: Sequence[tuple[Kind, int]] | None,
) -> Match:
    """Return the assignment of cords to wishes with the fewest movements.

    A cord that becomes nothing is pulled out; so each pair is priced by what it saves against that, and the rest is one assignment.

    Parameters
    ----------
    stock : sequence of (Kind, int) or None
        The spare cords; None where they have not been counted.
    """
    import numpy as np
    from scipy.optimize import linear_sum_assignment  # type: ignore[import-untyped]

    hooks: list[int | None] = []
    for at, (_, count) in enumerate(stock or ()):
        hooks += [at] * min(count, len(wanted))
    if stock is None:
        hooks = [None] * len(wanted)
    # The last columns let a wish go unfulfilled, dearer than all else.
    prices = np.full((len(wanted), len(standing) + len(hooks) + len(wanted)), float(_NEVER))
    where = {plug: at for at, (plugs, _) in enumerate(standing) for plug in plugs}
    for row, want in enumerate(wanted):
        fits: dict[Kind, bool] = {}
        for column, (_, kind) in enumerate(standing):
            if kind not in fits:
                fits[kind] = suits(kind, want)
            if fits[kind]:
                prices[row, column] = len(want.plugs)
        for column in {where[plug] for plug in want.plugs if plug in where}:
            plugs, kind = standing[column]
            if fits[kind]:
                prices[row, column] = movements(plugs, want.plugs) - len(plugs)
        for column, hook in enumerate(hooks, start=len(standing)):
            if hook is None or suits((stock or ())[hook][0], want):
                prices[row, column] = len(want.plugs)
        prices[row, len(standing) + len(hooks) + row] = 1_000.0
    _, chosen = linear_sum_assignment(prices)
    of: list[int | None] = []
    taken: list[int | None] = []
    lacking = []
    total = sum(len(plugs) for plugs, _ in standing)
    for row, column in enumerate(int(c) for c in chosen):
        from_hook = column - len(standing)
        of.append(column if from_hook < 0 else None)
        taken.append(hooks[from_hook] if 0 <= from_hook < len(hooks) else None)
        if from_hook >= len(hooks):
            lacking.append(row)
        else:
            total += int(prices[row, column])
    return Match(tuple(of), tuple(taken), total, tuple(lacking))
