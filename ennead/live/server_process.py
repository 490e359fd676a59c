"""The process that talks to the audio server, for one question: its ports, or a take. A server that dies takes no more with it.

It is asked by a line of JSON and what is to be played behind it; it answers by lines of JSON, the last of them with what was
recorded behind it.
"""

import gc
import json
import os
import sys
import threading
import time
from typing import Any, Final

from ennead.live.library import CAPTURE, PLAYBACK, Library, load

#: So long without a cycle, and the server is gone, s.
GONE_S: Final = 2.0
_TELL_S: Final = 0.1
#: Ports are read anew after so long until they stay the same, so often at most.
_LOOK_S, _MOST_LOOKS = 0.25, 8
#: Connections and latencies are settled after so many cycles, and not before so long, s.
_SETTLE_CYCLES, _SETTLE_S = 8, 0.3


class _Ended(Exception):
    """The question is answered, by a line that says so."""


def main() -> None:
    """Answer one question."""
    # Libraries print as they like; what the asker reads must be ours alone.
    answers = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)

    def tell(line: dict[str, Any], raw: bytes = b"") -> None:
        answers.write(json.dumps(line).encode() + b"\n" + raw)
        answers.flush()

    asked = json.loads(sys.stdin.buffer.readline())
    played = sys.stdin.buffer.read()
    tell({"said": "begun"})
    try:
        library = load(asked["library"])
    except OSError as error:
        tell({"end": "no library", "why": str(error)})
        return
    try:
        client = library.jack.Client("ennead", no_start_server=True)
    except library.jack.JackError:
        tell({"end": "no server"})
        return
    tell({"said": "opened"})
    try:
        if asked["what"] == "ports":
            tell({"end": "ports", **_settled_ports(library, client)})
        else:
            _Take(library, client, asked, played, tell).run()
    except library.jack.JackError as error:
        tell({"end": "refused", "why": str(error)})
    except _Ended:
        pass
    # A server that died may never answer a farewell.
    os._exit(0)


def _settled_ports(library: Library, client: Any) -> dict[str, Any]:
    """Return the ports once they stay as they are: some servers tell a new client of them bit by bit."""
    before: dict[str, Any] = {}
    for _ in range(_MOST_LOOKS):
        now = _ports(library, client)
        if now == before:
            break
        before = now
        time.sleep(_LOOK_S)
    return before


def _ports(library: Library, client: Any) -> dict[str, Any]:
    """Return the hardware ports of the server, each way in its own order, with what the driver reports."""

    def row(port: Any, way: int) -> dict[str, Any]:
        aliases = [a for a in port.aliases if a != port.name]
        return {"port": port.name, "alias": aliases[0] if aliases else "", "latency": library.latency(port, way)[1]}

    found = {
        way: client.get_ports(is_audio=True, is_physical=True, is_output=way == CAPTURE, is_input=way == PLAYBACK)
        for way in (CAPTURE, PLAYBACK)
    }
    return {
        "server": library.server,
        "rate_hz": client.samplerate,
        "period": client.blocksize,
        "inputs": [row(p, CAPTURE) for p in found[CAPTURE]],
        "outputs": [row(p, PLAYBACK) for p in found[PLAYBACK]],
    }


class _Take:
    """One take: what is played at some ports while others are recorded."""

    def __init__(self, library: Library, client: Any, asked: dict[str, Any], played: bytes, tell: Any) -> None:
        import numpy as np

        self.library, self.client, self.asked, self.tell = library, client, asked, tell
        self.frames, self.period = asked["frames"], client.blocksize
        self.played = np.frombuffer(played, np.float32).reshape(len(asked["sends"]), self.frames)
        self.recorded = np.zeros((len(asked["returns"]), self.frames), np.float32)
        self.outs = [client.outports.register(f"send_{n + 1}") for n in range(len(asked["sends"]))]
        self.ins = [client.inports.register(f"return_{n + 1}") for n in range(len(asked["returns"]))]
        self.cycles, self.at, self.runs = 0, 0, False
        self.due: int | None = None
        self.broken = ""
        self.interruptions = 0
        self.stopped = threading.Event()

    def run(self) -> None:
        """Play, record and tell."""
        if self.client.samplerate != self.asked["rate_hz"]:
            self._end("rate", rate_hz=self.client.samplerate)
        self.client.set_process_callback(self._cycle)
        self.client.set_xrun_callback(self._interrupted)
        self.client.set_shutdown_callback(lambda *_: self.stopped.set())
        self.client.activate()
        for own, port in zip(self.outs, self.asked["sends"], strict=True):
            self._connect(own, port)
        for own, port in zip(self.ins, self.asked["returns"], strict=True):
            self._connect(port, own)
        self._wait(lambda: self.cycles > _SETTLE_CYCLES, _SETTLE_S)
        reported = [(self._latency(send, PLAYBACK), self._latency(back, CAPTURE)) for send, back in self.asked["pairs"]]
        # No pause of the interpreter while a cycle waits.
        gc.collect()
        gc.disable()
        self.period, self.runs = self.client.blocksize, True
        self._wait(lambda: bool(self.broken) or self.at >= self.frames)
        self.client.deactivate()
        if self.broken:
            self._end("broken", why=self.broken, interruptions=self.interruptions)
        self.tell(
            {"end": "taken", "reported": reported, "interruptions": self.interruptions, "period": self.period},
            self.recorded.tobytes(),
        )

    def _connect(self, source: Any, destination: Any) -> None:
        try:
            self.client.connect(source, destination)
        except self.library.jack.JackError:
            name = source if isinstance(source, str) else destination
            self._end("no port", port=name)

    def _latency(self, name: str, way: int) -> int:
        return self.library.latency(self.client.get_port_by_name(name), way)[1]

    def _wait(self, done: Any, least_s: float = 0.0) -> None:
        """Wait, telling how far it is, until something is done or no cycle comes."""
        start = seen_at = time.monotonic()
        seen = self.cycles
        while not (done() and time.monotonic() - start >= least_s):
            time.sleep(_TELL_S)
            if self.cycles != seen:
                seen, seen_at = self.cycles, time.monotonic()
            if self.stopped.is_set() or time.monotonic() - seen_at > GONE_S:
                self._end("gone")
            self.tell({"said": "part", "part": self.at / self.frames})

    def _end(self, how: str, **more: Any) -> None:
        self.tell({"end": how, **more})
        raise _Ended

    def _interrupted(self, _: float) -> None:
        self.interruptions += 1

    def _cycle(self, frames: int) -> None:
        """Play and record one period; the frame time must go on where the last one ended."""
        self.cycles += 1
        left = min(frames, self.frames - self.at) if self.runs and not self.broken else 0
        if left > 0:
            time_now = self.client.last_frame_time
            if self.due is not None and time_now != self.due:
                self.broken = f"{(time_now - self.due) & 0xFFFFFFFF} samples are missing"
            elif frames != self.period:
                self.broken = f"the period became {frames}"
            self.due = (time_now + frames) & 0xFFFFFFFF
        for out, wave in zip(self.outs, self.played, strict=True):
            buffer = out.get_array()
            buffer[:left] = wave[self.at : self.at + left]
            buffer[left:] = 0.0
        for port, wave in zip(self.ins, self.recorded, strict=True):
            wave[self.at : self.at + left] = port.get_array()[:left]
        self.at += left


if __name__ == "__main__":
    main()
