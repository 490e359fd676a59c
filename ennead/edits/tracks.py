"""Edits of tracks: what the recording software does with a source, or with a loop's return, on a session or in a scene."""

from collections.abc import Iterable
from typing import Any

from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.ids import LETTERS, DestinationId, SourceId
from ennead.studio.record import names_of, replace
from ennead.studio.session import Destination, SourceFacts
from ennead.studio.tracks import MOST_NUMBER, Track


def set_track(studio: Studio, line: SourceId | DestinationId, *, in_scene: bool = False, **stated: Any) -> Studio:
    """State what the software does with a source, or with what a loop brings back: `picked`, `armed`, `monitored`, `outputs`, `insert`.

    Where the scene in force states a track of it, that is changed; else the session's.

    Parameters
    ----------
    in_scene : bool
        Whether the scene is to have a track of its own from now on.

    Raises
    ------
    UnknownObject
    BadValue
        If the source or loop is not on the list, a number is none, or there is no such loop or scene.
    """
    session = studio.current
    source: SourceFacts | Destination
    if line[:1] == LETTERS["destinations"]:
        source = studio.destination(DestinationId(line))
        if source.kind != "loop":
            raise BadValue("a track", source.name, "Only what comes back by a loop has a track.")
        if stated.get("picked"):
            raise BadValue("the inputs picked", source.name, "State them with the loop.")
    else:
        source = studio.source(SourceId(line))
    if line not in session.sources and line not in session.destinations:
        raise BadValue("a track", source.name, "Put it on the list of this session first.")
    scene = studio.scenes.get(studio.scene)
    if in_scene and scene is None:
        raise BadValue("a track of “back to normals”", source.name, "Choose a scene first.")
    _check(studio, source.name, source.channels, stated)
    of_scene = {t.line: t for t in scene.tracks} if scene is not None else {}
    now = of_scene.get(line) or next((t for t in session.tracks if t.line == line), Track(line))
    new = replace(now, **stated)
    if scene is not None and (in_scene or line in of_scene):
        return replace(studio, scenes=studio.scenes.put(scene.id, replace(scene, tracks=_put(scene.tracks, new))))
    return replace(studio, sessions=studio.sessions.put(session.id, replace(session, tracks=_put(session.tracks, new))))


def _check(studio: Studio, name: str, channels: int, stated: dict[str, Any]) -> None:
    for field, value in stated.items():
        if field not in names_of(Track) or field == "line":
            raise BadValue("a fact of a track", field, f"Known are: {', '.join(names_of(Track)[1:])}.")
        if field in ("picked", "outputs"):
            if field == "picked" and len(value) > channels:
                raise BadValue(f"the inputs picked for {name}", len(value), f"It has {channels}.")
            if any(not 1 <= number <= MOST_NUMBER for number in value):
                raise BadValue(f"a driver number of {name}", value, f"Give numbers from 1 to {MOST_NUMBER:,}.")
        if field == "insert" and value is not None:
            loop = studio.destinations.get(value)
            if value not in studio.current.destinations or loop is None or loop.kind != "loop":
                raise BadValue(f"an insert of {name}", value, "Choose a loop of this session.")


def _put(tracks: tuple[Track, ...], new: Track) -> tuple[Track, ...]:
    others = [t for t in tracks if t.line != new.line]
    kept = others if new == Track(new.line) else [*others, new]
    return tuple(sorted(kept, key=lambda t: (t.line[:1] == LETTERS["destinations"], int(t.line[1:]))))


def with_tracks_that_hold(studio: Studio) -> Studio:
    """Return the studio without tracks of sources that are not listed, and without inserts that are gone."""
    sessions = {}
    for session in studio.sessions.values():
        held = tuple(
            _holding(studio, [t for t in session.tracks if t.line in session.sources or t.line in session.destinations])
        )
        if held != session.tracks:
            sessions[session.id] = replace(session, tracks=held)
    scenes = {}
    for scene in studio.scenes.values():
        held = tuple(
            _holding(studio, [t for t in scene.tracks if t.line in studio.sources or t.line in studio.destinations])
        )
        if held != scene.tracks:
            scenes[scene.id] = replace(scene, tracks=held)
    if sessions:
        studio = replace(studio, sessions=studio.sessions.put_all(sessions))
    return replace(studio, scenes=studio.scenes.put_all(scenes)) if scenes else studio


def _holding(studio: Studio, tracks: Iterable[Track]) -> Iterable[Track]:
    for track in tracks:
        loop = studio.destinations.get(DestinationId(track.line))
        if loop is not None and loop.kind != "loop":
            continue
        gone = track.insert is not None and track.insert not in studio.destinations
        left = replace(track, insert=None) if gone else track
        if left != Track(left.line):
            yield left
