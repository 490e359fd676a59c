"""What is noted of what stands once a step of a changeover is done."""

from collections.abc import Iterable

from ennead.edits.as_built import tick_cable, untick_cable
from ennead.edits.change import Edit, step
from ennead.edits.scene_switches import stand_switch
from ennead.edits.scenes import lift_plug, stand_plug
from ennead.planning.moves.difference import Step
from ennead.studio.bays import Cord
from ennead.studio.document import Studio


def noted(studio: Studio, done: Step, cords: Iterable[Cord]) -> Edit | None:
    """Return the edit that notes a step as done; None where nothing that stands is another for it.

    Parameters
    ----------
    cords : iterable of Cord
        Those of both scenes, so that length and colour of what is plugged are known.
    """
    if done.cable is not None:
        if done.kind == "plug":
            return step(tick_cable, done.cable.id) if studio.has_cable(done.cable.id) else None
        return step(untick_cable, done.cable.id) if done.cable.id in studio.stood else None
    if done.turn is not None:
        return step(stand_switch, done.turn[0])
    move = done.move
    if move is None or move.point is None:
        return None
    if move.action == "pull":
        stands = any(move.point in c.plugs for c in studio.as_built.cords.values())
        return step(lift_plug, move.point) if stands else None
    return step(stand_plug, move.point, next((c for c in cords if c.id == move.cord), Cord(move.cord, ())))
