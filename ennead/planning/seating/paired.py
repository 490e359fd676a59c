"""The best seating in which mates have the same number: a loop's send and its return, where the software forces that."""

import heapq
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import count

from ennead.planning.seating.linear import Stage, Watch
from ennead.planning.seating.problem import Problem, Seating, Seats, banks_wanted, score
from ennead.planning.seating.variants import held_to, left_out

#: A seating and its stages, as the search without mates answers them.
Answer = tuple[Seating, tuple[Stage, ...]]


@dataclass(order=True)
class _Node:
    """A problem with some mates decided; `bound` is what it cannot cost less than; of equals the youngest has the least `turn`."""

    bound: tuple[int, ...]
    turn: int
    problem: Problem = field(compare=False)


def agree(problem: Problem, seating: Seating, one: int, other: int) -> bool:
    """Return whether the two legs of a loop have equal numbers or are both unplaced; fixed loops are exempt."""
    a, b = seating[one], seating[other]
    stay = problem.demands[one].fixed + problem.demands[other].fixed
    if a is None or b is None:
        return a is b or stay > 0
    return stay == 2 or problem.slots[a[0][0]].number == problem.slots[b[0][0]].number


def seat_paired(problem: Problem, solve: Callable[[Problem, Watch], Answer], watch: Watch) -> Answer:
    """Return the best seating in which all mates agree; both of two that cannot are left out.

    Mates that disagree in the best seating without that rule are held to one number after the other, and the least bound
    is always looked at first: a seating in which all agree is the best there is once no bound is below it.
    """
    turns = count(0, -1)
    queue = [_Node((), next(turns), problem)]
    best: Seating = ()
    value: tuple[int, ...] = ()
    free: tuple[Stage, ...] = ()
    part = 0.0
    # Each search tells how far it is; what is told on is how many mates agreed at best.
    inner = Watch(lambda _: not watch.asks_to_stop(part), watch.limit_s, watch.started)
    while queue and not (best and value <= queue[0].bound):
        if best and watch.asks_to_stop(part):
            return best, _stages(problem, value, free)
        node = heapq.heappop(queue)
        seating, stages = solve(node.problem, inner)
        free = free or stages
        agreed = sum(agree(problem, seating, a, b) for a, b in problem.mates)
        part = max(part, agreed / (1 + len(problem.mates)))
        wrong = [(a, b) for a, b in problem.mates if not agree(problem, seating, a, b)]
        mended = _without(problem, seating) if wrong else seating
        if not best or score(problem, mended) < value:
            best, value = mended, score(problem, mended)
        if not all(stage.proven for stage in stages):
            return best, _stages(problem, value, free)
        if wrong:
            bound = score(problem, seating)
            # Those with the fewest numbers to choose from come first: what cannot be is then seen early.
            for child in min((_children(node.problem, *mates, seating) for mates in wrong), key=len):
                heapq.heappush(queue, _Node(bound, next(turns), child))
    return best, tuple(Stage(name, now, now) for name, now in zip(problem.stages, value, strict=True))


def _children(problem: Problem, one: int, other: int, seating: Seating) -> list[Problem]:
    """Return the problem with both of two mates left out, then with both held to each place they can share a number at.

    The likeliest come last: places that are free, and low numbers.
    """
    nowhere = problem
    for leg in (one, other):
        if not problem.demands[leg].fixed:
            nowhere = left_out(nowhere, leg)
    used = {slot for i, place in enumerate(seating) if i not in (one, other) for slot, _ in place or ()}
    mine, theirs = _by_number(problem, one), _by_number(problem, other)
    found = []
    for number in mine.keys() & theirs.keys():
        for a in mine[number]:
            for b in theirs[number]:
                slots = [slot for slot, _ in (*a, *b)]
                held = held_to(problem, one, a)
                if len(set(slots)) == len(slots) and not _clashes(held, other, b):
                    found.append((len(used & set(slots)), number, a, b))
    ranked = sorted(found, reverse=True)
    return [nowhere, *(held_to(held_to(problem, one, a), other, b) for _, _, a, b in ranked)]


def _by_number(problem: Problem, demand: int) -> dict[int, list[Seats]]:
    """Return the places a demand may take by their first number, without those held by fixed demands."""
    stays = {slot for i, d in enumerate(problem.demands) if d.fixed and i != demand for slot, _ in d.home or ()}
    found: dict[int, list[Seats]] = {}
    for place in problem.places(problem.demands[demand]):
        if not stays & {slot for slot, _ in place} and not _clashes(problem, demand, place):
            found.setdefault(problem.slots[place[0][0]].number, []).append(place)
    return found


def _clashes(problem: Problem, demand: int, place: Seats) -> bool:
    """Say whether a place would need a switch otherwise than the fixed demands, or its own other side."""
    seated: list[Seats | None] = [d.home if d.fixed else None for d in problem.demands]
    before = banks_wanted(problem, tuple(seated))
    seated[demand] = place
    return any(wish == 0 and before.get(bank) != 0 for bank, wish in banks_wanted(problem, tuple(seated)).items())


def _without(problem: Problem, seating: Seating) -> Seating:
    """Return a seating with both legs of any loop that disagrees left out, fixed demands excepted."""
    seated = list(seating)
    for one, other in problem.mates:
        if not agree(problem, seating, one, other):
            for leg in (one, other):
                if not problem.demands[leg].fixed:
                    seated[leg] = None
    return tuple(seated)


def _stages(problem: Problem, value: tuple[int, ...], free: tuple[Stage, ...]) -> tuple[Stage, ...]:
    """Return the stages of a seating that is not proven, with the bounds of the search that asks nothing of mates.

    Behind the first stage that is not proven those bounds speak of other seatings; then nothing is known but zero.
    """
    found: list[Stage] = []
    for name, now, stage in zip(problem.stages, value, free, strict=True):
        sure = not found or found[-1].proven
        found.append(Stage(name, now, min(now, stage.bound) if sure else 0))
    return tuple(found)
