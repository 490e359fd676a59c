"""Moves as they are read at the bay, a cord in hand: one row a cord, with the two points and what is behind each."""

from collections.abc import Iterable, Iterator
from itertools import groupby
from typing import NamedTuple

from ennead.planning.moves.matching import Kind
from ennead.planning.moves.moves import MovePlan, MoveStep, kind_of
from ennead.reports.move_rows import ACTION_TEXTS, on_text
from ennead.reports.point_labels import point_name
from ennead.studio.bays import Cord
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import CordId


class MoveRow(NamedTuple):
    """What is done in one go.

    Parameters
    ----------
    steps : range
        Which steps of the plan it is, one tick each; plugs of one cord that follow each other are one row.
    verb : str
        What is done: ``plug``, ``pull``, ``move``, ``48 V off``.
    text : str
        To what: ``W1, red, 1 m: Hall 9 (A 9 above) → Winch in (B 4 below)``.
    """

    steps: range
    verb: str
    text: str


def cord_moves(studio: Studio, plan: MovePlan, plugged: Iterable[Cord]) -> list[MoveRow]:
    """Return the rows of a plan, in its order.

    Parameters
    ----------
    plugged : iterable of Cord
        Those that are plugged where it begins.
    """
    there = {cord.id: cord for cord in plugged}
    # Where each cord's plugs are while the list is worked off, so that a row says what stays.
    held = {key: dict(enumerate(cord.plugs, start=1)) for key, cord in there.items()}
    kinds = {key: kind_of(cord) for key, cord in there.items()} | dict(plan.from_hook)
    rows, at = [], 0
    for _, group in groupby(enumerate(plan.steps), key=lambda one: one[1].cord or one[0]):
        steps = [step for _, step in group]
        for part in _pieces(steps):
            cord = _cord_text(part[0].cord, kinds.get(part[0].cord))
            rows.append(_row(studio, cord, part, range(at, at + len(part)), held))
            at += len(part)
    return rows


def _pieces(steps: list[MoveStep]) -> Iterator[list[MoveStep]]:
    """Yield the movements of one cord two by two: both its plugs, or one that is pulled and plugged elsewhere."""
    here = 0
    while here < len(steps):
        pair = steps[here : here + 2]
        kinds = [step.action for step in pair]
        both = kinds in (["pull", "pull"], ["plug", "plug"]) or (
            kinds == ["pull", "plug"] and pair[0].end == pair[1].end
        )
        yield pair if both else pair[:1]
        here += 2 if both else 1


def _row(
    studio: Studio,
    cord: str,
    steps: list[MoveStep],
    numbers: range,
    held: dict[CordId, dict[int, PortEnd]],
) -> MoveRow:
    first = steps[0]
    if first.point is None:
        said = f"{first.wait_s} s" if first.action == "wait" else on_text(studio, first)
        return MoveRow(numbers, ACTION_TEXTS[first.action], said)
    plugs = held.setdefault(first.cord, {})
    stays = next((point for end, point in plugs.items() if end not in {s.end for s in steps}), None)
    where = [point_name(studio, step.point) for step in sorted(steps, key=lambda s: s.end) if step.point is not None]
    for step in steps:
        if step.action == "pull":
            plugs.pop(step.end, None)
        elif step.point is not None:
            plugs[step.end] = step.point
    rest = f"; its other end stays in {point_name(studio, stays)}" if stays is not None else ""
    verb = "move" if {s.action for s in steps} == {"pull", "plug"} else first.action
    if verb == "move":
        here, there = (point_name(studio, step.point) for step in steps if step.point is not None)
        return MoveRow(numbers, verb, f"{cord}: from {here} to {there}{rest}")
    if len(where) == 2:
        return MoveRow(numbers, verb, f"{cord}: {where[0]} → {where[1]}")
    return MoveRow(numbers, verb, f"{cord}: {'from' if verb == 'pull' else 'into'} {where[0]}{rest}")


def _cord_text(cord: CordId, kind: Kind | None) -> str:
    """Return which cord it is: ``W1, red, 1 m``."""
    if kind is None:
        return cord
    facts = [kind.colour, f"{kind.length_m:g} m" if kind.length_m is not None else "", "TS" * kind.unbalanced]
    return ", ".join([cord, *[fact for fact in facts if fact]])
