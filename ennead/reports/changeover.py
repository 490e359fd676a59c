"""Changeover: what to switch, pull and plug between two sessions, in order, and which tracks change their number."""

from dataclasses import dataclass
from typing import NamedTuple

from ennead.planning.moves.difference import Step, difference
from ennead.planning.moves.moves import contact_text
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.ids import SessionId
from ennead.studio.mixes import socket_label, switch_value_text
from ennead.studio.switches import Switch
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
    step: Step

    @property
    def ends(self) -> str:
        """From where to where; of one plug of a cord, the point alone."""
        return " → ".join(end for end in (self.start, self.end) if end)


@dataclass(frozen=True, slots=True)
class Changeover:
    """The way from one session to another.

    Parameters
    ----------
    moves : tuple of Move
        In the order in which they are safe.
    renumbered : tuple of Renumbered
        Tracks of both sessions that change their driver input.
    notes : tuple of str
        What stands in the way of some moves.
    """

    before: Survey
    after: Survey
    moves: tuple[Move, ...]
    renumbered: tuple[Renumbered, ...]
    notes: tuple[str, ...] = ()


class ChangeoverRow(NamedTuple):
    """One thing to do with the hands: a whole cord, or whatever else is one move.

    Parameters
    ----------
    moves : tuple of Move
        Both plugs of a cord that are pulled, or plugged, one right after the other; else a single one.
    start, end : str
        As of a move; of a cord both its points on the side where they belong.
    """

    moves: tuple[Move, ...]
    start: str
    end: str

    @property
    def text(self) -> str:
        """The row as one line."""
        ends = " → ".join(filter(None, (self.start, self.end)))
        return f"{self.moves[0].action}: {ends}" if ends else self.moves[0].action


def changeover_rows(found: Changeover) -> list[ChangeoverRow]:
    """Return the moves as they are read with a cord in hand: a row a cord where both its plugs follow each other."""
    groups: list[list[Move]] = []
    for move in found.moves:
        if groups and len(groups[-1]) == 1 and _is_other_plug(groups[-1][0].step, move.step):
            groups[-1].append(move)
        else:
            groups.append([move])
    return [
        ChangeoverRow(
            tuple(g), *[" → ".join(filter(None, side)) for side in ([m.start for m in g], [m.end for m in g])]
        )
        for g in groups
    ]


def _is_other_plug(one: Step, other: Step) -> bool:
    """Say whether two steps pull, or plug, both ends of one cord."""
    first, second = one.move, other.move
    if first is None or second is None or first.point is None or second.point is None:
        return False
    return (first.cord, first.action) == (second.cord, second.action)


def changeover(studio: Studio, start: SessionId, end: SessionId) -> Changeover:
    """Return what has to be done when one session follows another, each in the scene last in force on it.

    Raises
    ------
    UnknownObject
    """
    before = Survey(studio, view=View(session=start))
    after = Survey(studio, before, View(session=end))
    found = difference(before, after)
    moves = tuple([_said(before, after, s) for s in found.steps])
    return Changeover(before, after, moves, rehearse(before, after).renumbered, found.notes)


def _said(before: Survey, after: Survey, step: Step) -> Move:
    studio = after.studio
    if step.cable is not None:
        return Move(f"{step.kind} {step.cable.id}", *studio.ends_text(step.cable), step)
    if step.move is not None and step.move.point is not None:
        where = contact_text(studio, (step.move.point.unit, step.move.point.port, 1))
        out = step.move.action == "pull"
        return Move(f"{step.move.action} cord {step.move.cord}", where if out else "", "" if out else where, step)
    if step.turn is not None:
        return Move(*_set_text(after, *step.turn), step)
    if step.kind == "rate":
        was, then = (rate_and_pull(s.rate_hz, s.pull_ppm) for s in (before, after))
        return Move("set the sample rate", was, then, step)
    words = {
        "mute": "turn the monitors and headphones down",
        "unmute": "turn the monitors and headphones up again",
        "wait": "wait some seconds, until the 48 V has fallen",
    }
    return Move(words[step.kind], "", "", step)


def _set_text(survey: Survey, switch: Switch, was: Switch) -> tuple[str, str, str]:
    """Return what is set, how it stands and how it is to stand."""
    profile, name = survey.profiles[switch.unit], survey.units[switch.unit].name
    if switch.what == "phantom":
        label = next(b.label for b in profile.banks if b.key == switch.key)
        return f"set {name}'s {label}", was.value, switch.value
    if switch.what == "power":
        return f"switch {name}", was.value, switch.value
    if switch.what == "mode":
        mode = profile.mode(switch.key)
        labels = [mode.label_of(s.value) if mode is not None else s.value for s in (was, switch)]
        return f"set {name}'s {mode.label if mode is not None else switch.key}", labels[0], labels[1]
    if switch.what == "clock":
        entries = [profile.clock_source(s.value) for s in (was, switch)]
        labels = [e.label if e is not None else s.value for e, s in zip(entries, (was, switch), strict=True)]
        return f"set {name}'s clock", labels[0], labels[1]
    if switch.what == "rate":
        labels = [rate_text(int(s.value)) if s.value else "with the session" for s in (was, switch)]
        return f"set {name}'s rate switch", labels[0], labels[1]
    if switch.what in ("mix", "feed"):
        labels = [switch_value_text(profile, switch.what, s.value) for s in (was, switch)]
        what = "set" if switch.what == "mix" else "feed"
        return f"{what} {name} · {socket_label(profile, switch.key)}", labels[0], labels[1]
    label = profile.port_by_key[switch.key].label
    if switch.what == "gain":
        return f"set the gain of {name} · {label}", *[
            f"{s.value} dB" if s.value else "not noted" for s in (was, switch)
        ]  # type: ignore[return-value]
    return f"set {'the pad of ' if switch.what == 'pad' else ''}{name} · {label}", was.value, switch.value


def move_rows(found: Changeover) -> list[dict[str, object]]:
    """Return the moves as plain rows, numbered from 1."""
    return [
        {"n": n, "action": move.action, "from": move.start, "to": move.end}
        for n, move in enumerate(found.moves, start=1)
    ]
