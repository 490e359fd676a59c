"""Routes through the recording software: inserts, monitored tracks, and the rings they close with the cables of the house."""

from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple

from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.tracks import Track
from ennead.survey.circuits import Circuit, circuits
from ennead.survey.numbering import DriverChannel
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.rings import knots
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import is_record, reach

#: A driver number as the software sees it.
Number = tuple[Literal["in", "out"], int]


class SoftwareRoute(NamedTuple):
    """One way through the software, from an input to an output, with the track that makes it."""

    start: int
    end: int
    track: SourceId | DestinationId


class SoftwareRing(NamedTuple):
    """Numbers that feed each other through the software and the house, and the tracks with the routes that close them."""

    inputs: tuple[int, ...]
    outputs: tuple[int, ...]
    tracks: tuple[SourceId | DestinationId, ...]


def routes(survey: Parts) -> tuple[SoftwareRoute, ...]:
    """Return the routes from inputs to outputs that stated tracks make.

    Notes
    -----
    A monitored track takes its input through its insert, or straight to its outputs; what comes back by the insert goes on to its outputs,
    monitored or played. Arming alone routes nothing. A track that is not monitored sends what it plays, which no input feeds.
    """
    tracks: Mapping[SourceId | DestinationId, Track] = survey.named("tracks")
    if not tracks:
        return ()
    loops = {c.loop.id: c for c in survey.once(circuits)}
    found: list[SoftwareRoute] = []
    for line, track in tracks.items():
        circuit = loops.get(track.insert) if track.insert is not None else None
        if track.monitored:
            into = _inputs(survey, line, loops)
            to = [d.number for d in circuit.sends] if circuit is not None and circuit.closed else list(track.outputs)
            found += _across(into, to, line)
        if circuit is not None and circuit.closed:
            found += _across([d.number for d in circuit.returns], track.outputs, line)
    return tuple(dict.fromkeys(found))


def _across(into: Iterable[int], to: Iterable[int], track: SourceId | DestinationId) -> list[SoftwareRoute]:
    """Return the routes of one track: side by side where both are as many, else each to each, as a pan does."""
    starts, ends = list(into), list(to)
    if len(starts) == len(ends):
        return [SoftwareRoute(a, b, track) for a, b in zip(starts, ends, strict=True)]
    return [SoftwareRoute(a, b, track) for a in starts for b in ends]


def _inputs(survey: Parts, line: SourceId | DestinationId, loops: Mapping[DestinationId, Circuit]) -> list[int]:
    circuit = loops.get(DestinationId(line))
    if circuit is not None:
        return [d.number for d in circuit.returns]
    runs = sorted([r for r in survey.signal_paths if r.of is not None and r.of.id == line], key=lambda r: r.channel)
    return [r.driver.number for r in runs if r.driver is not None]


def software_rings(survey: Parts) -> tuple[SoftwareRing, ...]:
    """Return every set of driver numbers that feed each other through at least one route of the software."""
    several = survey.once(routes)
    if not several:
        return ()
    onward: dict[Number, set[Number]] = {}
    for route in several:
        onward.setdefault(("in", route.start), set()).add(("out", route.end))
    at = {d.number: d for d in survey.numbering.outputs}
    for number in {route.end for route in several}:
        if number in at:
            onward["out", number] = {("in", n) for n in _come_back(survey, at[number])}
    found = []
    for knot in knots(onward):
        held = set(knot)
        tracks = [r.track for r in several if ("in", r.start) in held and ("out", r.end) in held]
        sides = [tuple(sorted(n for side, n in held if side == way)) for way in ("in", "out")]
        found.append(SoftwareRing(sides[0], sides[1], tuple(dict.fromkeys(tracks))))
    return tuple(sorted(found))


def _come_back(survey: Parts, driver: DriverChannel) -> set[int]:
    """Return the driver inputs that what goes out by a number comes back to, over whatever cables and boxes."""
    ask = remembered(survey.passages.__getitem__)
    found = set()
    for played in survey.views[driver.unit].played:
        if played.channel != driver.channel.index:
            continue
        tree = reach(ask, (driver.unit, *played.at), is_terminal)
        for lane in [tree.lanes[i] for i in tree.ends]:
            if is_record(ask(lane[0]), lane):
                found.add(survey.numbering.input_at((lane[0], ask(lane[0]).view.input_at[lane[1:]])).number)
    return found
