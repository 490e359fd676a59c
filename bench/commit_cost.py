"""One edit's durable commit, serialising included, against a raw SQLite commit of the same rows."""

import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import time
from functools import partial
from pathlib import Path
from statistics import median

from bench.report import Report
from ennead.demo.skerry import skerry
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source
from ennead.files.changed_rows import changed_rows
from ennead.files.studio_file import StudioFile, read_studio_file
from ennead.studio.document import Studio

_ROOT = Path(__file__).resolve().parent.parent


def _edit(studio: Studio, number: int) -> Studio:
    return add_source(studio, f"Bell {number}") if number % 2 else rename_unit(studio, "U1", f"Pier {number}")


def _raw_commit(db: sqlite3.Connection, puts: list[tuple[str, str, str]]) -> None:
    db.execute("begin immediate")
    for kind, key, body in puts:
        if kind:
            db.execute("insert or replace into object values (?, ?, ?)", (kind, key, body))
        else:
            db.execute("insert or replace into head values (?, ?)", (key, body))
    db.execute("commit")


def _open_raw(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, isolation_level=None)
    db.execute("pragma journal_mode = wal")
    db.execute("pragma synchronous = full")
    return db


def write_ours(path: str, edits: int) -> None:
    """Commit edits through the studio file."""
    file = StudioFile(Path(path))
    for number in range(edits):
        file.commit(_edit(file.studio, number))
    file._db.close()


def write_raw(path: str, edits: int) -> None:
    """Commit the same rows without Ennead."""
    studio, rows = read_studio_file(Path(path)), []
    for number in range(edits):
        after = _edit(studio, number)
        rows.append(changed_rows(studio, after)[0])
        studio = after
    db = _open_raw(Path(path))
    for puts in rows:
        _raw_commit(db, puts)
    db.close()


def run(report: Report, folder: Path, edits: int = 300) -> None:
    """Measure on the disk `folder` is on."""
    report.head("One edit's durable commit, against a raw SQLite commit of the same rows")
    with tempfile.TemporaryDirectory(dir=folder) as held:
        one, other = Path(held) / "ours.ennead", Path(held) / "raw.ennead"
        for path in (one, other):
            StudioFile(path, create=skerry()).close()
        file, db = StudioFile(one), _open_raw(other)
        ours: list[float] = []
        raw: list[float] = []
        for number in range(edits):
            after = _edit(file.studio, number)
            puts = changed_rows(file.studio, after)[0]
            deeds = [(partial(file.commit, after), ours), (partial(_raw_commit, db, puts), raw)]
            # Who goes first changes: the disk may be busy with what the other left.
            for deed, taken in deeds[:: 1 if number % 2 else -1]:
                start = time.perf_counter()
                deed()
                taken.append(time.perf_counter() - start)
        file.close()
        db.close()
        ratio = median(ours) / median(raw)
        text = f"{median(ours) * 1e3:.3f} ms against {median(raw) * 1e3:.3f} ms over {edits} edits: {ratio:.2f}"
        report.figure("commit", round(ratio, 3), text, 2.0)
        if shutil.which("strace") is None:
            report.say("  fsyncs were not counted: strace is not here (apt-get install strace)")
            return
        counts = {}
        for name in ("write_ours", "write_raw"):
            path = Path(held) / f"{name}.ennead"
            StudioFile(path, create=skerry()).close()
            counts[name] = _fsyncs(name, path, 40) - _fsyncs(name, path, 0)
        ours_n, raw_n = counts["write_ours"], counts["write_raw"]
        report.figures["fsyncs"] = {"ours": ours_n, "raw": raw_n, "edits": 40}
        report.say(f"  fsyncs of 40 edits: {ours_n} against {raw_n}: {'equal' if ours_n == raw_n else '▲ NOT EQUAL'}")


def _fsyncs(name: str, path: Path, edits: int) -> int:
    code = f"from bench.commit_cost import {name}; {name}({str(path)!r}, {edits})"
    command = ["strace", "-f", "-c", "-e", "trace=fsync,fdatasync", sys.executable, "-c", code]
    said = subprocess.run(command, cwd=_ROOT, capture_output=True, text=True, check=True).stderr
    return sum(
        int(n)
        for n in re.findall(r"^\s*[\d.]+\s+[\d.]+\s+\d+\s+(\d+)\s+(?:\d+\s+)?(?:fsync|fdatasync)$", said, re.MULTILINE)
    )
