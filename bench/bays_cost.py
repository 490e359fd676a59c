"""What bays cost: moves against assignments, the survey of a large house full of bays, and the drawing of 24 of them.

As a command it is the drawing that is measured: ``python -m bench.bays_cost STUDIO`` prints JSON.
"""

import json
import os
import random
import subprocess
import sys
import tempfile
import time
from itertools import islice
from pathlib import Path
from statistics import mean, median, quantiles
from typing import Any

from bench.large_house import large_house, reference_edges
from bench.report import Report, turn_about
from bench.survey_cost import edits_of, whole
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect
from ennead.edits.scenes import add_scene, lay_cord
from ennead.planning.moves.contact_state import ContactState, Soldered
from ennead.planning.moves.moves import moves
from ennead.studio.bays import Cord
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import CordId
from ennead.survey.survey import Survey

_ROOT = Path(__file__).resolve().parent.parent
_BAYS, _ACROSS, _CORDS = 24, 48, 96


def bays_alone(studio: Studio) -> Studio:
    """Return a studio with 24 bays of 96 points more, half-normalled."""
    for n in range(_BAYS):
        studio = add_bay(studio, f"Bay {n + 1}", _ACROSS, connector="tt")
    return studio


def full_house() -> Studio:
    """Return the large house with 24 bays: free outputs and inputs wired to them, and 96 cords in a scene."""
    studio = bays_alone(large_house(1.0))
    dice = random.Random(7)
    uppers = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.rows[0]]
    lowers = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.rows[1]]
    held = {p for c in studio.cables.values() for p in c.plugs}
    for unit in list(studio.units):
        for port in studio.profile_of(unit).ports:
            end = PortEnd(unit, port.key)
            if port.is_digital or port.channels != 1 or end in held or "line" not in port.carries:
                continue
            if port.direction == "out" and uppers:
                studio = connect(studio, end, uppers.pop(0))
            elif port.direction == "in" and lowers:
                studio = connect(studio, lowers.pop(0), end)
    studio = add_scene(studio, "Tonight")
    points = [[PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.rows[row]] for row in (0, 1)]
    for one, other in zip(*(dice.sample(row, _CORDS) for row in points), strict=True):
        studio = lay_cord(studio, one, other)
    return studio


def _edges(studio: Studio) -> list[tuple[tuple[str, ...], tuple[str, ...]]]:
    """Return the edges of the large house, and those of its bays: from the rear of each point to its front, normals, cables behind, cords."""
    edges = list(reference_edges(1.0))
    edges += [((unit, key, "1"), (unit, key, "front")) for unit, bay in studio.bays.items() for key in bay.points]
    for unit, bay in studio.bays.items():
        edges += [((unit, n.start, "1"), (unit, n.end, "1")) for n in bay.normals]
    ends = [
        c.plugs
        for c in studio.cables.values()
        if any(isinstance(p, PortEnd) and p.unit in studio.bays for p in c.plugs)
    ]
    ends += [c.plugs for c in studio.cords]
    edges += [
        ((a.unit, a.port, "1"), (b.unit, b.port, "1"))
        for a, b in ends
        if isinstance(a, PortEnd) and isinstance(b, PortEnd)
    ]
    return edges


def survey(report: Report, rounds: int = 9) -> None:
    """Measure the survey of a house with bays, anew and after one edit."""
    import networkx as nx

    studio = full_house()
    edges = _edges(studio)
    report.head(f"Survey of the large house with {_BAYS} bays of {2 * _ACROSS} points and {_CORDS} cords")
    # A machine that swings between two speeds within seconds needs many rounds until the median of the ratios stands still.
    ours, graph = turn_about((lambda: whole(Survey(studio)), lambda: nx.DiGraph(edges)), 3 * rounds)
    text = f"{len(edges)} edges: {ours * 1e3:.1f} ms against {graph * 1e3:.1f} ms of a networkx.DiGraph: {ours / graph:.2f}"
    report.figure("survey_bays", round(ours / graph, 3), text, 2.0)
    before = Survey(studio)
    whole(before)
    after = {name: several[0] for name, several in edits_of(studio).items()}
    points = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.points]
    held = {p for c in studio.cords for p in c.plugs}
    one, other = islice((p for p in sorted(points, key=str) if p not in held), 2)
    after["one cord"] = lay_cord(studio, one, other)
    full, *each = turn_about(
        [lambda: whole(Survey(studio)), *[lambda s=s: whole(Survey(s, before)) for s in after.values()]], rounds
    )
    for name, took in zip(after, each, strict=True):
        report.figure(
            f"bays_after_{name.replace(' ', '_')}",
            round(took / full, 3),
            f"after {name}: {took * 1e3:.2f} ms of {full * 1e3:.1f} ms: {took / full:.2f}",
        )
    report.figure(
        "bays_after_one_edit", round(mean(each) / full, 3), f"mean of all kinds: {mean(each) / full:.2f}", 0.33
    )


def run(report: Report) -> None:
    """Measure drawing and moves."""
    _drawing(report, full_house())
    _moves(report)


def _moves(report: Report) -> None:
    import numpy as np
    from scipy.optimize import linear_sum_assignment  # type: ignore[import-untyped]

    report.head(f"Moves: {_CORDS} cords changed to {_CORDS} others, against thirty assignments of 600 × 600")
    studio = bays_alone(empty_studio())
    uppers = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.rows[0]]
    lowers = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.rows[1]]
    normals = [(PortEnd(u, n.start), PortEnd(u, n.end), n.mode) for u, bay in studio.bays.items() for n in bay.normals]
    behind = [Soldered((p,), frozenset({(p.unit, p.port, 1)})) for p in uppers] + [Soldered((p,)) for p in lowers]
    board, reference = ContactState(behind, normals), np.random.default_rng(0).random((600, 600))
    worst, above = 0.0, 0
    for seed in range(5):
        dice = random.Random(seed)
        cords = [
            tuple(
                Cord(CordId(f"W{first + n}"), ends)
                for n, ends in enumerate(zip(dice.sample(uppers, _CORDS), dice.sample(lowers, _CORDS), strict=True))
            )
            for first in (1, 1_000)
        ]
        plan = moves(studio, *cords, board)
        above += plan.movements - plan.bound + (not plan.proven)
        ours, theirs = turn_about(
            (lambda c=cords: moves(studio, *c, board), lambda: [linear_sum_assignment(reference) for _ in range(30)]), 3
        )
        worst = max(worst, ours / theirs)
    report.figure("moves", round(worst, 3), f"at worst of 5: {worst:.2f} of their time", 1.0)
    report.figure("moves_above", above, f"movements above the bound, or not proven: {above}", 0)


def _drawing(report: Report, studio: Studio) -> None:
    from ennead.files.studio_path import write_studio

    report.head(f"Drawing {_BAYS} bays of {2 * _ACROSS} points with {_CORDS} cords, 1920×1080")
    with tempfile.TemporaryDirectory() as held:
        path = Path(held) / "bays.ennead"
        write_studio(path, studio)
        for ratio in (1, 2):
            env = os.environ | {
                "QT_QPA_PLATFORM": "offscreen",
                "QT_SCALE_FACTOR": str(ratio),
                "XDG_DATA_HOME": held,
                "XDG_CONFIG_HOME": held,
            }
            out = subprocess.run(
                [sys.executable, "-m", "bench.bays_cost", str(path)],
                env=env,
                cwd=_ROOT,
                check=True,
                capture_output=True,
                text=True,
            ).stdout
            found = json.loads(out.splitlines()[-1])
            at = f"device pixel ratio {ratio}"
            report.figure(
                f"bays_frame_{ratio}",
                found["median_ms"],
                f"{at}: median of {found['steps']} steps {found['median_ms']:.1f} ms",
                16,
            )
            report.figure(
                f"bays_frame_95_{ratio}", found["p95_ms"], f"{at}: 95th percentile {found['p95_ms']:.1f} ms", 25
            )
            report.figure(
                f"bays_cold_{ratio}", found["cold_ms"], f"{at}: all of it painted anew {found['cold_ms']:.0f} ms", 250
            )


def _measure(path: Path) -> dict[str, Any]:
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.sheets.bays.bays_view import BaysView
    from ennead.desk.shell.app import STYLE, build_window, prepare

    app = QApplication(["ennead", *STYLE])
    prepare()
    window = build_window(path)
    # The window is as large on the screen whatever its dots are: at twice the ratio four times as many are painted.
    window.resize(1920, 1080)
    window.show()
    window.go(6)
    until = time.perf_counter() + 3.0
    while time.perf_counter() < until:
        app.processEvents()
    view = window.findChild(BaysView)
    assert view is not None
    view.forget()
    begin = time.perf_counter()
    view.viewport().repaint()
    cold = time.perf_counter() - begin
    bar, spots = view.verticalScrollBar(), list(view.layout_now.spot_of)
    dice, times = random.Random(3), []
    for step in range(200):
        begin = time.perf_counter()
        if step % 2:
            bar.setValue(round(bar.maximum() * (step / 200)))
        else:
            view.choose(dice.choice(spots))
        view.viewport().repaint()
        times.append(time.perf_counter() - begin)
        app.processEvents()
    return {
        "median_ms": median(times) * 1e3,
        "p95_ms": quantiles(times, n=20)[-1] * 1e3,
        "cold_ms": cold * 1e3,
        "steps": len(times),
    }


if __name__ == "__main__":
    print(json.dumps(_measure(Path(sys.argv[1]))), flush=True)
    os._exit(0)
