"""Passages: what a signal finds in one unit, however it got there; a walk asks for one unit at a time."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ennead.studio.bays import Bay
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.destination_leads import Heard
from ennead.survey.links import Link
from ennead.survey.normals import Beside
from ennead.survey.numbering import Start
from ennead.survey.parts import Held, changed_keys, each, in_that_order, kept, part, renews
from ennead.survey.played import PortLane
from ennead.survey.strands import Strand
from ennead.survey.unit_view import UnitView


@dataclass(slots=True)
class Passages:
    """One unit, as a walk along a signal needs it.

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
    beside : map of port key to tuple of port key
        The points that normals join to each point.
    strands : map of port key to tuple of Strand
        Where copper leads on from each socket beside those links.
    heard : map of port key to tuple of Heard
        The destinations that hear by a lead of their own, or come back by one, at each socket.
    points : set of str
        Its points that take cords.
    silent : set of (port key, lane)
        Its lanes at which nothing passes.
    special : bool
        Whether any of its sockets has strands, is heard at, or is silent; most units have none.
    """

    view: UnitView
    leaving: Mapping[str, tuple[Link, ...]]
    faults: Mapping[str, str]
    on_computer: bool
    opened: frozenset[str] = frozenset()
    beside: Beside = field(default_factory=dict)
    strands: Mapping[str, tuple[Strand, ...]] = field(default_factory=dict)
    heard: Mapping[str, tuple[Heard, ...]] = field(default_factory=dict)
    points: frozenset[str] = frozenset()
    silent: frozenset[PortLane] = frozenset()
    special: bool = False


#: What a walk may ask for.
Ask = Callable[[UnitId], Passages]

_NONE: Mapping[str, Any] = {}
_NO_JACKS: frozenset[str] = frozenset()
_NO_LANES: frozenset[PortLane] = frozenset()


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


@renews(leaving_by_unit)
def _leaving_again(was: Held, links: Mapping[object, Link]) -> dict[UnitId, dict[str, tuple[Link, ...]]] | None:
    """Return them, those of the units at which links begin that are new, gone or another found again."""
    then = was.reads[0]
    if not in_that_order(then, links):
        return None
    turned = {of[key].start.unit for key in changed_keys(links, then) for of in (links, then) if key in of}
    again = leaving_by_unit({key: link for key, link in links.items() if link.start.unit in turned})
    found = {unit: ports for unit, ports in was.value.items() if unit not in turned or unit in again}
    return {**found, **{unit: kept(was.value.get(unit), ports) for unit, ports in again.items()}}


@part
def on_computer(starts: Mapping[UnitId, Start]) -> dict[UnitId, bool]:
    """Return the units that have driver numbers on a computer."""
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
    conductors: tuple[tuple[Cable, ...], tuple[Cable, ...]],
) -> dict[UnitId, frozenset[str]]:
    """Return the insert jacks of each unit that hold a plug, whichever of its contacts are wired."""
    found = {}
    for unit, view in inserting.items():
        jacks = {port for port, _ in view.inserts}
        wired = [p.port for cable in conductors[1] for p in cable.plugs if isinstance(p, PortEnd) and p.unit == unit]
        if held := jacks & {*held_inputs.get(unit, ()), *leaving_by_unit.get(unit, ()), *wired}:
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
        "beside": "normals",
        "strands": "strands",
        "heard": "heard_at",
        "bay": "bays",
        "silent": "silent_in",
    },
)
def passages(
    view: UnitView,
    leaving: Mapping[str, tuple[Link, ...]] | None,
    faults: Mapping[str, str] | None,
    numbered: bool | None,
    opened: frozenset[str] | None,
    beside: Beside | None,
    strands: Mapping[str, tuple[Strand, ...]] | None,
    heard: Mapping[str, tuple[Heard, ...]] | None,
    bay: Bay | None,
    silent: frozenset[PortLane] | None,
) -> Passages:
    """Return what a signal finds in one unit."""
    return Passages(
        view,
        leaving or _NONE,
        faults or _NONE,
        bool(numbered),
        opened or _NO_JACKS,
        beside or _NONE,
        strands or _NONE,
        heard or _NONE,
        bay.points if bay is not None else _NO_JACKS,
        silent or _NO_LANES,
        bool(strands or heard or silent),
    )
