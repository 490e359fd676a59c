"""Studios whose every value is of the right type and means something else: read or refused, and whatever is read works in every verb."""

import json
import random
import time
from collections.abc import Iterator
from contextlib import suppress
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Final

from bench.evenings import evening
from bench.verbs import run
from ennead.demo.skerry import skerry
from ennead.edits.house import add_unit
from ennead.edits.scenes import choose_scene
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf
from ennead.planning.bay_layout.bench_of import candidates
from ennead.planning.bay_layout.layout import lay_out
from ennead.reports.flag_rows import flag_rows
from ennead.reports.loom_rows import loom_rows
from ennead.reports.path_proof import path_proof
from ennead.reports.printed import PRINTED
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.survey.survey import Survey

#: The longest a verb may take over any studio that is read, s.
_LONGEST_S: Final = 20.0

_EXTREMES: Final[dict[type, tuple[Any, ...]]] = {
    int: (0, 1, 2, 3, 64, 128, 44_100, 192_000),
    float: (0.0, 0.001, 1.0, -999.0, 1e5, 20_000.0),
    str: ("", "x", "U1", "S1", "mic1"),
    bool: (True, False),
}


#: Names as nobody types them and a file may hold them all the same.
_NAMES: Final = (
    "漢字" * 250,
    "שלום עולם",
    "\u202eHall",
    "\x1b[2J\x07\x9b",
    "a\nb\tc",
    '& <b> ]]> "x"',
    "x" * 480,
    "\u2028",
    "é" * 60,
)


@cache
def _pool() -> dict[str, list[Any]]:
    """Return every value that stands under each name in real studios, with all shipped profiles."""
    whole = empty_studio()
    for profile in shelf():
        whole = add_unit(whole, profile)
    found: dict[str, list[Any]] = {}
    for studio in (skerry(), skerry(finished=True), whole, *(evening(seed) for seed in range(6))):
        for name, value in _named(json.loads(to_json(studio))):
            found.setdefault(name, []).append(value)
    return found


def _named(value: Any, name: str = "") -> Iterator[tuple[str, Any]]:
    if name:
        yield name, value
    for key, child in (
        value.items() if isinstance(value, dict) else ((name, c) for c in value) if isinstance(value, list) else ()
    ):
        yield from _named(child, key)


def _spots(value: Any, path: tuple[Any, ...] = (), name: str = "") -> Iterator[tuple[tuple[Any, ...], str]]:
    if path:
        yield path, name
    if isinstance(value, dict):
        for key, child in value.items():
            yield from _spots(child, (*path, key), key)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            yield from _spots(child, (*path, index), name)


def nonsense(_whole: bytes, dice: random.Random) -> bytes:
    """Return a studio in which some values have been replaced by others of their name and type, doubled or left out."""
    studio = evening(dice.randrange(40)) if dice.random() < 0.7 else skerry()
    document = json.loads(to_json(studio))
    for _ in range(dice.choice((1, 2, 4, 8))):
        spots = list(_spots(document))
        named = [spot for spot in spots if spot[1] in ("name", "track", "first")]
        path, name = dice.choice(named if named and dice.random() < 0.3 else spots)
        at = document
        for part in path[:-1]:
            at = at[part]
        now = at[path[-1]]
        same = [v for v in dice.choices(_pool().get(name, [now]), k=8) if type(v) is type(now)]
        if name in ("name", "track", "note", "first") and isinstance(now, str) and dice.random() < 0.6:
            at[path[-1]] = dice.choice(_NAMES)
        elif isinstance(at, list) and dice.random() < 0.3:
            at.insert(dice.randrange(len(at) + 1), json.loads(json.dumps(now)))
        elif isinstance(at, list) and dice.random() < 0.2:
            del at[path[-1]]
        elif dice.random() < 0.2 and type(now) in _EXTREMES:
            at[path[-1]] = dice.choice(_EXTREMES[type(now)])
        elif same:
            at[path[-1]] = json.loads(json.dumps(dice.choice(same)))
    return json.dumps(document).encode()


def came_back(studio: Studio) -> None:
    """Write a studio and read it.

    Raises
    ------
    AssertionError
        If it is another then, or has other bytes when it is written again.
    """
    text = to_json(studio)
    again = from_json(text.encode())
    if again != studio or to_json(again) != text:
        raise AssertionError("it did not come back as it was read")


def every_verb(path: Path) -> None:
    """Carry out every verb on what is read.

    Raises
    ------
    EnneadError
        If the studio is refused.
    AssertionError
        If a verb ends otherwise than with 0, 1 or 2, says more than a sentence, or takes too long.
    """
    studio = from_json(path.read_bytes(), path)
    came_back(studio)
    # A few pages of each studio: which, follows from its bytes.
    dice = random.Random(path.read_bytes())
    pages = dice.sample(PRINTED, 3)
    with TemporaryDirectory() as held:
        out = Path(held)
        for argv in (
            ("check",),
            ("driver-map",),
            ("lines",),
            ("lines", "--direction", "out"),
            ("links",),
            ("clock",),
            ("clock", "--policy", "star"),
            ("rehearse", "--rate", "96000"),
            ("rehearse", "--rate", "44100"),
            ("allocate", "--time-limit", "2", "--output", out / "after.json"),
            ("loops",),
            ("passes",),
            ("export", "--what", "cables", "--output", out / "a.csv"),
            ("export", "--what", "drivers", "--output", out / "b.md"),
            ("export", "--what", "wiring", "--output", out / "c.csv"),
            ("bays",),
            ("moves", "--to", "back to normals"),
            ("moves", "--from", "K1", "--to", "K3"),
            ("check", "--scene", "K1"),
            ("lines", "--standing"),
            ("changeover", "--from", "N1", "--to", "N2"),
            *[("export", "--what", p.what, "--output", out / f"{p.what}{dice.choice(p.pages)}") for p in pages],
        ):
            _carry_out(path, argv)
        _at_the_bays(studio)
        if (after := out / "after.json").exists():
            came_back(from_json(after.read_bytes(), after))


def _carry_out(path: Path, argv: tuple[object, ...]) -> None:
    """Carry out one verb, and see that it ends as a verb ends."""
    started = time.monotonic()
    json_wanted = () if argv[0] == "export" else ("--json",)
    status, printed, said = run(argv[0], path, *argv[1:], *json_wanted)
    taken = time.monotonic() - started
    if (
        status not in ((0, 1, 2) if argv[0] == "check" else (0, 2))
        or (status == 2) != bool(said)
        or said.count("\n") > 1
    ):
        raise AssertionError(f"{argv[0]} ended with {status} and said “{said}”")
    if status != 2 and json_wanted:
        json.loads(printed)
    if not all(line.isprintable() for line in printed.split("\n")):
        raise AssertionError(f"{argv[0]} printed what is no sign")
    if argv[0] == "export" and status == 2 and any(Path(argv[-1]).parent.glob(f"{Path(argv[-1]).stem}*")):
        raise AssertionError(f"{argv[2]} was refused and left a file")
    if taken > _LONGEST_S:
        raise AssertionError(f"{argv[0]} took {taken:.0f} s")


def try_out(times: int, seed: int) -> Iterator[str]:
    """Yield what went otherwise than it should with so many studios."""
    dice = random.Random(seed)
    with TemporaryDirectory() as held:
        path = Path(held) / "odd.json"
        for number in range(times):
            path.write_bytes(nonsense(b"", dice))
            try:
                every_verb(path)
            except EnneadError:
                continue
            except Exception as error:  # noqa: BLE001 - any reason at all is what is looked for
                yield f"{number}: {type(error).__name__}: {error}"


def _at_the_bays(studio: Studio) -> None:
    """Ask what the Bays sheet asks; a refusal is an answer."""
    survey = Survey(studio)
    loom_rows(studio), flag_rows(survey), [path_proof(survey, run_) for run_ in survey.signal_paths[:4]]
    with suppress(EnneadError):
        # A few steps say as well as many that it can be laid out.
        laid = lay_out(studio, candidates(studio), lambda part: part < 0.02).change.apply(studio)
        if from_json(to_json(laid).encode()) != laid:
            raise AssertionError("what was laid out did not come back as it was")
    for scene in studio.scenes:
        there = choose_scene(studio, scene)
        if choose_scene(there, studio.scene).units != studio.units:
            raise AssertionError("a scene and back leaves the boxes otherwise than they were")
