"""Where a finding, or any subject, is best seen: its sheet, and what is selected there."""

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from ennead.desk.shell.sheet_list import BY_NAME
from ennead.studio.document import Studio
from ennead.studio.house import DestinationEnd, SourceEnd
from ennead.studio.ids import CableId
from ennead.studio.subjects import NOTHING, Subject

if TYPE_CHECKING:
    from ennead.checks.finding import Finding


def seen_at(studio: Studio, subject: Subject) -> Subject:
    """Return what is selected where a subject is to be seen; a cable or a cord is seen at a port it ends in, what is gone nowhere."""
    kind, key = subject.kind, subject.key
    here: dict[str, Mapping[Any, object]] = {
        "source": studio.sources,
        "destination": studio.destinations,
        "unit": studio.units,
        "computer": studio.hosts,
    }
    if kind in here:
        return subject if key in here[kind] else NOTHING
    cord = next((c for c in studio.cords if c.id == key), None) if kind == "cord" else None
    if cord is not None:
        return Subject("port", cord.plugs[0].unit, cord.plugs[0].port)
    if kind == "cable" and studio.has_cable(CableId(key)):
        cable = studio.cable(CableId(key))
        if isinstance(cable.start, SourceEnd):
            return Subject("source", cable.start.source)
        line = cable.start if isinstance(cable.start, DestinationEnd) else cable.end
        return (
            Subject("destination", line.destination)
            if isinstance(line, DestinationEnd)
            else Subject("port", line.unit, line.port)
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
