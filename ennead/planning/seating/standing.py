"""The current seating, as far as it breaks no rule: what a search that is stopped falls back to."""

from ennead.planning.seating.interchangeable_slots import forced_banks
from ennead.planning.seating.problem import Problem, Seating, Seats


def as_it_stands(problem: Problem) -> Seating:
    """Return a maximal seating that keeps demands on their current slots: fixed demands first, then by priority."""
    forced = forced_banks(problem)
    stands = {bank: 1 if on else -1 for bank, on in forced.items()}
    seated: list[Seats | None] = [None] * len(problem.demands)
    used: set[int] = set()
    order = sorted(range(len(problem.demands)), key=lambda i: (not problem.demands[i].fixed, -problem.demands[i].level))
    for index in order:
        demand = problem.demands[index]
        home = demand.home
        if home is None or used & {slot for slot, _ in home}:
            continue
        if home not in problem.places(demand):
            continue
        fits = problem.fit(demand.kind, home) or ()
        wants = {
            bank: fit.wish
            for entry, fit in zip(home, fits, strict=False)
            if fit.wish and (bank := problem.face(entry).bank) is not None
        }
        if demand.fixed or all(stands.get(bank, wish) == wish for bank, wish in wants.items()):
            seated[index] = home
            used |= {slot for slot, _ in home}
            stands |= {bank: wish for bank, wish in wants.items() if bank not in forced}
    for one, other in problem.mates:
        # A loop has a place whole or not at all.
        if (seated[one] is None) != (seated[other] is None) and not (
            problem.demands[one].fixed or problem.demands[other].fixed
        ):
            seated[one] = seated[other] = None
    return tuple(seated)
