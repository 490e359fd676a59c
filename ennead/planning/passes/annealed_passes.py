"""Good passes of many jobs: pairs of passes exchange the jobs that hang together, at first whatever it costs, later only for the better."""

import math
import random
import time
from collections.abc import Callable, Sequence
from typing import Final

from ennead.planning.passes.pass_problem import PassProblem, bits, or_all

#: What an exchange may cost at first and at last, s; how often it begins anew within its time. House defaults, tried on 40 jobs.
_WARM_S, _COLD_S, _TIMES = 60.0, 1.0, 3
#: Between two looks at the clock.
_STEPS: Final = 256


def annealed(
    problem: PassProblem, start: Sequence[int], least_s: float, until: float, stopped: Callable[[], bool]
) -> list[int]:
    """Return passes no longer than those it begins with.

    Parameters
    ----------
    start : sequence of int
        Passes in which every job follows what it waits for, as bits.
    least_s : float, s
        Once this is reached nothing is to be gained.
    until : float, s
        Of the monotonic clock.

    References
    ----------
    A. B. Kempe, "On the geographical problem of the four colours", American Journal of Mathematics 2 (1879), for the exchange of what
    hangs together between two colours; S. Kirkpatrick, C. D. Gelatt, M. P. Vecchi, "Optimization by simulated annealing", Science 220 (1983).
    """
    draw = random.Random(len(start))  # noqa: S311 - nothing secret
    jobs = [n for mask in start for n in bits(mask)]
    waiting = or_all(problem.before) | sum(1 << n for n in jobs if problem.before[n])
    best, best_s = list(start), problem.total_s(start)
    began = time.monotonic()
    spans = [(began + (until - began) * k / _TIMES, began + (until - began) * (k + 1) / _TIMES) for k in range(_TIMES)]
    for first, last in spans:
        now, now_s = list(best), best_s
        while (clock := time.monotonic()) < last and best_s > least_s + 1e-6 and not stopped():
            warm = _WARM_S * (_COLD_S / _WARM_S) ** min(1.0, max(0.0, (clock - first) / max(1e-9, last - first)))
            for _ in range(_STEPS):
                pair = _exchanged(problem, now, draw.choice(jobs), draw)
                if pair is None:
                    continue
                a, b, new_a, new_b = pair
                was = _cost(problem, now[a]) + (_cost(problem, now[b]) if b < len(now) else 0.0)
                gain = was - _cost(problem, new_a) - _cost(problem, new_b)
                if gain < 0 and draw.random() >= math.exp(gain / warm):
                    continue
                tried = [m for m in (*[p for i, p in enumerate(now) if i not in (a, b)], new_a, new_b) if m]
                moved = now[a] ^ new_a
                if moved & waiting and problem.in_order(tried) is None:
                    continue
                now, now_s = tried, now_s - gain
                if now_s < best_s - 1e-6:
                    best, best_s = list(now), now_s
    return best


def _cost(problem: PassProblem, mask: int) -> float:
    return problem.length_s(mask) + problem.setup_s if mask else 0.0


def _exchanged(
    problem: PassProblem, passes: Sequence[int], job: int, draw: random.Random
) -> tuple[int, int, int, int] | None:
    """Return two passes with their jobs once one job has moved from the first to the second, and whatever is in conflict then moves too."""
    a = next(i for i, mask in enumerate(passes) if mask >> job & 1)
    b = draw.randrange(len(passes) + 1)
    if a == b or (b < len(passes) and problem.jobs[bits(passes[b])[0]].song != problem.jobs[job].song):
        return None
    if b == len(passes):
        # A pass of its own: never needed where it has one.
        return None if passes[a] == 1 << job else (a, b, passes[a] ^ 1 << job, 1 << job)
    both = passes[a], passes[b]
    moved, edge, side = 1 << job, 1 << job, 0
    while edge:
        conflicts = 0
        for n in bits(edge):
            conflicts |= problem.conflicts[n]
        side ^= 1
        edge = conflicts & both[side] & ~moved
        moved |= edge
    # Of both passes together what moves is in the other one now.
    new_a, new_b = both[0] & ~moved | both[1] & moved, both[1] & ~moved | both[0] & moved
    return (a, b, new_a, new_b) if problem.fits(new_a) and problem.fits(new_b) else None
