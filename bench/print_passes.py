"""Forty print jobs through twelve boxes: how far the plan found in five seconds can be from the shortest there is."""

import random
import time
from collections import Counter

from bench.report import Report
from ennead.planning.passes.pass_plan import first_fit, plan_passes
from ennead.planning.passes.pass_problem import Job, PassProblem
from ennead.studio.ids import JobId

_SEEDS = 20
#: Jobs of one track at most.
_A_TRACK = 3


def forty_jobs(seed: int, jobs: int = 40, boxes: int = 12) -> PassProblem:
    """Return random jobs of one song: each a track through one to three boxes, at most three of a track, one after the other."""
    dice = random.Random(seed)
    found: list[Job] = []
    last: dict[str, JobId] = {}
    held: Counter[str] = Counter()
    for n in range(jobs):
        track = next(t for t in iter(lambda: f"track {dice.randrange(jobs * 3 // 4)}", "") if held[t] < _A_TRACK)
        held[track] += 1
        through = frozenset(dice.sample([f"box {b}" for b in range(boxes)], dice.choice((1, 1, 1, 2, 2, 3))))
        key = JobId(f"J{n + 1}")
        found.append(
            Job(
                key,
                "song",
                float(dice.randint(20, 260)),
                through | {track},
                after=frozenset([last[track]] if track in last else []),
                dials={box: f"card {dice.randrange(4)} of {box}" for box in through},
                boxes=through,
            )
        )
        last[track] = key
    return PassProblem(tuple(found), {}, 20.0)


def run(report: Report) -> None:
    """Measure."""
    report.head("Print passes: 40 jobs through 12 boxes, five seconds each")
    gaps, worse, longest = [], 0, 0.0
    for seed in range(_SEEDS):
        problem = forty_jobs(seed)
        begun = time.monotonic()
        plan = plan_passes(problem)
        longest = max(longest, time.monotonic() - begun)
        by_length = sorted(range(len(problem.jobs)), key=lambda n: -problem.jobs[n].length_s)
        greedy = problem.total_s(first_fit(problem, by_length))
        worse += plan.total_s > greedy + 1e-6
        gaps.append((plan.total_s - plan.bound_s) / plan.bound_s)
    report.figure(
        "passes_worst_gap_percent",
        round(100 * max(gaps), 2),
        f"worst gap between plan and bound of {_SEEDS} seeds: {100 * max(gaps):.1f} %, mean {100 * sum(gaps) / len(gaps):.1f} %",
        8.0,
    )
    report.figure("passes_worse_than_greedy", worse, f"plans longer than by longest job first: {worse}", 0)
    report.figure("passes_longest_s", round(longest, 2), f"longest search {longest:.1f} s", 6.0)
