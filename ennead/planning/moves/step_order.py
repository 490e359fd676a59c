"""The one order in which anything is plugged and set: what has to be silent, off or fallen before something else is done."""

from typing import Final, Literal

from ennead.studio.ids import UnitId
from ennead.studio.switches import Switch
from ennead.survey.survey import Survey

Kind = Literal[
    "mute",
    "power off",
    "48 V off",
    "wait",
    "pull",
    "cord",
    "switch",
    "plug",
    "rate",
    "clock",
    "48 V on",
    "power on",
    "unmute",
]

#: Loudspeakers are silent while anything they hear changes, and amplifiers off; 48 V is off, and has fallen, while plugs behind it
#: move; plugs leave before others take their sockets; what may join conductors is set among the cords, where no outputs meet; the clock
#: is set once its cables are there, the leader's first.
ORDER: Final[tuple[Kind, ...]] = (
    "mute",
    "power off",
    "48 V off",
    "wait",
    "pull",
    "cord",
    "switch",
    "plug",
    "rate",
    "clock",
    "48 V on",
    "power on",
    "unmute",
)
RANK: Final[dict[Kind, int]] = {kind: n for n, kind in enumerate(ORDER)}


def may_join(survey: Survey, switch: Switch) -> bool:
    """Say whether a switch may join conductors, or part them."""
    return switch.what == "mode" and survey.profiles[switch.unit].joins_any


def kind_of_switch(survey: Survey, switch: Switch) -> Kind:
    """Return when a switch is set, by what it does."""
    if switch.what == "phantom":
        return "48 V on" if switch.value == "on" else "48 V off"
    if switch.what == "power" and _drives_ears(survey, switch.unit):
        return "power off" if switch.value == "off" else "power on"
    if may_join(survey, switch):
        return "cord"
    return "clock" if switch.what in ("clock", "rate") else "switch"


def hops_of(survey: Survey, switch: Switch) -> int:
    """Return how far from its leader the box of a clock switch stands in the end; of any other switch, nothing."""
    if switch.what not in ("clock", "rate"):
        return 0
    clock = survey.clocks.by_unit.get(switch.unit)
    return clock.hops if clock is not None and clock.hops >= 0 else len(survey.clocks.by_unit)


def _drives_ears(survey: Survey, unit: UnitId) -> bool:
    """Say whether a box is a loudspeaker, or an amplifier of some."""
    profile = survey.profiles[unit]
    outs = [p for p in profile.ports if p.direction == "out" and not p.is_digital]
    return profile.role == "loudspeaker" or (bool(outs) and all("speaker" in p.carries for p in outs))
