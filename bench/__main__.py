"""``make bench``: every measured promise in one run, printed and stored as text and JSON."""

import argparse
import os
import shutil
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from bench import (
    allocation_cost,
    arrangements,
    bays_cost,
    changeovers,
    clock_cost,
    clock_rigs,
    commit_cost,
    edits_cost,
    evenings,
    floods,
    live_takes,
    measured_loops,
    outcomes_cost,
    print_passes,
    start,
    survey_cost,
    window_cost,
    wired_loops,
)
from bench.kills import kill_storage, kill_window
from bench.report import Report


@contextmanager
def _screen() -> Iterator[dict[str, dict[str, str]]]:
    """Start a screen server where there is one; yield the platforms to measure on."""
    platforms = {"offscreen": {"QT_QPA_PLATFORM": "offscreen"}}
    if shutil.which("Xvfb") is None:
        yield platforms
        return
    come, go = os.pipe()
    with subprocess.Popen(
        ["Xvfb", "-displayfd", str(go), "-screen", "0", "1400x900x24"], pass_fds=(go,), stderr=subprocess.DEVNULL
    ) as server:
        os.close(go)
        with os.fdopen(come) as pipe:
            number = pipe.readline().strip()
        try:
            yield {"screen": {"QT_QPA_PLATFORM": "xcb", "DISPLAY": f":{number}"}, **platforms}
        finally:
            server.terminate()


def _kills(report: Report, rounds: int) -> None:
    report.head("Killed at random moments: edits shown as done that were lost, files that did not open")
    for name, deed, times in (("storage", kill_storage, rounds), ("window", kill_window, max(10, rounds // 20))):
        found = deed(times)
        # Where nothing was done, nothing was tried.
        bad = len(found["lost"]) + len(found["out_of_order"]) + len(found["not_opened"]) + (not found["edits_done"])
        text = f"{name}: {times} kills, {found['edits_done']} edits done, {bad} times something was wrong"
        report.figure(f"kills_{name}", bad, text, 0)


def _start(report: Report) -> None:
    with _screen() as platforms:
        start.run(report, platforms)


def _deeds(report: Report, given: argparse.Namespace) -> list[tuple[str, Callable[[], None]]]:
    """Return what each part does, in the order in which the parts disturb each other least."""
    return [
        ("survey", lambda: survey_cost.run(report)),
        # Beside the survey without bays: what other parts leave in memory slows one side more than the other.
        ("bays", lambda: bays_cost.survey(report)),
        ("edits", lambda: edits_cost.run(report)),
        ("outcomes", lambda: outcomes_cost.run(report)),
        ("clock", lambda: clock_cost.run(report)),
        ("allocation", lambda: allocation_cost.run(report)),
        ("commit", lambda: commit_cost.run(report, given.out)),
        ("window", lambda: window_cost.run(report)),
        ("start", lambda: _start(report)),
        ("bays", lambda: bays_cost.run(report)),
        ("kills", lambda: _kills(report, given.kills)),
        ("evenings", lambda: evenings.run(report, given.evenings)),
        ("changeovers", lambda: changeovers.run(report, given.evenings // 2)),
        ("arrangements", lambda: arrangements.run(report, given.evenings)),
        ("floods", lambda: floods.run(report, 3 * given.evenings)),
        ("loops", lambda: wired_loops.run(report, given.evenings)),
        ("measure", lambda: measured_loops.run(report, 2 * given.evenings)),
        ("live", lambda: live_takes.run(report)),
        ("passes", lambda: print_passes.run(report)),
        ("clock_rigs", lambda: clock_rigs.run(report, 2 * given.evenings)),
    ]


def main() -> None:
    """Carry out the parts asked for; all of them where none is."""
    parts = [name for name, _ in _deeds(Report(), argparse.Namespace())]
    asked = argparse.ArgumentParser(prog="make bench")
    asked.add_argument(
        "parts", nargs="*", choices=[*dict.fromkeys(parts), []], help="which parts; all where none is named"
    )
    asked.add_argument("--out", type=Path, default=Path("build"))
    asked.add_argument("--kills", type=int, default=1_000)
    asked.add_argument("--evenings", type=int, default=1_000)
    given = asked.parse_args()
    given.out.mkdir(parents=True, exist_ok=True)
    report = Report()
    report.say(
        f"Ennead bench, {time.strftime('%Y-%m-%d %H:%M')}, {os.cpu_count()} processors. Ratios of one run; times are this machine's."
    )
    for name, deed in _deeds(report, given):
        if name in (given.parts or parts):
            deed()
    report.store(given.out)


if __name__ == "__main__":
    main()
