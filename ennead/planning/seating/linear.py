"""A linear model of whole numbers, minimised stage by stage with progress, a way to stop, and a time limit that holds."""

import math
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Final, NamedTuple

from ennead.planning.seating.problem import About

#: How long a search may take, s. House default.
LIMIT_S: Final = 60.0

#: The finest difference between two objectives that are whole numbers.
_WHOLE: Final = 1e-6


class Line(NamedTuple):
    """A sum of columns and a constant."""

    terms: Mapping[int, float]
    constant: float = 0.0

    def at(self, values: Sequence[int]) -> int:
        """Return its value."""
        return round(self.constant + sum(c * values[i] for i, c in self.terms.items()))


@dataclass
class Model:
    """Columns of whole numbers, from 0 up to a bound, and rows between bounds."""

    upper: list[float] = field(default_factory=list)
    rows: list[tuple[float, float, dict[int, float]]] = field(default_factory=list)

    def column(self, upper: float) -> int:
        """Add a column and return its index."""
        self.upper.append(upper)
        return len(self.upper) - 1

    def row(self, lower: float, upper: float, terms: Mapping[int, float]) -> None:
        """Add a row."""
        self.rows.append((lower, upper, {i: c for i, c in terms.items() if c}))

    def at_most(self, upper: float, terms: Mapping[int, float]) -> None:
        """Add a row without a lower bound."""
        self.row(float("-inf"), upper, terms)


class Stage(NamedTuple):
    """What one stage came to.

    Parameters
    ----------
    value, bound : int
        The best found, and what nothing can be below given the stages before; equal where it is proven.
    """

    name: About
    value: int
    bound: int

    @property
    def proven(self) -> bool:
        """Whether nothing better is possible."""
        return self.value <= self.bound


class Optimum(NamedTuple):
    """The values of all columns, and the stages one after the other."""

    values: tuple[int, ...]
    stages: tuple[Stage, ...]


@dataclass
class Watch:
    """What watches over a search.

    Parameters
    ----------
    keep_going : callable
        Told the part done, 0 to 1; when it answers False the search ends with the best it has.
    limit_s : float, s
        How long the whole search may take.
    """

    keep_going: Callable[[float], bool] = lambda _: True
    limit_s: float = LIMIT_S
    started: float = field(default_factory=time.monotonic)
    stopped: bool = False

    @property
    def left_s(self) -> float:
        """Time left, s."""
        return self.limit_s - (time.monotonic() - self.started)

    def asks_to_stop(self, part: float) -> bool:
        """Say whether the search must end now."""
        self.stopped = self.stopped or self.left_s <= 0 or not self.keep_going(part)
        return self.stopped


#: How far the objectives of several stages may range that are minimised as one: what the solver allows a whole number to be off stays far
#: below one then. House default.
_TOGETHER: Final = 20_000


#: Columns from which on stages are minimised together: with fewer each takes no time by itself. House default.
_LARGE: Final = 1_000


def minimise_in_turn(
    model: Model, stages: Sequence[tuple[About, Line]], start: Sequence[int], watch: Watch, together: int | None = None
) -> Optimum:
    """Minimise each stage, keeping what the stages before it reached.

    Parameters
    ----------
    start : sequence of int
        Values that keep all rows; whatever happens, nothing worse is returned.
    together : int, optional
        How far several stages may range that are minimised as one; 1 for each by itself. By default as the model is large.
    """
    if together is None:
        together = _TOGETHER if len(model.upper) >= _LARGE else 1
    values, done = tuple(start), list[Stage]()
    solver, ranges = _Solver(model), _Ranges(model)
    while len(done) < len(stages):
        part, group, bound = len(done) / len(stages), stages[len(done) : len(done) + 1], 0
        if group[0][1].at(values) > ranges.least(group[0][1]) and not watch.asks_to_stop(part):
            group = ranges.group(stages[len(done) :], together)
            answer = solver.minimise(ranges.as_one(group), values, watch, part)
            if answer is None and len(group) > 1:
                group = group[:1]
                answer = solver.minimise(ranges.as_one(group), values, watch, part)
            values, bound = answer or (values, 0)
        done += ranges.apart(group, values, bound)
        for stage, (_, line) in zip(done[-len(group) :], group, strict=True):
            if len(done) < len(stages):
                solver.hold(line, stage.value)
    return Optimum(values, tuple(done))


class _Ranges:
    """Between what the lines of a model can be, and several of them as one: each a digit, the first the weightiest."""

    def __init__(self, model: Model) -> None:
        self._upper = model.upper
        # Columns that sum to a number: of all of them together no more can be in the dearest.
        self._sums = [
            (upper, terms) for lower, upper, terms in model.rows if lower == upper and {*terms.values()} == {1.0}
        ]
        self._most: dict[int, int] = {}

    def least(self, line: Line) -> int:
        """Return what a line cannot be below."""
        return round(line.constant + sum(c * self._upper[i] for i, c in line.terms.items() if c < 0))

    def most(self, line: Line) -> int:
        """Return what a line cannot be above."""
        left, total = {i: c for i, c in line.terms.items() if c > 0}, line.constant
        for number, columns in self._sums:
            among = [left.pop(i) for i in columns if i in left]
            total += number * max(among, default=0.0)
        return math.ceil(total + sum(c * self._upper[i] for i, c in left.items()))

    def _size(self, line: Line) -> int:
        if id(line) not in self._most:
            self._most[id(line)] = self.most(line) - self.least(line) + 1
        return self._most[id(line)]

    def group(self, stages: Sequence[tuple[About, Line]], together: int) -> Sequence[tuple[About, Line]]:
        """Return the first stages that may be minimised as one: as many as keep within a range."""
        size = count = 1
        for _, line in stages[1:]:
            size *= self._size(line)
            if size > together:
                break
            count += 1
        return stages[:count]

    def _weights(self, group: Sequence[tuple[About, Line]]) -> list[int]:
        weights = [1]
        for _, line in reversed(group[1:]):
            weights.append(weights[-1] * self._size(line))
        return weights[::-1]

    def as_one(self, group: Sequence[tuple[About, Line]]) -> Line:
        """Return the line that is least where the first of several is, and among those the second, and so on."""
        terms: dict[int, float] = {}
        constant = 0.0
        for weight, (_, line) in zip(self._weights(group), group, strict=True):
            constant += weight * (line.constant - self.least(line))
            for i, c in line.terms.items():
                terms[i] = terms.get(i, 0.0) + weight * c
        return Line(terms, constant)

    def apart(self, group: Sequence[tuple[About, Line]], values: Sequence[int], bound: int) -> list[Stage]:
        """Return what each of several came to, and its bound: the digit of theirs, as far as those before it are proven."""
        found, left = list[Stage](), max(0, bound)
        for weight, (name, line) in zip(self._weights(group), group, strict=True):
            now, least = line.at(values), self.least(line)
            found.append(Stage(name, now, min(now, least + left // weight)))
            left = max(0, left - weight * (now - least)) if found[-1].proven else 0
        return found


class _Solver:
    """The model in the solver's own form, kept from stage to stage."""

    def __init__(self, model: Model) -> None:
        self._model = model
        self._held: list[tuple[float, float, dict[int, float]]] = []

    def hold(self, line: Line, value: int) -> None:
        """Allow nothing above a value from now on."""
        if line.terms:
            self._held.append((float("-inf"), value - line.constant + _WHOLE, dict(line.terms)))

    def minimise(
        self, line: Line, start: tuple[int, ...], watch: Watch, part: float
    ) -> tuple[tuple[int, ...], int] | None:
        """Return the best values found and the proven bound; None where every answer contradicts itself."""
        found = self._once(line, start, watch, part, presolve="choose")
        if found is None and not watch.asks_to_stop(part):
            # A model that has a solution was called infeasible: what simplifies it before the search has been wrong so.
            found = self._once(line, start, watch, part, presolve="off")
        return found

    def _once(
        self, line: Line, start: tuple[int, ...], watch: Watch, part: float, *, presolve: str
    ) -> tuple[tuple[int, ...], int] | None:
        """Return the best values found and the proven bound; None where the answer contradicts itself."""
        import highspy

        solver = self._filled(line)
        solver.setOptionValue("presolve", presolve)
        solver.setOptionValue("time_limit", max(0.01, watch.left_s))
        # No solution is handed on: given one, this solver has answered with it and called it optimal at a better value.

        def look(event: Any) -> None:
            if watch.asks_to_stop(part):
                event.interrupt()

        solver.cbMipInterrupt.subscribe(look)
        solver.run()
        found = solver.getSolution().col_value
        values = tuple(round(v) for v in found) if len(found) == len(start) else start
        told = solver.getInfo().objective_function_value + line.constant
        sound = self._keeps(values) and abs(line.at(values) - told) < 0.5
        if not sound or line.at(values) > line.at(start):
            values = start
        status = solver.getModelStatus()
        if status == highspy.HighsModelStatus.kOptimal and sound:
            return values, line.at(values)
        if status not in (highspy.HighsModelStatus.kTimeLimit, highspy.HighsModelStatus.kInterrupt):
            return None
        dual = solver.getInfo().mip_dual_bound
        bound = -(10**9) if not math.isfinite(dual) else int(-((-(dual + line.constant) + _WHOLE) // 1))
        return values, bound

    def _keeps(self, values: Sequence[int]) -> bool:
        """Say whether whole values keep all rows: the solver allows a little, we allow nothing."""
        for lower, upper, terms in (*self._model.rows, *self._held):
            total = sum(c * values[i] for i, c in terms.items())
            if total < lower - _WHOLE or total > upper + _WHOLE:
                return False
        return all(0 <= v <= most + _WHOLE for v, most in zip(values, self._model.upper, strict=True))

    def _filled(self, line: Line) -> Any:
        import highspy
        import numpy as np

        model, rows = self._model, [*self._model.rows, *self._held]
        lp = highspy.HighsLp()
        lp.num_col_, lp.num_row_ = len(model.upper), len(rows)
        costs = np.zeros(lp.num_col_)
        for i, c in line.terms.items():
            costs[i] = c
        lp.col_cost_ = costs
        lp.col_lower_, lp.col_upper_ = np.zeros(lp.num_col_), np.array(model.upper, dtype=float)
        lp.row_lower_ = np.array([r[0] for r in rows], dtype=float)
        lp.row_upper_ = np.array([r[1] for r in rows], dtype=float)
        lp.integrality_ = [highspy.HighsVarType.kInteger] * lp.num_col_
        starts = np.zeros(lp.num_row_ + 1, dtype=np.int32)
        starts[1:] = np.cumsum([len(r[2]) for r in rows])
        lp.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
        lp.a_matrix_.start_ = starts
        lp.a_matrix_.index_ = np.array([i for r in rows for i in r[2]], dtype=np.int32)
        lp.a_matrix_.value_ = np.array([c for r in rows for c in r[2].values()], dtype=float)

        class Quiet(highspy.Highs):
            """The solver without the lines it prints when it is made, which would stand among our own output."""

            def enableCallbacks(self) -> None:
                self.setOptionValue("output_flag", False)
                super().enableCallbacks()  # type: ignore[no-untyped-call]

        solver = Quiet()  # type: ignore[no-untyped-call]
        solver.setOptionValue("threads", 1)
        # All objectives are whole numbers: what is less than one better is no better.
        solver.setOptionValue("mip_rel_gap", 0.0)
        solver.setOptionValue("mip_abs_gap", 0.999)
        solver.setOptionValue("random_seed", 0)
        solver.passModel(lp)
        return solver
