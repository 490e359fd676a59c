"""Loops of the plan at the running server: the ports behind their driver numbers, and what a take of them says."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ennead.live.errors import BadTake
from ennead.live.server_ports import ServerPort, ServerPorts
from ennead.live.taking import LiveTake, LoopPorts
from ennead.measure.loop_reading import ChannelReading
from ennead.measure.ping_signal import MOST_CHANNELS
from ennead.reports.computer_reading import planned_ports
from ennead.reports.loop_rows import numbers_text
from ennead.reports.ping_rows import reading_lines, reading_row
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId
from ennead.survey.circuits import Circuit, circuits
from ennead.survey.survey import Survey


def closed_circuits(survey: Survey, loops: Sequence[DestinationId] = ()) -> list[Circuit]:
    """Return the loops that go round: those named, or all of the scene.

    Raises
    ------
    BadValue
        If one that is named does not go round, or none does.
    """
    by_loop = {c.loop.id: c for c in survey.once(circuits)}
    wanted = [by_loop[loop] for loop in loops] if loops else [c for c in by_loop.values() if c.closed]
    for circuit in wanted:
        if not circuit.closed:
            raise BadValue(
                "measured", circuit.loop.name, "It does not go round as planned: see what the loops sheet says of it."
            )
    if not wanted:
        raise BadTake("No loop goes round on this session and scene.", "Choose another, or name a loop.")
    return wanted


def loops_ports(survey: Survey, circuits: Sequence[Circuit], ports: ServerPorts) -> ServerPorts:
    """Return the ports of the device that the driver numbers of loops are of.

    Raises
    ------
    BadTake
        If they are of several computers.
    """
    of_units = survey.numbering.computer_of
    computers = list(dict.fromkeys(of_units[d.unit] for c in circuits for d in (*c.sends, *c.returns)))
    if len(computers) > 1:
        raise BadTake("These loops are of several computers.", "Measure those of one, on that computer.")
    return planned_ports(survey, ports, computers[0] if computers else None)


def loop_ports(circuit: Circuit, ports: ServerPorts) -> LoopPorts:
    """Return the ports of a loop by its driver numbers.

    Raises
    ------
    BadTake
        If the server has not so many.
    """
    name = circuit.loop.name
    sends = [_port(ports.outputs, d.number, "output", name) for d in circuit.sends]
    returns = [_port(ports.inputs, d.number, "input", name) for d in circuit.returns]
    if len(sends) > MOST_CHANNELS:
        raise BadTake(f"{name} is sent by {len(sends)} channels.", f"{MOST_CHANNELS} at most are measured at once.")
    return LoopPorts(name, tuple(sends), tuple(returns))


def _port(ports: Sequence[ServerPort], number: int, what: str, loop: str) -> str:
    if number > len(ports):
        raise BadTake(
            f"{loop} uses {what} {number}, and the computer shows {len(ports)}.",
            "Read this computer, and put the plan or the interface right.",
        )
    return ports[number - 1].port


def ports_text(circuit: Circuit) -> str:
    """Return a loop with the driver numbers that it goes out and comes back by."""
    sends, returns = (numbers_text([d.number for d in drivers]) for drivers in (circuit.sends, circuit.returns))
    return f"{circuit.loop.name}: out by {sends}, back by {returns}"


def server_text(survey: Survey, ports: ServerPorts) -> str:
    """Return what a server is and offers, and where it is set otherwise than planned."""
    said = (
        f"{ports.server} at {ports.rate_hz} Hz with {ports.period} samples a period:"
        f" {len(ports.outputs)} outputs and {len(ports.inputs)} inputs."
    )
    if ports.rate_hz != survey.rate_hz:
        return f"▲ {said} The session runs at {survey.rate_hz} Hz: set one of them to the other’s rate."
    buffers = {c.times_at(survey.rate_hz).buffer for c in survey.computers.values()} - {None}
    if buffers and ports.period not in buffers:
        planned = " or ".join(str(b) for b in sorted(b for b in buffers if b is not None))
        return f"▲ {said} The plan says {planned}: what is measured holds for {ports.period}."
    return said


def take_rows(take: LiveTake) -> list[dict[str, Any]]:
    """Return the channels of a take as the command line prints them."""
    return [
        {
            "loop": take.ports.loop,
            **reading_row(reading, take.rate_hz),
            "reported_samples": reported if reading.delay_samples is not None else None,
            "residual_samples": left.delay_samples,
            "takes": len(take.refused) + 1 if reading.delay_samples is not None else len(take.refused),
        }
        for reading, left, reported in zip(take.readings, take.residuals, take.reported, strict=True)
    ]


def take_lines(take: LiveTake, channel: int) -> tuple[str, ...]:
    """Return what a channel of a take says in words, the delay first; from 0."""
    reading, reported = take.readings[channel], take.reported[channel]
    lines = list(reading_lines(reading, take.rate_hz))
    if reading.delay_samples is None:
        return tuple(lines)
    left = reading.delay_samples - reported
    said = f"the driver reports {reported} samples: {left:.3f} are left over, to be entered in the software"
    if left < 0:
        said += (
            "; below zero the driver reports converters that the loop does not pass: where no such offset can be"
            " entered, move the recorded track by hand"
        )
    lines.insert(2, said.replace("-", "−"))
    if take.refused:
        again = f"{len(take.refused)} takes" if len(take.refused) > 1 else "1 take"
        lines.append(f"{again} before it refused: {take.refused[-1]}")
    if take.interruptions:
        lines.append(f"the server announced {take.interruptions} interruptions; the take is whole all the same")
    return tuple(lines)


def nudged(take: LiveTake, off: float) -> list[ChannelReading]:
    """Return what is left over of each channel, less what was nudged by hand, samples."""
    return [
        replace(r, delay_samples=r.delay_samples - off if r.delay_samples is not None else None) for r in take.residuals
    ]
