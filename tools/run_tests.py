"""Run the test modules side by side, one process each, as many at a time as there are processors; the slowest begin first."""

import os
import re
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
TIMES = ROOT / "build" / "test-times.txt"


def known_times() -> dict[str, float]:
    """Return what each module took last time, s."""
    lines = TIMES.read_text(encoding="utf-8").splitlines() if TIMES.is_file() else []
    return {name: float(took) for name, took in (line.split() for line in lines if len(line.split()) == 2)}


def run(module: str) -> tuple[str, float, subprocess.CompletedProcess[str]]:
    """Run one module as a process of its own, warnings being errors."""
    begin = time.perf_counter()
    command = [sys.executable, "-W", "error", "-m", "unittest", "--buffer", f"tests.{module}"]
    # What one process has compiled the others need not compile again.
    env = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    done = subprocess.run(
        command, cwd=ROOT, env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, check=False
    )
    return module, time.perf_counter() - begin, done


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
    with ThreadPoolExecutor(os.cpu_count() or 1) as workers:
        for module, took, done in workers.map(run, modules):
            times[module] = took
            count = int(found[1]) if (found := re.search(r"^Ran (\d+) tests?", done.stdout, re.MULTILINE)) else 0
            wrong = sum(int(n) for n in re.findall(r"(?:failures|errors|unexpected successes)=(\d+)", done.stdout))
            # A module that was ended, or could not be read, counts as one test that failed.
            wrong = max(wrong, int(done.returncode != 0))
            passed, failed = passed + max(0, count - wrong), failed + wrong
            print(f"{'ok  ' if not wrong else 'FAIL'} {module}: {count} tests, {took:.1f} s", flush=True)
            if wrong:
                print(done.stdout)
    TIMES.parent.mkdir(exist_ok=True)
    TIMES.write_text("".join(f"{m} {t:.1f}\n" for m, t in sorted(times.items())), encoding="utf-8")
    cpu = os.times()
    print(f"{time.perf_counter() - begin:.0f} s, of processors {cpu.children_user + cpu.children_system:.0f} s")
    print(f"{passed} passed, {failed} failed")
    return int(failed > 0)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
