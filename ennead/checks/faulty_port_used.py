"""Ports out of service are not used, and lines that pass one further on suffer as well."""

from collections.abc import Iterator
from typing import NamedTuple

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.edits.change import change
from ennead.edits.house import clear_fault
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import DestinationId, SourceId, number_of
from ennead.studio.subjects import subject_of
from ennead.survey.paths_onward import passed
from ennead.survey.survey_interface import Parts


class _Over(NamedTuple):
    """What runs over a port."""

    sources: list[SourceId]
    destinations: list[DestinationId]
    plugged: list[Cable]


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every port out of service that a line of this session passes, a note where only a cable is in it."""
    if not survey.faults:
        return
    for end, over in _passed(survey).items():
        names = [
            *(survey.source_by_id[s].name for s in over.sources),
            *(survey.destination_by_id[d].name for d in over.destinations),
        ]
        back = f"Put {survey.end_text(end)} back into service"
        fixes = [
            Fix(f"Find another place for {survey.source_by_id[s].name}", Request("place", s)) for s in over.sources[:3]
        ]
        if over.destinations:
            fixes.append(Fix("Allocate", Request("allocate", over.destinations[0])))
        note = survey.faults[end.unit][end.port]
        cables = [c.id for c in over.plugged]
        subject = next(iter((*over.sources, *over.destinations, *cables)))
        listed = f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else "".join(names)
        yield Finding(
            "faulty_port_used",
            "trouble" if names else "note",
            subject_of(subject),
            (*cables, end.unit, *over.sources, *over.destinations),
            f"{survey.end_text(end)} is out of service: {note}.",
            f"{listed} {'are' if len(names) > 1 else 'is'} planned over it and may crackle or fail."
            if names
            else "A cable is in it; nothing of this session runs over it.",
            (*fixes, Fix(back, change(back, clear_fault, end))),
            (*(f"{c.id}: {survey.cable_text(c)}" for c in over.plugged), f"marked: {note}"),
            cause=at(end),
        )


def _passed(survey: Parts) -> dict[PortEnd, _Over]:
    """Return the ports out of service over which something runs, or in which a cable is."""
    faults = survey.faults
    found: dict[PortEnd, _Over] = {}

    def over(unit: str, port: str) -> _Over | None:
        if port not in faults.get(unit, ()):  # type: ignore[call-overload]
            return None
        return found.setdefault(PortEnd(unit, port), _Over([], [], []))  # type: ignore[arg-type]

    for run in survey.signal_paths:
        for unit, port in passed(run.stops):
            held = over(unit, port)
            if held is not None and run.source is not None and run.source not in held.sources:
                held.sources.append(run.source)
    destinations = {end: d.id for d in survey.destinations for end in d.outputs}
    for run in survey.output_paths:
        key = (
            destinations.get(PortEnd(run.into.unit, run.into.port))
            if run.into is not None and run.into.unit is not None
            else None
        )
        if key is not None:
            for unit, port in passed(run.stops):
                held = over(unit, port)
                if held is not None and key not in held.destinations:
                    held.destinations.append(key)
    for cable in sorted(survey.in_use.values(), key=lambda c: number_of(c.id)):
        for end in cable.plugs:
            held = over(end.unit, end.port) if isinstance(end, PortEnd) else None
            if held is not None:
                held.plugged.append(cable)
    return found
