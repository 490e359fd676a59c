"""The house measured: how long its modules, functions and windows are, and what may be where. Run by ``make house``; lint runs it.

Every limit stands in one table; a figure above its limit is printed, and the exit status is 1.
"""

import ast
import io
import re
import sys
import tokenize
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Final, NamedTuple

import networkx as nx

ROOT: Final = Path(__file__).resolve().parent.parent
HOUSE: Final = ROOT / "ennead"


class Limit(NamedTuple):
    """The most a figure may be."""

    what: str
    most: int


LIMITS: Final = (
    Limit("lines of the main window", 250),
    Limit("lines of the longest module", 450),
    Limit("lines of the longest function", 60),
    Limit("methods called by a name in a string", 0),
    Limit("widgets in what drawings share with paper", 0),
    Limit("Qt in layouts", 0),
    Limit("sheets named or numbered below the desk, but for their one list", 0),
    Limit("readers of cables outside studio, edits, files and wiring", 0),
    Limit("public core functions that raise and do not say so", 0),
    Limit("threads made outside background work and storage", 0),
    Limit("class names that stand for two things", 0),
    Limit("functions and classes that nothing uses", 0),
    Limit("words of persons (who, whose, nobody ...) in 10,000 words of docstrings and comments", 6),
    Limit("modules in circles of imports, those for type hints among them", 9),
    Limit("statements laid out by hand (fmt: skip)", 19),
    Limit("lines of code over 120 characters", 38),
    Limit("steps to a new rule, edit, sheet, verb or profile field", 6),
)
_CORE: Final = ("edits", "studio")


def figures() -> dict[str, tuple[int, str]]:
    """Return each figure with where it is highest, or where the first one stands."""
    files = {path: path.read_text(encoding="utf-8") for path in sorted(HOUSE.rglob("*.py"))}
    lengths = {path: text.count("\n") for path, text in files.items()}
    longest = max(lengths, key=lambda p: lengths[p])
    functions = [
        (node.end_lineno - node.lineno + 1, f"{_name(path)}: {node.name}")
        for path, text in files.items()
        for node in _functions(text)
    ]
    window = HOUSE / "desk" / "shell" / "window.py"
    return {
        "lines of the main window": (lengths[window], _name(window)),
        "lines of the longest module": (lengths[longest], _name(longest)),
        "lines of the longest function": max(functions),
        "methods called by a name in a string": _count(files, r"\b(hasattr|getattr)\(.*name", ("desk/shell/",)),
        "widgets in what drawings share with paper": _count(files, r"QtWidgets", ("drawings/",)),
        "Qt in layouts": _count(files, r"PyQt6", ("drawings/layouts/",)),
        "sheets named or numbered below the desk, but for their one list": _count(
            {
                p: t
                for p, t in files.items()
                if not _name(p).startswith(("desk/", "cli/")) and _name(p) != "reports/sheet_of.py"
            },
            r"\"(Session|Rig|Links|Clock|Lines|Bays)\"|\b(sheet|number)\s*[=:]\s*int\b.*sheet|\bsheet \d\b",
            ("",),
        ),
        "readers of cables outside studio, edits, files and wiring": _count(
            {
                p: t
                for p, t in files.items()
                if not _name(p).startswith(("studio/", "edits/", "files/", "survey/wiring", "survey/sorted_cables"))
            },
            r"(?<!from ennead\.edits)\.cables\b(?! import)",
            ("",),
        ),
        "public core functions that raise and do not say so": _silent(files),
        "threads made outside background work and storage": _count(
            {p: t for p, t in files.items() if not _name(p).startswith(("desk/background/", "desk/storage/"))},
            r"threading\.Thread\(|ThreadPoolExecutor\(",
            ("desk/",),
        ),
        "class names that stand for two things": _two_things(files),
        "functions and classes that nothing uses": _unused(files),
        "words of persons (who, whose, nobody ...) in 10,000 words of docstrings and comments": _persons(files),
        "modules in circles of imports, those for type hints among them": _circles(files),
        "statements laid out by hand (fmt: skip)": _count(files, r"# fmt: (skip|off)", ("",)),
        "lines of code over 120 characters": _long_lines(files),
        "steps to a new rule, edit, sheet, verb or profile field": _steps(),
    }


def _name(path: Path) -> str:
    return path.relative_to(HOUSE).as_posix()


def _functions(text: str) -> Iterator[ast.FunctionDef | ast.AsyncFunctionDef]:
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            yield node


def _count(files: dict[Path, str], pattern: str, rooms: tuple[str, ...]) -> tuple[int, str]:
    hits = [
        f"{_name(p)}:{n}"
        for p, text in files.items()
        if _name(p).startswith(rooms)
        for n, line in enumerate(text.splitlines(), start=1)
        if re.search(pattern, line)
    ]
    return len(hits), ", ".join(hits[:3])


def _silent(files: dict[Path, str]) -> tuple[int, str]:
    """Return the public functions of edits and studio with a raise of their own and no word of it."""
    known: dict[str, list[ast.FunctionDef]] = {}
    for path, text in files.items():
        if _name(path).startswith(tuple(f"{room}/" for room in _CORE)):
            for node in _outer(ast.parse(text)):
                # Private helpers count within their module, public ones wherever they are called.
                known.setdefault(f"{_name(path)}:{node.name}" if node.name.startswith("_") else node.name, []).append(
                    node
                )
                _AT[node] = _name(path)
    raising = {key for key, nodes in known.items() if any(_raises(n) for n in nodes)} - _EVERYDAY
    while True:
        more = {
            key for key, nodes in known.items() if key not in raising and any(_calls(n) & raising for n in nodes)
        } - _EVERYDAY
        if not more:
            break
        raising |= more
    silent = [
        f"{_AT[n]}: {n.name}"
        for key in sorted(raising)
        for n in known[key]
        if not n.name.startswith("_")
        and (_raises(n) or _calls(n) & raising)
        and "Raises" not in (ast.get_docstring(n) or "")
    ]
    return len(silent), ", ".join(silent[:5])


_AT: Final[dict[ast.AST, str]] = {}
#: Names that are methods of maps and values as well, so that a call says nothing.
_EVERYDAY: Final = frozenset({"replace", "of", "put", "get", "make", "pieces", "joined_lanes"})


def _outer(tree: ast.Module) -> Iterator[ast.FunctionDef]:
    for node in tree.body:
        if isinstance(node, ast.FunctionDef):
            yield node
        elif isinstance(node, ast.ClassDef):
            yield from (n for n in node.body if isinstance(n, ast.FunctionDef))


def _raises(node: ast.FunctionDef) -> bool:
    return any(isinstance(n, ast.Raise) and n.exc is not None for n in ast.walk(node))


def _calls(node: ast.FunctionDef) -> set[str]:
    """Return what a function calls by plain name or as a method, private helpers with their module."""
    found = set()
    for call in (n for n in ast.walk(node) if isinstance(n, ast.Call)):
        name = (
            call.func.id
            if isinstance(call.func, ast.Name)
            else call.func.attr
            if isinstance(call.func, ast.Attribute)
            else ""
        )
        found.add(f"{_AT[node]}:{name}" if name.startswith("_") else name)
    return found


def _two_things(files: dict[Path, str]) -> tuple[int, str]:
    """Return the class names that two modules define."""
    places: dict[str, list[str]] = {}
    for path, text in files.items():
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.ClassDef):
                places.setdefault(node.name, []).append(_name(path))
    twice = [f"{name}: {', '.join(at)}" for name, at in places.items() if len(at) > 1]
    return len(twice), "; ".join(twice[:3])


#: Methods that Qt calls are named as Qt names them.
_OF_QT: Final = re.compile(r"[a-z]+[A-Z]")


def _unused(files: dict[Path, str]) -> tuple[int, str]:
    """Return the functions and classes whose name stands nowhere but where they are defined; what a decorator registers is used."""
    everything = [
        *files.values(),
        *(p.read_text(encoding="utf-8") for room in ("tests", "bench", "tools") for p in (ROOT / room).rglob("*.py")),
    ]
    times = Counter(word for text in everything for word in re.findall(r"\w+", text))
    defined: dict[str, list[str]] = {}
    for path, text in files.items():
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
                plain = all(
                    isinstance(d, ast.Name) and d.id in ("property", "cached_property", "staticmethod", "classmethod")
                    for d in node.decorator_list
                )
                if plain and not node.name.startswith("__") and not _OF_QT.match(node.name):
                    defined.setdefault(node.name, []).append(f"{_name(path)}: {node.name}")
    unused = [at for name, places in defined.items() if times[name] <= len(places) for at in places]
    return len(unused), ", ".join(unused[:3])


#: Data are no persons: a demand is kept or left out, a socket is free, driven or shared.
_PERSONS: Final = re.compile(r"\b(who|whose|whom|whoever|(?:no|every|some|any)body)\b", re.IGNORECASE)


def _persons(files: dict[Path, str]) -> tuple[int, str]:
    """Return how many words of persons there are in 10,000 words of docstrings and comments."""
    words, found = 0, Counter[str]()
    for path, text in files.items():
        prose = [
            ast.get_docstring(n) or ""
            for n in ast.walk(ast.parse(text))
            if isinstance(n, ast.Module | ast.ClassDef | ast.FunctionDef)
        ]
        prose += [t.string for t in tokenize.generate_tokens(io.StringIO(text).readline) if t.type == tokenize.COMMENT]
        words += sum(len(part.split()) for part in prose)
        if hits := sum(len(_PERSONS.findall(part)) for part in prose):
            found[_name(path)] = hits
    return round(found.total() / words * 10_000), ", ".join(name for name, _ in found.most_common(3))


def _circles(files: dict[Path, str]) -> tuple[int, str]:
    """Return how many modules import themselves by way of others."""
    named = {
        f"ennead.{_name(path)[:-3].replace('/', '.')}".removesuffix(".__init__"): text for path, text in files.items()
    }
    onward = {
        name: {n.module for n in ast.walk(ast.parse(text)) if isinstance(n, ast.ImportFrom) and n.module in named}
        for name, text in named.items()
    }
    graph = nx.DiGraph([(name, other) for name, others in onward.items() for other in others])
    circles = [circle for circle in nx.strongly_connected_components(graph) if len(circle) > 1]
    return sum(map(len, circles)), "; ".join(min(circle) for circle in circles)


def _long_lines(files: dict[Path, str]) -> tuple[int, str]:
    """Return how many lines of code, docstrings and comments aside, are over 120 characters."""
    found = Counter[str]()
    for path, text in files.items():
        prose: set[int] = set()
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef) and ast.get_docstring(node):
                prose.update(range(node.body[0].lineno, (node.body[0].end_lineno or 0) + 1))
        long = [n for n, line in enumerate(text.split("\n"), start=1) if len(line) > 120]
        lines = text.split("\n")
        found[_name(path)] = sum(n not in prose and not lines[n - 1].lstrip().startswith("#") for n in long)
    return found.total(), ", ".join(name for name, many in found.most_common(3) if many)


def _steps() -> tuple[int, str]:
    """Return the most files that CONTRIBUTING.md asks to touch for one addition."""
    text = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
    rows = re.findall(r"^\| an? (.+?) \| (.+?) \|$", text, flags=re.MULTILINE)
    counts = [(row[1].count("`") // 2, f"a {row[0]}") for row in rows]
    return max(counts) if len(counts) >= 5 else (99, "CONTRIBUTING.md does not say how to add all five")


def main() -> int:
    """Print the table; return 1 where a figure is above its limit."""
    found, over = figures(), 0
    for limit in LIMITS:
        figure, where = found[limit.what]
        over += figure > limit.most
        print(
            f"{'▲' if figure > limit.most else ' '} {limit.what}: {figure} (at most {limit.most})  {where if figure else ''}".rstrip()
        )
    return int(over > 0)


if __name__ == "__main__":
    sys.exit(main())
