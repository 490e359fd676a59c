"""What a layout must leave as it is: which lines arrive in which scene at which number, and what is heard at which ear."""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from ennead.edits.scenes import choose_scene
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import SceneId
from ennead.survey.paths_out import ear
from ennead.survey.signal_paths import PathOnward
from ennead.survey.survey import Survey


class Arriving(NamedTuple):
    """Where a line arrives: a driver number, or the socket of an ear; None where it is silent. And the sockets on its way."""

    at: object
    sockets: frozenset[PortEnd]
    signal: str


#: By scene and line.
Arrivals = Mapping[tuple[str, object], Arriving]


def arrivals(studio: Studio) -> Arrivals:
    """Return what arrives, and what is heard, in each scene and back to normals."""
    found: dict[tuple[str, object], Arriving] = {}
    survey: Survey | None = None
    for scene in ("", *studio.scenes):
        # Scenes differ in cords alone: each rests on the one before.
        survey = Survey(choose_scene(studio, SceneId(scene)), survey)
        for run in survey.signal_paths:
            ends = [PortEnd(s.unit, s.port) for s in run.stops if s.unit is not None]
            ends += [PortEnd(*s.left) for s in run.stops if s.left is not None]
            number = run.driver.number if run.driver is not None else None
            found[scene, run.signal] = Arriving(number, frozenset(ends), run.signal)
        for unit, ways in survey.outward.items():
            for at, way in ways.items():
                name = survey.end_text(PortEnd(unit, at[0]))
                found[scene, (unit, at)] = Arriving(_heard(way), frozenset([PortEnd(unit, at[0]), *_passed(way)]), name)
    return found


def _heard(way: PathOnward) -> object:
    last = way.stops[-1] if way.stops else None
    return (last.unit, last.port, last.lane) if last is not None and ear(way) else None


def _passed(way: PathOnward) -> Iterator[PortEnd]:
    for stop in way.stops:
        if stop.unit is not None:
            yield PortEnd(stop.unit, stop.port)
        if stop.left is not None:
            yield PortEnd(*stop.left)


def disturbed(studio: Studio, before: Arrivals, after: Arrivals) -> tuple[frozenset[PortEnd], str] | None:
    """Return the sockets on the way of a line that would arrive otherwise than before, and what would happen; None where all is as it was."""
    for key in dict.fromkeys((*before, *after)):
        one, other = before.get(key), after.get(key)
        was, now = (arrival.at if arrival is not None else None for arrival in (one, other))
        if was == now:
            continue
        scene = studio.scenes[SceneId(key[0])].name if key[0] else "back to normals"
        signal = (one or other).signal  # type: ignore[union-attr]
        how = "fall silent" if now is None else "arrive where it was silent" if was is None else "arrive elsewhere"
        sockets = frozenset().union(*[a.sockets for a in (one, other) if a is not None])
        return sockets, f"in {scene}, {signal} would {how}"
    return None
