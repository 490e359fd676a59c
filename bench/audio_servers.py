"""Audio servers of one's own for tests and trials: the JACK server with no hardware, and PipeWire without a session; ended afterwards."""

import fcntl
import os
import signal
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Literal

from ennead.live.errors import NoServer
from ennead.live.server_ports import read_server

Kind = Literal["jack", "pipewire"]
_START_S = 20.0
_END_S = 10.0
_PLACES, _TRIES = 6, 3


@contextmanager
def audio_server(kind: Kind, period: int, rate_hz: int = 48_000) -> Iterator["subprocess.Popen[bytes]"]:
    """Run a server that this process and those it starts will find.

    Raises
    ------
    NoServer
        If it does not come up.
    """
    with tempfile.TemporaryDirectory(prefix="ennead-server-") as folder, _place() as name:
        mine = {"JACK_DEFAULT_SERVER": name} if kind == "jack" else {
            "XDG_RUNTIME_DIR": folder, "PIPEWIRE_RUNTIME_DIR": folder, "JACK_DEFAULT_SERVER": f"{name}-none",
            "XDG_CONFIG_HOME": folder,
        }  # fmt: skip
        _configure(Path(folder), period, rate_hz)
        before = {key: os.environ.get(key) for key in mine}
        os.environ.update(mine)
        command = (
            [
                "jackd",
                "--no-realtime",
                "-n",
                name,
                "-d",
                "dummy",
                "-r",
                str(rate_hz),
                "-p",
                str(period),
                "-C",
                "2",
                "-P",
                "2",
            ]
            if kind == "jack"
            else ["pipewire"]
        )
        # Whoever runs it may be killed: a server that outlives him would hold one of the eight places of the machine.
        command = ["setpriv", "--pdeathsig", "TERM", *command]
        server: subprocess.Popen[bytes] | None = None
        try:
            server = _started(command)
            yield server
        finally:
            if server is not None:
                _end(server)
            for key, value in before.items():
                os.environ.pop(key) if value is None else os.environ.__setitem__(key, value)


@contextmanager
def _place() -> Iterator[str]:
    """Hold one of a few names: a server that was killed keeps its place in the machine's list until its name comes again."""
    for n in range(_PLACES):
        with (Path(tempfile.gettempdir()) / f"ennead-server-{n}.lock").open("w") as lock:
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                continue
            yield f"ennead-{n}"
            return
    raise RuntimeError(f"{_PLACES} audio servers of the tests run already")


def _end(server: "subprocess.Popen[bytes]") -> None:
    """End a server so that it takes its shared memory with it: a machine has room for eight that were merely killed."""
    server.send_signal(signal.SIGCONT)
    server.terminate()
    try:
        server.wait(_END_S)
    except subprocess.TimeoutExpired:
        server.kill()
        server.wait()


def _configure(folder: Path, period: int, rate_hz: int) -> None:
    """Have PipeWire keep to one period and one rate."""
    place = folder / "pipewire" / "pipewire.conf.d"
    place.mkdir(parents=True)
    ways = "".join(f" default.clock.{name}quantum = {period}" for name in ("", "min-", "max-"))
    (place / "period.conf").write_text(f"context.properties = {{ default.clock.rate = {rate_hz}{ways} }}\n")


def _started(command: list[str]) -> "subprocess.Popen[bytes]":
    """Return a server that is up: one that finds the leavings of a killed one ends, and the next finds them no more."""
    for _ in range(_TRIES):
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        start = time.monotonic()
        while server.poll() is None and time.monotonic() - start < _START_S:
            try:
                read_server()
            except NoServer:
                time.sleep(0.2)
            else:
                return server
        _end(server)
    raise NoServer("The audio server of the tests does not come up.")
