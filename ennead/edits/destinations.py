"""Edits of where sound goes out: the session's destinations and the outputs they are taken from."""

from collections.abc import Sequence
from typing import Any, Final

from ennead.edits.house import with_place
from ennead.edits.leads import let_go, without_leads
from ennead.edits.names import clean_name
from ennead.edits.recalls import cards_off_loops
from ennead.edits.tracks import with_tracks_that_hold
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, SocketsDoNotFit, SocketTaken, UnknownObject
from ennead.studio.house import Cable, DestinationEnd, LineEnd, PortEnd, two_plugs
from ennead.studio.ids import CableId, DestinationId, UnitId
from ennead.studio.loop_use import MOST_CHANNELS, USUAL
from ennead.studio.record import replace
from ennead.studio.session import DESTINATION_KINDS, Destination, DestinationKind, Session
from ennead.studio.widths import width_of
from ennead.survey.placed import all_backs, boxes_behind, come_back, comes_back, lanes_of, onward_sockets, open_copper
from ennead.survey.survey import Survey, survey_of
from ennead.survey.walk import Lane

#: Facts a person may state; outputs and returns are given by `send_out`.
_FACTS: Final = frozenset({"name", "kind", "channels", "back", "place", "pinned", "tap", "note"})


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
    new = _in_bounds(Destination(DestinationId(key), **facts))
    studio = replace(studio, destinations=studio.destinations.put(new.id, new))
    return _put(studio, replace(studio.current, destinations=(*studio.current.destinations, new.id)))


def change_destination(studio: Studio, destination: DestinationId, **facts: Any) -> Studio:
    """Change facts of a destination; a change of channels or kind releases its sockets, one of the way back the returns.

    Raises
    ------
    BadValue, UnknownObject
    """
    old = studio.destination(destination)
    studio, facts = _checked(studio, facts, old.kind)
    new = _in_bounds(replace(old, **facts))
    if new.channels != old.channels or (new.backs != old.backs and new.kind == old.kind):
        studio, new = without_leads(studio, destination, ("", "return")), replace(new, at=(), boxes=())
    elif new.kind != "loop":
        studio, new = without_leads(studio, destination, ("return",)), replace(new, boxes=(), use=USUAL)
    studio = replace(studio, destinations=studio.destinations.put(destination, new))
    return studio if new.kind == old.kind else with_tracks_that_hold(studio)


def set_width(studio: Studio, destination: DestinationId, typed: str) -> Studio:
    """Change with how many channels a destination goes out, and a loop comes back, in words: ``stereo``, ``16 out, 2 back``.

    Raises
    ------
    UnknownObject, BadValue
    """
    out, back = width_of(typed)
    if studio.destination(destination).kind == "loop":
        return change_destination(studio, destination, channels=out, back=back)
    return change_destination(studio, destination, channels=out)


def _in_bounds(new: Destination) -> Destination:
    """Return a destination with as many channels as its kind can have; what is no loop comes back with none."""
    if new.kind != "loop":
        return replace(new, channels=min(new.channels, 2), back=0)
    return replace(new, back=0) if new.back == new.channels else new


def _checked(studio: Studio, facts: dict[str, Any], kind: str = "cue") -> tuple[Studio, dict[str, Any]]:
    facts = dict(facts)
    for name, value in facts.items():
        if name not in _FACTS:
            raise BadValue("a fact of a destination", name, f"Known are: {', '.join(sorted(_FACTS))}.")
        if name == "kind" and value not in DESTINATION_KINDS:
            raise BadValue("the kind of a destination", value, f"Choose {' or '.join(DESTINATION_KINDS)}.")
        most = MOST_CHANNELS if facts.get("kind", kind) == "loop" else 2
        if name == "channels" and not (type(value) is int and 1 <= value <= most):
            raise BadValue("the channels of a destination", value, f"Choose 1 {'or' if most == 2 else 'to'} {most}.")
        if name == "back" and not (type(value) is int and 0 <= value <= most):
            raise BadValue("the channels a loop comes back with", value, f"Choose 1 to {most}.")
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
        return with_tracks_that_hold(studio)
    left = [
        c.id for c in studio.cables.values() if any(isinstance(p, LineEnd) and p.line == destination for p in c.plugs)
    ]
    return with_tracks_that_hold(
        replace(
            studio,
            destinations=studio.destinations.without(destination),
            cables=studio.cables.without(*left),
            recalls=cards_off_loops(studio, {destination}),
        )
    )


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
    there, survey = studio.destination(destination), survey_of(studio)
    if returns and there.kind != "loop":
        raise SocketsDoNotFit(there.name, "a return", "only a loop comes back")
    for ends, direction, way, many in (
        (outputs, "out", "an output", there.channels),
        (returns, "in", "an input", there.backs),
    ):
        if ends and len(ends) != many:
            raise SocketsDoNotFit(there.name, f"{len(ends)} sockets", f"it has {many} channels")
        for end in ends:
            port = studio.port(end)
            if port.direction != direction:
                raise SocketsDoNotFit(there.name, studio.end_text(end), f"{port.label} is not {way}")
            if port.is_digital and not _at_a_box(survey, there, end):
                raise SocketsDoNotFit(
                    there.name, studio.end_text(end), f"{port.label} is digital and needs a converter behind it"
                )
            for other in survey.destinations:
                if other.id != destination and end in (*other.outputs, *other.returns) and not (there.tap or other.tap):
                    raise SocketTaken(studio.end_text(end), other.name)
    for ends in (outputs, returns):
        for end in ends:
            # A headphone socket carries both sides.
            if ends.count(end) > survey.views[end.unit].lanes[end.port]:
                raise SocketsDoNotFit(there.name, studio.end_text(end), "the same socket is given twice")
    now = survey.placed(destination)
    if (now.outputs, now.returns) == (tuple(outputs), tuple(returns)):
        return studio
    studio = let_go(studio, destination)
    at = _standing(studio, there, outputs, returns)
    survey = survey_of(studio)
    boxes = boxes_behind(survey, at) if there.kind == "loop" else ()
    studio = _lead_out(studio, there, outputs)
    new = replace(there, at=at, boxes=boxes)
    studio = replace(studio, destinations=studio.destinations.put(destination, new))
    found: tuple[PortEnd | None, ...] = ()
    if returns and there.goes_straight:
        found = come_back(survey, list(lanes_of(at)))
    elif returns:
        found = tuple(all_backs(survey, lanes_of(at)))
    for channel, end in enumerate(returns, start=1):
        if not studio.plugged(end):
            studio = _add(studio, DestinationEnd(destination, channel, "return"), end)
        elif end not in found and not (boxes and _fed_by(survey, end, boxes)):
            raise SocketTaken(studio.end_text(end), studio.plugged(end)[0].id)
    return studio


def _at_a_box(survey: Survey, there: Destination, end: PortEnd) -> bool:
    """Say whether a digital socket has the box of a loop behind it, or before it."""
    if there.kind != "loop":
        return False
    if any(point.end == end for point in survey.output_points):
        return True
    return any(way.back == end for loop in survey.wired_loops for way in loop.ways)


def _fed_by(survey: Survey, end: PortEnd, boxes: Sequence[UnitId]) -> bool:
    """Say whether a socket holds what comes out of some boxes."""
    outs = [
        (unit, port, lane)
        for unit in boxes
        for port, count in survey.views[unit].lanes.items()
        if survey.views[unit].sides[port] != "in"
        for lane in range(1, count + 1)
    ]
    return any(end == PortEnd(*lane[:2]) for out in outs for lane in onward_sockets(survey, out))


def _standing(
    studio: Studio, there: Destination, outputs: Sequence[PortEnd], returns: Sequence[PortEnd]
) -> tuple[PortEnd, ...]:
    """Return the sockets of boxes to which outputs are wired in the house: of several the one that comes back where it is said, or that suits."""
    suits = {"mains": "loudspeaker", "speakers": "loudspeaker", "cue": "cue", "loop": "processor"}.get(there.kind, "")
    survey = survey_of(studio)
    found = []
    for n, out in enumerate(lanes_of(outputs)):
        wanted = tuple(returns[n : n + 1]) if there.goes_straight else tuple(returns)

        def rank(at: Lane, backs: tuple[PortEnd, ...] = wanted) -> tuple[bool, bool]:
            return bool(backs) and comes_back(survey, at) not in backs, survey.profiles[at[0]].role != suits

        first = min(onward_sockets(survey, out), key=rank, default=None)
        if first is not None:
            found.append(PortEnd(first[0], first[1]))
    return tuple(found)


def _lead_out(studio: Studio, there: Destination, outputs: Sequence[PortEnd]) -> Studio:
    """Run a cable from every output that leads to no box: from where the copper behind it ends; one from a socket that gives two channels."""
    survey = survey_of(studio)
    for channel, out in enumerate(lanes_of(outputs), start=1):
        if out[2] > 1 or next(iter(onward_sockets(survey, out)), None) is not None:
            continue
        open_end = open_copper(survey, out)
        if open_end is None:
            raise SocketTaken(
                studio.end_text(outputs[channel - 1]), next(iter(studio.plugged(outputs[channel - 1]))).id
            )
        both = outputs.count(outputs[channel - 1]) > 1
        studio = _add(studio, open_end, DestinationEnd(there.id, 1 if both else channel))
    return studio


def _add(studio: Studio, start: PortEnd | DestinationEnd, end: PortEnd | DestinationEnd) -> Studio:
    studio, key = studio.with_counter("cables")
    cable = Cable(CableId(key), **two_plugs(start, end), sessions=(studio.session,))
    return replace(studio, cables=studio.cables.put(cable.id, cable))
