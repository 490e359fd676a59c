"""Simulated loops as hardware of the running audio server: what the plan says of them, and the process that plays them."""

import json
import os
import subprocess
import sys
from collections.abc import Mapping, Sequence
from types import TracebackType
from typing import Any, NamedTuple, Self

from ennead.live.errors import NoServer, no_server
from ennead.live.library import library_paths
from ennead.standin.loop_process import NO_LIBRARY, NO_SERVER
from ennead.standin.loop_signal import LoopSettings
from ennead.studio.ids import DestinationId
from ennead.survey.circuits import circuits
from ennead.survey.loop_time import loop_time
from ennead.survey.staircase import staircase
from ennead.survey.survey import Survey


class PlayedLoop(NamedTuple):
    """One loop of the hardware.

    Parameters
    ----------
    sends, returns : tuple of int
        Numbers of the ports, from 1, as many returns as sends.
    """

    sends: tuple[int, ...]
    returns: tuple[int, ...]
    settings: LoopSettings


class PlayedHardware(NamedTuple):
    """What is played.

    Parameters
    ----------
    outputs, inputs : int
        How many ports the computer sees each way.
    output_labels, input_labels : tuple of str
    playback, capture : int, samples
        What its driver reports.
    """

    loops: tuple[PlayedLoop, ...]
    outputs: int
    inputs: int
    output_labels: tuple[str, ...] = ()
    input_labels: tuple[str, ...] = ()
    playback: int = 0
    capture: int = 0


#: How late a loop is of which the plan states nothing, samples.
_UNSTATED = 262.0


def hardware_of(survey: Survey, period: int, changed: Mapping[DestinationId, Mapping[str, Any]]) -> PlayedHardware:
    """Return the hardware of a plan: all its driver numbers, its closed loops between them as late and as loud as is stated.

    Parameters
    ----------
    period : int, samples
        Of the server, in the place of the buffer that is planned: once for the way out and once for the way in. One of
        them passes in the server itself, which gives the loop back in its next period.
    changed : mapping of DestinationId to mapping of str to any
        Settings that are set wrong on purpose, by loop.
    """
    numbers = survey.numbering
    times = next((c.times_at(survey.rate_hz) for c in survey.computers.values()), None)
    buffer = (times.buffer if times is not None else None) or 0
    loops = []
    for circuit in survey.once(circuits):
        if not circuit.closed:
            continue
        time = loop_time(survey, circuit)
        hardware = time.round_trip - 2.0 * buffer if time is not None and time.round_trip is not None else _UNSTATED
        levels = staircase(survey, circuit, circuit.channels[0])
        gain = levels.returned_dbfs - levels.sent_dbfs if levels.returned_dbfs is not None else 0.0
        settings = LoopSettings(float(period + round(hardware)), round(gain, 2))._replace(
            **changed.get(circuit.loop.id, {})
        )
        pairs = [(c.out.number, c.back.number) for c in circuit.channels if c.out is not None and c.back is not None]
        loops.append(PlayedLoop(tuple(a for a, _ in pairs), tuple(b for _, b in pairs), settings))
    return PlayedHardware(
        tuple(loops),
        len(numbers.outputs),
        len(numbers.inputs),
        tuple(d.label for d in numbers.outputs),
        tuple(d.label for d in numbers.inputs),
        _reported(times.reported_out, buffer, period) if times is not None else period,
        _reported(times.reported_in, buffer, period) if times is not None else period,
    )


def _reported(stated: int | None, buffer: int, period: int) -> int:
    """Return what a driver reports one way with another buffer than the planned one."""
    return period + max(0, (stated if stated is not None else buffer) - buffer)


class LoopPlayer:
    """Hardware that plays until it is closed.

    Parameters
    ----------
    ready : str
        Its name at the server, the rate and the period.

    Raises
    ------
    NoServer
    """

    def __init__(self, hardware: PlayedHardware, name: str = "stand-in") -> None:
        told = {
            "name": name,
            **hardware._asdict(),
            "loops": [
                {"sends": loop.sends, "returns": loop.returns, "settings": loop.settings._asdict()}
                for loop in hardware.loops
            ],
        }
        self._process, self.ready = _started(told)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def wait(self) -> None:
        """Wait until it ends by itself, as it does when the server goes."""
        self._process.wait()

    def close(self) -> None:
        """Stop playing."""
        self._process.kill()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                pipe.close()
        self._process.wait()


def _started(told: dict[str, Any]) -> tuple["subprocess.Popen[str]", str]:
    paths: Sequence[str] = library_paths()
    missing = 0
    for path in paths:
        process = subprocess.Popen(
            [sys.executable, "-m", "ennead.standin.loop_process"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
        )
        assert process.stdin is not None and process.stdout is not None  # noqa: S101, PT018 - pipes were asked for
        process.stdin.write(json.dumps({**told, "library": path}) + "\n")
        process.stdin.flush()
        ready = process.stdout.readline()
        if ready.startswith("ready"):
            return process, ready.removeprefix("ready ").strip()
        status = process.wait()
        process.stdin.close()
        process.stdout.close()
        missing += status == NO_LIBRARY
        if status not in (NO_LIBRARY, NO_SERVER):
            raise NoServer("The simulated hardware could not be played.")
    raise no_server(has_library=missing < len(paths))
