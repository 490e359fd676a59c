"""What the window costs: a frame while the run chart scrolls, the longest block of the interface, peak memory.

As a command it is the window that is measured: ``python -m bench.window_cost scroll|block|memory …`` prints JSON.
"""

import json
import os
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import Any

from bench.large_house import large_house
from bench.report import Report
from ennead.demo.skerry import skerry
from ennead.edits.cables import connect
from ennead.edits.session import add_source
from ennead.files.studio_path import write_studio
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import SourceId

#: What must outlive the function that made it: the process ends before it is taken apart.
_kept: list[object] = []
_ROOT = Path(__file__).resolve().parent.parent


def _sources(count: int) -> Studio:
    """Return the demo with more sources, plugged in as far as there are sockets."""
    from ennead.survey.survey import Survey

    studio = skerry()
    taken = {c.end for c in studio.cables.values()}
    free = [
        s.end for s in Survey(studio).input_points if PortEnd(s.unit, s.port.key) not in taken and not s.port.is_digital
    ]
    for number in range(len(studio.session_sources), count):
        studio = add_source(studio, f"Source {number + 1}", group=f"Group {number // 8}")
        if free:
            studio = connect(studio, SourceEnd(SourceId(f"S{studio.counters['S']}")), free.pop(0))
    return studio


def _window(path: Path) -> tuple[Any, Any]:
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.app import STYLE, build_window, prepare

    app = QApplication(["ennead", *STYLE])
    prepare()
    window = build_window(path)
    window.show()
    _settle(app)
    _kept.extend((app, window))
    return app, window


def _settle(app: Any, seconds: float = 0.0) -> None:
    end = time.perf_counter() + seconds
    while True:
        app.processEvents()
        if time.perf_counter() >= end:
            return


def scroll(path: Path) -> dict[str, float]:
    """Scroll the run chart line by line; return the median and the longest time of a frame, ms."""
    app, window = _window(path)
    window.go(5)
    _settle(app, 0.5)
    bar = window.sheets[5].chart.verticalScrollBar()
    frames = []
    for value in list(range(0, bar.maximum(), 9)) + list(range(bar.maximum(), 0, -9)):
        start = time.perf_counter()
        bar.setValue(value)
        app.processEvents()
        frames.append((time.perf_counter() - start) * 1e3)
    return {"frames": len(frames), "median_ms": median(frames), "longest_ms": max(frames)}


def block(path: Path) -> dict[str, float]:
    """Do what a person does with a long list; return the longest time the interface answered nothing, by deed, ms."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from ennead.edits.change import change
    from ennead.edits.session import change_source
    from ennead.studio.subjects import Subject

    app, window = _window(path)
    table = window.table
    _settle(app, 1.5)
    longest = {}
    beats = [time.perf_counter()]
    gap = [0.0]

    def beat() -> None:
        now = time.perf_counter()
        gap[0], beats[0] = max(gap[0], now - beats[0]), now

    timer = QTimer()
    timer.timeout.connect(beat)
    timer.start(0)
    first = table.studio.session_sources[0].id
    last = table.studio.session_sources[-1].id
    QApplication.clipboard().setText("\n".join(f"Pasted {n} OH" for n in range(1_000)))
    session = window.sheets[1]
    deeds: dict[str, Callable[[], object]] = {
        "rename a source": lambda: table.do(change("Rename", change_source, first, name="Another")),
        "select the last source": lambda: table.select(Subject("source", last)),
        "undo": table.undo_stack.undo,
        "go to Lines": lambda: window.go(5),
        "select there": lambda: table.select(Subject("source", first)),
        "rename on Lines": lambda: table.do(change("Rename", change_source, first, name="Yet another")),
        "go to Links": lambda: window.go(3),
        "go to Clock": lambda: window.go(4),
        "go to Rig": lambda: window.go(2),
        "go to Session": lambda: window.go(1),
        "text larger": lambda: window.looks.step(1),
        "text at 100 %": lambda: window.looks.step(0),
        "paste 1,000 sources": lambda: session.paste(QApplication.clipboard().text()),
        "undo the paste": table.undo_stack.undo,
    }
    for name, deed in deeds.items():
        _settle(app, 0.3)
        gap[0], beats[0] = 0.0, time.perf_counter()
        QTimer.singleShot(0, deed)
        _settle(app, 0.6)
        longest[name] = gap[0] * 1e3
    return longest


def memory(path: Path) -> dict[str, float]:
    """Open every sheet; return the peak resident memory, MB."""
    app, window = _window(path)
    for number in (1, 2, 3, 4, 5):
        window.go(number)
        _settle(app, 0.4)
    # What getrusage calls the most a process held begins with what the process held that started it.
    status = Path("/proc/self/status").read_text(encoding="ascii")
    return {"peak_mb": int(re.search(r"VmHWM:\s+(\d+) kB", status)[1]) / 1024}


def _measure(what: str, studio: Studio) -> dict[str, Any]:
    with tempfile.TemporaryDirectory() as held:
        path = Path(held) / "a.ennead"
        write_studio(path, studio)
        env = os.environ | {"XDG_CONFIG_HOME": held, "XDG_DATA_HOME": held, "QT_QPA_PLATFORM": "offscreen"}
        command = [sys.executable, "-m", "bench.window_cost", what, str(path)]
        done = subprocess.run(command, cwd=_ROOT, env=env, capture_output=True, text=True, check=False)
        if not done.stdout.startswith("{"):
            raise RuntimeError(done.stderr)
        found: dict[str, Any] = json.loads(done.stdout)
        return found


def run(report: Report) -> None:
    """Measure all of it, each in a process of its own."""
    report.head("Scrolling the run chart")
    for count in (60, 1_000):
        found = _measure("scroll", _sources(count))
        text = f"{count} sources: {found['median_ms']:.1f} ms a frame, the longest of {found['frames']:.0f} {found['longest_ms']:.1f} ms"
        report.figure(f"scroll_{count}", found, text)
    report.head("The longest the interface answers nothing, 1,000 sources")
    found = _measure("block", _sources(1_000))
    for name, value in found.items():
        report.say(f"  {name}: {value:.0f} ms")
    report.figures["block"] = {k: round(v, 1) for k, v in found.items()}
    worst = max(found, key=lambda k: found[k])
    report.figure("block_longest", round(found[worst], 1), f"longest: {found[worst]:.0f} ms ({worst})", 100.0)
    report.head("Peak memory of the window, every sheet looked at")
    for name, studio in (("demo", skerry()), ("large house", large_house(1.0))):
        peak = _measure("memory", studio)["peak_mb"]
        report.figure(f"memory_{name.replace(' ', '_')}_mb", round(peak, 1), f"{name}: {peak:.0f} MB")


if __name__ == "__main__":
    print(json.dumps({"scroll": scroll, "block": block, "memory": memory}[sys.argv[1]](Path(sys.argv[2]))), flush=True)
    # Nobody is interested in what the window does now.
    os._exit(0)
