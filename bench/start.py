"""From the start of the process to the first paint of the window: Ennead with the demo against a bare window."""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from statistics import median

from bench.report import Report
from ennead.demo.skerry import skerry
from ennead.files.studio_path import write_studio

_ROOT = Path(__file__).resolve().parent.parent

#: Both stop at the same point: the first turn of the event loop after the window has been painted.
_BARE = """
import os, sys
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMainWindow
class Bare(QMainWindow):
    def paintEvent(self, event):
        QTimer.singleShot(0, lambda: (os.write(1, b"x"), os._exit(0)))
app = QApplication(["bare"])
window = Bare()
window.resize(1280, 800)
window.show()
app.exec()
"""
_OURS = """
import os, sys
from PyQt6.QtCore import QTimer
from ennead.desk.shell import app
made = app.build_window
def build(*given):
    window = made(*given)
    window.table.settle = lambda: (os.write(1, b"x"), os._exit(0))
    return window
app.build_window = build
sys.argv[0] = "ennead"
from ennead.__main__ import main
main()
"""
#: The same, until what follows from the studio is worked out and shown as well.
_SETTLED = _OURS.replace("window.table.settle = ", "window.table.settled.connect(").replace(
    "os._exit(0))", "os._exit(0)))"
)
_HEAVY = "numpy", "networkx", "pydantic", "scipy", "openpyxl"


def _once(program: str, *arguments: str, env: dict[str, str]) -> float:
    start = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-c", program, *arguments],
        cwd=_ROOT,
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    with process.stdout as pipe:
        if pipe.read(1) != b"x":
            raise RuntimeError("the window was never painted")
    taken = time.perf_counter() - start
    process.wait()
    return taken


def run(report: Report, platforms: dict[str, dict[str, str]], rounds: int = 25) -> None:
    """Measure on each platform by turns."""
    report.head("Start of the whole process to first paint, with the demo")
    with tempfile.TemporaryDirectory() as held:
        path = Path(held) / "demo.ennead"
        write_studio(path, skerry())
        for platform, variables in platforms.items():
            env = os.environ | {"XDG_CONFIG_HOME": held, "XDG_DATA_HOME": held, **variables}
            # As on a machine where the program is installed its modules are compiled: the first of these starts does it.
            env.pop("PYTHONDONTWRITEBYTECODE", None)
            for program, arguments in ((_BARE, ()), (_OURS, (str(path),))) * 2:
                _once(program, *arguments, env=env)
            bare, ours = [], []
            for _ in range(rounds):
                bare.append(_once(_BARE, env=env))
                ours.append(_once(_OURS, str(path), env=env))
            ratio = median(ours) / median(bare)
            text = f"{platform}: {median(ours) * 1e3:.0f} ms against {median(bare) * 1e3:.0f} ms for a bare window: {ratio:.2f}"
            report.figure(f"start_{platform}", round(ratio, 3), text, 3.0 if platform == "screen" else None)
            whole = median(_once(_SETTLED, str(path), env=env) for _ in range(5)) / median(bare)
            report.figure(
                f"start_settled_{platform}",
                round(whole, 3),
                f"{platform}: until findings and figures stand too: {whole:.2f}",
            )
        env = os.environ | {"XDG_CONFIG_HOME": held, "XDG_DATA_HOME": held, "QT_QPA_PLATFORM": "offscreen"}
        listing = _OURS.replace('os.write(1, b"x")', f"print([m for m in {_HEAVY} if m in sys.modules], flush=True)")
        loaded = subprocess.run(
            [sys.executable, "-c", listing, str(path)], cwd=_ROOT, env=env, capture_output=True, text=True, check=True
        ).stdout.strip()
        report.figure("heavy_modules_at_start", loaded, f"of {', '.join(_HEAVY)} are loaded by then: {loaded}")
