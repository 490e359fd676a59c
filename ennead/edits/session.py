"""Edits of the session: its rate and its input list."""

from collections.abc import Mapping, Sequence
from typing import Any

from ennead.edits.house import with_place
from ennead.edits.leads import pulled
from ennead.edits.names import clean_name
from ennead.edits.tracks import with_tracks_that_hold
from ennead.standards.clock import MOST_PULL_PPM
from ennead.standards.rates import RATES_HZ, rate_text
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import LineEnd, SourceEnd, two_plugs
from ennead.studio.ids import CableId, SessionId, SourceId, UnitId
from ennead.studio.record import names_of, replace
from ennead.studio.session import (
    AIM_LABELS,
    KINDS,
    LOOP_NUMBERS,
    PHANTOMS,
    PRIORITIES,
    SOURCE_RANGES,
    SPARES,
    WISHES,
    LoopNumbers,
    Session,
    SourceFacts,
    Wish,
)

MOST_CHANNELS = 2
_ALLOWED: dict[str, tuple[object, ...]] = {
    "kind": KINDS,
    "phantom": PHANTOMS,
    "channels": (1, MOST_CHANNELS),
    "priority": PRIORITIES,
}
_KNOWN = set(names_of(SourceFacts)) - {"at", "inside"} | set(WISHES)
_WISHED = frozenset(WISHES)
_FREE_TEXT = ("group", "track", "note")
_BARE = {"coherent": (bool,), "pinned": (bool,), "preamp": (str,), "outboard": (str, type(None))}


def _put(studio: Studio, session: Session) -> Studio:
    return replace(studio, sessions=studio.sessions.put(session.id, session))


def rename_session(studio: Studio, name: str) -> Studio:
    """Give the current session a name no other has.

    Raises
    ------
    BadValue
    """
    return _put(studio, replace(studio.current, name=free_name(studio, name, studio.session)))


def free_name(studio: Studio, name: str, of: SessionId | None = None) -> str:
    """Return a name for a session, cleaned; names tell sessions apart.

    Raises
    ------
    BadValue
        If another session has it.
    """
    name = clean_name(name, "the name of a session")
    if any(s.name.casefold() == name.casefold() and s.id != of for s in studio.sessions.values()):
        raise BadValue("the name of a session", name, "Another session is called so.")
    return name


def set_rate(studio: Studio, rate_hz: int) -> Studio:
    """Set the current session's sample rate, Hz.

    Raises
    ------
    BadValue
        If it is not one of the six studio rates.
    """
    if rate_hz not in RATES_HZ:
        rates = ", ".join(rate_text(r) for r in RATES_HZ)
        raise BadValue("a sample rate", rate_hz, f"Choose one of {rates}.")
    return _put(studio, replace(studio.current, rate_hz=rate_hz))


def set_missing(studio: Studio, unit: UnitId, missing: bool) -> Studio:
    """Say that a box is not there on the current session, or that it is after all.

    Its cables hang loose, and nothing is planned on it.

    Raises
    ------
    UnknownObject
    """
    studio.unit(unit)
    gone = {*studio.current.missing, unit} if missing else set(studio.current.missing) - {unit}
    return _put(studio, replace(studio.current, missing=tuple(u for u in studio.units if u in gone)))


def set_spare(studio: Studio, need: str, count: int) -> Studio:
    """Wish that so many inputs of a kind stay free; 0 for none.

    Raises
    ------
    BadValue
    """
    if need not in SPARES:
        raise BadValue("a kind of input", need, f"Choose {_either(SPARES)}.")
    if not 0 <= count <= 9_999:
        raise BadValue("a number of spare inputs", count, "Give 0 to 9999.")
    spare = {k: n for k, n in studio.current.spare.items() if k != need} | ({need: count} if count else {})
    return _put(studio, replace(studio.current, spare=spare))


def set_loop_numbers(studio: Studio, policy: str) -> Studio:
    """Say whether a loop's send and return have the same driver number: *paired* where it costs nothing, *always*, or *free*.

    Raises
    ------
    BadValue
    """
    known: dict[str, LoopNumbers] = {key: key for key in LOOP_NUMBERS}
    if policy not in known:
        raise BadValue("a policy for loop numbers", policy, f"Choose {_either(tuple(known))}.")
    return _put(studio, replace(studio.current, loop_numbers=known[policy]))


def set_pull(studio: Studio, pull_ppm: float) -> Studio:
    """Let all clocks of the current session run off the nominal rate, ppm; 0 for the rate itself.

    Raises
    ------
    BadValue

    References
    ----------
    AES10: varispeed by up to 12.5 % either way, in 56-channel mode.
    """
    if (
        isinstance(pull_ppm, bool)
        or not isinstance(pull_ppm, int | float)
        or not -MOST_PULL_PPM <= pull_ppm <= MOST_PULL_PPM
    ):
        raise BadValue(
            "how far a session runs off its rate, ppm",
            pull_ppm,
            f"Give {-MOST_PULL_PPM:g} to {MOST_PULL_PPM:g}, such as −999 for 0.1 % down.",
        )
    return _put(studio, replace(studio.current, pull_ppm=float(pull_ppm)))


def set_mains_silent(studio: Studio, silent: bool) -> Studio:
    """Say whether the monitors' outputs may serve others in the current session, because the monitors are not used."""
    return _put(studio, replace(studio.current, mains_silent=bool(silent)))


def set_price(studio: Studio, name: str, price: float | None) -> Studio:
    """Note what a type of box or a kind of cable costs, in the user's own currency; None forgets it.

    Raises
    ------
    BadValue
    """
    name = clean_name(name, "the name of what has a price")
    if price is None:
        return replace(studio, prices=studio.prices.without(name))
    if isinstance(price, bool) or not isinstance(price, int | float) or not 0 <= price < 1e9:
        raise BadValue("a price", price, "Give 0 or more.")
    return replace(studio, prices=studio.prices.put(name, float(price)))


def set_aims(studio: Studio, aims: Sequence[str]) -> Studio:
    """Say what matters more than what when places are found: every aim once, the most important first.

    Raises
    ------
    BadValue
    """
    if sorted(aims) != sorted(AIM_LABELS):
        raise BadValue("an order of aims", ", ".join(aims), f"Give each once: {', '.join(AIM_LABELS)}.")
    return _put(studio, replace(studio.current, aims=() if tuple(aims) == tuple(AIM_LABELS) else tuple(aims)))


def add_source(studio: Studio, name: str, at: int | None = None, **facts: Any) -> Studio:
    """Add a source to the current session's list, at the end or before position `at` (from 0).

    `facts` are fields of `SourceFacts` and `Wish`; a place may be given by its name and is added where it is new.

    Raises
    ------
    BadValue, UnknownObject
    """
    studio, key = studio.with_counter("sources")
    source_id = SourceId(key)
    studio, facts = _checked(studio, facts)
    facts, wished = _apart(facts)
    source = SourceFacts(source_id, clean_name(name, "the name of a source"), **facts)
    order = list(studio.current.wishes)
    order.insert(len(order) if at is None else at, Wish(source_id, **wished))
    studio = replace(studio, sources=studio.sources.put(source_id, source))
    return _put(studio, replace(studio.current, wishes=tuple(order)))


def _apart(said: Mapping[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
    """Return what is a fact of a source, and what is wished of it."""
    wished = {k: v for k, v in said.items() if k in _WISHED}
    return {k: v for k, v in said.items() if k not in wished}, wished


def add_sources(studio: Studio, lines: Sequence[Mapping[str, Any]]) -> Studio:
    """Add many sources at the end of the current session's list; each line holds the facts of one, its name among them.

    Raises
    ------
    BadValue, UnknownObject
        Of the first line that cannot be; nothing is then added.
    """
    new: dict[SourceId, SourceFacts] = {}
    wishes: list[Wish] = []
    for line in lines:
        facts = dict(line)
        name = clean_name(facts.pop("name"), "the name of a source")
        studio, facts = _checked(studio, facts)
        source_id = SourceId(f"S{studio.counters.get('S', 0) + len(new) + 1}")
        facts, wished = _apart(facts)
        new[source_id] = SourceFacts(source_id, name, **facts)
        wishes.append(Wish(source_id, **wished))
    if not new:
        return studio
    counters = studio.counters.put("S", studio.counters.get("S", 0) + len(new))
    studio = replace(studio, sources=studio.sources.put_all(new), counters=counters)
    return _put(studio, replace(studio.current, wishes=(*studio.current.wishes, *wishes)))


def change_source(studio: Studio, source: SourceId, **facts: Any) -> Studio:
    """Change facts of a source, or what the current session wants of it; a fact a person has changed is no longer a guess.

    A source that becomes mono loses the cable of its second channel.

    Raises
    ------
    BadValue
    UnknownObject
        Also where something is wished of a source that the session does not list.
    """
    old = studio.source(source)
    if "name" in facts:
        facts["name"] = clean_name(facts["name"], "the name of a source")
    studio, facts = _checked(studio, facts)
    facts.setdefault("guessed", tuple(g for g in old.guessed if g not in facts))
    facts, wished = _apart(facts)
    if wished:
        studio = _wish(studio, source, wished)
    new = replace(studio.sources[source], **facts)
    if len(new.inside) > new.channels:
        new = replace(new, inside=new.inside[: new.channels])
    gone = [
        c.id
        for c in studio.cables.values()
        if any(
            seat[0] == source and isinstance(channel := seat[1], int) and channel > new.channels for seat in c.places
        )
    ]
    cables = studio.cables.without(*gone) if gone else studio.cables
    return replace(studio, sources=studio.sources.put(source, new), cables=cables)


def _wish(studio: Studio, source: SourceId, wished: dict[str, Any]) -> Studio:
    if source not in studio.current.wish_of:
        raise UnknownObject("source in this session", source)
    wishes = tuple([replace(w, **wished) if w.source == source else w for w in studio.current.wishes])
    return _put(studio, replace(studio.current, wishes=wishes))


def _checked(studio: Studio, facts: dict[str, Any]) -> tuple[Studio, dict[str, Any]]:
    for name, value in facts.items():
        if name not in _KNOWN:
            raise BadValue("a fact of a source", name, f"Known are: {', '.join(sorted(_KNOWN))}.")
        if name in _ALLOWED and value not in _ALLOWED[name]:
            raise BadValue(f"the {name} of a source", value, f"Choose {_either(_ALLOWED[name])}.")
        if name in SOURCE_RANGES and value is not None:
            _check_range(name, value)
        if name in _BARE and not isinstance(value, _BARE[name]):
            raise BadValue(f"the {name} of a source", value, "Choose one of those offered.")
        if name == "outboard" and value is not None:
            studio.unit(UnitId(value))
        if name == "preamp" and value and value not in studio.units and value not in studio.profiles:
            raise UnknownObject("unit or profile", value)
        if name in _FREE_TEXT:
            facts[name] = clean_name(value, f"the {name} of a source", may_be_empty=True)
    return with_place(studio, facts)


def _check_range(name: str, value: Any) -> None:
    least, most = SOURCE_RANGES[name]
    words = {
        "sensitivity_mv_pa": "the sensitivity, mV/Pa,",
        "loudest_db_spl": "the loudest sound, dB,",
        "level_dbu": "the level, dBu,",
        "impedance_ohm": "the impedance, ohm,",
    }[name]
    if isinstance(value, bool) or not isinstance(value, int | float) or not least <= value <= most:
        raise BadValue(f"{words} of a source", value, f"Give {least:g} to {most:g}.")


def _either(values: tuple[object, ...]) -> str:
    return " or ".join(str(v) for v in values)


def join_pair(studio: Studio, left: SourceId, right: SourceId, name: str) -> Studio:
    """Make two mono sources the sides of one stereo source, which keeps the first one's place, facts and cables.

    Raises
    ------
    BadValue
        If one of them has two sides already, or they are the same.
    """
    one, other = studio.source(left), studio.source(right)
    if left == right or one.channels != 1 or other.channels != 1:
        raise BadValue("the sides of a stereo source", f"{one.name}, {other.name}", "Choose two mono sources.")
    plug = next((c for c in studio.cables.values() if c.is_plain and c.start == SourceEnd(right)), None)
    studio = remove_source(studio, right)
    studio = change_source(studio, left, name=name, channels=2)
    if plug is not None:
        # Another cable by what it joins: its tick, if it had one, would lie.
        studio, key = studio.with_counter("cables")
        moved = replace(plug, id=CableId(key), **two_plugs(SourceEnd(left, 2), plug.end))
        studio = replace(studio, cables=studio.cables.put(moved.id, moved))
    return studio


def remove_source(studio: Studio, source: SourceId) -> Studio:
    """Remove a source from the current list, with its cables; one on no other list is gone. What stood stays on record.

    Raises
    ------
    UnknownObject
    """
    studio.source(source)
    mine = [c for c in studio.cables.values() if any(isinstance(p, LineEnd) and p.line == source for p in c.plugs)]
    for cable in mine:
        if not cable.sessions or studio.session in cable.sessions:
            studio = pulled(studio, cable)
    studio = _put(
        studio, replace(studio.current, wishes=tuple([w for w in studio.current.wishes if w.source != source]))
    )
    if not any(source in s.sources for s in studio.sessions.values()):
        gone = [c.id for c in mine]
        studio = replace(studio, sources=studio.sources.without(source), cables=studio.cables.without(*gone))
    return with_tracks_that_hold(studio)


def move_source(studio: Studio, source: SourceId, to: int) -> Studio:
    """Move a source to another position (from 0) of the current list.

    Raises
    ------
    UnknownObject
        If the current session does not list it.
    """
    if source not in studio.current.sources:
        raise UnknownObject("source in this session", source)
    order = [w for w in studio.current.wishes if w.source != source]
    order.insert(max(0, min(to, len(order))), studio.current.wish_of[source])
    return _put(studio, replace(studio.current, wishes=tuple(order)))
