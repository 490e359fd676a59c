"""Profiles as people read them: ports alike folded into one row, the whole as TOML text."""

import json
import re
from collections.abc import Mapping
from typing import Any, Final

from ennead.files.rows import to_plain
from ennead.studio.profile import Profile

_END: Final = re.compile(r"^(.*?)(\d{1,3})(\D*)$", re.DOTALL)

#: What a field is where nothing is said; such fields are not written.
_UNSAID: Final[tuple[Any, ...]] = (None, "", [], {})
_DEFAULTS: Final[dict[str, Any]] = {
    "phantom_on_xlr_only": True,
    "sums": False,
    "rack_units": 0.0,
    "asynchronous": False,
    "inputs_only": False,
    "first_label": 1,
}


def folded(profile: Profile) -> dict[str, Any]:
    """Return a profile as tables in which ports that differ only by their number share a row (``mic{1-8}``)."""
    plain = to_plain(profile)
    table: dict[str, Any] = {k: v for k, v in plain.items() if k not in ("id", "ports")}
    table["ports"] = _fold_ports(plain["ports"])
    for bank in table["banks"]:
        bank["ports"] = fold_keys(bank["ports"])
    for path in (*table["inner_paths"], *table["mixes"]):
        path["from_ports"], path["to_ports"] = fold_keys(path["from_ports"]), fold_keys(path["to_ports"])
    for driver_map in table["driver_maps"]:
        for block in (*driver_map["inputs"], *driver_map["outputs"]):
            block["ports"] = fold_keys(block["ports"])
            if not block["channels"]:
                del block["channels"]
    return table


def fold_keys(keys: list[str]) -> list[str]:
    """Return keys with runs of consecutive numbers as one: ``mic1, mic2, mic3`` is ``mic{1-3}``."""
    found: list[tuple[str, int, int, str] | str] = []
    for key in keys:
        match = _END.match(key)
        last = found[-1] if found else None
        if match is None or match.group(2) != str(int(match.group(2))):
            found.append(key)
            continue
        stem, number, tail = match.group(1), int(match.group(2)), match.group(3)
        if isinstance(last, tuple) and (last[0], last[3]) == (stem, tail) and last[2] + 1 == number:
            found[-1] = (stem, last[1], number, tail)
        else:
            found.append((stem, number, number, tail))
    return [f if isinstance(f, str) else _span(*f) for f in found]


def _span(stem: str, first: int, last: int, tail: str) -> str:
    return f"{stem}{first}{tail}" if first == last else f"{stem}{{{first}-{last}}}{tail}"


def _fold_ports(ports: list[dict[str, Any]]) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = []
    group: list[dict[str, Any]] = []
    for port in ports:
        if group and not _goes_on(group, port):
            rows.append(_row(group))
            group = []
        group.append(port)
    return [*rows, _row(group)] if group else rows


def _goes_on(group: list[dict[str, Any]], port: dict[str, Any]) -> bool:
    """Say whether a port is the next of a group: all alike but for the number, in key and label alike."""
    named = ("key", "label")
    if any(port[k] != v for k, v in group[0].items() if k not in named):
        return False
    return all(len(fold_keys([p[name] for p in (*group, port)])) == 1 for name in named)


def _row(group: list[dict[str, Any]]) -> dict[str, Any]:
    first = group[0]
    if first["channels"] == 1:
        first = {k: v for k, v in first.items() if k != "channels"}
    return {**first, "key": fold_keys([p["key"] for p in group])[0], "label": fold_keys([p["label"] for p in group])[0]}


def profile_toml(profile: Profile) -> str:
    """Return a profile as TOML text; reading it gives the same profile."""
    table = folded(profile)
    long = ("ports", "driver_maps")
    lines = [f"{k} = {_value(v)}" for k, v in table.items() if k not in long and _said(k, v)]
    for name in long:
        for row in table[name]:
            lines += ["", f"[[{name}]]"]
            lines += [
                f"{k} = {_rows(v) if k in ('inputs', 'outputs') else _value(v)}"
                for k, v in row.items()
                if _said(k, v) or k in ("inputs", "outputs")
            ]
    return "\n".join(lines) + "\n"


def _said(key: str, value: Any) -> bool:
    return value not in _UNSAID and not (key in _DEFAULTS and value == _DEFAULTS[key])


def _rows(rows: list[dict[str, Any]]) -> str:
    return "[\n" + "".join(f"    {_value(row)},\n" for row in rows) + "]"


def _value(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        # A TOML basic string has JSON's escapes; only the delete character must be added.
        return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007f")
    if isinstance(value, Mapping):
        return "{ " + ", ".join(f"{_key(k)} = {_value(v)}" for k, v in value.items() if _said(k, v)) + " }"
    if isinstance(value, list):
        return "[" + ", ".join(_value(v) for v in value) + "]"
    return repr(value)


def _key(key: str) -> str:
    return key if re.fullmatch(r"[A-Za-z0-9_-]+", key) else json.dumps(key)
