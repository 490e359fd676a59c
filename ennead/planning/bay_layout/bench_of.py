"""The bays of a studio as a bench: what is behind their points, what may come to them, and what stands beside what."""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from ennead.planning.bay_layout.neighbours import BenchSurroundings, Nature
from ennead.planning.bay_layout.pairing import Bench, Column
from ennead.studio.document import Studio
from ennead.studio.house import Cable, Plug, PortEnd
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.profile import Port
from ennead.survey.survey import survey_of

#: What a pair weighs that one cord would join: in the scene at hand or of the session, in any other scene. House defaults. An everyday one is
#: worth more than whatever scenes there are: back to normals there is no cord that could stand in for it.
EVERYDAY, TONIGHT, ELSEWHERE = 100.0, 2.0, 1.0


#: An output and the input that is wanted below it.
Pair = tuple[PortEnd, PortEnd]


class Bays(NamedTuple):
    """The bays as they are laid out anew.

    Parameters
    ----------
    points : list of pair of PortEnd
        Of each column the upper point and the lower one.
    socket_at : map of PortEnd to PortEnd
        What is wired behind a point now, where it takes part.
    """

    bench: Bench
    wishes: dict[tuple[PortEnd, PortEnd], float]
    points: list[tuple[PortEnd, PortEnd]]
    cable_of: dict[PortEnd, Cable]
    socket_at: dict[PortEnd, PortEnd]


def candidates(studio: Studio) -> tuple[UnitId, ...]:
    """Return the boxes that could come to a bay whole: panels, preamps and outboard of which no analogue socket holds a cable."""
    return tuple(
        u.id
        for u in studio.units.values()
        if studio.profile_of(u.id).role in ("processor", "preamp", "panel")
        and not any(survey_of(studio).cables_at(PortEnd(u.id, p.key)) for p in _sockets(studio, u.id))
    )


def _sockets(studio: Studio, unit: UnitId) -> list[Port]:
    """Return the sockets of a box that belong on a bay: analogue, one channel, of microphone or line level; of a panel its tails."""
    profile = studio.profile_of(unit)
    ports = [
        p
        for p in profile.ports
        if not p.is_digital and p.channels == 1 and {"mic", "line"} & set(p.carries) and "speaker" not in p.carries
    ]
    return [p for p in ports if p.direction == "out"] if profile.role == "panel" else ports


def ground_of(
    studio: Studio,
    bring: Sequence[UnitId] = (),
    without: frozenset[Pair] = frozenset(),
    stays: frozenset[PortEnd] = frozenset(),
) -> Bays:
    """Return the bays with what is on them and what comes to them; some sockets stay where they are."""
    # One stands where the loudspeakers are: bays in that room come before the others.
    ears = {u.place for u in studio.units.values() if u.place and studio.profile_of(u.id).role == "loudspeaker"}
    points = [
        (PortEnd(unit, a), PortEnd(unit, b))
        for unit, bay in sorted(studio.bays.items(), key=lambda b: studio.units[b[0]].place not in ears)
        if len(bay.rows) == 2
        for a, b in zip(*bay.rows, strict=False)
        if a and b
    ]
    column = {end: (at, side) for at, pair in enumerate(points) for side, end in enumerate(pair)}
    outs, ins = dict[PortEnd, Column | None](), dict[PortEnd, Column | None]()
    shut: tuple[set[Column], set[Column]] = (set(), set())
    cable_of, socket_at = dict[PortEnd, Cable](), dict[PortEnd, PortEnd]()
    for end, (at, side) in column.items():
        if end.port in studio.units[end.unit].faults:
            shut[side].add(at)
    crossed = _crossed(studio, points)
    for end in crossed:
        shut[column[end][1]].add(column[end][0])
    for cable in survey_of(studio).every_cable.values():
        held = [p for p in cable.plugs if isinstance(p, PortEnd) and p in column]
        far = [p for p in cable.plugs if p not in held]
        plain = cable.is_plain and len(held) == 1 and isinstance(far[0], PortEnd) and not cable.wires
        way = column[held[0]][1] if held else 0
        if plain and (cable.start == far[0]) == (way == 0):
            socket = cable.start if way == 0 else cable.end
            assert isinstance(socket, PortEnd)  # noqa: S101 - the plain ones run between sockets
            at, fixed = column[held[0]][0], cable.id in studio.stood or held[0] in crossed or socket in stays
            if socket in cable_of or held[0] in socket_at:
                # Of another session, or a second one: it stays, and so does what it shares its point with.
                shut[way].add(at)
                continue
            (outs if way == 0 else ins)[socket] = at if fixed else None
            cable_of[socket], socket_at[held[0]] = cable, socket
            continue
        for end in held:
            # Looms, tie lines and what lies the other way round are left where they are.
            shut[column[end][1]].add(column[end][0])
    for scene in studio.scenes.values():
        for end in (p for cord in scene.cords for p in cord.plugs):
            if end in column and end not in socket_at:
                # A cord is in it though nothing is behind: what came there would be joined to that.
                shut[column[end][1]].add(column[end][0])
    for port, end in ((p, PortEnd(unit, p.key)) for unit in bring for p in _sockets(studio, unit)):
        if end not in cable_of and not survey_of(studio).cables_at(end):
            (outs if port.direction == "out" else ins)[end] = None
    fixed_outs, fixed_ins = ({s: c for s, c in side.items() if c is not None} for side in (outs, ins))
    shut_ends = frozenset(shut[0]), frozenset(shut[1])
    bench = Bench(tuple(outs), tuple(ins), fixed_outs, fixed_ins, len(points), *shut_ends)
    wishes = {pair: weight for pair, weight in _wishes(studio, socket_at, bench).items() if pair not in without}
    return Bays(bench, wishes, points, cable_of, socket_at)


def _crossed(studio: Studio, points: Sequence[tuple[PortEnd, PortEnd]]) -> set[PortEnd]:
    """Return the points of columns with a normal that does not run straight down: it would join whatever came there, so that they stay as they are."""
    straight = set(points)
    ends = [(PortEnd(unit, n.start), PortEnd(unit, n.end)) for unit, bay in studio.bays.items() for n in bay.normals]
    other = {end for pair in ends if pair not in straight for end in pair}
    return {end for pair in points if not other.isdisjoint(pair) for end in pair}


def beside(studio: Studio, ground: Bays) -> BenchSurroundings:
    """Return what the neighbours of sockets and points are."""
    natures = {s: nature for s in (*ground.bench.outs, *ground.bench.ins) if (nature := _nature(studio, s)) is not None}
    bays = list(dict.fromkeys([upper.unit for upper, _ in ground.points]))
    others: tuple[dict[Column, Nature], dict[Column, Nature]] = ({}, {})
    for at, pair in enumerate(ground.points):
        for side, point in enumerate(pair):
            if point in ground.socket_at:
                continue
            for cable in survey_of(studio).cables_at(point):
                far = [p for p in cable.plugs if not (isinstance(p, PortEnd) and studio.is_point(p))]
                there = _nature(studio, far[0]) if far else None
                if there is not None:
                    others[side][at] = there
    wished = frozenset([s for pair in ground.wishes for s in pair])
    column = {end: at for at, pair in enumerate(ground.points) for end in pair}
    seats = {socket: column[end] for end, socket in ground.socket_at.items()}
    return BenchSurroundings(
        natures, tuple([bays.index(upper.unit) for upper, _ in ground.points]), others, wished, seats
    )


def _nature(studio: Studio, socket: Plug) -> Nature | None:
    if not isinstance(socket, PortEnd):
        source = studio.sources.get(SourceId(socket.line))
        level = "mic" if source is not None and source.is_microphone else "line"
        return Nature(UnitId(""), "line", level, socket.line, 0)
    profile, port = studio.profile_of(socket.unit), studio.port(socket)
    if port.is_digital:
        return None
    row = [p.key for p in profile.ports if (p.row, p.direction) == (port.row, port.direction)]
    kind, level = ("outboard" if profile.is_outboard else "line"), ("mic" if port.at_mic_level else "line")
    return Nature(socket.unit, kind, level, f"{port.direction} {port.row}", row.index(socket.port))


def _wishes(studio: Studio, socket_at: Mapping[PortEnd, PortEnd], bench: Bench) -> dict[tuple[PortEnd, PortEnd], float]:
    """Return which output wants to stand above which input, and how much: everyday pairs, and what cords of the scenes join."""
    wishes: dict[tuple[PortEnd, PortEnd], float] = {}
    outs = set(bench.outs)

    def want(ends: Iterable[PortEnd], weight: float) -> None:
        sockets = [socket_at.get(e) for e in ends]
        if len(sockets) == 2 and sockets[0] is not None and sockets[1] is not None:
            out, into = sockets if sockets[0] in outs else sockets[::-1]
            if out in outs and into not in outs and out is not None and into is not None:
                wishes[out, into] = wishes.get((out, into), 0.0) + weight

    for unit, bay in studio.bays.items():
        for normal in bay.normals:
            want((PortEnd(unit, normal.start), PortEnd(unit, normal.end)), EVERYDAY)
    for scene in studio.scenes.values():
        tonight = scene.id == studio.scene or scene.session == studio.session
        for cord in scene.cords:
            want(cord.plugs, TONIGHT if tonight else ELSEWHERE)
    return wishes
