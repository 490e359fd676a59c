"""Edits of where sound goes out: the session's destinations and the outputs they are taken from."""

from collections.abc import Sequence
from typing import Any, Final

from ennead.edits.house import with_place
from ennead.edits.leads import let_go, without_leads
from ennead.edits.names import clean_name
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, SocketsDoNotFit, SocketTaken, UnknownObject
from ennead.studio.house import Cable, DestinationEnd, LineEnd, PortEnd, two_plugs
from ennead.studio.ids import CableId, DestinationId
from ennead.studio.record import replace
from ennead.studio.session import DESTINATION_KINDS, Destination, DestinationKind, Session

#: Facts a person may state; outputs and returns are given by `send_out`.
_FACTS: Final = frozenset({"name", "kind", "channels", "place", "pinned", "tap", "note"})


def _put(studio: Studio, session: Session) -> Studio:
    return replace(studio, sessions=studio.sessions.put(session.id, session))


def add_destination(studio: Studio, name: str, kind: DestinationKind = "cue", **facts: Any) -> Studio:
    """Add a destination at the end of the current session's list; a place may be given by its name.

    Raises
    ------
    BadValue, UnknownObject
    """
    studio, key = studio.with_counter("destinations")
    studio, facts = _checked(studio, {"name": name, "kind": kind, **facts})
    new = Destination(DestinationId(key), **facts)
    studio = replace(studio, destinations=studio.destinations.put(new.id, new))
    return _put(studio, replace(studio.current, destinations=(*studio.current.destinations, new.id)))


def change_destination(studio: Studio, destination: DestinationId, **facts: Any) -> Studio:
    """Change facts of a destination; one whose channels or kind change lets go of its sockets.

    Raises
    ------
    BadValue, UnknownObject
    """
    old = studio.destination(destination)
    studio, facts = _checked(studio, facts)
    new = replace(old, **facts)
    if new.channels != old.channels:
        studio, new = without_leads(studio, destination, ("", "return")), replace(new, at=(), boxes=())
    elif new.kind != "loop":
        studio, new = without_leads(studio, destination, ("return",)), replace(new, boxes=())
    return replace(studio, destinations=studio.destinations.put(destination, new))


def _checked(studio: Studio, facts: dict[str, Any]) -> tuple[Studio, dict[str, Any]]:
    facts = dict(facts)
    for name, value in facts.items():
        if name not in _FACTS:
            raise BadValue("a fact of a destination", name, f"Known are: {', '.join(sorted(_FACTS))}.")
        if name == "kind" and value not in DESTINATION_KINDS:
            raise BadValue("the kind of a destination", value, f"Choose {' or '.join(DESTINATION_KINDS)}.")
        if name == "channels" and value not in (1, 2):
            raise BadValue("the channels of a destination", value, "Choose 1 or 2.")
        if name in ("name", "note"):
            facts[name] = clean_name(value, f"the {name} of a destination", may_be_empty=name == "note")
    return with_place(studio, facts)


def remove_destination(studio: Studio, destination: DestinationId) -> Studio:
    """Remove a destination from the current list, with the cables it has of its own; one on no other list is gone.

    Raises
    ------
    UnknownObject
    """
    studio.destination(destination)
    studio = without_leads(studio, destination, ("", "return"))
    mine = studio.current
    studio = _put(studio, replace(mine, destinations=tuple(k for k in mine.destinations if k != destination)))
    if any(destination in s.destinations for s in studio.sessions.values()):
        return studio
    left = [
        c.id for c in studio.cables.values() if any(isinstance(p, LineEnd) and p.line == destination for p in c.plugs)
    ]
    return replace(studio, destinations=studio.destinations.without(destination), cables=studio.cables.without(*left))


def move_destination(studio: Studio, destination: DestinationId, to: int) -> Studio:
    """Move a destination to another position (from 0) of the current list.

    Raises
    ------
    UnknownObject
    """
    if destination not in studio.current.destinations:
        raise UnknownObject("destination in this session", destination)
    order = [d for d in studio.current.destinations if d != destination]
    order.insert(max(0, min(to, len(order))), destination)
    return _put(studio, replace(studio.current, destinations=tuple(order)))


def send_out(
    studio: Studio, destination: DestinationId, outputs: Sequence[PortEnd], returns: Sequence[PortEnd] = ()
) -> Studio:
    """Take a destination from outputs, one a channel; a loop also comes back by inputs, one a channel.

    Raises
    ------
    UnknownObject, NoSuchPort
    SocketsDoNotFit
        If a socket lies the wrong way, or there are not as many as channels.
    SocketTaken
        If another destination of this session, or a source, already has one of them.
    """
    there = studio.destination(destination)
    if returns and there.kind != "loop":
        raise SocketsDoNotFit(there.name, "a return", "only a loop comes back")
    for ends, direction, way in ((outputs, "out", "an output"), (returns, "in", "an input")):
        if ends and len(ends) != there.channels:
            raise SocketsDoNotFit(there.name, f"{len(ends)} sockets", f"it has {there.channels} channels")
        for end in ends:
            port = studio.port(end)
            if port.direction != direction:
                raise SocketsDoNotFit(there.name, studio.end_text(end), f"{port.label} is not {way}")
            if port.is_digital:
                raise SocketsDoNotFit(
                    there.name, studio.end_text(end), f"{port.label} is digital and needs a converter behind it"
                )
            for other in studio.session_destinations:
                if other.id != destination and end in (*other.outputs, *other.returns) and not (there.tap or other.tap):
                    raise SocketTaken(studio.end_text(end), other.name)
    for ends in (outputs, returns):
        for end in ends:
            # A headphone socket carries both sides.
            if ends.count(end) > studio.port(end).channels:
                raise SocketsDoNotFit(there.name, studio.end_text(end), "the same socket is given twice")
    there = studio.placed(destination)
    if (there.outputs, there.returns) == (tuple(outputs), tuple(returns)):
        return studio
    before = studio
    studio = let_go(studio, destination)
    backs = (*returns, *(None for _ in outputs))
    at = tuple(
        into
        for out, back in zip(outputs, backs, strict=False)
        if (into := _standing(studio, there, out, back)) is not None
    )
    studio = _lead_out(studio, there, outputs)
    boxes = studio.sent.boxes_behind(at) if there.kind == "loop" else ()
    studio = replace(
        studio,
        destinations=studio.destinations.put(destination, replace(studio.destination(destination), at=at, boxes=boxes)),
    )
    for channel, end in enumerate(returns, start=1):
        held, feeding = before.plugged(end), studio.sent.cable_into(end)
        if not studio.plugged(end):
            studio = _add(studio, DestinationEnd(destination, channel, "return"), end)
        elif end not in studio.placed(destination).returns and not (feeding is not None and feeding.unit in boxes):
            raise SocketTaken(studio.end_text(end), held[0].id)
    return studio


def _standing(studio: Studio, there: Destination, out: PortEnd, back: PortEnd | None) -> PortEnd | None:
    """Return the input to which an output is wired in the house: of several the one that comes back where it is said, or that suits."""
    suits = {"mains": "loudspeaker", "speakers": "loudspeaker", "cue": "cue", "loop": "processor"}.get(there.kind, "")
    sent = studio.sent

    def rank(end: PortEnd) -> tuple[bool, bool]:
        elsewhere = back is not None and sent.after_boxes(end, sent.boxes_behind([end])) != back
        return elsewhere, studio.profile_of(end.unit).role != suits

    return min(sent.wired_to(out), key=rank, default=None)


def _lead_out(studio: Studio, there: Destination, outputs: Sequence[PortEnd]) -> Studio:
    """Run a cable from every output that the house has not wired; one from a socket that gives two channels."""
    for channel, out in enumerate(outputs, start=1):
        if not studio.sent.wired_to(out) and out not in outputs[: channel - 1]:
            studio = _add(studio, out, DestinationEnd(there.id, 1 if outputs.count(out) > 1 else channel))
    return studio


def _add(studio: Studio, start: PortEnd | DestinationEnd, end: PortEnd | DestinationEnd) -> Studio:
    studio, key = studio.with_counter("cables")
    cable = Cable(CableId(key), **two_plugs(start, end), sessions=(studio.session,))
    return replace(studio, cables=studio.cables.put(cable.id, cable))
