"""Hands damaged files of every kind to the readers: each is refused in one sentence, or means something whole.

As a command: ``python -m bench.fuzz N [SEED]`` tries N and exits 1 when one of them was met otherwise.
"""

import io
import json
import random
import sys
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from openpyxl import Workbook

from bench.nonsense import came_back, every_verb, nonsense
from ennead.checks import all_checks
from ennead.demo.skerry import skerry
from ennead.edits.session import add_sources
from ennead.files.input_list import list_csv, read_lines, read_list_file
from ennead.files.interchange import from_json
from ennead.files.profile_text import profile_toml
from ennead.files.profiles import shelf
from ennead.files.studio_path import read_studio, write_studio
from ennead.files.templates import read_template_file, shipped_templates, template_toml
from ennead.files.user_shelf import read_profile_file
from ennead.studio.document import empty_studio
from ennead.studio.errors import EnneadError

#: What stands where something else was expected.
_ODD = (
    None,
    True,
    False,
    -1,
    0,
    1,
    3.5,
    1e400,
    -0.0,
    10**30,
    "",
    " ",
    "x" * 600,
    "U1",
    "F1",
    "\u202e<b>bold</b>",
    "=SUM(A1)",
    "a\nb",
    "\ud800",
    "'; drop table object; --",
    [],
    {},
    [[]],
    {"a": 1},
    [None],
    "../../etc/passwd",
    "\0",
    "🎻",
)

Tried = tuple[str, str]


def fuzz(times: int, seed: int, folder: Path) -> dict[str, Any]:
    """Try damaged files by turns.

    Returns
    -------
    dict
        By kind how many were refused and how many read; in ``wrong`` what went otherwise.
    """
    dice = random.Random(seed)
    kinds = _kinds(folder)
    found: dict[str, Any] = {name: {"refused": 0, "read": 0} for name in kinds}
    found["wrong"] = []
    for number in range(times):
        name = list(kinds)[number % len(kinds)]
        path, damage, read = kinds[name]
        whole = path.read_bytes()
        bad = damage(whole, dice)
        path.write_bytes(bad)
        # Only the studio file is a database; nothing else may be beside it, and it must be left as it was.
        try:
            read(path)
        except EnneadError as error:
            text = str(error)
            good = "\n" not in text and path.name in text and text.endswith(".")
            found[name]["refused" if good else "read"] += 1
            if not good:
                found["wrong"].append(f"{name} {number}: said “{text}”")
        except Exception as error:  # noqa: BLE001 - any reason at all is what is looked for
            found["wrong"].append(f"{name} {number}: {type(error).__name__}: {error}")
        else:
            found[name]["read"] += 1
        if path.read_bytes() != bad:
            found["wrong"].append(f"{name} {number}: the file was changed")
        path.write_bytes(whole)
    return found


def _kinds(folder: Path) -> dict[str, tuple[Path, Callable[[bytes, random.Random], bytes], Callable[[Path], object]]]:
    studio, text, odd = folder / "studio.ennead", folder / "studio.json", folder / "odd.json"
    write_studio(odd, skerry())
    sheet, table, profile = folder / "list.xlsx", folder / "list.csv", folder / "profile.toml"
    template = folder / "template.toml"
    template.write_text(template_toml(max(shipped_templates(), key=lambda t: len(t.sources))), encoding="utf-8")
    write_studio(studio, skerry())
    write_studio(text, skerry())
    table.write_text(list_csv(skerry()), encoding="utf-8")
    book = Workbook()
    for line in table.read_text(encoding="utf-8").splitlines():
        book.active.append(line.split(","))
    book.save(sheet)
    profile.write_text(profile_toml(max(shelf(), key=lambda p: len(p.ports))), encoding="utf-8")
    return {
        "studio file": (studio, _bytes, _read_studio),
        "JSON document": (text, _document, _read_document),
        "JSON bytes": (text, _bytes, _read_studio),
        "document, every verb": (text, _document, every_verb),
        "CSV": (table, _cells, _read_list),
        "XLSX": (sheet, _bytes, _read_list),
        "XLSX parts": (sheet, _parts, _read_list),
        "profile text": (profile, _lines, read_profile_file),
        "profile bytes": (profile, _bytes, read_profile_file),
        "odd document": (odd, nonsense, every_verb),
        "template text": (template, _lines, read_template_file),
    }


# -- damaging ----------------------------------------------------------------------------------
def _bytes(whole: bytes, dice: random.Random) -> bytes:
    bad = bytearray(whole or b"?")
    for _ in range(dice.choice((0, 1, 3, 40))):
        bad[dice.randrange(len(bad))] = dice.randrange(256)
    if dice.random() < 0.4:
        at = dice.randrange(len(bad))
        bad[at : at + dice.randrange(2_000)] = b"" if dice.random() < 0.5 else dice.randbytes(dice.randrange(200))
    return bytes(bad[: dice.randrange(len(bad) + 1)] if dice.random() < 0.3 else bad)


def _places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if path:
        yield path
    children = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, child in children:
        yield from _places(child, (*path, key))


def _document(whole: bytes, dice: random.Random) -> bytes:
    document = json.loads(whole)
    for _ in range(dice.choice((1, 1, 1, 4))):
        path = dice.choice(list(_places(document)))
        at = document
        for part in path[:-1]:
            at = at[part]
        if isinstance(at, list) and dice.random() < 0.3:
            at.append(json.loads(json.dumps(at[path[-1]])))
        elif dice.random() < 0.2:
            del at[path[-1]]
        elif isinstance(at, dict) and dice.random() < 0.1:
            at[dice.choice(("", "x", "__class__", "id", "name"))] = dice.choice(_ODD)
        else:
            at[path[-1]] = dice.choice(_ODD)
    return json.dumps(document).encode()


def _cells(whole: bytes, dice: random.Random) -> bytes:
    lines = [line.split(",") for line in whole.decode().splitlines()]
    for _ in range(dice.randint(1, 12)):
        row = dice.choice(lines)
        row[dice.randrange(len(row))] = dice.choice(
            ("=1+1", "+x", "-", "@", "\ufeff", '"', "\u202e", "x" * 5_000, "", "\t", "\0", "é")
        )
    text = dice.choice((",", ";", "\t", "|", " , ")).join
    written = dice.choice(("\n", "\r\n", "\r", "\n\n")).join(text(row) for row in lines)
    return written.encode(dice.choice(("utf-8", "utf-8-sig", "utf-16", "utf-16-be", "cp1252")), "replace")


def _parts(whole: bytes, dice: random.Random) -> bytes:
    with zipfile.ZipFile(io.BytesIO(whole)) as package:
        parts = {name: package.read(name) for name in package.namelist()}
    name = dice.choice(list(parts))
    if dice.random() < 0.2:
        del parts[name]
    else:
        parts[name] = _bytes(parts[name], dice)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for part, body in parts.items():
            package.writestr(part, body)
    return out.getvalue()


def _lines(whole: bytes, dice: random.Random) -> bytes:
    lines = whole.decode().splitlines()
    for _ in range(dice.choice((0, 1, 1, 2, 6))):
        at = dice.randrange(len(lines))
        key = lines[at].split("=")[0]
        value = dice.choice(
            ('"<b>"', "1e400", "-1", "[]", "{}", "true", '"mic{1-999}"', '"x{9-1}"', "2026-01-01", "[[1]]", '"\\u202E"')
        )
        lines[at : at + 1] = dice.choice(([], [lines[at]] * 2, [f"{key}= {value}"], [lines[at][:-2]], ["[[ports]]"]))
    return "\n".join(lines).encode()


# -- reading -----------------------------------------------------------------------------------
def _read_studio(path: Path) -> None:
    came_back(read_studio(path))


def _read_document(path: Path) -> None:
    came_back(from_json(path.read_bytes(), path))


def _read_list(path: Path) -> None:
    studio = add_sources(empty_studio(), read_list_file(path))
    again = [line["name"] for line in read_lines(list_csv(studio))]
    if len(again) != len(studio.session_sources):
        raise AssertionError("the list did not come back as it was read")


if __name__ == "__main__":
    all_checks.strict = True
    with tempfile.TemporaryDirectory() as held:
        result = fuzz(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else random.randrange(10**6), Path(held))
    print(json.dumps(result, indent=2, ensure_ascii=False))
    sys.exit(1 if result["wrong"] else 0)
