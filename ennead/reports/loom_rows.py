"""Looms in words: those that lie between boxes, line by line, and those in the drawer."""

from typing import NamedTuple

from ennead.edits.looms import ends_of, is_loom, lines_of
from ennead.standards.multipin import AES59, Contacts
from ennead.studio.document import Studio
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import CableId
from ennead.studio.looms import Loom
from ennead.studio.pieces import joined_lanes
from ennead.survey.survey import survey_of


class LoomLine(NamedTuple):
    """One line of a loom.

    Parameters
    ----------
    contacts : Contacts or None
        Where it is on a multipin, where that is known.
    start, end : str
        What it runs between; empty in a drawer.
    """

    number: int
    mark: str
    contacts: Contacts | None
    start: str = ""
    end: str = ""


class LoomRow(NamedTuple):
    """A loom.

    Parameters
    ----------
    cable : CableId or None
        None for one in the drawer.
    spare : int
        Its place in the drawer from 0, or -1.
    words : str
        What it runs between, or what is on its ends.
    multipin : bool
        Whether an end of it is a multipin.
    """

    cable: CableId | None
    spare: int
    name: str
    words: str
    loom: Loom
    length_m: float | None
    multipin: bool
    lines: tuple[LoomLine, ...]
    note: str = ""


def loom_rows(studio: Studio) -> list[LoomRow]:
    """Return the looms of the plan on that session, and then those in the drawer."""
    rows = [_of_cable(studio, c) for c in survey_of(studio).in_use.values() if is_loom(studio, c)]
    for at, spare in enumerate(studio.spares):
        multipin = any("multipin" in e.casefold() or "db25" in e.casefold() for e in spare.ends)
        lines = tuple([LoomLine(n, *_made(spare.loom, n, multipin=multipin)) for n in range(1, spare.lanes + 1)])
        words = f"{spare.lanes} lines, {' to '.join(e or 'open' for e in spare.ends) or 'ends not stated'}"
        name = spare.loom.name or f"spare {at + 1}"
        rows.append(LoomRow(None, at, name, words, spare.loom, spare.length_m, multipin, lines, spare.note))
    return rows


def _of_cable(studio: Studio, cable: Cable) -> LoomRow:
    loom = cable.loom or Loom()
    multipin = any(isinstance(p, PortEnd) and studio.port(p).wiring == "multi" for p in cable.plugs)
    lines = []
    if cable.wires:
        for number, group in enumerate(sorted(joined_lanes(cable, studio.port), key=min), start=1):
            ends = [_end(studio, cable, at, lane) for at, lane in sorted(group)]
            lanes = [lane for at, lane in sorted(group) if _is_multipin(studio, cable, at)]
            lane = lanes[0] if lanes else number
            lines.append(LoomLine(lane, *_made(loom, lane, multipin=multipin), ends[0], ", ".join(ends[1:])))
    else:
        for lane in range(1, lines_of(studio, cable) + 1):
            ends = [_end(studio, cable, at, lane) for at in (0, 1)]
            lines.append(LoomLine(lane, *_made(loom, lane, multipin=multipin), *ends))
    kinds = " to ".join(ends_of(studio, cable))
    return LoomRow(
        cable.id, -1, loom.name or str(cable.id), kinds, loom, cable.length_m, multipin, tuple(lines), cable.note
    )


def _is_multipin(studio: Studio, cable: Cable, at: int) -> bool:
    plug = cable.plugs[at]
    return isinstance(plug, PortEnd) and studio.port(plug).channels > 1


def _end(studio: Studio, cable: Cable, at: int, lane: int) -> str:
    plug = cable.plugs[at]
    if not isinstance(plug, PortEnd):
        return studio.line_text(plug)
    return studio.end_text(plug) + (f" {lane}" if studio.port(plug).channels > 1 else "")


def _made(loom: Loom, lane: int, *, multipin: bool) -> tuple[str, Contacts | None]:
    mark = loom.marks[lane - 1] if lane <= len(loom.marks) else ""
    known = multipin and loom.pinning == "aes59" and lane <= len(AES59)
    return mark, AES59[lane - 1] if known else None


def contacts_text(contacts: Contacts | None) -> str:
    """Return the contacts of a line as words: ``hot 24, cold 12, shield 25``."""
    return f"hot {contacts.hot}, cold {contacts.cold}, shield {contacts.shield}" if contacts is not None else ""
