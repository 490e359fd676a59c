"""The shortest passes of a few jobs, found by trying every set that could be played next."""

from collections.abc import Iterator

from ennead.planning.passes.pass_problem import PassProblem, bits

#: More jobs than these are not tried out, for each one triples the work.
MOST_EXACT = 12


def shortest_passes(problem: PassProblem, of: int, before: dict[int, int]) -> tuple[int, ...] | None:
    """Return the passes of some jobs with the least total, in an order that keeps what each waits for; None where none is.

    Parameters
    ----------
    of : int
        The jobs, as bits.
    before : map of job to int
        Of each of them those of them that must have been played, as bits.

    Notes
    -----
    What is best for the jobs left depends on them alone, so each set of jobs done is looked at once. A job that fits into a pass without
    making it longer is never left for later: moved forward, it makes no pass longer.
    """
    best: dict[int, tuple[float, int, int]] = {0: (0.0, 0, 0)}
    # Sets with fewer jobs are complete before those with more are reached.
    layers: dict[int, set[int]] = {0: {0}}
    for count in range(len(bits(of))):
        for done in sorted(layers.get(count, ())):
            cost = best[done][0]
            ready = sum(1 << n for n in bits(of & ~done) if not before[n] & ~done)
            for chosen in _passes(problem, ready):
                after = done | chosen
                now = cost + problem.length_s(chosen) + problem.setup_s
                known = best.get(after)
                if known is None or now < known[0]:
                    best[after] = (now, done, chosen)
                    layers.setdefault(after.bit_count(), set()).add(after)
    if of not in best:
        return None
    order: list[int] = []
    at = of
    while at:
        _, at_before, chosen = best[at]
        order.append(chosen)
        at = at_before
    return tuple(reversed(order))


def _passes(problem: PassProblem, ready: int) -> Iterator[int]:
    """Yield the sets of jobs that could be played at once and into which no further one fits without making them longer."""
    jobs, conflicts = problem.jobs, problem.conflicts
    limited, share = bool(problem.limits), problem.share
    # From the longest job downward: the first one chosen makes the pass as long as it is.
    order = sorted(bits(ready), key=lambda n: -jobs[n].length_s)
    if share or any(jobs[n].from_s != jobs[order[0]].from_s for n in order):
        yield from _every_pass(problem, order)
        return
    for at, first in enumerate(order):
        rest = order[at + 1 :]
        stack = [(1 << first, 0)]
        while stack:
            mask, here = stack.pop()
            if here == len(rest):
                if all(
                    mask >> n & 1 or conflicts[n] & mask or (limited and not problem.fits(mask | 1 << n)) for n in rest
                ):
                    yield mask
                continue
            n = rest[here]
            stack.append((mask, here + 1))
            if not conflicts[n] & mask and (not limited or problem.fits(mask | 1 << n)):
                stack.append((mask | 1 << n, here + 1))


def _every_pass(problem: PassProblem, order: list[int]) -> Iterator[int]:
    """Yield every set of jobs that could be played at once."""
    stack = [(0, 0)]
    while stack:
        mask, here = stack.pop()
        if here == len(order):
            if mask:
                yield mask
            continue
        n = order[here]
        stack.append((mask, here + 1))
        if not problem.conflicts[n] & mask and problem.fits(mask | 1 << n):
            stack.append((mask | 1 << n, here + 1))
