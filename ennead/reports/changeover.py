"""Changeover: what to switch, pull and plug between two evenings, in order, and which tracks change their number."""

from collections.abc import Iterator
from dataclasses import dataclass

from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.house import Cable
from ennead.studio.ids import SessionId, number_of
from ennead.survey.rehearsal import Renumbered, rehearse
from ennead.survey.survey import Survey
from ennead.survey.view import View
from ennead.survey.words import rate_and_pull


@dataclass(frozen=True, slots=True)
class Move:
    """One thing to do.

    Parameters
    ----------
    action : str
        Such as ``pull C12`` or ``set Pier's 48 V 1–4``.
    start, end : str
        The ends of a cable; or how something stands, and is to stand.
    """

    action: str
    start: str
    end: str


@dataclass(frozen=True, slots=True)
class Changeover:
    """The way from one evening to another.

    Parameters
    ----------
    moves : tuple of Move
        In the order in which they are safe: 48 V off, pull, set, plug, 48 V on.
    renumbered : tuple of Renumbered
        Tracks of both evenings whose driver input is another.
    """

    before: Survey
    after: Survey
    moves: tuple[Move, ...]
    renumbered: tuple[Renumbered, ...]


def changeover(studio: Studio, start: SessionId, end: SessionId) -> Changeover:
    """Return what has to be done when one evening follows another.

    Raises
    ------
    UnknownObject
    """
    before = Survey(studio, view=View(session=start))
    after = Survey(studio, before, View(session=end))
    old, new = before.wiring.in_use, after.wiring.in_use
    stay = {_joins(c) for c in old.values()} & {_joins(c) for c in new.values()}
    pulls = [
        _cable(before, "pull", c) for c in sorted(old.values(), key=lambda c: number_of(c.id)) if _joins(c) not in stay
    ]
    plugs = [
        _cable(after, "plug", c) for c in sorted(new.values(), key=lambda c: number_of(c.id)) if _joins(c) not in stay
    ]
    off = list(_phantom(before, after, on=False))
    # The supply's capacitors hold for a while; a plug that shorts its contacts meanwhile is heard, and felt by what is plugged.
    fall = [Move("wait some seconds, until the 48 V has fallen", "", "")] if off and (pulls or plugs) else []
    moves = [
        *off,
        *fall,
        *pulls,
        *_rates(before, after),
        *_switches(before, after),
        *plugs,
        *_phantom(before, after, on=True),
    ]
    if moves:
        moves.insert(0, Move("turn the monitors and headphones down", "", ""))
    return Changeover(before, after, tuple(moves), rehearse(before, after).renumbered)


def _joins(cable: Cable) -> tuple[object, ...]:
    """Return what a cable joins: two evenings may have planned the same one under two numbers."""
    return cable.plugs, cable.wires


def _cable(survey: Survey, deed: str, cable: Cable) -> Move:
    return Move(f"{deed} {cable.id}", *survey.studio.ends_text(cable))


def _phantom(before: Survey, after: Survey, *, on: bool) -> Iterator[Move]:
    words = "off", "on"
    for unit, banks in after.phantom_on.items():
        was = before.phantom_on[unit]
        for bank in after.profiles[unit].banks:
            if (bank.key in banks) == on and (bank.key in was) != on:
                yield Move(f"set {after.units[unit].name}'s {bank.label}", words[not on], words[on])


def _rates(before: Survey, after: Survey) -> Iterator[Move]:
    old, new = (rate_and_pull(s.rate_hz, s.pull_ppm) for s in (before, after))
    if old != new:
        yield Move("set the sample rate", old, new)


def _switches(before: Survey, after: Survey) -> Iterator[Move]:
    for unit, settings in after.settings.items():
        was, profile, name = before.settings[unit], after.profiles[unit], after.units[unit].name
        if settings == was:
            continue
        if settings.off != was.off:
            yield Move(f"switch {name}", *(("off", "on") if was.off else ("on", "off")))
        for mode in profile.modes:
            then, now = was.modes.get(mode.key, mode.default), settings.modes.get(mode.key, mode.default)
            if then != now:
                yield Move(f"set {name}'s {mode.label}", mode.label_of(then), mode.label_of(now))
        if was.clock_source != settings.clock_source:
            labels = [
                (found.label if (found := profile.clock_source(key)) else key)
                for key in (was.clock_source, settings.clock_source)
            ]
            yield Move(f"set {name}'s clock", *labels)
        if was.rate_hz != settings.rate_hz:
            yield Move(
                f"set {name}'s rate switch",
                *("with the session" if hz is None else rate_text(hz) for hz in (was.rate_hz, settings.rate_hz)),
            )
        for port in profile.ports:
            if (port.key in was.pads) != (port.key in settings.pads):
                yield Move(
                    f"set the pad of {name} · {port.label}", *(("on", "off") if port.key in was.pads else ("off", "on"))
                )


def move_rows(found: Changeover) -> list[dict[str, object]]:
    """Return the moves as plain rows, numbered from 1."""
    return [
        {"n": n, "action": move.action, "from": move.start, "to": move.end}
        for n, move in enumerate(found.moves, start=1)
    ]
