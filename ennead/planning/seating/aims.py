"""The aims as lines over the columns of the class model, in their order of importance."""

from collections.abc import Callable
from typing import Final

from ennead.planning.seating.class_model import ClassModel, Terms, free_needs, price
from ennead.planning.seating.interchangeable_slots import class_of
from ennead.planning.seating.linear import Line
from ennead.planning.seating.problem import PRICED, LeftOut, costs


def lay_stages(built: ClassModel) -> None:
    """Add the lines of all stages, and the columns and rows they need."""
    problem = built.problem
    # Of two mates none is left out alone, and a loop counts once.
    twos = [(class_of(problem, one), class_of(problem, other)) for one, other in problem.counted_mates]
    weight = {other: 0.0 for one, other in twos if one != other} | {one: 0.5 for one, other in twos if one == other}
    for level in problem.levels:
        terms = {column: weight.get(of, 1.0) for of, column in built.left_out.items() if of[2] == level}
        built.stages.append((LeftOut(level), Line(terms)))
    for aim in problem.aims:
        built.stages.append((aim, _priced(built, aim) if aim in PRICED else _LINES[aim](built)))


def _moves(built: ClassModel) -> Line:
    homes = sum(d.home is not None and not d.fixed for d in built.problem.demands)
    return Line({k.use.column: -1.0 for k in built.kept if k.mark.home}, homes)


def _numbers(built: ClassModel) -> Line:
    demands = built.problem.demands
    known = sum(d.numbered is not None and not (d.fixed and d.numbered == d.home) for d in demands)
    return Line({k.use.column: -1.0 for k in built.kept if k.mark.numbered}, known)


def _priced(built: ClassModel, aim: str) -> Line:
    problem, index = built.problem, PRICED.index(aim)
    terms: Terms = {}
    stands = {k.use.column for k in built.kept if k.mark.home} if aim == "wiring" else set()
    for use in built.uses:
        cost = price(problem, use, aim)
        if cost and use.column not in stands:
            terms[use.column] = float(cost)
    stays = (
        fit
        for d in problem.demands
        if d.fixed and costs(aim, d, d.home)
        for fit in problem.fit(d.kind, d.home or ()) or ()
    )
    return Line(terms, sum(fit.prices[index] for fit in stays))


def _skew(built: ClassModel) -> Line:
    return _spread(built, 3, [t.chain for t in built.problem.traits])


def _together(built: ClassModel) -> Line:
    return _spread(built, 4, [t.strip for t in built.problem.traits])


def _spread(built: ClassModel, field: int, value_of: list[int]) -> Line:
    """Return how many more chains or strips than sets of demands are used.

    Parameters
    ----------
    field : int
        Where in a class its set stands.
    """
    model, problem = built.model, built.problem
    fixed: dict[int, set[int]] = {}
    for demand in problem.demands:
        key = demand.bundle if field == 3 else demand.family
        if demand.fixed and demand.home is not None and key is not None:
            fixed.setdefault(key, set()).update(value_of[problem.face(e).trait] for e in demand.home)
    uses: dict[int, dict[int, Terms]] = {}
    for use in built.uses:
        group = use.of[3] if field == 3 else use.of[4]
        if group is not None:
            for value in {value_of[t] for t in use.traits}:
                uses.setdefault(group, {}).setdefault(value, {})[use.column] = 1.0
    total: Terms = {}
    constant = 0
    for key in uses.keys() | fixed.keys():
        there = fixed.get(key, set())
        size = sum(len(m) for of, m in built.members.items() if of[field] == key)
        more: Terms = {}
        for value, columns in sorted(uses.get(key, {}).items()):
            if value in there:
                continue
            used = model.column(1)
            more[used] = 1.0
            model.at_most(0.0, {**columns, used: -float(size)})
        if there:
            # Everything beyond what stays anyway is one more.
            constant += len(there) - 1
            total |= more
        elif len(more) > 1:
            beyond = model.column(len(more) - 1)
            model.at_most(1.0, {**more, beyond: -1.0})
            total[beyond] = 1.0
    return Line(total, constant)


def _spare(built: ClassModel) -> Line:
    """Return how many slots are missing to those wished free, need by need."""
    model, traits = built.model, built.problem.traits
    terms: Terms = {}
    for need, free in free_needs(built).items():
        want = built.problem.spare[need]
        taken: Terms = {}
        for use in built.uses:
            slots = sum(any(need in traits[trait].needs for trait, _ in pool) for pool in use.pools)
            if slots:
                taken[use.column] = float(slots)
        short = model.column(want)
        model.at_most(free - want, {**taken, short: -1.0})
        built.at_start[short] = max(0, want - free)
        terms[short] = 1.0
    return Line(terms)


def _switches(built: ClassModel) -> Line:
    terms: Terms = {}
    constant = 0
    for i, kind in enumerate(built.kinds):
        for state in kind.states:
            flips = sum(a != b for a, b in zip(kind.now, state, strict=True))
            columns, number = built.count(i, state)
            constant += round(number) * flips
            terms |= {c: float(flips) for c in columns if flips}
    return Line(terms, constant)


_LINES: Final[dict[str, Callable[[ClassModel], Line]]] = {
    "moves": _moves,
    "numbers": _numbers,
    "skew": _skew,
    "together": _together,
    "spare": _spare,
    "switches": _switches,
}
