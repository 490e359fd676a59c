"""From form 9 to form 10: switches of sessions and scenes as what each states, instead of whole settings that took turns in the units."""

from typing import Any

Form = dict[str, Any]


def with_overrides(form: Form) -> Form:
    """Return the form with each unit's own settings in it, and with the switches that sessions and scenes state above these.

    The box takes what the current session had without its scene. What every other session, and every scene, had of a box, they
    state switch by switch, so that each session in each scene stands as it did. What is no such form is left for the reader to refuse.
    """
    form = {**form, "version": 10}
    resting, scene = form.pop("resting", {}), form.pop("scene", "")
    rows = [_rows(form.get(name)) for name in ("units", "sessions", "scenes")]
    if None in rows or not isinstance(resting, dict) or not isinstance(scene, str):
        return form
    every, sessions, scenes = [row or [] for row in rows]
    profiles = {
        p.get("id"): p for p in form.get("profiles", ()) if isinstance(p, dict) and isinstance(p.get("id"), str)
    }
    units = [u for u in every if isinstance(u.get("id"), str) and isinstance(u.get("profile"), str)]
    profile_of = {u["id"]: profiles.get(u["profile"]) for u in units}
    now = {u["id"]: u.get("settings", {}) for u in units}

    def stated(of: Any) -> Any:
        if not isinstance(of, dict):
            return of
        said = {unit: _stated(profile_of.get(unit), settings) for unit, settings in of.items()}
        return {unit: switches for unit, switches in said.items() if switches or unit not in now}

    def laid(row: Form) -> Form:
        # How the boxes of the scene in force stand is in the units.
        own = row.get("settings", {})
        if row.get("id") == scene and isinstance(own, dict):
            own = {unit: now.get(unit, then) for unit, then in own.items()}
        return {**row, "settings": stated(own)}

    kept_for = {row["id"]: row.get("session", "") for row in scenes if isinstance(row.get("id"), str)}
    return {
        **form,
        "units": [_at_rest(u, resting) for u in every],
        "sessions": [
            {
                **s,
                "settings": stated(s.get("settings", {})),
                "scene": _scene_of(s, form.get("session"), scene, kept_for),
            }
            for s in sessions
        ],
        "scenes": [laid(row) for row in scenes],
    }


def _rows(value: Any) -> list[Form] | None:
    return value if isinstance(value, list) and all(isinstance(row, dict) for row in value) else None


def _scene_of(session: Form, current: Any, scene: Any, kept_for: dict[Any, Any]) -> Any:
    """Return the scene of a session: of the current one the one in force; of another the same, unless that is kept for one session."""
    if session.get("id") == current or (scene in kept_for and not kept_for[scene]):
        return scene
    own = [key for key, of in kept_for.items() if of == session.get("id")]
    return own[0] if len(own) == 1 else ""


def _at_rest(unit: Form, resting: Form) -> Form:
    key, now = unit.get("id"), unit.get("settings", {})
    then = resting.get(key) if isinstance(key, str) else None
    if not isinstance(then, dict) or not isinstance(now, dict):
        return unit
    settings = {k: v for k, v in now.items() if k not in _TAKES_TURNS} | {
        k: v for k, v in then.items() if k in _TAKES_TURNS
    }
    return {**unit, "settings": settings}


#: What of a box's settings each session and scene had of its own.
_TAKES_TURNS = ("modes", "phantom", "clock_source", "rate_hz", "pads", "off")


def _stated(profile: Any, settings: Any) -> Any:
    """Return every switch of a box as some settings have it; of what its description does not offer, its first position."""
    if not isinstance(profile, dict) or not isinstance(settings, dict):
        return settings
    try:
        return _each_switch(profile, settings)
    except (AttributeError, IndexError, KeyError, TypeError):
        return settings


def _each_switch(profile: Form, settings: Form) -> list[Form]:
    phantom, pads, modes = settings.get("phantom", []), settings.get("pads", []), settings.get("modes", {})
    found = [("phantom", b["key"], "on" if b["key"] in phantom else "off") for b in profile.get("banks", ())]
    found += [
        ("pad", p["key"], "on" if p["key"] in pads else "off") for p in profile["ports"] if p.get("pad_db") is not None
    ]
    for mode in profile.get("modes", ()):
        choices = [c["key"] for c in mode["choices"]]
        position = modes.get(mode["key"])
        found.append(("mode", mode["key"], position if position in choices else choices[0]))
    clocks = [c["key"] for c in profile.get("clock_sources", ())]
    if clocks:
        source = settings.get("clock_source", "")
        found.append(("clock", "", source if source in clocks else clocks[0]))
    rate = settings.get("rate_hz")
    if clocks or rate is not None:
        found.append(("rate", "", "" if rate is None else str(rate)))
    if profile.get("supply", "") != "none" or settings.get("off"):
        found.append(("power", "", "off" if settings.get("off") else "on"))
    return [{"what": what, "key": key, "value": value} for what, key, value in sorted(found)]
