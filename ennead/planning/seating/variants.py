"""A seating problem with one thing otherwise: a demand held to a place, or kept from some slots."""

from collections.abc import Collection
from dataclasses import replace

from ennead.planning.seating.problem import Demand, Face, Problem, Seats


def held_to(problem: Problem, demand: int, place: Seats) -> Problem:
    """Return the problem in which a demand sits on a place whatever happens; others may have to leave it."""
    demands = list(problem.demands)
    demands[demand] = replace(demands[demand], home=place, numbered=place, fixed=True)
    slots, wishes = {slot for slot, _ in place}, _wishes(problem, demands[demand], place)
    for i, other in enumerate(demands):
        if i == demand or not other.fixed or other.home is None:
            continue
        theirs = _wishes(problem, other, other.home)
        if slots & {s for s, _ in other.home} or any(wishes.get(bank, wish) != wish for bank, wish in theirs.items()):
            # A demand pinned there, or at a switch that now stands otherwise, is released; it then counts like any move.
            demands[i] = replace(other, fixed=False)
    return replace(problem, demands=tuple(demands))


def _wishes(problem: Problem, demand: Demand, place: Seats) -> dict[int, int]:
    """Return how a demand on a place wants the switches: 1 on, -1 off."""
    fits = zip(place, problem.fit(demand.kind, place) or (), strict=False)
    return {bank: fit.wish for entry, fit in fits if fit.wish and (bank := problem.face(entry).bank) is not None}


def left_out(problem: Problem, demand: int) -> Problem:
    """Return the problem in which a demand finds no place."""
    demands = list(problem.demands)
    nowhere = max([k for k, _ in problem.fits] + [d.kind for d in demands]) + 1
    demands[demand] = replace(demands[demand], kind=nowhere, home=None, numbered=None, fixed=False)
    return replace(problem, demands=tuple(demands))


def kept_from(problem: Problem, demand: int, slots: Collection[int]) -> Problem:
    """Return the problem in which a demand may not sit on some slots, which stay open to all others."""
    kind = max([k for k, _ in problem.fits] + [d.kind for d in problem.demands]) + 1
    traits, fits = list(problem.traits), dict(problem.fits)
    mine = problem.demands[demand]
    fits |= {(kind, trait): fit for (k, trait), fit in problem.fits.items() if k == mine.kind}
    twins: dict[int, int] = {}
    held = list(problem.slots)
    for slot in slots:
        faces = []
        for face in held[slot].faces:
            if face.trait not in twins:
                twins[face.trait] = len(traits)
                traits.append(problem.traits[face.trait])
                fits |= {(k, twins[face.trait]): fit for (k, trait), fit in problem.fits.items() if trait == face.trait}
            faces.append(Face(twins[face.trait], face.bank))
        held[slot] = held[slot]._replace(faces=tuple(faces))
    demands = list(problem.demands)
    home = None if mine.home is not None and {s for s, _ in mine.home} & set(slots) else mine.home
    numbered = None if mine.numbered is not None and {s for s, _ in mine.numbered} & set(slots) else mine.numbered
    demands[demand] = replace(mine, kind=kind, home=home, numbered=numbered, fixed=False)
    return replace(problem, traits=tuple(traits), slots=tuple(held), fits=fits, demands=tuple(demands))
