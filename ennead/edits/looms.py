"""Edits of looms: how one is made up, which lie in a drawer, and one that comes out of it or goes back."""

from typing import get_args

from ennead.edits.cables import disconnect
from ennead.edits.names import clean_name
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import CableId
from ennead.studio.looms import Loom, Pinning, Screws, SpareLoom
from ennead.studio.plugs import loom_faults, spare_faults
from ennead.studio.profile import Port
from ennead.studio.ranges import in_ranges
from ennead.studio.record import replace


def set_loom(studio: Studio, cable: CableId, loom: Loom | None) -> Studio:
    """State how a cable is made up; None where it is not known.

    Raises
    ------
    BadValue, UnknownObject
    """
    found = replace(studio.cable(cable), loom=None if loom is None else _cleaned(loom))
    return replace(studio, cables=studio.cables.put(cable, found))


def add_spare(studio: Studio, spare: SpareLoom) -> Studio:
    """Add a loom to those that lie in a drawer.

    Raises
    ------
    BadValue
    """
    return replace(studio, spares=(*studio.spares, _checked(spare)))


def change_spare(studio: Studio, at: int, spare: SpareLoom) -> Studio:
    """Say otherwise what a loom in the drawer, by its place from 0, is like.

    Raises
    ------
    BadValue
    """
    remove_spare(studio, at)
    return replace(studio, spares=tuple([_checked(spare) if n == at else s for n, s in enumerate(studio.spares)]))


def remove_spare(studio: Studio, at: int) -> Studio:
    """Take a loom, by its place from 0, off the list of those that lie in a drawer.

    Raises
    ------
    BadValue
    """
    if not 0 <= at < len(studio.spares):
        raise BadValue("a spare loom", at + 1, f"There are {len(studio.spares)}.")
    return replace(studio, spares=tuple([s for n, s in enumerate(studio.spares) if n != at]))


def take_spare(studio: Studio, at: int, cable: CableId) -> Studio:
    """Make a planned cable of a loom that lies in a drawer: it has its length and is made up as that one is.

    Raises
    ------
    BadValue
        If it has fewer lines than the cable needs.
    UnknownObject
    """
    left = remove_spare(studio, at)
    spare, wanted = studio.spares[at], studio.cable(cable)
    if spare.lanes < lines_of(studio, wanted):
        raise BadValue("a loom for it", f"{spare.lanes} lines", f"{cable} needs {lines_of(studio, wanted)}.")
    new = replace(wanted, loom=spare.loom, length_m=spare.length_m or wanted.length_m)
    return replace(left, cables=left.cables.put(cable, new))


def put_away(studio: Studio, cable: CableId) -> Studio:
    """Pull a loom and put it to those that lie in a drawer, with what is on its ends.

    Raises
    ------
    UnknownObject
    """
    found = studio.cable(cable)
    spare = SpareLoom(lines_of(studio, found), ends_of(studio, found), found.loom or Loom(), found.length_m, found.note)
    return add_spare(disconnect(studio, cable), spare)


def lines_of(studio: Studio, cable: Cable) -> int:
    """Return how many lines a cable carries.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    if cable.wires:
        return max(len(cable.wires), 1)
    ports = [studio.port(p) for p in cable.plugs if isinstance(p, PortEnd)]
    return min([p.channels for p in ports], default=1)


def ends_of(studio: Studio, cable: Cable) -> tuple[str, str]:
    """Return what is on the two ends of a cable, in words: ``multipin``, ``8 × TRS jack``.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    half = {w.b for w in cable.wires} if cable.wires else {1}
    sides: tuple[list[str], list[str]] = ([], [])
    for at, plug in enumerate(cable.plugs):
        sides[at in half].append(_kind(studio.port(plug)) if isinstance(plug, PortEnd) else "plug")
    return tuple(
        [
            in_ranges(
                [f"{side.count(kind)} × {kind}" if side.count(kind) > 1 else kind for kind in dict.fromkeys(side)]
            )
            for side in sides
        ]
    )  # type: ignore[return-value]


def _kind(port: Port) -> str:
    return "multipin" if port.wiring == "multi" else CONNECTOR_LABELS[port.connector]


def is_loom(studio: Studio, cable: Cable) -> bool:
    """Say whether a cable is a loom: several lines in one jacket, of sound and not of numbers.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    analogue = all(not studio.port(p).is_digital for p in cable.plugs if isinstance(p, PortEnd))
    return analogue and (cable.loom is not None or lines_of(studio, cable) > 2)


def _checked(spare: SpareLoom) -> SpareLoom:
    for fault in spare_faults(spare):
        raise BadValue("a spare loom", f"{spare.lanes} lines", f"That cannot be: {fault}.")
    ends = tuple([clean_name(e, "an end of a loom", may_be_empty=True) for e in spare.ends])
    note = clean_name(spare.note, "a note", may_be_empty=True)
    return replace(spare, ends=ends, note=note, loom=_cleaned(spare.loom))


def _cleaned(loom: Loom) -> Loom:
    if loom.pinning not in get_args(Pinning) or loom.screws not in get_args(Screws):
        raise BadValue("how a loom is made up", f"{loom.pinning} {loom.screws}".strip(), "Choose one that is offered.")
    marks = [clean_name(m, "a mark", may_be_empty=True) for m in loom.marks]
    while marks and not marks[-1]:
        marks.pop()
    cleaned = replace(loom, name=clean_name(loom.name, "the name of a loom", may_be_empty=True), marks=tuple(marks))
    for fault in loom_faults(cleaned):
        raise BadValue("how a loom is made up", loom.name, f"That cannot be: {fault}.")
    return cleaned
