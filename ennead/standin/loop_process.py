"""The process in which simulated loops play the hardware of an audio server: their ports, and what they declare of their latency.

It is told what to play by a line of JSON, and plays until its input ends.
"""

import json
import os
import sys
import threading
from typing import Any, Final

import numpy as np

from ennead.live.library import CAPTURE, PLAYBACK, load
from ennead.standin.live_loop import LiveLoop
from ennead.standin.loop_signal import LoopSettings

#: Exit statuses: no such library, no server that it reaches.
NO_LIBRARY: Final = 3
NO_SERVER: Final = 4


def main() -> None:
    """Play until the input ends."""
    told = json.loads(sys.stdin.readline())
    try:
        library = load(told["library"])
    except OSError:
        sys.exit(NO_LIBRARY)
    try:
        client = library.jack.Client(told["name"], no_start_server=True)
    except library.jack.JackError:
        sys.exit(NO_SERVER)
    heard = [
        client.inports.register(f"playback_{n + 1}", is_terminal=True, is_physical=True) for n in range(told["outputs"])
    ]
    given = [
        client.outports.register(f"capture_{n + 1}", is_terminal=True, is_physical=True) for n in range(told["inputs"])
    ]
    for ports, labels in ((heard, told["output_labels"]), (given, told["input_labels"])):
        for port, label in zip(ports, labels, strict=False):
            port.set_alias(label)
    loops = [
        (
            loop["sends"],
            loop["returns"],
            LiveLoop(_settings(loop["settings"]), len(loop["sends"]), client.samplerate, n),
        )
        for n, loop in enumerate(told["loops"])
    ]

    def cycle(_: int) -> None:
        for port in given:
            port.get_array()[:] = 0.0
        for sends, returns, loop in loops:
            sent = np.stack([heard[n - 1].get_array() for n in sends], axis=1).astype(float)
            back = loop.play(sent)
            for channel, n in enumerate(returns):
                given[n - 1].get_array()[:] += back[:, channel].astype(np.float32)

    ended = threading.Event()
    client.set_process_callback(cycle)
    client.set_shutdown_callback(lambda *_: ended.set())
    kept = library.declare_latency(
        client, {CAPTURE: given, PLAYBACK: heard}, {CAPTURE: told["capture"], PLAYBACK: told["playback"]}
    )
    client.activate()
    print("ready", client.name, client.samplerate, client.blocksize, flush=True)  # noqa: T201 - to the asker alone
    threading.Thread(target=_until_left, args=(ended,), daemon=True).start()
    ended.wait()
    del kept
    os._exit(0)


def _until_left(ended: threading.Event) -> None:
    """Wait until the asker is gone."""
    sys.stdin.read()
    ended.set()


def _settings(told: dict[str, Any]) -> LoopSettings:
    many = ("slips", "gaps")
    tuples: dict[str, Any] = {
        key: tuple(map(tuple, value)) if key in many else tuple(value) if isinstance(value, list) else value
        for key, value in told.items()
    }
    return LoopSettings(**tuples)


if __name__ == "__main__":
    main()
