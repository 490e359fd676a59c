"""What the running server shows, and how it differs from the plan of a computer: in words, and as the command line prints it."""

from collections.abc import Mapping, Sequence
from typing import Any

from ennead.edits.change import Change, step
from ennead.edits.computer import note_names, set_times
from ennead.live.server_ports import ServerPort, ServerPorts
from ennead.studio.ids import ComputerId
from ennead.survey.numbering import DriverChannel
from ennead.survey.survey import Survey
from ennead.survey.system_names import (
    NameDifference,
    NumberSpan,
    Way,
    channels_of,
    difference_lines,
    first_computer,
    name_differences,
)


def planned_ports(survey: Survey, ports: ServerPorts, computer: ComputerId | None = None) -> ServerPorts:
    """Return the ports of the device whose counts come nearest to those of the plan of a computer.

    Parameters
    ----------
    computer : ComputerId or None
        The first with interfaces where none is given.
    """
    meant = computer if computer is not None else first_computer(survey)
    if meant is None:
        return ports
    planned = channels_of(survey, meant)
    return ports.best_for(len(planned["inputs"]), len(planned["outputs"]))


def compare_ports(survey: Survey, computer: ComputerId, ports: ServerPorts) -> tuple[NameDifference, NameDifference]:
    """Return what differs, inputs first."""
    return name_differences(survey, computer, [p.label for p in ports.inputs], [p.label for p in ports.outputs])


def comparison_lines(survey: Survey, computer: ComputerId, ports: ServerPorts) -> tuple[str, ...]:
    """Return the comparison in words: the rate, then each direction."""
    lines = []
    if ports.rate_hz != survey.rate_hz:
        lines.append(
            f"▲ The server runs at {ports.rate_hz} Hz and the session at {survey.rate_hz} Hz:"
            " its numbers may differ for that."
        )
    for found in compare_ports(survey, computer, ports):
        said = difference_lines(found)
        lines += said if found.agrees else (f"▲ {said[0]}", *said[1:])
    return tuple(lines)


def number_rows(
    survey: Survey, computer: ComputerId | None, ports: ServerPorts
) -> dict[str, list[tuple[str, str, str, str, str]]]:
    """Return every number by direction: the number, its name on the computer, its port, its label in the plan, its latency."""
    planned: Mapping[Way, tuple[DriverChannel, ...]] = (
        channels_of(survey, computer) if computer is not None else {"inputs": (), "outputs": ()}
    )
    found: dict[str, list[tuple[str, str, str, str, str]]] = {}
    listed: tuple[tuple[Way, tuple[ServerPort, ...]], ...] = (("inputs", ports.inputs), ("outputs", ports.outputs))
    for way, here in listed:
        labels = {d.number: f"{survey.units[d.unit].name} · {d.label}" for d in planned[way]}
        theirs = {p.number: p for p in here}
        found[way] = [
            (
                str(n),
                theirs[n].label if n in theirs else "–",
                theirs[n].port if n in theirs else "",
                labels.get(n, "–" if computer is not None else ""),
                f"{theirs[n].latency_samples} samples" if n in theirs else "",
            )
            for n in range(1, max(len(here), len(planned[way])) + 1)
        ]
    return found


def list_text(survey: Survey, computer: ComputerId | None, ports: ServerPorts) -> str:
    """Return the same as lines with tabs, for a spreadsheet."""
    rows = [("direction", "number", "name", "port", "in the plan", "latency")]
    rows += [(way, *row) for way, listed in number_rows(survey, computer, ports).items() for row in listed]
    return "\n".join("\t".join(row) for row in rows)


def note_change(survey: Survey, computer: ComputerId, ports: ServerPorts) -> Change:
    """Return the change that notes what was read on a computer: its names, its buffer and what its driver reports.

    Raises
    ------
    BadValue
        If the server runs at no studio rate.
    """
    inward, outward = reported_each_way(ports)
    known = {name: value for name, value in (("reported_in", inward), ("reported_out", outward)) if value is not None}
    names = [[p.label for p in listed] for listed in (ports.inputs, ports.outputs)]
    return Change(
        f"Note what {survey.studio.hosts[computer].name} shows",
        (
            step(note_names, computer, ports.rate_hz, *names),
            step(set_times, computer, ports.rate_hz, buffer=ports.period, **known),
        ),
    )


def reported_each_way(ports: ServerPorts) -> tuple[int | None, int | None]:
    """Return what the driver reports in and out, samples; None for a way on which its ports differ, or that has none."""
    ways = [{p.latency_samples for p in listed} for listed in (ports.inputs, ports.outputs)]
    inward, outward = (one.pop() if len(one) == 1 else None for one in ways)
    return inward, outward


def difference_row(found: NameDifference) -> dict[str, Any]:
    """Return a direction as the command line prints it."""

    def spans(rows: Sequence[NumberSpan]) -> list[dict[str, Any]]:
        return [{"first": s.first, "last": s.last, "names": s.names} | ({"by": s.by} if s.by else {}) for s in rows]

    return {
        "way": found.way,
        "planned": found.planned,
        "found": found.found,
        "by_name": found.is_named,
        "missing": spans(found.missing),
        "extra": spans(found.extra),
        "moved": spans(found.moved),
    }


def port_row(port: ServerPort) -> dict[str, Any]:
    """Return a port as the command line prints it."""
    return {
        "number": port.number,
        "port": port.port,
        "alias": port.alias or None,
        "latency_samples": port.latency_samples,
    }
