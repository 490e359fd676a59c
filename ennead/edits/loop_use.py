"""Edits of how a loop is used: insert or bus, levels, numbers the software picked, its plug-in twin."""

from typing import Any, Final

from ennead.edits.names import clean_name
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.loop_use import LoopUse, use_fault
from ennead.studio.record import names_of, replace

_FACTS: Final = frozenset(names_of(LoopUse)) - {"peaks_dbu"}


def set_loop_use(studio: Studio, destination: DestinationId, **facts: Any) -> Studio:
    """State facts of how a loop is used; see `LoopUse`.

    Raises
    ------
    UnknownObject
    BadValue
        If it is no loop, or no such figure is possible.
    """
    loop = _loop(studio, destination)
    for name in facts:
        if name not in _FACTS:
            raise BadValue("a fact of a loop's use", name, f"Known are: {', '.join(sorted(_FACTS))}.")
    if "twin" in facts:
        facts["twin"] = clean_name(facts["twin"], "the name of a plug-in", may_be_empty=True)
    return _put(studio, destination, replace(loop, **facts))


def set_box_peak(studio: Studio, destination: DestinationId, unit: UnitId, dbu: float | None) -> Studio:
    """State what comes out of a box of a loop at its loudest, dBu, open circuit; None for not known.

    Raises
    ------
    UnknownObject
    BadValue
        If it is no loop, or that is no level.
    """
    loop = _loop(studio, destination)
    studio.unit(unit)
    left = {key: level for key, level in loop.peaks_dbu.items() if key != unit}
    return _put(studio, destination, replace(loop, peaks_dbu=left if dbu is None else {**left, unit: float(dbu)}))


def _loop(studio: Studio, destination: DestinationId) -> LoopUse:
    found = studio.destination(destination)
    if found.kind != "loop":
        raise BadValue("the use of a loop", found.name, "It is no outboard loop. Choose that kind first.")
    return found.use


def _put(studio: Studio, destination: DestinationId, use: LoopUse) -> Studio:
    old = studio.destination(destination)
    if fault := use_fault(use, old.channels, old.backs):
        raise BadValue(f"what is stated of {old.name}", fault, "Type another figure.")
    return replace(studio, destinations=studio.destinations.put(destination, replace(old, use=use)))
