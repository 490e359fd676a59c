"""Moves between scenes as rows: what is pulled and plugged, muted and switched, with every end in words."""

from typing import Any, Final

from ennead.planning.moves.moves import MovePlan, MoveStep
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.mixes import socket_label, switch_value_text
from ennead.studio.switches import Switch

#: How an action is written on a list.
ACTION_TEXTS: Final[dict[str, str]] = {
    "pull": "pull",
    "plug": "plug",
    "mute": "mute",
    "unmute": "unmute",
    "phantom-off": "48 V off",
    "phantom-on": "48 V on",
    "wait": "wait",
    "switch": "switch",
}


def on_text(studio: Studio, step: MoveStep) -> str:
    """Return what a step is done to where it moves no plug: a loudspeaker, the 48 V of a bank."""
    if isinstance(step.on, tuple):
        unit, bank = step.on
        label = next((b.label for b in studio.profile_of(unit).banks if b.key == bank), bank)
        return f"{studio.units[unit].name} {label}"
    if step.action == "switch" and step.turn is not None:
        return switch_text(studio, step.turn[0])
    return studio.units[UnitId(step.on)].name if step.on is not None else ""


def switch_text(studio: Studio, switch: Switch) -> str:
    """Return a switch and where it is to stand, in words: ``Capstan, Monitor source: tape``."""
    name, words = studio.units[switch.unit].name, switch_words(studio, switch)
    return f"{name}, {words}" if switch.what in _NAMED else f"{name}: {words}"


#: Kinds of switch of which a box may have several, and those that have a name all the same.
_NAMED: Final = ("mode", "pad", "gain", "output", "phantom", "clock", "rate", "mix", "feed")


def switch_words(studio: Studio, switch: Switch) -> str:
    """Return a switch without its box: ``Monitor source: tape``."""
    profile, value = studio.profile_of(switch.unit), switch.value
    if switch.what == "mode":
        mode = profile.mode(switch.key)
        return f"{mode.label if mode else switch.key}: {mode.label_of(value) if mode else value}"
    if switch.what in ("pad", "gain", "output"):
        port = profile.port_by_key.get(switch.key)
        of = {"pad": "pad of ", "gain": "gain of ", "output": ""}[switch.what]
        said = value if switch.what != "gain" else f"{value} dB" if value else "not noted"
        return f"{of}{port.label if port else switch.key}: {said}"
    if switch.what in ("mix", "feed"):
        said = switch_value_text(profile, switch.what, value)
        return f"{'' if switch.what == 'mix' else 'feed of '}{socket_label(profile, switch.key)}: {said}"
    if switch.what == "phantom":
        return f"{next((b.label for b in profile.banks if b.key == switch.key), switch.key)}: {value}"
    if switch.what == "clock":
        source = profile.clock_source(value)
        return f"clock: {source.label if source else value or 'none'}"
    if switch.what == "rate":
        return f"rate: {rate_text(int(value)) if value else 'that of the session'}"
    return value


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
    said = "".join(f". {text.rstrip('.')}" for text in plan.stays_off)
    beside = f", and {steps} step{'s' * (steps != 1)}" if steps else ""
    return f"{plan.movements} movement{'s' * (plan.movements != 1)}, {known}{beside}{said}"
