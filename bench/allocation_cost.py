"""What an allocation over classes costs against the plain model, and what it is worth against filling in by hand."""

import time

from bench.report import Report
from bench.seating_cases import half_kept, in_order, large_case
from bench.seating_plain import solve_plain
from ennead.planning.seating.linear import Watch
from ennead.planning.seating.problem import About, LeftOut, Problem, score
from ennead.planning.seating.seat import seat

#: How long the plain model may take, s.
CAP_S = 120.0


def run(report: Report, sessions: int = 200) -> None:
    """Measure both."""
    report.head(
        f"Allocation over classes, against one yes-or-no for every source and socket (same solver, cap {CAP_S:g} s)"
    )
    for sources, inputs in ((128, 256), (256, 512)):
        fresh = large_case(0, sources, inputs)
        _compare(report, f"{sources} on {inputs}, fresh", fresh, 10.0)
        _compare(report, f"{sources} on {inputs}, half kept", half_kept(fresh, 0), 3.0)
    _by_hand(report, sessions)


def _compare(report: Report, name: str, problem: Problem, least: float) -> None:
    start = time.perf_counter()
    ours = seat(problem, Watch(limit_s=CAP_S))
    taken = time.perf_counter() - start
    start = time.perf_counter()
    plain = solve_plain(problem, CAP_S)
    theirs = time.perf_counter() - start
    ratio = theirs / taken
    same = all(a.value == b.value for a, b in zip(ours.stages, plain.stages, strict=True) if a.proven and b.proven)
    proven = "proven" if ours.proven else "▲ NOT PROVEN"
    there = "proven" if all(s.proven for s in plain.stages) else "not finished"
    text = f"{name}: {taken:.2f} s ({proven}) against {theirs:.1f} s ({there}): {ratio:.1f} times as fast; proven stages {'agree' if same else '▲ DIFFER'}"
    verdict = "ok" if ratio >= least and ours.proven and same else "▲ NOT REACHED"
    key = "allocation_" + "".join(c if c.isalnum() else "_" for c in name)
    report.figures[key] = round(ratio, 2)
    report.figures[f"{key}_asked_at_least"] = least
    report.say(f"  {text}   (asked: at least {least:g}) {verdict}")


def _by_hand(report: Report, sessions: int) -> None:
    """Compare with filling in the list from the top, on many generated sessions with a third of the lines wired already."""
    report.head(f"Allocation, against filling in the list from the top, {sessions} generated sessions")
    better = worse = equal = 0
    sums: dict[About, list[int]] = {}
    for seed in range(sessions):
        sources = 12 + seed % 37
        fresh = large_case(1000 + seed, sources, 8 * (2 + (sources + seed % 3 * 8) // 8))
        problem = half_kept(fresh, seed) if seed % 2 else fresh
        ours, hand = score(problem, seat(problem).seating), score(problem, in_order(problem))
        better, worse, equal = better + (ours < hand), worse + (ours > hand), equal + (ours == hand)
        for name, mine, theirs in zip(problem.stages, ours, hand, strict=True):
            both = sums.setdefault(name, [0, 0])
            both[0] += mine
            both[1] += theirs
    report.figure("by_hand_worse", worse, f"stage by stage: {better} better, {equal} equal, {worse} worse", 0)
    words: dict[About, str] = {
        "skew": "splits",
        "numbers": "renumbered lines",
        "spare": "spare inputs missing",
        "together": "groups scattered",
        "switches": "48 V switched",
        LeftOut(0): "sources left out",
        LeftOut(1): "important sources left out",
    }
    report.say(f"  {'all sessions together':28} {'allocated':>10} {'by hand':>10}")
    for about, (mine, theirs) in sums.items():
        name = words.get(about, str(about))
        report.say(f"  {name:28} {mine:>10} {theirs:>10}")
        report.figures[f"by_hand_{name.replace(' ', '_')}"] = [mine, theirs]
