"""The best seating of a problem, with what is proven of it."""

from typing import NamedTuple

from ennead.planning.seating.aims import lay_stages
from ennead.planning.seating.assign_demands import assign_demands
from ennead.planning.seating.class_model import build
from ennead.planning.seating.linear import Stage, Watch, minimise_in_turn
from ennead.planning.seating.paired import seat_paired
from ennead.planning.seating.problem import Problem, Seating, score
from ennead.planning.seating.renumbering import renumbered
from ennead.planning.seating.standing import as_it_stands


class Seated(NamedTuple):
    """A seating and its stages: what it costs in each, and what nothing can be below."""

    seating: Seating
    stages: tuple[Stage, ...]

    @property
    def proven(self) -> bool:
        """Whether no seating is better, stage by stage."""
        return all(stage.proven for stage in self.stages)


def seat(problem: Problem, watch: Watch | None = None) -> Seated:
    """Return the seating that costs least in the first stage, among those in the second, and so on.

    Where mates must have the same numbers, it is the best of those in which they have.
    """
    watch = watch or Watch()
    if not (problem.same_numbers and problem.mates):
        return _seat(problem, watch)
    return Seated(*seat_paired(problem, _seat, watch))


def _seat(problem: Problem, watch: Watch) -> Seated:
    """Return the seating that costs least in the first stage, among those in the second, and so on.

    It is found over classes of demands and pools of sockets that cannot be told apart, so that no two
    solutions differ by a mere exchange of likes. Stopped early, it is the best found, with its bounds.
    """
    built = build(problem, watch)
    if built is None:
        standing = as_it_stands(problem)
        return Seated(standing, tuple(Stage(*s, 0) for s in zip(problem.stages, score(problem, standing), strict=True)))
    lay_stages(built)
    best = minimise_in_turn(built.model, built.stages, built.start(), watch)
    seating = renumbered(problem, assign_demands(built, best.values))
    values = score(problem, seating)
    if not all(stage.proven for stage in best.stages):
        # A search that was stopped is never worse than to leave everything as it is.
        standing = as_it_stands(problem)
        if score(problem, standing) < values:
            seating, values = standing, score(problem, standing)
    # The expansion may keep a demand on its own place where the model counted a move: the seating itself decides.
    stages = tuple(Stage(s.name, value, min(s.bound, value)) for s, value in zip(best.stages, values, strict=True))
    return Seated(seating, stages)
