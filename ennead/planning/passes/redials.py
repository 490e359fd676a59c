"""The order of passes in which the fewest settings are dialled; how many there are."""

from collections.abc import Sequence
from itertools import pairwise

from ennead.planning.passes.pass_problem import PassProblem, bits, or_all


def least_dialling(problem: PassProblem, passes: Sequence[int]) -> tuple[list[int], int]:
    """Return passes in an order that keeps what each waits for and dials little, and how often a box is dialled.

    From each pass to the next the one is taken that dials least, of the song at hand first; then pairs are exchanged while that helps.
    It is a good order, and not claimed to be the best.
    """
    order = _nearest_next(problem, passes)
    best = _count(problem, order)
    better = True
    while better:
        better = False
        for i in range(len(order)):
            for j in range(i + 1, len(order)):
                tried = [*order]
                tried[i], tried[j] = tried[j], tried[i]
                count = _count(problem, tried)
                if count < best and _holds(problem, tried):
                    order, best, better = tried, count, True
    return order, best[0]


def dials_of(problem: PassProblem, order: Sequence[int]) -> list[dict[str, str]]:
    """Return of each pass the boxes that have to be dialled before it, with the card; a box without a card is dialled for every job."""
    stands: dict[str, str] = {}
    found = []
    for mask in order:
        wanted = [item for n in bits(mask) for item in problem.jobs[n].dials.items()]
        dialled = {box: card for box, card in wanted if not card or stands.get(box) != card}
        stands |= dialled
        found.append(dialled)
    return found


def _count(problem: PassProblem, order: Sequence[int]) -> tuple[int, int]:
    """Return how often a box is dialled, and how often the song changes."""
    songs = [problem.jobs[bits(mask)[0]].song for mask in order]
    return sum(map(len, dials_of(problem, order))), sum(a != b for a, b in pairwise(songs))


def _holds(problem: PassProblem, order: Sequence[int]) -> bool:
    done, everything = 0, or_all(order)
    for mask in order:
        if problem.waits_for(mask) & everything & ~done:
            return False
        done |= mask
    return True


def _nearest_next(problem: PassProblem, passes: Sequence[int]) -> list[int]:
    left = list(problem.in_order(passes) or passes)
    everything, done = or_all(passes), 0
    order: list[int] = []
    while left:
        ready = [p for p in left if not problem.waits_for(p) & everything & ~done]
        chosen = min(ready, key=lambda p: _count(problem, [*order, p]))
        order.append(chosen)
        left.remove(chosen)
        done |= chosen
    return order
