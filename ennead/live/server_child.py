"""The asking side of the server process: started, listened to, ended; every library that may serve is tried."""

import json
import logging
import os
import selectors
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from typing import IO, Any, Final, NamedTuple

from ennead.live.errors import BadTake, ServerGone, no_server
from ennead.live.library import library_paths
from ennead.studio.errors import EnneadError

#: The process itself gives a server up after 2 s; one that says nothing for longer hangs in the server's library.
_SILENT_S: Final = 4.0
#: An interpreter starts, on a busy machine.
_START_S: Final = 30.0
_LOOK_S: Final = 0.1
_MOST_SIGNS: Final = 4_000


class Answer(NamedTuple):
    """What the process answered.

    Parameters
    ----------
    said : dict
    raw : bytes
        What was recorded.
    """

    said: dict[str, Any]
    raw: bytes = b""


def ask(question: dict[str, Any], played: bytes = b"", progress: Callable[[float], None] = lambda _: None) -> Answer:
    """Ask the server, by whichever library reaches it.

    Parameters
    ----------
    progress : callable
        Told the part that is done, some times a second; what it raises ends the work.

    Raises
    ------
    NoServer, ServerGone, BadTake
    """
    missing = 0
    paths = library_paths()
    for path in paths:
        answer = _asked({**question, "library": path}, played, progress)
        how = answer.said["end"]
        if how == "no library":
            missing += 1
        elif how != "no server":
            return _checked(answer, how)
    raise no_server(has_library=missing < len(paths))


def _checked(answer: Answer, how: str) -> Answer:
    """Return an answer that is none of the ways to fail."""
    if how == "gone":
        raise ServerGone
    if how == "rate":
        raise BadTake(
            f"The audio server runs at {answer.said['rate_hz']} Hz.",
            "Set it to the rate of the session, or the session to its.",
        )
    if how == "no port":
        raise BadTake(
            f"The audio server has no port “{answer.said['port']}”.", "Read this computer, and choose another port."
        )
    if how == "refused":
        raise BadTake("The audio server refuses the take.", f"It says: {answer.said['why']}")
    return answer


def _asked(question: dict[str, Any], played: bytes, progress: Callable[[float], None]) -> Answer:
    with tempfile.TemporaryFile() as complaints:
        process = subprocess.Popen(
            [sys.executable, "-m", "ennead.live.server_process"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=complaints,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
        )
        try:
            answer = _listened(process, json.dumps(question).encode() + b"\n" + played, progress)
            if answer is None:
                raise _silent(process.wait(), complaints)
            return answer
        finally:
            process.kill()
            for pipe in (process.stdin, process.stdout):
                if pipe is not None and not pipe.closed:
                    pipe.close()
            process.wait()


def _listened(process: "subprocess.Popen[bytes]", question: bytes, progress: Callable[[float], None]) -> Answer | None:
    """Return the last line of a process and what stands behind it; None where it ended without one."""
    assert process.stdin is not None and process.stdout is not None  # noqa: S101, PT018 - pipes were asked for
    lines, ended, heard, patience, part = b"", False, time.monotonic(), _START_S, 0.0
    out, into = process.stdout.fileno(), process.stdin.fileno()
    os.set_blocking(into, False)
    with selectors.DefaultSelector() as waiting:
        waiting.register(out, selectors.EVENT_READ)
        waiting.register(into, selectors.EVENT_WRITE)
        while not ended:
            progress(part)
            for key, _ in waiting.select(_LOOK_S):
                if key.fd == into:
                    question = _written(into, question)
                    if not question:
                        waiting.unregister(into)
                        process.stdin.close()
                    continue
                new = os.read(out, 2**20)
                ended = not new
                lines, heard = lines + new, time.monotonic()
            while (cut := lines.find(b"\n")) >= 0:
                said = json.loads(lines[:cut])
                if "end" in said:
                    return Answer(said, lines[cut + 1 :] + _rest(out) if said["end"] == "taken" else b"")
                lines = lines[cut + 1 :]
                patience, part = _SILENT_S, said.get("part", part)
            if time.monotonic() - heard > patience:
                raise ServerGone
    return None


def _silent(status: int, complaints: IO[bytes]) -> EnneadError:
    """Return what is to be said of a process that ended without an answer; what it complained of goes to the log of faults."""
    complaints.seek(0)
    said = complaints.read().decode(errors="replace")[-_MOST_SIGNS:]
    logging.getLogger("ennead").error("the process of the audio server ended with %d: %s", status, said)
    # A server that dies takes its clients with it, now and then.
    if status < 0:
        return ServerGone()
    return BadTake("The process that talks to the audio server ended without an answer.", "Repeat it.")


def _written(into: int, left: bytes) -> bytes:
    """Write what a pipe takes and return what is left."""
    try:
        return left[os.write(into, left[: 2**16]) :]
    except BrokenPipeError:
        return b""


def _rest(out: int) -> bytes:
    parts = []
    while new := os.read(out, 2**20):
        parts.append(new)
    return b"".join(parts)
