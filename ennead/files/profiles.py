"""Profiles in TOML: one file a type of box, with ``{1-8}`` for ports that differ only by their number."""

import json
import re
import tomllib
from functools import cache
from itertools import product
from math import prod
from typing import Any, Final, get_args

from ennead.data import FOLDER
from ennead.files.building import build_checked
from ennead.files.errors import FileTrouble
from ennead.files.rows import plain
from ennead.rules.profile_holds_together import profile_faults
from ennead.studio.profile import Profile, Role

#: Ports alike in one line. House default; the largest MADI router has fewer.
MOST_ALIKE: Final = 512

#: Bytes of a profile. House default; the longest that ships takes a twentieth of it.
MOST_BYTES: Final = 200_000

_SPAN = re.compile(r"\{(\d{1,3})-(\d{1,3})\}")


def spread(text: str) -> list[str]:
    """Return what a text with ``{a-b}`` stands for: one text for every number, in order.

    Raises
    ------
    ValueError
        If a span runs backwards, or stands for more than any box has.
    """
    parts = _SPAN.split(text)
    if len(parts) == 1:
        return [text]
    spans = [range(int(a), int(b) + 1) for a, b in zip(parts[1::3], parts[2::3], strict=True)]
    many = prod(len(span) for span in spans)
    if not 0 < many <= MOST_ALIKE:
        reason = "runs backwards" if many == 0 else f"stands for {many}, more than {MOST_ALIKE}"
        raise ValueError(f"“{text[:60]}” {reason}")
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
    if len(text) > MOST_BYTES:
        raise FileTrouble(name, "it is far too long for a profile", "Choose a profile written by Ennead or by hand.")
    try:
        table = tomllib.loads(text)
        profile: Profile = build_checked(Profile, json.dumps({"id": "F0", **unfold(table)}))
        for fault in profile_faults(profile):
            raise FileTrouble(name, f"the profile is wrong at {fault}", fault.remedy)
    except (KeyError, AttributeError, TypeError, RecursionError, ValueError) as error:
        # A FormError and TOMLDecodeError are ValueErrors; the others come of tables that are no tables.
        what = f"“{error.args[0]}” is missing" if isinstance(error, KeyError) else plain(str(error))
        raise FileTrouble(name, f"the profile is wrong at {what}", "Mend that place and read it again.") from None
    return profile


def unfold(table: dict[str, Any]) -> dict[str, Any]:
    """Return tables with every row that stands for several ports written out."""
    new = dict(table)
    ports = []
    for port in table.get("ports", []):
        labels = spread(port.get("label", ""))
        for i, key in enumerate(spread(port.get("key", ""))):
            row = {**port, "key": key, "label": labels[i % len(labels)]}
            ports.append(row | {"mirrors": _spread_list(port["mirrors"])} if "mirrors" in port else row)
    new["ports"] = ports
    for bank in new.get("banks", []):
        bank["ports"] = _spread_list(bank["ports"])
    for path in (*new.get("inner_paths", []), *new.get("mixes", [])):
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
