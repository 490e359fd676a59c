"""Where a finding, or any id, is best seen: its sheet and its selection."""

from typing import TYPE_CHECKING

from ennead.desk.shell.sheet_list import BY_NAME
from ennead.drawings.layouts.selection import NOTHING, Selection
from ennead.studio.document import Studio
from ennead.studio.house import DestinationEnd, SourceEnd
from ennead.studio.ids import CableId

if TYPE_CHECKING:
    from ennead.checks.finding import Finding


def selection_of(studio: Studio, key: str) -> Selection:
    """Return the selection an id stands for; a cable is seen at the port it ends in."""
    if key in studio.sources:
        return Selection("source", key)
    if key in studio.destinations:
        return Selection("destination", key)
    if key in studio.units:
        return Selection("unit", key)
    if key in studio.hosts:
        return Selection("computer", key)
    cord = next((c for c in studio.cords if c.id == key), None)
    if cord is not None:
        return Selection("port", cord.plugs[0].unit, cord.plugs[0].port)
    if studio.has_cable(CableId(key)):
        cable = studio.cable(CableId(key))
        if isinstance(cable.start, SourceEnd):
            return Selection("source", cable.start.source)
        line = cable.start if isinstance(cable.start, DestinationEnd) else cable.end
        return (
            Selection("destination", line.destination)
            if isinstance(line, DestinationEnd)
            else Selection("port", line.unit, line.port)
        )
    return NOTHING


def count_by_sheet(findings: "tuple[Finding, ...]") -> dict[int, tuple[int, str]]:
    """Return for each sheet how many findings above a note are open, and the worst severity."""
    from ennead.reports.sheet_of import sheet_of

    counts: dict[int, tuple[int, str]] = {}
    for finding in findings:
        if finding.severity == "note":
            continue
        number = BY_NAME[sheet_of(finding)].number
        count, worst = counts.get(number, (0, finding.severity))
        counts[number] = (count + 1, worst)
    return counts
