"""Moves between scenes as rows: what is pulled and plugged, muted and switched, with every end in words."""

from typing import Any, Final

from ennead.planning.moves.moves import MovePlan, MoveStep
from ennead.studio.bays import Cord
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import SceneId, UnitId

#: How an action is written on a list.
ACTION_TEXTS: Final[dict[str, str]] = {
    "pull": "pull", "plug": "plug", "mute": "mute", "unmute": "unmute", "phantom-off": "48 V off", "phantom-on": "48 V on", "wait": "wait",
}  # fmt: skip


def cords_of(studio: Studio, scene: SceneId | None) -> tuple[Cord, ...]:
    """Return the cords of a scene; those that stand for None, none at all for back to normals."""
    if scene is None:
        return tuple(studio.as_built.cords.values())
    return studio.scenes[scene].cords if scene else ()


def on_text(studio: Studio, step: MoveStep) -> str:
    """Return what a step is done to where it moves no plug: a loudspeaker, the 48 V of a bank."""
    if isinstance(step.on, tuple):
        unit, bank = step.on
        label = next((b.label for b in studio.profile_of(unit).banks if b.key == bank), bank)
        return f"{studio.units[unit].name} {label}"
    return studio.units[UnitId(step.on)].name if step.on is not None else ""


def point_text(studio: Studio, point: PortEnd | None) -> str | None:
    """Return a point in words, with its own number where it has one."""
    return None if point is None else studio.end_text(point)


def move_rows(studio: Studio, plan: MovePlan) -> list[dict[str, Any]]:
    """Return one row a step, in order."""
    rows = []
    for n, step in enumerate(plan.steps, start=1):
        plug = step.action == "plug"
        rows.append(
            {
                "n": n,
                "action": step.action,
                "cord": step.cord or None,
                "end": step.end or None,
                "from": point_text(studio, step.point) if step.action == "pull" else None,
                "to": point_text(studio, step.point) if plug else on_text(studio, step) or None,
                "wait_s": step.wait_s,
            }
        )
    return rows


def sum_text(plan: MovePlan) -> str:
    """Return how many movements there are and what is known of them: ``4 movements, proven fewest, and 3 steps``."""
    steps = len(plan.steps) - plan.movements
    known = (
        "proven fewest"
        if plan.proven and not plan.forced
        else f"{plan.movements - plan.bound} more than the cords alone need"
    )
    if plan.forced and plan.proven:
        known += ", proven fewest"
    beside = f", and {steps} step{'s' * (steps != 1)}" if steps else ""
    return f"{plan.movements} movement{'s' * (plan.movements != 1)}, {known}{beside}"
