"""Edits of sessions: add, copy, choose, remove; a source or destination of another session is taken in."""

from collections.abc import Sequence

from ennead.edits.session import add_source, free_name
from ennead.edits.tracks import with_tracks_that_hold
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SceneId, SessionId, SourceId
from ennead.studio.record import replace
from ennead.studio.session import Session, Wish


def session_named(studio: Studio, name: str) -> SessionId:
    """Return the session of a name, or of an id.

    Raises
    ------
    UnknownObject
    """
    found = [s.id for s in studio.sessions.values() if s.name.casefold() == name.strip().casefold()] or [
        s for s in studio.sessions if s == name
    ]
    if not found:
        raise UnknownObject("session", name)
    return found[0]


def add_session(studio: Studio, name: str) -> Studio:
    """Add a session with nothing on its lists, at the rate of the current one and in its scene unless that is kept for it, and choose it.

    Raises
    ------
    BadValue
        If another session has the name.
    """
    name = free_name(studio, name)
    studio, key = studio.with_counter("sessions")
    scene = studio.scenes.get(studio.scene)
    new = Session(
        SessionId(key), name, studio.rate_hz, scene=scene.id if scene is not None and not scene.session else SceneId("")
    )
    return choose_session(replace(studio, sessions=studio.sessions.put(new.id, new)), new.id)


def copy_session(studio: Studio, name: str) -> Studio:
    """Copy the current session, with its lists, its cables and how everything stands, and choose the copy.

    Sources and destinations are the same ones; cables serve both sessions until one of them pulls one.

    Raises
    ------
    BadValue
        If another session has the name.
    """
    name = free_name(studio, name)
    studio, key = studio.with_counter("sessions")
    old, new = studio.session, SessionId(key)
    copy = replace(studio.current, id=new, name=name)
    cables = {c.id: replace(c, sessions=(*c.sessions, new)) for c in studio.cables.values() if old in c.sessions}
    studio = replace(
        studio,
        sessions=studio.sessions.put(new, copy),
        cables=studio.cables.put_all(cables) if cables else studio.cables,
    )
    return choose_session(studio, new)


def choose_session(studio: Studio, session: SessionId) -> Studio:
    """Make another session the current one, in the scene that was last in force on it.

    Raises
    ------
    UnknownObject
    """
    studio.session_of(session)
    return studio if session == studio.session else replace(studio, session=session)


def remove_session(studio: Studio, session: SessionId) -> Studio:
    """Remove a session, with the cables that serve it alone and what stands on no other list; the house stays.

    Raises
    ------
    UnknownObject
    BadValue
        If it is the only one.
    """
    gone = studio.session_of(session)
    if len(studio.sessions) == 1:
        raise BadValue("without a session", gone.name, "Add another one first; a studio has one at least.")
    if session == studio.session:
        studio = choose_session(studio, next(s for s in reversed(studio.sessions) if s != session))
    kept = studio.sessions.without(session)
    sources, destinations = (
        {s for k in kept.values() for s in k.sources},
        {d for k in kept.values() for d in k.destinations},
    )
    cables = {}
    for key, cable in studio.cables.items():
        left = tuple(s for s in cable.sessions if s != session)
        if left or not cable.sessions:
            cables[key] = cable if left == cable.sessions else replace(cable, sessions=left)
    scenes = {s.id: replace(s, session=SessionId("")) for s in studio.scenes.values() if s.session == session}
    without = replace(
        studio,
        scenes=studio.scenes.put_all(scenes) if scenes else studio.scenes,
        sessions=kept,
        cables=type(studio.cables)(cables),
        sources=studio.sources.without(*(s for s in gone.sources if s not in sources)),
        destinations=studio.destinations.without(*(d for d in gone.destinations if d not in destinations)),
    )
    return with_tracks_that_hold(without)


def take_in_outputs(studio: Studio, ends: Sequence[PortEnd]) -> Studio:
    """Put what comes out of one output of the house, or of two as a pair, on the current list, with the cable it stands on.

    Raises
    ------
    UnknownObject, NoSuchPort
    BadValue
        If a socket is no output, or a source is it already.
    """
    ports = [studio.port(end) for end in ends]
    unit = studio.unit(ends[0].unit)
    if any(port.direction != "out" for port in ports):
        raise BadValue("a source", studio.end_text(ends[0]), "Choose outputs.")
    if any(end in source.at for source in studio.session_sources for end in ends):
        raise BadValue("a source", studio.end_text(ends[0]), "It is on the list.")
    alone = studio.profile_of(unit.id).role == "instrument"
    name = unit.name if alone else f"{unit.name} {ports[0].label}"
    digital = ports[0].is_digital
    channels = 2 if len(ends) == 2 or digital else 1
    studio = add_source(studio, name, kind="digital" if digital else "line", channels=channels)
    new = studio.sources[studio.current.sources[-1]]
    return replace(studio, sources=studio.sources.put(new.id, replace(new, at=tuple(ends))))


def pair_of(studio: Studio, end: PortEnd) -> tuple[PortEnd, ...]:
    """Return an output, and the one beside it where an instrument or a processor gives a pair; the first of two alone stands for both.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    profile = studio.profile_of(end.unit)
    outs = [p.key for p in profile.ports if p.direction == "out" and p.carries == studio.port(end).carries]
    return (end, PortEnd(end.unit, outs[1])) if len(outs) == 2 and end.port == outs[0] else (end,)


def take_in(studio: Studio, line: SourceId | DestinationId) -> Studio:
    """Put a source or a destination of another session on the current lists, at the end.

    Raises
    ------
    UnknownObject
    BadValue
        If it is on them.
    """
    mine = studio.current
    if line in mine.sources or line in mine.destinations:
        raise BadValue("a line of this session", line, "It is on the list.")
    if line in studio.sources:
        # As the latest session that has it wants it.
        wish = next(
            (s.wish_of[SourceId(line)] for s in reversed(studio.sessions.values()) if SourceId(line) in s.wish_of), None
        )
        mine = replace(mine, wishes=(*mine.wishes, wish or Wish(SourceId(line))))
    elif line in studio.destinations:
        mine = replace(mine, destinations=(*mine.destinations, DestinationId(line)))
    else:
        raise UnknownObject("source or destination", line)
    return replace(studio, sessions=studio.sessions.put(mine.id, mine))
