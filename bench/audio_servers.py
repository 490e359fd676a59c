"""Audio servers of one's own for tests and trials: the JACK server with no hardware, and PipeWire without a session; ended afterwards."""

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


@contextmanager
def audio_server(kind: Kind, period: int, rate_hz: int = 48_000) -> Iterator["subprocess.Popen[bytes]"]:
    """Run a server that this process and those it starts will find.

    Raises
    ------
    NoServer
        If it does not come up.
    """
    with tempfile.TemporaryDirectory(prefix="ennead-server-") as folder:
        name = f"ennead-{os.getpid()}-{period}"
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
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        try:
            _until_up()
            yield server
        finally:
            _end(server)
            for key, value in before.items():
                os.environ.pop(key) if value is None else os.environ.__setitem__(key, value)


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


def _until_up() -> None:
    start = time.monotonic()
    while True:
        try:
            read_server()
        except NoServer:
            if time.monotonic() - start > _START_S:
                raise
            time.sleep(0.2)
        else:
            return
