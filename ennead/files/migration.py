"""From older forms to the present one: one function a version, from the interchange form to the interchange form."""

from collections.abc import Callable
from typing import Any, Final

from ennead.files.rows import FORMAT_VERSION
from ennead.files.switch_migration import with_overrides
from ennead.studio.document import channel_text

Form = dict[str, Any]


def _two(form: Form) -> Form:
    """Form 2: profiles state levels, power and bus, computers their sockets; all of it may be left out."""
    return {**form, "version": 2}


def _three(form: Form) -> Form:
    """Form 3: termination, rate switch and stored routing of units, grade of cables; all of it may be left out."""
    return {**form, "version": 3}


def _four(form: Form) -> Form:
    """Form 4: where sound goes out, and what else a source and a session may wish for."""
    return {**form, "version": 4, "destinations": [], "prices": {}}


def _five(form: Form) -> Form:
    """Form 5: sessions off their rate or without monitors, boxes beside a computer's interfaces or chained; all may be left out."""
    return {**form, "version": 5}


def _six(form: Form) -> Form:
    """Form 6: cables have plugs and wires, and everything that is heard hangs on one; what stood keeps its ends in words."""
    built = form.get("as_built")
    if isinstance(built, dict) and isinstance(stood := built.get("cables"), list):
        words = _Words(form)
        built = {
            **built,
            "cables": [{"cable": _plugged(c), "words": [words.of(c, "start"), words.of(c, "end")]} for c in stood],
        }
    form = {**form, "version": 6, "as_built": built}
    if isinstance(form.get("destinations"), list) and isinstance(form.get("cables"), list):
        form = _with_leads(form)
    cables = form.get("cables")
    return {**form, "cables": [_for_sessions(_plugged(c), form) for c in cables]} if isinstance(cables, list) else form


def _seven(form: Form) -> Form:
    """Form 7: what a session wants of a source is its own wish, apart from the facts of the source."""
    form = {**form, "version": 7}
    sources, sessions = form.get("sources"), form.get("sessions")
    if not isinstance(sources, list) or not isinstance(sessions, list):
        return form
    wished = {
        s.get("id"): {k: s[k] for k in _WISHES if k in s}
        for s in sources
        if isinstance(s, dict) and isinstance(s.get("id"), str)
    }
    facts = [{k: v for k, v in s.items() if k not in _WISHES} if isinstance(s, dict) else s for s in sources]
    return {**form, "sources": facts, "sessions": [_wishing(s, wished) for s in sessions]}


def _eight(form: Form) -> Form:
    """Form 8: patch bays, scenes of cords, and the cords that stand; older studios have none."""
    built = form.get("as_built")
    built = {**built, "cords": []} if isinstance(built, dict) else built
    form = {**form, "version": 8, "bays": [], "scenes": [], "scene": "", "stock": [], "as_built": built}
    profiles, units = form.get("profiles"), form.get("units")
    if not isinstance(profiles, list) or not isinstance(units, list):
        return form
    shapes = {p["id"]: p for p in profiles if _was_bay(p)}
    on = [u for u in units if isinstance(u, dict) and isinstance(u.get("profile"), str) and u["profile"] in shapes]
    return {
        **form,
        "profiles": [_of_points(p) if isinstance(p, dict) and p.get("id") in shapes else p for p in profiles],
        "units": [_without_normal(u) if u in on else u for u in units],
        "sessions": [_without_normals(s, {u.get("id") for u in on}) for s in form["sessions"]]
        if isinstance(form.get("sessions"), list)
        else form.get("sessions"),
        "bays": [_laid(u, shapes[u["profile"]]) for u in on],
    }


def _nine(form: Form) -> Form:
    """Form 9: how looms are made up and which are spare, switches of scenes, kept revisions; older studios have none."""
    return {**form, "version": 9, "resting": {}, "spares": [], "revisions": []}


def _ten(form: Form) -> Form:
    """Form 10: what sessions and scenes state of switches, above the boxes' own settings."""
    return with_overrides(form)


def _eleven(form: Form) -> Form:
    """Form 11: findings set aside; older studios have none."""
    return {**form, "version": 11, "set_aside": []}


def _twelve(form: Form) -> Form:
    """Form 12: levels of mixes, what feeds an output, channels without a socket that a source holds; older studios state none."""
    return {**form, "version": 12}


def _thirteen(form: Form) -> Form:
    """Form 13: how loops are used; older studios state nothing of it."""
    return {**form, "version": 13}


def _fourteen(form: Form) -> Form:
    """Form 14: recall cards and print jobs; older studios hold none."""
    return {**form, "version": 14, "recalls": [], "prints": [], "printing": {}}


def _fifteen(form: Form) -> Form:
    """Form 15: loops of any width, each channel's delay, levels that a switch chooses; older studios state nothing of these."""
    return {**form, "version": 15}


def _sixteen(form: Form) -> Form:
    """Form 16: names of the driver numbers of a computer, by rate; older studios have none."""
    return {**form, "version": 16}


def _was_bay(profile: Any) -> bool:
    """Say whether a profile is a bay as the shelf once had it: its pairs all joined one way, by a switch."""
    if not isinstance(profile, dict) or profile.get("role") != "bay" or not isinstance(profile.get("id"), str):
        return False
    ports, paths, modes = (profile.get(name) for name in ("ports", "inner_paths", "modes"))
    if not all(isinstance(part, list) and all(isinstance(row, dict) for row in part) for part in (ports, paths, modes)):
        return False
    keys = {p.get("key") for p in ports if isinstance(p.get("key"), str)}  # type: ignore[union-attr]
    if [m.get("key") for m in modes] != ["normal"] or len(keys) != len(ports):  # type: ignore[union-attr,arg-type]
        return False
    ends = [path.get(side) for path in paths for side in ("from_ports", "to_ports")]  # type: ignore[union-attr]
    return all(isinstance(e, list) and all(isinstance(k, str) and k in keys for k in e) for e in ends)


def _of_points(profile: Form) -> Form:
    ports = [{**p, "direction": "either"} for p in profile["ports"]]
    return {**profile, "ports": ports, "modes": [], "inner_paths": []}


def _without_normal(unit: Form) -> Form:
    settings = unit.get("settings")
    modes = settings.get("modes") if isinstance(settings, dict) else None
    if not isinstance(settings, dict) or not isinstance(modes, dict):
        return unit
    return {**unit, "settings": {**settings, "modes": {k: v for k, v in modes.items() if k != "normal"}}}


def _without_normals(session: Any, units: set[Any]) -> Any:
    kept = session.get("settings") if isinstance(session, dict) else None
    if not isinstance(kept, dict):
        return session
    return {
        **session,
        "settings": {k: _without_normal({"settings": v})["settings"] if k in units else v for k, v in kept.items()},
    }


def _laid(unit: Form, profile: Form) -> Form:
    """Return the bay of a unit: its rows as they stand on its front, its pairs joined as its switch stood."""
    settings = unit.get("settings")
    modes = settings.get("modes") if isinstance(settings, dict) else None
    stood = modes.get("normal", "half") if isinstance(modes, dict) else "half"
    rows: dict[str, list[str]] = {}
    for port in profile["ports"]:
        rows.setdefault(str(port.get("row", "")), []).append(port["key"])
    normals = [
        {"start": start, "end": end, "mode": stood}
        for path in profile["inner_paths"]
        if stood in ("half", "full", "parallel") and path.get("when", {}) == {"normal": stood}
        for start, end in zip(path["from_ports"], path["to_ports"], strict=False)
    ]
    return {
        "id": unit.get("id"),
        "rows": list(rows.values()),
        "normals": normals,
        "labels": {},
        "pitch_mm": 9.0 if any(len(row) > 24 for row in rows.values()) else 17.9,
        "in_pairs": False,
        "bussed": False,
        "note": "",
    }


_WISHES: Final = ("group", "track", "pinned", "note", "coherent", "priority", "preamp", "outboard")


def _wishing(session: Any, wished: dict[Any, Form]) -> Any:
    """Return a session with a wish for each source on its list; what is no such session is left for the reader to refuse."""
    listed = session.get("sources", []) if isinstance(session, dict) else None
    if not isinstance(listed, list) or not all(isinstance(key, str) for key in listed):
        return session
    return {
        **{k: v for k, v in session.items() if k != "sources"},
        "wishes": [{"source": key, **wished.get(key, {})} for key in listed],
    }


def _for_sessions(cable: Any, form: Form) -> Any:
    """Return a cable with the sessions it serves: those that list its source or destination."""
    plugs = cable.get("plugs") if isinstance(cable, dict) else None
    line = (
        next((p["line"] for p in plugs if isinstance(p, dict) and "line" in p), None)
        if isinstance(plugs, list)
        else None
    )
    sessions = form.get("sessions")
    if line is None or not isinstance(sessions, list):
        return cable
    lists = [
        (s.get("id"), [*_listed(s, "sources"), *_listed(s, "destinations")]) for s in sessions if isinstance(s, dict)
    ]
    return {**cable, "sessions": [key for key, listed in lists if line in listed]}


def _listed(session: Form, kind: str) -> list[Any]:
    found = session.get(kind, [])
    return found if isinstance(found, list) else []


def _plugged(cable: Any) -> Any:
    """Return a cable with plugs instead of a start and an end; what is no such cable is left for the reader to refuse."""
    if not isinstance(cable, dict) or "start" not in cable or "end" not in cable:
        return cable
    start, rest = cable["start"], {k: v for k, v in cable.items() if k not in ("start", "end")}
    wires: list[Form] = []
    if isinstance(start, dict) and "source" in start:
        channel = start.get("channel", 1)
        wires = [] if channel == 1 else [{"a": 0, "a_lane": channel, "b": 1, "b_lane": 1}]
        start = {("line" if k == "source" else k): v for k, v in start.items() if k != "channel"}
    return {**rest, "plugs": [start, cable["end"]], "wires": wires}


def _with_leads(form: Form) -> Form:
    """Return a form in which destinations name the box they are wired to, or have cables of their own, instead of holding sockets."""
    roles = {str(p.get("id")): p for p in form.get("profiles", []) if isinstance(p, dict)}
    units = {
        str(u.get("id")): roles.get(str(u.get("profile")), {}) for u in form.get("units", []) if isinstance(u, dict)
    }
    words, cables, destinations = _Words(form), list(form["cables"]), []
    wired = [
        c for c in cables if isinstance(c, dict) and isinstance(c.get("start"), dict) and isinstance(c.get("end"), dict)
    ]
    counters = form.get("counters")
    last = counters.get("C", 0) if isinstance(counters, dict) else 0
    for destination in form["destinations"]:
        if not isinstance(destination, dict) or not _is_plain(destination, last):
            destinations.append(destination)
            continue
        outputs, returns = destination.get("outputs", []), destination.get("returns", [])
        now = {k: v for k, v in destination.items() if k not in ("outputs", "returns")}
        at, boxes = [], []
        for channel, out in enumerate(outputs, start=1):
            standing = [c["end"] for c in wired if c["start"] == out and "unit" in c["end"]]
            if standing:
                suits = {"mains": "loudspeaker", "speakers": "loudspeaker", "cue": "cue", "loop": "processor"}.get(
                    str(now.get("kind")), ""
                )
                at.append(min(standing, key=lambda e: units.get(str(e["unit"]), {}).get("role") != suits))
            elif out not in outputs[: channel - 1]:
                last += 1
                straight = channel == 1 or outputs.count(out) > 1
                cables.append(
                    _lead(
                        last,
                        out,
                        {"line": now["id"]},
                        [] if straight else [{"a": 0, "a_lane": 1, "b": 1, "b_lane": channel}],
                    )
                )
        if at and now.get("kind") == "loop":
            boxes = list(dict.fromkeys(e["unit"] for e in at))
        for channel, back in enumerate(returns, start=1):
            feeding = next((c for c in wired if c["end"] == back and "unit" in c["start"]), None)
            if feeding is None:
                last += 1
                wires = [] if channel == 1 else [{"a": 0, "a_lane": channel, "b": 1, "b_lane": 1}]
                cables.append(_lead(last, {"line": now["id"], "side": "return"}, back, wires))
            elif feeding["start"]["unit"] not in boxes:
                said = f"It came back by {words.of({'end': back}, 'end')}, into which {feeding.get('id')} runs."
                now["note"] = f"{now.get('note', '')} {said}".strip()
        destinations.append({**now, "at": at, "boxes": boxes})
    if isinstance(counters, dict):
        form = {**form, "counters": {**counters, "C": last} if last else counters}
    return {**form, "cables": cables, "destinations": destinations}


def _is_plain(destination: Form, last: Any) -> bool:
    """Say whether a destination has the shape older forms gave it; what has not is left for the reader to refuse."""
    ends = [destination.get(side, []) for side in ("outputs", "returns")]
    ok = isinstance(destination.get("id"), str) and type(last) is int and isinstance(destination.get("note", ""), str)
    return ok and all(
        isinstance(e, list) and all(isinstance(end, dict) and "unit" in end and "port" in end for end in e)
        for e in ends
    )


def _lead(number: int, first: Form, last: Form, wires: list[Form]) -> Form:
    return {"id": f"C{number}", "plugs": [first, last], "wires": wires}


class _Words:
    """The names by which the ends of cables went when an older document was written."""

    def __init__(self, form: Form) -> None:
        self._units, self._sources = self._by_id(form, "units"), self._by_id(form, "sources")
        self._profiles = self._by_id(form, "profiles")

    @staticmethod
    def _by_id(form: Form, kind: str) -> dict[Any, Form]:
        rows = form.get(kind)
        return {str(row.get("id")): row for row in rows if isinstance(row, dict)} if isinstance(rows, list) else {}

    def of(self, cable: Any, side: str) -> str:
        """Return one end of a cable in words: ``Pier · Mic 1``, ``Fiddle``."""
        end = cable.get(side) if isinstance(cable, dict) else None
        if not isinstance(end, dict):
            return ""
        if "source" in end:
            source = self._sources.get(str(end["source"]), {})
            channel = (
                f" {channel_text(end['channel'])}"
                if source.get("channels", 1) != 1 and isinstance(end.get("channel"), int)
                else ""
            )
            return f"{source.get('name', end['source'])}{channel}"
        unit = self._units.get(str(end.get("unit")), {})
        ports = self._profiles.get(str(unit.get("profile")), {}).get("ports")
        labels = {p.get("key"): p.get("label") for p in ports if isinstance(p, dict)} if isinstance(ports, list) else {}
        return f"{unit.get('name', end.get('unit'))} · {labels.get(end.get('port')) or end.get('port')}"


#: By the version a function starts from.
_STEPS: Final[dict[int, Callable[[Form], Form]]] = {
    1: _two,
    2: _three,
    3: _four,
    4: _five,
    5: _six,
    6: _seven,
    7: _eight,
    8: _nine,
    9: _ten,
    10: _eleven,
    11: _twelve,
    12: _thirteen,
    13: _fourteen,
    14: _fifteen,
    15: _sixteen,
}


def migrated(form: Form) -> Form:
    """Return an older document in the present form; what is wrong with it is found when it is read."""
    while form.get("version") in _STEPS and form["version"] < FORMAT_VERSION:
        form = _STEPS[form["version"]](form)
    return form
