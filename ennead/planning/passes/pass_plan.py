"""Plans print passes: the shortest that is found, how short any could be, and the fewest settings to dial on the way."""

import random
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from ennead.planning.passes.annealed_passes import annealed
from ennead.planning.passes.exact_passes import MOST_EXACT, shortest_passes
from ennead.planning.passes.pass_bound import lower_bound_s
from ennead.planning.passes.pass_problem import PassProblem, bits, or_all
from ennead.planning.passes.redials import least_dialling

#: How long a plan is improved at most, s, and in how many attempts in vain it is left. House defaults.
LONGEST_S: Final = 5.0
_IN_VAIN: Final = 1_500
#: Jobs that are planned anew at a time while the rest stays.
_AT_ONCE: Final = 9
#: Seconds below which two totals are the same.
_SAME_S: Final = 1e-6


@dataclass(frozen=True, slots=True)
class PassPlan:
    """Passes in order.

    Parameters
    ----------
    passes : tuple of tuple of int
        The numbers of the jobs of the problem, a pass each.
    bound_s : float, s
        No plan is shorter.
    proven : bool
        Whether the total is the least there is.
    """

    passes: tuple[tuple[int, ...], ...]
    total_s: float
    bound_s: float
    proven: bool
    dials: int


def plan_passes(
    problem: PassProblem, *, longest_s: float = LONGEST_S, stopped: Callable[[], bool] = lambda: False
) -> PassPlan:
    """Return the shortest passes that are found within a time; of few jobs they are proven.

    Parameters
    ----------
    longest_s : float, s
        A plan that cannot be improved any more is returned earlier.
    stopped : callable
        Asked in between; once it says so, what has been found is returned.
    """
    if not problem.jobs:
        return PassPlan((), 0.0, 0.0, proven=True, dials=0)
    until = time.monotonic() + longest_s
    least = lower_bound_s(problem)
    passes: list[int] = []
    exact = True
    parts = _apart(problem)
    for done, part in enumerate(parts, start=1):
        found = _exactly(problem, part) if len(bits(part)) <= MOST_EXACT else None
        if found is None:
            exact = False
            share = (until - time.monotonic()) / (len(parts) - done + 1)
            found = tuple(_improved(problem, part, time.monotonic() + max(0.0, share), stopped))
        passes += found
    total = problem.total_s(passes)
    proven = exact or total <= least + _SAME_S
    order = least_dialling(problem, passes)
    return PassPlan(
        tuple([tuple(bits(mask)) for mask in order[0]]), total, total if proven else min(least, total), proven, order[1]
    )


def _apart(problem: PassProblem) -> list[int]:
    """Return the jobs in parts that nothing joins: songs, or several where jobs of one wait for those of another."""
    left, parts = set(range(len(problem.jobs))), []
    while left:
        part, edge = 0, [min(left)]
        while edge:
            n = edge.pop()
            if part >> n & 1:
                continue
            part |= 1 << n
            edge += [
                m
                for m in left
                if not part >> m & 1
                and (
                    problem.jobs[m].song == problem.jobs[n].song
                    or problem.before[m] >> n & 1
                    or problem.before[n] >> m & 1
                )
            ]
        left -= set(bits(part))
        parts.append(part)
    return parts


def _exactly(problem: PassProblem, part: int) -> tuple[int, ...] | None:
    return shortest_passes(problem, part, {n: problem.before[n] & part for n in bits(part)})


def first_fit(problem: PassProblem, order: Sequence[int]) -> list[int]:
    """Return passes made by placing jobs one after the other, each in the first pass that takes it without making a ring."""
    passes: list[int] = []
    for n in order:
        for at, mask in enumerate(passes):
            if problem.conflicts[n] & mask or not problem.fits(mask | 1 << n):
                continue
            tried = [*passes[:at], mask | 1 << n, *passes[at + 1 :]]
            if not problem.before[n] and not any(problem.before[m] >> n & 1 for p in passes for m in bits(p)):
                passes = tried
                break
            if problem.in_order(tried) is not None:
                passes = tried
                break
        else:
            passes.append(1 << n)
    return passes


def _improved(problem: PassProblem, part: int, until: float, stopped: Callable[[], bool]) -> list[int]:
    """Return good passes of many jobs: first by longest job, then a few passes at a time planned anew and exactly, the rest as it stands."""
    draw = random.Random(len(problem.jobs))  # noqa: S311 - nothing secret; the same plan for the same jobs
    jobs = bits(part)
    by_length = sorted(jobs, key=lambda n: -problem.jobs[n].length_s)
    best = first_fit(problem, by_length)
    least = lower_bound_s(
        PassProblem(tuple([problem.jobs[n] for n in jobs]), problem.limits, problem.setup_s, problem.share)
    )
    # Most of the time for exchanges between two passes, the rest for several at once.
    best = annealed(problem, best, least, until - (until - time.monotonic()) / 4, stopped)
    now, vain = list(best), 0
    while vain < _IN_VAIN and problem.total_s(best) > least + _SAME_S and time.monotonic() < until and not stopped():
        tried = _some_anew(problem, now, draw)
        if problem.total_s(tried) <= problem.total_s(now) + _SAME_S:
            now = tried
        if problem.total_s(now) < problem.total_s(best) - _SAME_S:
            best, vain = list(now), 0
        else:
            vain += 1
        if vain and not vain % 150:
            # Out of a corner: the jobs once more in an order that is a little another, whatever that costs for now.
            shaken = sorted(jobs, key=lambda n: -problem.jobs[n].length_s * draw.uniform(0.7, 1.3))
            other = first_fit(problem, shaken)
            now = other if draw.random() < 0.5 else list(best)
    return best


def _some_anew(problem: PassProblem, passes: list[int], draw: random.Random) -> list[int]:
    """Return the passes with a few of them planned anew, the shortest of their jobs in the shortest way."""
    song = problem.jobs[bits(draw.choice(passes))[0]].song
    mine = [p for p in passes if problem.jobs[bits(p)[0]].song == song]
    draw.shuffle(mine)
    chosen: list[int] = []
    for one in mine:
        if len(bits(or_all([*chosen, one]))) <= _AT_ONCE or not chosen:
            chosen.append(one)
    if len(chosen) < 2:
        return passes
    kept = [p for p in passes if p not in chosen]
    of = or_all(chosen)
    if of.bit_count() > MOST_EXACT:
        return passes
    found = shortest_passes(problem, of, _before_among(problem, of, kept))
    return passes if found is None else [*kept, *found]


def _before_among(problem: PassProblem, of: int, kept: Sequence[int]) -> dict[int, int]:
    """Return what jobs wait for of each other, by way of the passes that stay as well."""
    # A pass that stays waits for everything that any of its jobs waits for.
    into = {p: problem.waits_for(p) for p in kept}
    found = {}
    for n in bits(of):
        reached, seen = problem.before[n], 0
        while True:
            more = [p for p in kept if p & reached and not p & seen]
            if not more:
                break
            seen |= or_all(more)
            reached |= or_all(into[p] for p in more)
        found[n] = reached & of
    return found
