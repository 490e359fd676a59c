"""Ports out of service are not used."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.edits.change import change
from ennead.edits.house import clear_fault
from ennead.rules.port_in_service import fault_note
from ennead.studio.house import PortEnd, SourceEnd
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield trouble for every cable with an end in a port out of service."""
    studio = survey.studio
    if not survey.faults:
        return
    for cable in studio.cables.values():
        source = cable.start.source if isinstance(cable.start, SourceEnd) else None
        if not studio.is_active(cable):
            continue
        for end in (cable.start, cable.end):
            note = fault_note(studio, end) if isinstance(end, PortEnd) else ""
            if not note or not isinstance(end, PortEnd):
                continue
            back = f"Put {studio.end_text(end)} back into service"
            fixes = [Fix(back, change(back, clear_fault, end))]
            if source is not None:
                fixes.insert(0, Fix(f"Find another place for {studio.sources[source].name}", Wish("place", source)))
            yield Finding(
                "faulty_port_used",
                "trouble",
                "Lines" if source is not None else "Rig",
                source or cable.id,
                (cable.id, end.unit, *((source,) if source else ())),
                f"{studio.end_text(end)} is out of service: {note}.",
                f"{studio.end_text(cable.start)} is planned over it and may crackle or fail.",
                tuple(fixes),
                (f"{cable.id}: {studio.end_text(cable.start)} → {studio.end_text(cable.end)}", f"marked: {note}"),
            )
