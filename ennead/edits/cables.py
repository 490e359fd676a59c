"""Edits of cables: plug, pull, measure."""

import math
from collections.abc import Sequence
from typing import cast, get_args

from ennead.edits.leads import pulled
from ennead.standards.links import DIGITAL, MOST_ON_T_LINE, WORD, adapters_between, family, formats_join
from ennead.standards.signals import CONNECTOR_LABELS, SIGNAL_LABELS
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, SocketsDoNotFit, SocketTaken
from ennead.studio.house import Cable, Grade, LineEnd, Plug, PortEnd, SourceEnd, Wire, place_of, two_plugs
from ennead.studio.ids import CableId
from ennead.studio.plugs import LONGEST_CABLE_M, cable_faults
from ennead.studio.profile import Port
from ennead.studio.record import replace


def connect(studio: Studio, start: PortEnd | SourceEnd, end: PortEnd, length_m: float | None = None) -> Studio:
    """Add a cable from an output, or from a channel of a source, to an input.

    Raises
    ------
    UnknownObject, NoSuchPort
        If an end is not there.
    SocketsDoNotFit
        If a direction or the kind of socket is wrong.
    SocketTaken
        If the input, or a digital output, already holds a cable.
    """
    into = studio.port(end)
    texts = studio.end_text(start) if _exists(studio, start) else "", studio.end_text(end)
    if into.direction == "out":
        raise SocketsDoNotFit(*texts, f"{into.label} is an output too")
    if start == end:
        # A point lies neither way, and would take either end.
        raise SocketsDoNotFit(*texts, "it is the same socket")
    if taken := _holding(studio, end):
        raise SocketTaken(texts[1], taken.id)
    if isinstance(start, PortEnd):
        _check_ports(studio, start, end, texts)
    else:
        if into.is_digital and studio.source(start.source).kind != "digital":
            raise SocketsDoNotFit(*texts, f"{into.label} takes {_socket(into)}, not an analogue signal")
        gone = next((c for c in studio.cables.values() if place_of(start) in c.places and studio.is_active(c)), None)
        if gone is not None:
            raise SocketTaken(texts[0], gone.id)
    studio, key = studio.with_counter("cables")
    sessions = () if isinstance(start, PortEnd) else (studio.session,)
    joined = two_plugs(start, end) | _half(studio, start, end)
    cable = Cable(CableId(key), **joined, sessions=sessions, length_m=_length(length_m))
    return replace(studio, cables=studio.cables.put(cable.id, cable))


def _half(studio: Studio, start: PortEnd | SourceEnd, end: PortEnd) -> dict[str, tuple[Wire, ...]]:
    """Return the wires of a cable at a socket that sends and returns: it is plugged into the half that lies its way."""
    into = studio.port(end)
    out = studio.port(start) if isinstance(start, PortEnd) else None
    if into.direction != "both" and (out is None or out.direction != "both"):
        return {}
    begins = (
        [start.channel]
        if isinstance(start, SourceEnd)
        else list(out.lanes_that("out", out.channels))
        if out is not None
        else []
    )
    return {
        "wires": tuple([Wire(0, a, 1, b) for a, b in zip(begins, into.lanes_that("in", into.channels), strict=False)])
    }


def make_up(studio: Studio, plugs: Sequence[Plug], wires: Sequence[Wire], length_m: float | None = None) -> Studio:
    """Add a cable of several plugs: a loom, a Y lead, an insert lead, a stereo lead. One with a line's plug serves the current session.

    Parameters
    ----------
    length_m : float, m

    Raises
    ------
    UnknownObject, NoSuchPort
        If what a plug is in is not there.
    SocketTaken
        If a socket already holds a cable.
    BadValue
        If plugs and wires make no cable.
    """
    studio, key = studio.with_counter("cables")
    sessions = (studio.session,) if any(isinstance(p, LineEnd) for p in plugs) else ()
    cable = Cable(CableId(key), tuple(plugs), tuple(wires), sessions, _length(length_m))
    for fault in cable_faults(studio, cable):
        raise BadValue("a cable", f"{len(plugs)} plugs", f"It will not do: {fault}.")
    for plug in cable.plugs:
        if isinstance(plug, PortEnd) and (taken := _holding(studio, plug)):
            raise SocketTaken(studio.end_text(plug), taken.id)
    return replace(studio, cables=studio.cables.put(cable.id, cable))


def move_plugs(studio: Studio, moves: Sequence[tuple[CableId, PortEnd, PortEnd]]) -> Studio:
    """Move plugs of cables from one socket to another, all at once, so that two may change places; all else of the cables stays.

    Parameters
    ----------
    moves : sequence of (CableId, PortEnd, PortEnd)
        The cable, where a plug of it is, and where that goes.

    Raises
    ------
    UnknownObject, NoSuchPort
    SocketTaken
        If another cable would be in one of the sockets.
    BadValue
        If a cable would not do there.
    """
    to = {(cable, old): new for cable, old, new in moves}
    changed = {}
    for key in dict.fromkeys([cable for cable, _, _ in moves]):
        cable = studio.cable(key)
        plugs = tuple([to.get((key, p), p) if isinstance(p, PortEnd) else p for p in cable.plugs])
        changed[key] = replace(cable, plugs=plugs)
        for fault in cable_faults(studio, changed[key]):
            raise BadValue("a cable", key, f"It will not do: {fault}.")
    after = replace(studio, cables=studio.cables.put_all(changed))
    for key, _, new in moves:
        taken = next((c for c in after.plugged(new) if c.id != key), None)
        if taken is not None:
            raise SocketTaken(studio.end_text(new), taken.id)
    return after


def _holding(studio: Studio, end: PortEnd) -> Cable | None:
    """Return the first active cable that has a plug in a socket."""
    return next((c for c in studio.cables.values() if end in c.plugs and studio.is_active(c)), None)


def _exists(studio: Studio, start: PortEnd | SourceEnd) -> bool:
    if isinstance(start, PortEnd):
        studio.port(start)
        return True
    source = studio.source(start.source)
    if not 1 <= start.channel <= source.channels:
        raise BadValue(f"a channel of {source.name}", start.channel, f"It has {source.channels}.")
    return True


def _check_ports(studio: Studio, start: PortEnd, end: PortEnd, texts: tuple[str, str]) -> None:
    out, into = studio.port(start), studio.port(end)
    if out.direction == "in":
        raise SocketsDoNotFit(*texts, f"{out.label} is an input")
    reason = misfit(out, into)
    if reason:
        raise SocketsDoNotFit(*texts, reason)
    if out.direction == "either" and (held := _holding(studio, start)) is not None:
        raise SocketTaken(texts[0], held.id)
    taken = next((c for c in studio.cables.values() if c.start == start and studio.is_active(c)), None)
    if taken is not None and out.is_digital and not _may_share(studio, out, start):
        raise SocketTaken(texts[0], taken.id)


def misfit(out: Port, into: Port) -> str:
    """Return why an output's socket cannot be cabled to an input's, or an empty string.

    What a menu can change (ADAT or S/PDIF on one optical socket) is no misfit; a check speaks of that.
    """
    if out.is_digital != into.is_digital:
        kinds = ("a digital", "an analogue") if out.is_digital else ("an analogue", "a digital")
        return f"{kinds[0]} output and {kinds[1]} input do not join"
    if out.is_digital:
        pairs = [(a, b) for a in out.carries for b in into.carries if formats_join(a, b) or family(a) == family(b)]
        if not pairs:
            return f"{_socket(out)} and {_socket(into)} share no format"
        if all(adapters_between((out.connector, a), (into.connector, b)) is None for a, b in pairs):
            return f"{_medium(out)} and {_medium(into)} do not join without a converter"
        if out.fibre and into.fibre and out.fibre != into.fibre:
            return f"{out.fibre} and {into.fibre} glass do not join"
    elif "speaker" in out.carries and "speaker" not in into.carries:
        return "a loudspeaker level would destroy a line input"
    elif "speaker" in into.carries and "speaker" not in out.carries:
        return "a passive loudspeaker needs an amplifier in front of it"
    return ""


def _may_share(studio: Studio, out: Port, start: PortEnd) -> bool:
    """Say whether an output may feed one more: word clock may, over T-pieces, as far as it can drive a line."""
    on_it = sum(c.start == start for c in studio.cables.values())
    return out.carries[0] in WORD and on_it < MOST_ON_T_LINE


def _medium(port: Port) -> str:
    return {
        "rca": "coaxial",
        "bnc": "coaxial",
        "toslink": "optical",
        "mini-toslink": "optical",
        "sc": "glass fibre",
        "rj45": "network cable",
    }.get(port.connector, "balanced")


def _socket(port: Port) -> str:
    kinds = " or ".join(dict.fromkeys(SIGNAL_LABELS[c] for c in port.carries if c in DIGITAL))
    return f"{kinds} on {CONNECTOR_LABELS[port.connector]}"


def _length(length_m: float | None) -> float | None:
    if length_m is not None and not (math.isfinite(length_m) and 0 < length_m <= LONGEST_CABLE_M):
        raise BadValue("the length of a cable", length_m, "Give metres above zero, such as 3 or 1.5.")
    return length_m


def disconnect(studio: Studio, cable: CableId) -> Studio:
    """Take a cable out of the plan: one that serves other sessions as well, out of the current one alone.

    Raises
    ------
    UnknownObject
    """
    return pulled(studio, studio.cable(cable))


def set_length(studio: Studio, cable: CableId, length_m: float | None) -> Studio:
    """Note how long a cable is, m; None for not measured.

    Raises
    ------
    BadValue
    """
    new = replace(studio.cable(cable), length_m=_length(length_m))
    return replace(studio, cables=studio.cables.put(cable, new))


def set_grade(studio: Studio, cable: CableId, grade: str) -> Studio:
    """Note whether a cable is of the good kind: glass or selected fibre, low-loss coaxial.

    Raises
    ------
    BadValue
    """
    if grade not in get_args(Grade):
        raise BadValue("the grade of a cable", grade, "Leave it empty, or say good.")
    new = replace(studio.cable(cable), grade=cast(Grade, grade))
    return replace(studio, cables=studio.cables.put(cable, new))


def added(before: Studio, after: Studio) -> list[Cable]:
    """Return the cables one studio has and another has not."""
    return [cable for key, cable in after.cables.items() if key not in before.cables]
