"""What a socket can be cabled to, the likeliest first."""

from dataclasses import dataclass

from ennead.edits.cables import connect, misfit
from ennead.edits.change import Change, change
from ennead.rules.source_fits_port import why_unfit
from ennead.studio.house import PortEnd, SourceEnd
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class Partner:
    """One thing a socket can be cabled to.

    Parameters
    ----------
    end : PortEnd or None
        None for a source of the session.
    """

    text: str
    end: PortEnd | None
    change: Change


def connect_change(survey: Survey, one: PortEnd, other: PortEnd) -> Change:
    """Return the change that cables two ports, whichever of them is the output."""
    ways = survey.studio.port(one).direction, survey.studio.port(other).direction
    start, end = (other, one) if ways[0] == "in" or ways[1] == "out" else (one, other)
    names = survey.studio.units[start.unit].name, survey.studio.units[end.unit].name
    return change(f"Connect {names[0]} to {names[1]}", connect, start, end)


def partners(survey: Survey, end: PortEnd) -> tuple[Partner, ...]:
    """Return every free socket, and every source still without an input, that may be cabled to a socket.

    Digital sockets that speak its format come first, then other units in the order of the rig, its own
    unit's sockets last.
    """
    studio, here = survey.studio, survey.studio.port(end)
    full = {end for end in survey.plugs if studio.port(end).direction != "out" or studio.port(end).is_digital}
    found: list[tuple[tuple[bool, bool, int], Partner]] = []
    for unit in studio.units.values():
        for port in studio.profiles[unit.profile].ports:
            there = PortEnd(unit.id, port.key)
            if port.direction in (here.direction, "both") or there in full or port.key in unit.faults:
                continue
            out, into = (port, here) if port.direction == "out" else (here, port)
            if misfit(out, into):
                continue
            agree = survey.views[unit.id].formats[port.key] == survey.views[end.unit].formats[end.port]
            rank = (unit.id == end.unit, not agree, len(found))
            text = f"{unit.name} · {port.label}"
            found.append((rank, Partner(text, there, connect_change(survey, end, there))))
    ranked = [p for _, p in sorted(found, key=lambda f: f[0])]
    return (*_sources(survey, end), *ranked)


def _sources(survey: Survey, end: PortEnd) -> list[Partner]:
    studio, port = survey.studio, survey.studio.port(end)
    found = []
    for run in survey.signal_paths:
        source = studio.source(run.source) if run.source else None
        if source is None or run.gap is None or run.gap.cause != "unplaced" or why_unfit(source, port):
            continue
        if source.kind == "digital" and run.channel > 1:
            continue
        deed = change(f"Plug {run.signal} into {port.label}", connect, SourceEnd(source.id, run.channel), end)
        found.append(Partner(f"{run.signal}  ·  source", None, deed))
    return found
