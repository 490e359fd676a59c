"""Profiles in TOML: one file a type of box, with ``{1-8}`` for ports that differ only by their number."""

import json
import re
import tomllib
from functools import cache
from itertools import product
from typing import Any, get_args

from ennead.data import FOLDER
from ennead.files.errors import FileTrouble
from ennead.files.forms import FormError, plain, read_form
from ennead.files.references import profile_problems
from ennead.studio.profile import Profile, Role

_SPAN = re.compile(r"\{(\d{1,3})-(\d{1,3})\}")


def spread(text: str) -> list[str]:
    """Return what a text with ``{a-b}`` stands for: one text for every number, in order."""
    parts = _SPAN.split(text)
    if len(parts) == 1:
        return [text]
    spans = [range(int(a), int(b) + 1) for a, b in zip(parts[1::3], parts[2::3], strict=True)]
    texts = parts[0::3]
    return ["".join(t + str(n) for t, n in zip(texts, (*ns, ""), strict=True)) for ns in product(*spans)]


def _spread_list(keys: list[str]) -> list[str]:
    return [one for key in keys for one in spread(key)]


def read_profile(text: str, name: str) -> Profile:
    """Return the profile a TOML text describes.

    Parameters
    ----------
    name : str
        Where the text comes from, for messages.

    Raises
    ------
    FileTrouble
    """
    try:
        table = tomllib.loads(text)
        profile: Profile = read_form(Profile, json.dumps({"id": "F0", **_unfold(table)}))
        for problem in profile_problems(profile):
            raise FormError(problem)
    except (KeyError, AttributeError, TypeError, RecursionError, ValueError) as error:
        # FormError and TOMLDecodeError are ValueErrors; the others come of tables that are no tables.
        what = f"“{error.args[0]}” is missing" if isinstance(error, KeyError) else plain(str(error))
        raise FileTrouble(name, f"the profile is wrong at {what}", "Mend that place and read it again.") from None
    return profile


def _unfold(table: dict[str, Any]) -> dict[str, Any]:
    new = dict(table)
    ports = []
    for port in table.get("ports", []):
        labels = spread(port.get("label", ""))
        for i, key in enumerate(spread(port.get("key", ""))):
            ports.append({**port, "key": key, "label": labels[i % len(labels)]})
    new["ports"] = ports
    for bank in new.get("banks", []):
        bank["ports"] = _spread_list(bank["ports"])
    for path in new.get("inner_paths", []):
        path["from_ports"], path["to_ports"] = _spread_list(path["from_ports"]), _spread_list(path["to_ports"])
    for driver_map in new.get("driver_maps", []):
        for block in (*driver_map["inputs"], *driver_map["outputs"]):
            if "ports" in block:
                block["ports"] = _spread_list(block["ports"])
    return new


@cache
def shelf() -> tuple[Profile, ...]:
    """Return the profiles that ship with Ennead, by name within their role."""
    files = (FOLDER / "profiles").glob("*.toml")
    found = [(entry.name, read_profile(entry.read_text(encoding="utf-8"), entry.name)) for entry in files]
    roles = get_args(Role)
    return tuple(p for _, p in sorted(found, key=lambda f: (roles.index(f[1].role), f[0])))


def shelf_profile(name: str) -> Profile:
    """Return a shipped profile by its name."""
    return next(p for p in shelf() if p.name == name)



