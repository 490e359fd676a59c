"""A profile as rows of text to edit, and back: what cannot be read is explained at its row."""

import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final, Literal, get_args

from ennead.files.building import build_checked
from ennead.files.profile_text import folded
from ennead.files.profiles import spread, unfold
from ennead.files.rows import FormError
from ennead.rules.profile_holds_together import ProfileFault, profile_faults
from ennead.standards.computer_ports import Bus
from ennead.standards.rates import SPEEDS
from ennead.standards.signals import Connector, Signal
from ennead.studio.ids import ProfileId
from ennead.studio.profile import Contacts, Direction, Fibre, OutputStage, PathKind, Profile, Role, Termination
from ennead.studio.record import replace

ColumnKind = Literal[
    "text", "one", "words", "whole", "number", "tick", "pairs", "lanes", "levels", "sentences", "positions"
]
Row = dict[str, str]
Tables = dict[str, list[Row]]


@dataclass(frozen=True, slots=True)
class Column:
    """A field of a table: its heading, how its text is read, and what may stand in it."""

    field: str
    heading: str
    kind: ColumnKind = "text"
    choices: tuple[str, ...] = ()
    hint: str = ""


_SPANS = "mic{1-8} stands for mic1 … mic8"
COLUMNS: Final[dict[str, tuple[Column, ...]]] = {
    "ports": (
        Column("key", "key", hint=_SPANS), Column("label", "label", hint="Mic {1-8}"),
        Column("direction", "way", "one", get_args(Direction)), Column("connector", "connector", "one", get_args(Connector)),
        Column("carries", "carries", "words", get_args(Signal)), Column("row", "row on the strip"),
        Column("channels", "channels", "whole"), Column("latency_samples", "delay, samples", "number"),
        Column("format_mode", "format by mode"), Column("only_speeds", "only at speeds", "words", SPEEDS),
        Column("levels", "levels", "levels", hint="line max 20 nominal 4 10000 ohm"),
        Column("level_mode", "level by mode"),
        Column("levels_at", "levels by position", "levels", hint="home max 8 nominal -7.8 10000 ohm"),
        Column("stage", "output stage", "one", get_args(OutputStage)),
        Column("termination", "75 ohm", "one", get_args(Termination)), Column("lanes_at", "lanes at", "lanes", hint="double=0, quad=0"),
        Column("fibre", "glass", "one", get_args(Fibre)), Column("asynchronous", "resamples", "tick"),
        Column("pad_db", "pad dB", "number"), Column("mirrors", "also gives", "words", hint=_SPANS),
        Column("wiring", "plug", "one", get_args(Contacts)), Column("lane_directions", "way of each channel", "words", ("in", "out"), hint="out in"),
    ),
    "blocks": (
        Column("map", "map"), Column("way", "way", "one", ("in", "out")), Column("label", "label"),
        Column("ports", "sockets", "words", hint=_SPANS), Column("channels", "channels without a socket", "whole"),
        Column("first_label", "first number in the label", "whole"),
        Column("when", "only when", "pairs", hint="optical=adat"), Column("speeds", "only at speeds", "words", SPEEDS),
        Column("key", "key"),
    ),
    "driver_maps": (
        Column("key", "key"), Column("label", "label"), Column("numbering", "lost numbers", "one", ("collapsing", "fixed")),
    ),
    "clock_sources": (Column("key", "key"), Column("label", "label"), Column("port", "from socket")),
    "modes": (
        Column("key", "key"), Column("label", "label"), Column("choices", "positions", "positions", hint="adat ADAT; spdif-optical S/PDIF"),
    ),
    "banks": (Column("key", "key"), Column("label", "label"), Column("ports", "sockets", "words", hint=_SPANS)),
    "inner_paths": (
        Column("from_ports", "from", "words", hint=_SPANS), Column("to_ports", "to", "words"), Column("sums", "sums", "tick"),
        Column("when", "only when", "pairs", hint="role=expander"), Column("kind", "copper", "one", get_args(PathKind)),
    ),
    "mixes": (
        Column("key", "key"), Column("label", "label"), Column("from_ports", "inputs", "words", hint=_SPANS),
        Column("to_ports", "feeds", "words", hint=_SPANS), Column("inputs_only", "no playback", "tick"), Column("channels", "sides", "whole"),
        Column("latency_samples", "delay, samples", "number"),
    ),
    "facts": (
        Column("name", "Name"), Column("role", "Kind of box", "one", get_args(Role)), Column("summary", "In a sentence"),
        Column("rates_hz", "Sample rates, Hz", "words"), Column("ppm", "Own clock, ± ppm", "number"),
        Column("jitter_ps", "Its jitter, ps", "number"), Column("lock_ppm", "Locks within ± ppm", "number"),
        Column("lock_light", "Lock light"), Column("supply", "Supply", "one", ("mains", "adapter", "bus", "phantom", "battery", "none")),
        Column("power_w", "Power, W", "number"), Column("rack_units", "Rack units", "number"),
        Column("bus", "Bus", "one", get_args(Bus)), Column("last_system", "Driver up to system"),
        Column("cautions", "Mind", "sentences"), Column("setup", "Set once", "sentences"),
    ),
}  # fmt: skip


class _Unreadable(ValueError):
    """A cell that cannot be read: the text is why, and what to write."""


def profile_rows(profile: Profile) -> Tables:
    """Return a profile as tables of text."""
    plain = folded(profile)
    blocks = [
        {"map": m["key"], "way": way, **block}
        for m in plain["driver_maps"]
        for way, side in (("in", "inputs"), ("out", "outputs"))
        for block in m[side]
    ]
    rows = {**plain, "blocks": blocks, "facts": [plain]}
    return {
        name: [{c.field: _write(c, row.get(c.field)) for c in columns} for row in rows.get(name, [])]
        for name, columns in COLUMNS.items()
    }


def _write(column: Column, value: Any) -> str:
    if value is None or value == "":
        return ""
    writers: dict[ColumnKind, Callable[[Any], str]] = {
        "words": lambda v: ", ".join(map(str, v)),
        "number": lambda v: f"{v:.10g}",
        "tick": lambda v: "yes" if v else "",
        "pairs": lambda v: ", ".join(f"{k}={p}" for k, p in v.items()),
        "lanes": lambda v: ", ".join(f"{k}={p}" for k, p in v.items()),
        "sentences": " | ".join,
        "positions": lambda v: "; ".join(f"{c['key']} {c['label']}" for c in v),
        "levels": lambda v: "; ".join(_level_text(k, level) for k, level in v.items()),
    }
    return writers.get(column.kind, str)(value)


def _level_text(signal: str, level: dict[str, Any]) -> str:
    text = f"{signal} max {level['max_dbu']:.10g}"
    if level["nominal_dbu"] is not None:
        text += f" nominal {level['nominal_dbu']:.10g}"
    return text + (f" {level['impedance_ohm']:.10g} ohm" if level["impedance_ohm"] is not None else "")


def read_rows(tables: Tables) -> tuple[Profile | None, tuple[ProfileFault, ...]]:
    """Return the profile that tables of text describe, and all that is wrong with them, each at its row.

    The profile is None where something in it could not be read at all.
    """
    faults: list[ProfileFault] = []
    plain: dict[str, list[dict[str, Any]]] = {name: [] for name in COLUMNS}
    for name, columns in COLUMNS.items():
        for n, row in enumerate(tables.get(name, []), start=1):
            if not any(text.strip() for text in row.values()):
                continue
            read: dict[str, Any] = {}
            for column in columns:
                try:
                    value = _read(column, row.get(column.field, "").strip())
                except _Unreadable as error:
                    faults.append(
                        ProfileFault(name, row_key(name, row, n), f"{column.heading}: {error.args[0]}", error.args[1])
                    )
                else:
                    if value is not None:
                        read[column.field] = value
            plain[name].append(read)
    if faults:
        return None, tuple(faults)
    try:
        form = json.dumps({"id": "F0", **unfold(_nested(plain, faults))})
        profile: Profile = build_checked(Profile, form)
    except FormError as error:
        place = str(error).split(":", 1)[0]
        part = place.split(".", 1)[0]
        found = re.search(r"\.(\d+)", place)
        key = f"row {int(found.group(1)) + 1}" if found else place
        return None, (*faults, ProfileFault(part if part in COLUMNS else "facts", key, str(error), "Mend that cell."))
    except ValueError as error:
        return None, (*faults, ProfileFault("ports", "", str(error), "Write a span as {1-8}."))
    if faults:
        return None, tuple(faults)
    return replace(profile, id=ProfileId("F0")), tuple(profile_faults(profile))


def row_key(table: str, row: Row, number: int) -> str:
    """Return what a row is called in a fault."""
    return (
        (row.get("key", "") if table != "blocks" else "")
        or row.get("label", "")
        or row.get("from_ports", "")
        or f"row {number}"
        if table != "facts"
        else ""
    )


def row_of(fault: ProfileFault, tables: Tables) -> tuple[str, int]:
    """Return the table and the row, from 0, in which a fault stands; row -1 is the table as a whole."""
    part, key = fault.part, fault.key
    if part == "facts":
        return "facts", 0
    if found := re.fullmatch(r"row (\d+)", key):
        return part, int(found.group(1)) - 1
    if part == "driver_maps" and "/" in key:
        of, _, block = key.rpartition("/")
        for number, row in enumerate(tables.get("blocks", [])):
            if row.get("map") == of and (row.get("key") or f"b{number + 1}") == block:
                return "blocks", number
    fields = {"blocks": ("label",), "inner_paths": ("from_ports",)}.get(part, ("key",))
    for number, row in enumerate(tables.get(part, [])):
        if any(key and key in (row.get(f, ""), *_spread_or_none(row.get(f, ""))) for f in fields):
            return part, number
    return part, -1


def _spread_or_none(text: str) -> list[str]:
    try:
        return [one for part in text.split(",") for one in spread(part.strip())]
    except ValueError:
        return []


def _nested(plain: dict[str, list[dict[str, Any]]], faults: list[ProfileFault]) -> dict[str, Any]:
    """Return the tables as a profile nests them: blocks inside their maps, facts at the top."""
    facts = plain["facts"][0] if plain["facts"] else {}
    facts = {"name": "", "role": "interface", "summary": "", **facts}
    if not facts["name"]:
        faults.append(ProfileFault("facts", "name", "it has no name", "Give it a plain descriptive name."))
    maps = [{**m, "inputs": [], "outputs": []} for m in plain["driver_maps"]]
    by_key = {m.get("key"): m for m in maps}
    for n, block in enumerate(plain["blocks"], start=1):
        into = by_key.get(block.pop("map", None))
        if into is None:
            label = block.get("label", f"row {n}")
            faults.append(
                ProfileFault("blocks", label, "it stands in a map that is not there", "Name one of the maps.")
            )
            continue
        side = into["inputs" if block.pop("way", "in") == "in" else "outputs"]
        # Where it has no key of its own, the row's number is its key, so that a fault leads back to the row.
        side.append({"key": f"b{n}", "label": "", **block})
    ports = [
        {"key": "", "label": "", "direction": "in", "connector": "trs", "carries": [], **p} for p in plain["ports"]
    ]
    rows = {name: plain[name] for name in ("modes", "banks", "clock_sources", "inner_paths", "mixes")}
    return {**facts, "ports": ports, "driver_maps": maps, **rows}


def _read(column: Column, text: str) -> Any:
    if column.kind == "tick":
        return text.casefold() in ("yes", "y", "x", "1", "true") if text else None
    if not text:
        return None
    readers: dict[ColumnKind, Callable[[Column, str], Any]] = {
        "one": _read_one,
        "words": _read_words,
        "whole": _read_whole,
        "number": _read_number,
        "pairs": _read_pairs,
        "levels": _read_levels,
        "lanes": _read_lanes,
        "positions": _read_positions,
        "sentences": lambda _, t: [s.strip() for s in t.split("|") if s.strip()],
    }
    return readers[column.kind](column, text) if column.kind in readers else text


def _read_one(column: Column, text: str) -> str:
    if text not in column.choices:
        raise _Unreadable(
            f"“{text[:40]}” is not among its choices", f"Write {', '.join(c for c in column.choices if c)}."
        )
    return text


def _read_words(column: Column, text: str) -> list[Any]:
    words = [w.strip() for w in text.split(",") if w.strip()]
    for word in words:
        if column.choices and word not in column.choices:
            raise _Unreadable(f"“{word[:40]}” is not among its choices", f"Write {', '.join(column.choices)}.")
    if column.field == "rates_hz":
        return [_read_whole(column, w) for w in words]
    return words


def _read_whole(_: Column, text: str) -> int:
    if not re.fullmatch(r"[+-]?\d{1,9}", text):
        raise _Unreadable(f"“{text[:40]}” is no whole number", "Write digits, such as 2.")
    return int(text)


def _read_number(_: Column, text: str) -> float:
    if not re.fullmatch(r"[+-]?\d{1,9}([.,]\d{1,9})?", text):
        raise _Unreadable(f"“{text[:40]}” is no number", "Write digits, such as 12.5.")
    return float(text.replace(",", "."))


def _read_pairs(_: Column, text: str) -> dict[str, str]:
    pairs = [p.split("=", 1) for p in text.split(",") if p.strip()]
    if any(len(p) != 2 or not p[0].strip() or not p[1].strip() for p in pairs):
        raise _Unreadable(f"“{text[:40]}” names no mode and position", "Write mode=position, such as optical=adat.")
    return {k.strip(): v.strip() for k, v in pairs}


def _read_lanes(column: Column, text: str) -> dict[str, int]:
    lanes: dict[str, int] = {}
    for speed, count in _read_pairs(column, text).items():
        if speed not in SPEEDS:
            raise _Unreadable(f"“{speed[:40]}” is no speed", f"Write {', '.join(SPEEDS)}, as in double=0.")
        lanes[speed] = _read_whole(column, count)
    return lanes


def _read_positions(_: Column, text: str) -> list[dict[str, str]]:
    parts = [p.strip().split(None, 1) for p in text.split(";") if p.strip()]
    return [{"key": p[0], "label": p[1] if len(p) == 2 else p[0]} for p in parts]


_LEVEL: Final = re.compile(r"^(\S+)\s+max\s+(-?[\d.]+)(?:\s+nominal\s+([+-]?[\d.]+))?(?:\s+([\d.]+)\s*ohm)?$")


def _read_levels(column: Column, text: str) -> dict[str, dict[str, float]]:
    levels: dict[str, dict[str, float]] = {}
    for part in (p.strip() for p in text.split(";") if p.strip()):
        found = _LEVEL.match(part)
        try:
            if found is None or (column.field == "levels" and found.group(1) not in get_args(Signal)):
                raise ValueError
            numbers = {"max_dbu": found.group(2), "nominal_dbu": found.group(3), "impedance_ohm": found.group(4)}
            levels[found.group(1)] = {k: float(v) for k, v in numbers.items() if v is not None}
        except ValueError:
            remedy = (
                "Write what it carries, then max and nominal in dBu and the impedance: line max 20 nominal 4 10000 ohm."
            )
            raise _Unreadable(f"“{part[:40]}” is no level", remedy) from None
    return levels
