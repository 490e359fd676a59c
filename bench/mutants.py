"""``make mutants N=300``: plants that many single faults in the core, runs the tests that reach each, prints what survived.

A fault is one comparison, sign, constant, connective or call turned into its neighbour. Which tests reach which line is
taken from one run of all core tests under coverage, kept in the folder of builds until a test or the core changes.
"""

import argparse
import ast
import hashlib
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import time
import unittest
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Final, NamedTuple

_ROOT: Final = Path(__file__).resolve().parent.parent
_ROOMS: Final = ("rules", "checks", "survey", "planning", "edits", "studio", "reports")
#: Tests that drive windows, disks and processes; a fault in the core must not need them to be seen.
_LEFT_OUT: Final = ("test_desk", "test_story", "test_durability", "test_hostile")
#: The longest all tests of one fault may take together, s; a single one may take this many times its usual time.
_MOST_S, _TIMES, _GRACE_S = 150.0, 20, 10.0

_COMPARE: Final[dict[type, type]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}
_BINARY: Final[dict[type, type]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Add,
    ast.Div: ast.Mult,
    ast.BitOr: ast.BitAnd,
    ast.BitAnd: ast.BitOr,
}
_CALLS: Final = {"any": "all", "all": "any", "min": "max", "max": "min"}


class Fault(NamedTuple):
    """One place and what is put there."""

    path: str
    line: int
    column: int
    what: str
    text: str


def places(path: Path) -> Iterator[tuple[ast.AST, str]]:
    """Yield the nodes of a module that can be turned, each with the kind of turn."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    # Types and decorators do nothing while a test runs, and a `strict` zip only says that both are as long.
    idle: set[ast.AST] = set()
    for node in ast.walk(tree):
        parts = [
            *getattr(node, "decorator_list", ()),
            getattr(node, "annotation", None),
            getattr(node, "returns", None),
        ]
        parts += [k.value for k in getattr(node, "keywords", ()) if k.arg == "strict"]
        idle |= {inner for part in parts if part is not None for inner in ast.walk(part)}
    for node in ast.walk(tree):
        if node in idle:
            continue
        if isinstance(node, ast.Compare) and type(node.ops[0]) in _COMPARE:
            yield node, "compare"
        elif (
            isinstance(node, ast.BinOp)
            and type(node.op) in _BINARY
            and not isinstance(node.left, ast.JoinedStr | ast.Constant)
        ):
            yield node, "binary"
        elif isinstance(node, ast.BoolOp):
            yield node, "connective"
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
            yield node, "unary"
        elif isinstance(node, ast.Constant) and type(node.value) in (bool, int) and hasattr(node, "lineno"):
            yield node, "constant"
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _CALLS:
            yield node, "call"
        elif isinstance(node, ast.IfExp):
            yield node, "branches"


def turned(source: str, node: Any, kind: str) -> str:
    """Return a module's text with one node turned."""
    if kind == "compare":
        node.ops[0] = _COMPARE[type(node.ops[0])]()
    elif kind == "binary":
        node.op = _BINARY[type(node.op)]()
    elif kind == "connective":
        node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
    elif kind == "constant":
        node.value = (not node.value) if isinstance(node.value, bool) else node.value + 1
    elif kind == "call":
        node.func.id = _CALLS[node.func.id]
    elif kind == "branches":
        node.body, node.orelse = node.orelse, node.body
    new = ast.unparse(node.operand if kind == "unary" else node)
    lines = source.split("\n")
    first, last = node.lineno - 1, node.end_lineno - 1
    before = lines[first].encode()[: node.col_offset].decode()
    after = lines[last].encode()[node.end_col_offset :].decode()
    return "\n".join(
        [
            *lines[:first],
            f"{before}({new}){after}" if kind != "constant" else f"{before}{new}{after}",
            *lines[last + 1 :],
        ]
    )


def pick(many: int, seed: int) -> list[tuple[Fault, str]]:
    """Return that many faults, each with the whole text of its module."""
    dice = random.Random(seed)
    every = []
    for room in _ROOMS:
        for path in sorted((_ROOT / "ennead" / room).rglob("*.py")):
            every += [(path, index) for index, _ in enumerate(places(path))]
    found: list[tuple[Fault, str]] = []
    for path, index in dice.sample(every, min(len(every), many * 3)):
        source = path.read_text(encoding="utf-8")
        node, kind = list(places(path))[index]
        # Read anew: a turn changes the tree.
        text = turned(source, node, kind)
        try:
            if ast.dump(ast.parse(text)) == ast.dump(ast.parse(source)):
                continue
        except SyntaxError:
            continue
        line = source.split("\n")[node.lineno - 1].strip()  # type: ignore[attr-defined]
        if line.startswith(('"""', "#")) or "TYPE_CHECKING" in line:
            continue
        place = node.lineno, node.col_offset  # type: ignore[attr-defined]
        found.append((Fault(str(path.relative_to(_ROOT)), *place, kind, line), text))
        if len(found) == many:
            break
    return found


# -- which tests reach which line --------------------------------------------------------------
def _modules() -> list[str]:
    return [f"tests.{p.stem}" for p in sorted((_ROOT / "tests").glob("test_*.py")) if not p.stem.startswith(_LEFT_OUT)]


def reach(folder: Path) -> tuple[dict[str, dict[int, list[str]]], dict[str, float]]:
    """Return which tests run each line of the core, and how long each takes, s."""
    sources = [p for room in _ROOMS for p in sorted((_ROOT / "ennead" / room).rglob("*.py"))] + sorted(
        (_ROOT / "tests").glob("*.py")
    )
    mark = hashlib.sha256(b"".join(p.read_bytes() for p in sources)).hexdigest()
    kept = folder / "mutants-reach.json"
    if kept.exists():
        held = json.loads(kept.read_text(encoding="utf-8"))
        if held["mark"] == mark:
            return {f: {int(n): t for n, t in lines.items()} for f, lines in held["reach"].items()}, held["times"]
    print("Looking which tests reach which line; this takes a few minutes …", flush=True)
    with TemporaryDirectory() as there, ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as hands:
        parts = list(hands.map(partial(_traced, Path(there)), _modules()))
    whole: dict[str, dict[str, list[str]]] = {}
    for part in parts:
        for file, lines in part["reach"].items():
            for number, tests in lines.items():
                whole.setdefault(file, {}).setdefault(number, []).extend(tests)
    times = {test: took for part in parts for test, took in part["times"].items()}
    kept.write_text(json.dumps({"mark": mark, "reach": whole, "times": times}), encoding="utf-8")
    return reach(folder)


def _traced(folder: Path, module: str) -> dict[str, Any]:
    """Return what one module of tests reaches; each runs in a process of its own, for several windows in one end in Qt."""
    out = folder / f"{module}.json"
    code = "from bench.mutants import trace; import sys; trace(*sys.argv[1:])"
    done = subprocess.run(
        [sys.executable, "-c", code, module, str(out)], cwd=_ROOT, check=False, capture_output=True, text=True
    )
    if done.returncode:
        raise SystemExit(done.stderr.strip().splitlines()[-1] if done.stderr.strip() else f"{module} has ended.")
    found: dict[str, Any] = json.loads(out.read_text(encoding="utf-8"))
    return found


class _Timed(unittest.TextTestResult):
    """A result that tells coverage which test is running, and notes how long each took."""

    coverage: Any = None
    times: dict[str, float] = {}  # noqa: RUF012 - one run fills it once

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self.coverage.switch_context(test.id())
        self._begun = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:
        self.times[test.id()] = time.monotonic() - self._begun
        self.coverage.switch_context("")
        super().stopTest(test)


def trace(module: str, out: str) -> None:
    """Run a module of tests under coverage and write what they reach."""
    import coverage

    cover = coverage.Coverage(
        data_file=None, config_file=False, include=[f"{_ROOT}/ennead/{room}/*" for room in _ROOMS]
    )
    cover.start()
    _Timed.coverage = cover
    suite = unittest.defaultTestLoader.loadTestsFromNames([module])
    done = unittest.TextTestRunner(resultclass=_Timed, buffer=True, stream=open(os.devnull, "w")).run(suite)  # noqa: SIM115, PTH123
    cover.stop()
    data = cover.get_data()
    found: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        lines = data.contexts_by_lineno(file)
        found[str(Path(file).relative_to(_ROOT))] = {n: [t for t in tests if t] for n, tests in lines.items()}
    if not done.wasSuccessful():
        names = ", ".join(test.id() for test, _ in (*done.failures, *done.errors))
        raise SystemExit(f"The tests fail without any fault planted; mend that first: {names}.")
    Path(out).write_text(json.dumps({"reach": found, "times": _Timed.times}), encoding="utf-8")


# -- trying ------------------------------------------------------------------------------------
def run_tests(names: list[str], usual: dict[str, float]) -> int:
    """Run tests one after the other until one fails; 1 where one did, 0 where none did, 2 where the time was up."""
    started = time.monotonic()
    for name in names:
        if time.monotonic() - started > _MOST_S:
            return 2
        signal.signal(signal.SIGALRM, lambda *_: os._exit(1))
        signal.alarm(int(_TIMES * usual.get(name, 1.0) + _GRACE_S))
        with open(os.devnull, "w") as nowhere:  # noqa: PTH123
            done = unittest.TextTestRunner(stream=nowhere, buffer=True).run(
                unittest.defaultTestLoader.loadTestsFromName(name)
            )
        signal.alarm(0)
        if not done.wasSuccessful():
            return 1
    return 0


def _try(fault: Fault, text: str, tests: list[str], times: dict[str, float]) -> int:
    """Plant a fault in a copy of the tree and run the tests that reach it."""
    with TemporaryDirectory() as held:
        tree = Path(held)
        for name in ("ennead", "tests", "bench"):
            shutil.copytree(_ROOT / name, tree / name, ignore=shutil.ignore_patterns("*.pyc"))
        for name in ("docs", "pyproject.toml"):
            (tree / name).symlink_to(_ROOT / name)
        (tree / fault.path).write_text(text, encoding="utf-8")
        todo = tree / "todo.json"
        todo.write_text(json.dumps([tests, times]), encoding="utf-8")
        code = (
            "import json, sys; from bench.mutants import run_tests; names, times = json.load(open('todo.json')); "
            "sys.exit(run_tests(names, times))"
        )
        env = os.environ | {"PYTHONDONTWRITEBYTECODE": "1", "QT_QPA_PLATFORM": "offscreen"}
        return subprocess.run(
            [sys.executable, "-W", "error", "-c", code],
            cwd=tree,
            env=env,
            check=False,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        ).returncode


def main() -> None:
    """Plant, try, print the survivors and how many died."""
    asked = argparse.ArgumentParser(prog="make mutants")
    asked.add_argument("many", type=int)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--out", type=Path, default=Path("build"))
    given = asked.parse_args()
    given.out.mkdir(parents=True, exist_ok=True)
    lines, times = reach(given.out)
    faults = pick(given.many, given.seed)

    def one(planted: tuple[Fault, str]) -> tuple[Fault, int, int]:
        fault, text = planted
        reached = lines.get(fault.path, {})
        # What is worked out once, as a module is read, belongs to no test: all that use the module are asked.
        asked = reached.get(fault.line) or {t for tests in reached.values() for t in tests}
        tests = sorted(asked, key=lambda t: times.get(t, 1.0))
        return fault, len(tests), _try(fault, text, tests, times) if tests else 0

    dead, alive = 0, []
    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as hands:
        for fault, tests, end in hands.map(one, faults):
            if end in (0, 2):
                alive.append((fault, tests))
                print(
                    f"{fault.path}:{fault.line}:{fault.column} {fault.what}, {tests} tests reach it: {fault.text}",
                    flush=True,
                )
            else:
                dead += 1
    print(
        f"\n{dead} of {len(faults)} died, {100 * dead / max(1, len(faults)):.0f} %; {len(alive)} survived (seed {given.seed})."
    )


if __name__ == "__main__":
    main()
