"""Run the test modules side by side, one process each, as many at a time as there are processors; the slowest begin first."""

import gc
import importlib
import os
import pkgutil
import re
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
import warnings
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
# Two modules at a time are as many threads as there are processors.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
TIMES = ROOT / "build" / "test-times.txt"


#: Modules that wait for sound to pass in real time: they run beside as many others as there are processors.
WAIT = ("test_live", "test_desk_live")


def known_times() -> dict[str, float]:
    """Return what each module took last time, s."""
    lines = TIMES.read_text(encoding="utf-8").splitlines() if TIMES.is_file() else []
    return {name: float(took) for name, took in (line.split() for line in lines if len(line.split()) == 2)}


def preload() -> None:
    """Import the product and what it stands on, so that the module processes begin with it read."""
    sys.dont_write_bytecode = False
    warnings.simplefilter("error")
    sys.warnoptions[:] = ["error"]
    sys.path.insert(0, str(ROOT))
    for module in pkgutil.walk_packages([str(ROOT / "ennead")], "ennead."):
        if not module.name.endswith("__main__"):
            importlib.import_module(module.name)
    for name in ("hypothesis", "numpy", "PyQt6.QtTest"):
        importlib.import_module(name)
    gc.collect()
    gc.freeze()


def run(module: str, out: Path) -> int:
    """Run one module in a process of its own, what it prints going to a file; return the process's number."""
    child = os.fork()
    if child:
        return child
    said = os.open(out, os.O_WRONLY | os.O_CREAT)
    os.dup2(said, 1)
    os.dup2(said, 2)
    sys.argv[0] = "unittest"
    unittest.main(module=None, argv=["unittest", "--buffer", f"tests.{module}"])
    raise AssertionError("unittest has not left")


def side_by_side(modules: list[str], folder: Path) -> Iterator[tuple[str, float, int, str]]:
    """Run modules, as many at a time as there are processors; yield for each its name, time in s, exit and what it printed."""
    waiting = [m for m in modules[::-1] if m not in WAIT]
    aside = [m for m in modules if m in WAIT]
    running: dict[int, tuple[str, float]] = {}
    while waiting or aside or running:
        busy = sum(module not in WAIT for module, _ in running.values())
        while (waiting and busy < (os.cpu_count() or 1)) or (aside and busy == len(running)):
            module = aside.pop() if aside and busy == len(running) else waiting.pop()
            running[run(module, folder / module)] = module, time.perf_counter()
            busy += module not in WAIT
        child, status = os.wait()
        module, begin = running.pop(child)
        text = (folder / module).read_text(encoding="utf-8", errors="replace")
        yield module, time.perf_counter() - begin, os.waitstatus_to_exitcode(status), text


def main(names: list[str]) -> int:
    """Run the modules named, or all of them; return 1 where a test failed."""
    if os.environ.get("ENNEAD_GOLDEN") == "write":
        # What rules say is written down whole, once all tests that ask them have run: that takes one process.
        asking = [
            path.stem
            for path in sorted((ROOT / "tests").glob("test_*.py"))
            if "findings(" in path.read_text(encoding="utf-8")
        ]
        one = [sys.executable, "-W", "error", "-m", "unittest", "--buffer", *[f"tests.{module}" for module in asking]]
        return subprocess.run(one, cwd=ROOT, check=False).returncode
    times = known_times()
    modules = names or [path.stem for path in (ROOT / "tests").glob("test_*.py")]
    size = {m: (ROOT / "tests" / f"{m}.py").stat().st_size for m in modules}
    modules.sort(key=lambda m: (-times.get(m, 1e3), -size[m]))
    begin, passed, failed = time.perf_counter(), 0, 0
    preload()
    os.chdir(ROOT)
    # A folder that outlives the processes: each of them leaves by the same door, and would take a temporary one away.
    folder = Path(tempfile.mkdtemp())
    for module, took, exit_code, text in side_by_side(modules, folder):
        times[module] = took
        count = int(found[1]) if (found := re.search(r"^Ran (\d+) tests?", text, re.MULTILINE)) else 0
        wrong = sum(int(n) for n in re.findall(r"(?:failures|errors|unexpected successes)=(\d+)", text))
        # A module that was ended, or could not be read, counts as one test that failed.
        wrong = max(wrong, int(exit_code != 0))
        passed, failed = passed + max(0, count - wrong), failed + wrong
        print(f"{'ok  ' if not wrong else 'FAIL'} {module}: {count} tests, {took:.1f} s", flush=True)
        if wrong:
            print(text)
    shutil.rmtree(folder)
    TIMES.parent.mkdir(exist_ok=True)
    TIMES.write_text("".join(f"{m} {t:.1f}\n" for m, t in sorted(times.items())), encoding="utf-8")
    cpu = os.times()
    print(
        f"{time.perf_counter() - begin:.0f} s, of processors {cpu.user + cpu.system + cpu.children_user + cpu.children_system:.0f} s"
    )
    print(f"{passed} passed, {failed} failed")
    return int(failed > 0)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
