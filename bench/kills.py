"""Kills a writer at random moments and looks at what is left: nothing said to be done may be lost.

As a command: ``python -m bench.kills storage|window ROUNDS [SEED]`` prints what it found as JSON.
"""

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from itertools import count
from pathlib import Path
from typing import Any

from ennead.demo.skerry import skerry
from ennead.edits.session import add_source
from ennead.files.studio_file import StudioFile

#: The longest a writer is let run after its first edit has been said to be done, s.
_STORAGE_S, _WINDOW_S = 0.04, 0.4
#: Edits after which a new studio is begun, so that rounds stay short.
_ENOUGH = 150
_ROOT = Path(__file__).resolve().parent.parent


def kill_storage(rounds: int, seed: int = 0) -> dict[str, Any]:
    """Kill the storage layer `rounds` times while it commits edit after edit, each time on what was left before.

    The writer is a copy of this process, so that a round costs no start of Python.
    """
    with tempfile.TemporaryDirectory() as held:
        return _rounds(Path(held) / "a.ennead", rounds, random.Random(seed), _STORAGE_S, _forked)


def kill_window(rounds: int, seed: int = 0) -> dict[str, Any]:
    """Kill the whole program, window and all, while edits are made in it; done is what its tally showed as on disk."""
    with tempfile.TemporaryDirectory() as held:
        return _rounds(Path(held) / "a.ennead", rounds, random.Random(seed), _WINDOW_S, _window)


def _rounds(path: Path, rounds: int, dice: random.Random, most_s: float, writer: Any) -> dict[str, Any]:
    StudioFile(path, create=skerry()).close()
    found: dict[str, Any] = {"rounds": rounds, "edits_done": 0, "lost": [], "out_of_order": [], "not_opened": []}
    for number in range(rounds):
        said = writer(path, dice.uniform(0, most_s))
        found["edits_done"] += len(said)
        try:
            file = StudioFile(path)
        except Exception as error:  # noqa: BLE001 - any reason at all is what is looked for
            found["not_opened"].append(f"{number}: {error}")
            StudioFile(path, create=skerry()).close()
            continue
        names = [s.name for s in file.studio.session_sources if s.name.startswith("Edit ")]
        file.close()
        if len(names) > _ENOUGH:
            StudioFile(path, create=skerry()).close()
        if any(f"Edit {n}" not in names for n in said):
            found["lost"].append(number)
        if names != [f"Edit {n}" for n in range(len(names))]:
            found["out_of_order"].append(number)
    return found


def _next(file: StudioFile) -> int:
    return sum(s.name.startswith("Edit ") for s in file.studio.session_sources)


def _forked(path: Path, for_s: float) -> list[int]:
    """Have a copy of this process write, kill it, and return the edits it said were done."""
    come, go = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(come)
        try:
            file = StudioFile(path)
            for n in count(_next(file)):
                file.commit(add_source(file.studio, f"Edit {n}"))
                os.write(go, f"{n}\n".encode())
        finally:
            os._exit(1)
    os.close(go)
    with os.fdopen(come, "rb") as pipe:
        first = pipe.readline()
        time.sleep(for_s)
        os.kill(child, signal.SIGKILL)
        text = first + pipe.read()
    os.waitpid(child, 0)
    return [int(line) for line in text.split()]


def _window(path: Path, for_s: float) -> list[int]:
    env = os.environ | {
        "QT_QPA_PLATFORM": "offscreen",
        "XDG_CONFIG_HOME": str(path.parent),
        "XDG_DATA_HOME": str(path.parent),
    }
    script = [sys.executable, "-c", "from bench.kills import write_in_window; write_in_window()", str(path)]
    writer = subprocess.Popen(script, cwd=_ROOT, env=env, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
    assert writer.stdout is not None
    with writer.stdout as pipe:
        first = pipe.readline()
        time.sleep(for_s)
        writer.send_signal(signal.SIGKILL)
        text = first + pipe.read()
    writer.wait(20)
    return [int(line) for line in text.split()]


def write_in_window() -> None:
    """Open the window on a studio and make an edit every few milliseconds; print each once it is shown as on disk."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.app import STYLE, build_window, prepare
    from ennead.edits.change import change

    app = QApplication(["ennead", *STYLE])
    prepare()
    window = build_window(Path(sys.argv[1]))
    window.show()
    table = window.table
    at = sum(s.name.startswith("Edit ") for s in table.studio.session_sources)
    posted: dict[int, int] = {}

    def edit() -> None:
        number = at + len(posted)
        table.do(change(f"Add {number}", add_source, f"Edit {number}"))
        posted[table.autosave.posted] = number

    # After the tally, which was connected first, has said so.
    table.autosave.kept.connect(lambda done: os.write(1, f"{posted[done]}\n".encode()))
    timer = QTimer()
    timer.timeout.connect(edit)
    timer.start(3)
    app.exec()


if __name__ == "__main__":
    layer, rounds = sys.argv[1], int(sys.argv[2])
    deed = {"storage": kill_storage, "window": kill_window}[layer]
    print(json.dumps(deed(rounds, int(sys.argv[3]) if len(sys.argv) > 3 else 0)))
