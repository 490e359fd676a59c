"""All that is said of a studio, by every verb and every question: ``python -m bench.answers`` writes it down anew.

``python -m bench.answers check`` compares the random ones instead; ``make test`` does so with the first few of each family.
What is written stands in ``tests/golden/answers``, so that whatever an inner change does to an answer is seen, word by word.
Of the demo, the house and older forms every word is kept; of random studios a digest a question, which costs little room.
"""

import hashlib
import json
import random
import sys
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import fields
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Final

from bench.clock_cost import clock_house
from bench.evenings import evening
from bench.large_house import large_house
from bench.mixed import mixed
from bench.nonsense import nonsense
from bench.verbs import run
from ennead.demo.skerry import skerry
from ennead.files.interchange import from_json
from ennead.files.rows import FORMAT_VERSION
from ennead.files.studio_path import read_studio, write_studio
from ennead.planning.clock.clock_plan import POLICIES
from ennead.planning.growing.expansion import connect_expander, likely_pair
from ennead.planning.growing.unit_loss import lose_each
from ennead.planning.routing.partners import partners
from ennead.planning.routing.placing import place_anew, place_at_number
from ennead.planning.routing.placing_out import place_out_at_number
from ennead.planning.routing.why import Elsewhere, why_here, why_not_there
from ennead.reports.next_step import boxes_apart, next_step
from ennead.reports.sheet_of import sheet_of_step
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.survey.balance import balance, output_balance
from ennead.survey.survey import Survey

FOLDER: Final = Path(__file__).resolve().parent.parent / "tests" / "golden" / "answers"
_FORMS: Final = FOLDER.parent

#: Studios of which every word is kept.
NAMED: Final[dict[str, Callable[[], Studio]]] = {
    "demo": skerry,
    "demo-finished": lambda: skerry(finished=True),
    "large-house": lambda: large_house(0.08),
    **{f"form-{n}": (lambda n=n: read_studio(_FORMS / f"studio-{n}.json")) for n in range(1, FORMAT_VERSION)},
}
#: Families of random studios, with how many of each are asked (``make fuzz``).
RANDOM: Final[dict[str, tuple[Callable[[int], Studio | None], int]]] = {}


def _odd(seed: int) -> Studio | None:
    """Return an odd but readable studio, or None where that seed makes none."""
    with suppress(EnneadError):
        return from_json(nonsense(b"", random.Random(seed)))
    return None


RANDOM |= {
    "evening": (evening, 16),
    "odd": (_odd, 18),
    "clock": (lambda seed: clock_house(seed, 7), 8),
    "mixed": (mixed, 30),
}


def _verbs(studio: Studio, folder: Path, *, what_is_there: bool = False) -> Iterator[tuple[str, Any]]:
    """Yield what every verb prints."""
    path, after = folder / "studio.json", folder / "after.json"
    write_studio(path, studio)
    rates = [96_000 if studio.rate_hz < 88_200 else 48_000, 44_100]
    # Without a limit nothing depends on how busy a machine is.
    asked: list[tuple[str, ...]] = [
        ("check",),
        ("driver-map",),
        ("lines",),
        ("lines", "--direction", "out"),
        ("links",),
    ]
    if not what_is_there:
        asked += [("clock", "--policy", p) for p in POLICIES]
        asked += [("rehearse", "--rate", str(r)) for r in rates]
        asked += [(verb, "--rate", str(rates[0])) for verb in ("check", "driver-map", "links")]
        asked += [("allocate", "--output", str(after))]
    for argv in asked:
        status, out, err = run(argv[0], path, *argv[1:], "--json")
        yield (
            " ".join(a for a in argv if a not in ("--output", str(after))),
            [status, _said_by(out), err.replace(str(folder), "")],
        )
    if after.exists():
        status, out, _ = run("check", after, "--json")
        yield "check once allocated", [status, _said_by(out)]
    for what in () if what_is_there else ("cables", "drivers"):
        table = folder / f"{what}.csv"
        run("export", path, "--what", what, "--output", table)
        yield f"export {what}", table.read_text(encoding="utf-8").splitlines() if table.exists() else None


def _said_by(out: str) -> Any:
    """Return what a verb printed; where nothing is set aside, that is not kept."""
    said = json.loads(out) if out else None
    if isinstance(said, dict) and said.get("set_aside") == []:
        del said["set_aside"]
    return said


def _said(deed: Callable[[], Any]) -> Any:
    """Return an answer in plain values, or the sentence that refuses it."""
    try:
        return _plain(deed())
    except EnneadError as error:
        return f"refused: {error}"


def _plain(value: Any) -> Any:
    if isinstance(value, Elsewhere):
        return [value.place, list(value.numbers), value.broken, list(value.costs)]
    if hasattr(value, "label") and hasattr(value, "steps"):
        return value.label
    if isinstance(value, (str, int, float, bool)) or value is None:
        return value
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    if hasattr(value, "__dataclass_fields__"):
        return {f.name: _plain(getattr(value, f.name)) for f in fields(value) if f.name not in ("proposal", "after")}
    return str(value)


def _questions(studio: Studio) -> Iterator[tuple[str, Any]]:
    """Yield what the window's questions are answered with."""
    survey = Survey(studio)
    step = next_step(survey)
    told = None if step is None else {"text": step.text, "sheet": sheet_of_step(step.step)}
    yield "next", [told, boxes_apart(survey), likely_pair(survey)]
    yield "balance", [_said(lambda: balance(survey)), _said(lambda: output_balance(survey))]
    sources, destinations = list(studio.current.sources)[:4], list(studio.current.destinations)[:3]
    ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
    picked = ends[:: max(1, len(ends) // 5)][:6]
    yield "why here", [_said(lambda k=k: why_here(survey, k)) for k in (*sources, *destinations)]
    yield (
        "why not there",
        [
            _said(lambda k=k, e=e: why_not_there(survey, k, e))
            for k in (*sources[:2], *destinations[:1])
            for e in picked
        ],
    )
    yield "place anew", [_said(lambda k=k: place_anew(survey, k)) for k in sources]
    yield (
        "place at a number",
        [_said(lambda k=k, n=n: place_at_number(survey, k, n)) for k in sources[:2] for n in (1, 4, 9, 70)],
    )
    yield (
        "place out at a number",
        [_said(lambda k=k, n=n: place_out_at_number(survey, k, n)) for k in destinations for n in (1, 3, 9)],
    )
    yield "partners", [[p.text for p in partners(survey, e)] for e in picked]
    if len(studio.units) <= 8:
        yield "loss", _plain(lose_each(survey))
    pairs = [(a, b) for a in list(studio.units)[:4] for b in list(studio.units)[:4] if a != b]
    yield (
        "expand",
        [
            _said(lambda a=a, b=b, w=w: connect_expander(survey, a, b, both_ways=w))
            for a, b in pairs
            for w in (False, True)
        ],
    )


def answers(studio: Studio, *, what_is_there: bool = False) -> dict[str, Any]:
    """Return everything that is said of a studio, by question; or the first verbs alone, which plan nothing."""
    with TemporaryDirectory() as held:
        verbs = _verbs(studio, Path(held), what_is_there=what_is_there)
        return dict([*verbs, *([] if what_is_there else _questions(studio))])


def as_text(found: dict[str, Any]) -> str:
    """Return answers as they are kept: a line for each thing that is listed, so that a difference is one line."""
    lines = []
    for question, answer in found.items():
        lines.append(f"# {question}")
        lines += _lines(answer)
    return "\n".join(lines) + "\n"


def _lines(answer: Any) -> list[str]:
    if isinstance(answer, dict) and any(isinstance(v, list) for v in answer.values()):
        return [line for key, value in answer.items() for line in (f"{key}:", *_lines(value))]
    if isinstance(answer, list):
        return [
            line
            for item in answer
            for line in (_lines(item) if isinstance(item, (list, dict)) and len(str(item)) > 400 else [_one(item)])
        ]
    return [_one(answer)]


def _one(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


def digests(found: dict[str, Any]) -> dict[str, str]:
    """Return a short digest of each answer."""
    return {question: hashlib.sha256(_one(answer).encode()).hexdigest()[:12] for question, answer in found.items()}


def write_all() -> None:
    """Write every answer down anew."""
    FOLDER.mkdir(exist_ok=True)
    for name, make in NAMED.items():
        (FOLDER / f"{name}.txt").write_text(as_text(answers(make())), encoding="utf-8")
    for family, (build, many) in RANDOM.items():
        rows = {str(n): digests(answers(studio)) for n in range(many) if (studio := build(n)) is not None}
        text = "{\n" + ",\n".join(f" {json.dumps(n)}: {json.dumps(row)}" for n, row in rows.items()) + "\n}\n"
        (FOLDER / f"{family}.json").write_text(text, encoding="utf-8")


def differing() -> list[str]:
    """Ask everything again, also what ``make test`` leaves to ``make fuzz``; return what is said otherwise."""
    kept_words = {name: (FOLDER / f"{name}.txt").read_text(encoding="utf-8") for name in NAMED}
    found = [name for name, make in NAMED.items() if as_text(answers(make())) != kept_words[name]]
    for family, (build, _) in RANDOM.items():
        for number, kept in json.loads((FOLDER / f"{family}.json").read_text(encoding="utf-8")).items():
            studio = build(int(number))
            said = digests(answers(studio)) if studio is not None else {}
            found += [f"{family} {number}: {q}" for q in sorted({*said, *kept}) if said.get(q) != kept.get(q)]
    return found


if __name__ == "__main__":
    if sys.argv[1:] == ["check"]:
        sys.exit("\n".join(differing()) or 0)
    elif len(sys.argv) == 3:
        # One random studio's answers word by word, to see what differs: ``python -m bench.answers evening 7``.
        studio = RANDOM[sys.argv[1]][0](int(sys.argv[2]))
        print(as_text(answers(studio)) if studio is not None else "that seed makes no studio")
    else:
        write_all()
