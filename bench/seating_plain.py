"""The plain model of a seating problem: one yes-or-no column for every demand and place. Frozen; it is the yardstick."""

from ennead.planning.seating.linear import Line, Model, Optimum, Watch, minimise_in_turn
from ennead.planning.seating.problem import PRICED, LeftOut, Problem, Seats, costs, needs_of


def solve_plain(problem: Problem, limit_s: float) -> Optimum:
    """Minimise the stages of a problem over one column for every demand and place."""
    model = Model()
    demands, aims = problem.demands, problem.aims
    at = {(i, place): model.column(1) for i, d in enumerate(demands) for place in problem.places(d)}
    left = [model.column(1) for _ in demands]
    on = [model.column(1) for _ in problem.banks]
    sits: list[dict[int, float]] = [{} for _ in demands]
    on_slot: dict[int, dict[int, float]] = {}
    for (i, place), column in at.items():
        sits[i][column] = 1.0
        for slot, _ in place:
            on_slot.setdefault(slot, {})[column] = 1.0
        for entry, fit in zip(place, problem.fit(demands[i].kind, place) or (), strict=True):
            bank = problem.face(entry).bank
            if fit.wish > 0 and bank is not None:
                model.at_most(0, {column: 1.0, on[bank]: -1.0})
            elif fit.wish < 0 and bank is not None:
                model.at_most(1, {column: 1.0, on[bank]: 1.0})
    for i in range(len(demands)):
        model.row(1, 1, {**sits[i], left[i]: 1.0})
    for columns in on_slot.values():
        model.at_most(1, columns)
    lines = {
        "moves": _stays(at, [d.home for d in demands]),
        "numbers": _stays(at, [d.numbered for d in demands]),
        "skew": _spread(problem, model, at, [d.bundle for d in demands], [t.chain for t in problem.traits]),
        "together": _spread(problem, model, at, [d.family for d in demands], [t.strip for t in problem.traits]),
        "spare": _spare(problem, model, on_slot),
        "switches": Line(
            {c: -1.0 if now else 1.0 for c, now in zip(on, problem.banks, strict=True)}, sum(problem.banks)
        ),
    }
    for index, aim in enumerate(PRICED):
        price = {
            c: float(sum(f.prices[index] for f in problem.fit(demands[i].kind, p) or ()))
            for (i, p), c in at.items()
            if costs(aim, demands[i], p)
        }
        lines[aim] = Line(price)
    levels = [(LeftOut(n), Line({left[i]: 1.0 for i, d in enumerate(demands) if d.level == n})) for n in problem.levels]
    stages = [*levels, *((aim, lines[aim]) for aim in aims)]
    start = [0] * len(model.upper)
    for column in left:
        start[column] = 1
    for column, now in zip(on, problem.banks, strict=True):
        start[column] = int(now)
    for need, short in zip(problem.spare, lines["spare"].terms, strict=True):
        start[short] = max(0, problem.spare[need] - sum(need in needs_of(problem, s) for s in problem.slots))
    return minimise_in_turn(model, stages, start, Watch(limit_s=limit_s), together=1)


At = dict[tuple[int, Seats], int]


def _stays(at: At, places: list[Seats | None]) -> Line:
    known = sum(p is not None for p in places)
    return Line({at[i, p]: -1.0 for i, p in enumerate(places) if p is not None and (i, p) in at}, known)


def _spread(problem: Problem, model: Model, at: At, keys: list[int | None], value_of: list[int]) -> Line:
    used: dict[tuple[int, int], int] = {}
    for (i, place), column in at.items():
        if keys[i] is not None:
            for value in {value_of[problem.face(e).trait] for e in place}:
                if (keys[i], value) not in used:
                    used[keys[i], value] = model.column(1)
                model.at_most(0, {column: 1.0, used[keys[i], value]: -1.0})
    total = {}
    for key in {k for k, _ in used}:
        mine = {c: 1.0 for (k, _), c in used.items() if k == key}
        beyond = model.column(len(mine))
        model.at_most(1, {**mine, beyond: -1.0})
        total[beyond] = 1.0
    return Line(total)


def _spare(problem: Problem, model: Model, on_slot: dict[int, dict[int, float]]) -> Line:
    total = {}
    for need, want in problem.spare.items():
        able = [i for i, slot in enumerate(problem.slots) if need in needs_of(problem, slot)]
        taken: dict[int, float] = {}
        for slot in able:
            for column in on_slot.get(slot, {}):
                taken[column] = taken.get(column, 0.0) + 1.0
        short = model.column(want)
        model.at_most(len(able) - want, {**taken, short: -1.0})
        total[short] = 1.0
    return Line(total)
