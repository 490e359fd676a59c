"""Passages: what a signal finds in one unit, however it got there; a walk asks for one unit at a time."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ennead.studio.ids import UnitId
from ennead.survey.links import Link
from ennead.survey.numbering import Start
from ennead.survey.parts import each, part
from ennead.survey.unit_view import UnitView


@dataclass(slots=True)
class Passages:
    """One unit, for whoever follows a signal.

    Parameters
    ----------
    leaving : map of port key to tuple of Link
        The links from each of its outputs.
    faults : map of port key to str
        Its ports out of service, with their notes.
    on_computer : bool
        Whether the computer numbers its channels.
    opened : set of str
        Its insert jacks that hold a plug, which breaks what the jack joins by itself.
    """

    view: UnitView
    leaving: Mapping[str, tuple[Link, ...]]
    faults: Mapping[str, str]
    on_computer: bool
    opened: frozenset[str] = frozenset()


#: What a walk may ask for.
Ask = Callable[[UnitId], Passages]

_NONE: Mapping[str, str] = {}
_NO_JACKS: frozenset[str] = frozenset()


@part
def leaving_by_unit(links: Mapping[object, Link]) -> dict[UnitId, dict[str, tuple[Link, ...]]]:
    """Return the links that leave each output of each unit, in the order of their cables."""
    found: dict[UnitId, dict[str, tuple[Link, ...]]] = {}
    for link in links.values():
        unit, port = link.start.unit, link.start.port
        if unit not in found:
            found[unit] = {port: (link,)}
            continue
        ports = found[unit]
        ports[port] = (*ports[port], link) if port in ports else (link,)
    return found


@part
def leaving(
    leaving_by_unit: Mapping[UnitId, Mapping[str, tuple[Link, ...]]],
) -> dict[tuple[UnitId, str], tuple[Link, ...]]:
    """Return the links that leave each output."""
    return {(unit, port): links for unit, ports in leaving_by_unit.items() for port, links in ports.items()}


@part
def on_computer(starts: Mapping[UnitId, Start]) -> dict[UnitId, bool]:
    """Return the units whose channels a computer numbers."""
    return dict.fromkeys(starts, True)


@part
def inserting(views: Mapping[UnitId, UnitView]) -> dict[UnitId, UnitView]:
    """Return the units that have insert jacks."""
    return {unit: view for unit, view in views.items() if view.inserts}


@part
def opened(
    inserting: Mapping[UnitId, UnitView],
    held_inputs: Mapping[UnitId, set[str]],
    leaving_by_unit: Mapping[UnitId, Mapping[str, object]],
) -> dict[UnitId, frozenset[str]]:
    """Return the insert jacks of each unit that hold a plug."""
    found = {}
    for unit, view in inserting.items():
        jacks = {port for port, _ in view.inserts}
        if held := jacks & {*held_inputs.get(unit, ()), *leaving_by_unit.get(unit, ())}:
            found[unit] = frozenset(held)
    return found


@each(
    "passages",
    of={
        "view": "views",
        "leaving": "leaving_by_unit",
        "faults": "faults",
        "numbered": "on_computer",
        "opened": "opened",
    },
)
def passages(
    view: UnitView, leaving: Mapping[str, tuple[Link, ...]] | None, faults: Mapping[str, str] | None, numbered: bool | None,
    opened: frozenset[str] | None,
) -> Passages:  # fmt: skip
    """Return what a signal finds in one unit."""
    return Passages(view, leaving or {}, faults or _NONE, bool(numbered), opened or _NO_JACKS)
