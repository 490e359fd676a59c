"""The bays of a studio laid out anew: what is soldered stays, what is only planned goes where tonight needs fewest cords."""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from ennead.edits.bays import label_point, set_normal
from ennead.edits.cables import connect, disconnect
from ennead.edits.change import Change, Edit, step
from ennead.edits.scenes import choose_scene, lay_cord, pull_cord
from ennead.planning.laying.pairing import Bench, Column, Laid, in_order, lay, saved_by
from ennead.studio.bays import Cord, PointLabel
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import SceneId, UnitId
from ennead.studio.profile import Port

#: What a pair weighs that one cord would join: an everyday one, in the scene at hand or of the evening, in any other scene. House defaults.
EVERYDAY, TONIGHT, ELSEWHERE = 3.0, 2.0, 1.0


class NoLayout(EnneadError):
    """The bays cannot hold what is to be laid out."""

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason

    def __str__(self) -> str:
        return f"{self.reason} Make another bay, or leave some boxes out."


class LaidOut(NamedTuple):
    """A layout that is proposed.

    Parameters
    ----------
    cords_before, cords_after : int
        Cords of the scene at hand, or of all scenes where there is none.
    moved, laid : int
        Planned cables that go to another point; sockets that come to the bays.
    saved, bound, plain : float
        The weight of the pairs that need no cord, the most that could be saved without moving anything soldered, and what the order of
        the units would save.
    """

    change: Change
    cords_before: int
    cords_after: int
    moved: int
    laid: int
    saved: float
    bound: float
    plain: float


class _Ground(NamedTuple):
    bench: Bench
    wishes: dict[tuple[PortEnd, PortEnd], float]
    points: list[tuple[PortEnd, PortEnd]]
    cable_of: dict[PortEnd, Cable]
    socket_at: dict[PortEnd, PortEnd]


def candidates(studio: Studio) -> tuple[UnitId, ...]:
    """Return the boxes that could come to a bay whole: panels, preamps and outboard of which no analogue socket holds a cable."""
    return tuple(
        u.id for u in studio.units.values()
        if studio.profile_of(u.id).role in ("processor", "preamp", "panel")
        and not any(studio.plugged(PortEnd(u.id, p.key)) for p in _sockets(studio, u.id))
    )  # fmt: skip


def _sockets(studio: Studio, unit: UnitId) -> list[Port]:
    """Return the sockets of a box that belong on a bay: analogue, one channel, of microphone or line level; of a panel its tails."""
    profile = studio.profile_of(unit)
    ports = [
        p
        for p in profile.ports
        if not p.is_digital and p.channels == 1 and {"mic", "line"} & set(p.carries) and "speaker" not in p.carries
    ]
    return [p for p in ports if p.direction == "out"] if profile.role == "panel" else ports


def lay_out(studio: Studio, bring: Sequence[UnitId] = ()) -> LaidOut:
    """Return the layout that saves most cords; what is soldered, as ticked, does not move.

    Parameters
    ----------
    bring : sequence of UnitId
        Boxes whose sockets come to the bays as well.

    Raises
    ------
    NoLayout
    """
    ground = _ground(studio, bring)
    laid, plain = lay(ground.bench, ground.wishes), in_order(ground.bench)
    if laid is None or plain is None:
        raise NoLayout(
            f"{len(ground.bench.outs)} outputs and {len(ground.bench.ins)} inputs do not fit on {ground.bench.columns} columns of points."
        )
    # Planned cables are free to move, but nobody likes to read their plan anew for nothing.
    still = lay(_as_it_is(ground), ground.wishes)
    if still is not None and still.saved >= laid.saved:
        laid = still._replace(bound=laid.bound)
    steps, moved, new = _steps(studio, ground, laid)
    change = Change("Lay the bays out", tuple(steps))
    after = change.apply(studio)
    return LaidOut(
        change,
        _cords(studio),
        _cords(after),
        moved,
        new,
        laid.saved,
        laid.bound,
        saved_by(plain.above, plain.below, ground.wishes),
    )


def _as_it_is(ground: _Ground) -> Bench:
    """Return the bench with everything that is on the bays now fixed where it is."""
    column = {end: (at, side) for at, pair in enumerate(ground.points) for side, end in enumerate(pair)}
    held = [(socket, *column[end]) for end, socket in ground.socket_at.items()]
    return ground.bench._replace(
        fixed_outs={s: at for s, at, side in held if side == 0}, fixed_ins={s: at for s, at, side in held if side == 1}
    )


def _cords(studio: Studio) -> int:
    return len(studio.cords) if studio.scene else sum(len(s.cords) for s in studio.scenes.values())


def _ground(studio: Studio, bring: Sequence[UnitId]) -> _Ground:
    points = [
        (PortEnd(unit, a), PortEnd(unit, b))
        for unit, bay in studio.bays.items() if len(bay.rows) == 2
        for a, b in zip(*bay.rows, strict=False) if a and b
    ]  # fmt: skip
    column = {end: (at, side) for at, pair in enumerate(points) for side, end in enumerate(pair)}
    outs, ins = dict[PortEnd, Column | None](), dict[PortEnd, Column | None]()
    shut: tuple[set[Column], set[Column]] = (set(), set())
    cable_of, socket_at = dict[PortEnd, Cable](), dict[PortEnd, PortEnd]()
    for end, (at, side) in column.items():
        if end.port in studio.units[end.unit].faults:
            shut[side].add(at)
    for cable in studio.all_cables:
        held = [p for p in cable.plugs if isinstance(p, PortEnd) and p in column]
        far = [p for p in cable.plugs if p not in held]
        plain = cable.is_plain and len(held) == 1 and isinstance(far[0], PortEnd) and not cable.wires
        way = column[held[0]][1] if held else 0
        if plain and (cable.start == far[0]) == (way == 0):
            socket = cable.start if way == 0 else cable.end
            assert isinstance(socket, PortEnd)  # noqa: S101 - the plain ones run between sockets
            at, fixed = column[held[0]][0], cable.id in studio.stood
            (outs if way == 0 else ins)[socket] = at if fixed else None
            cable_of[socket], socket_at[held[0]] = cable, socket
            continue
        for end in held:
            # Looms, tie lines and what lies the other way round are left where they are.
            shut[column[end][1]].add(column[end][0])
    for unit in bring:
        for port in _sockets(studio, unit):
            end = PortEnd(unit, port.key)
            if end not in cable_of and not studio.plugged(end):
                (outs if port.direction == "out" else ins)[end] = None
    bench = Bench(
        tuple(outs), tuple(ins), {s: c for s, c in outs.items() if c is not None}, {s: c for s, c in ins.items() if c is not None},
        len(points), frozenset(shut[0]), frozenset(shut[1]),
    )  # fmt: skip
    return _Ground(bench, _wishes(studio, socket_at, bench), points, cable_of, socket_at)


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


def _steps(studio: Studio, ground: _Ground, laid: Laid) -> tuple[list[Edit], int, int]:
    """Return the edits that lead from the studio to a layout, how many cables they move, how many sockets they bring."""
    now = {socket: end for end, socket in ground.socket_at.items()}
    then = {s: ground.points[c][0] for s, c in laid.above.items()} | {
        s: ground.points[c][1] for s, c in laid.below.items()
    }
    moved = [s for s in then if s in now and now[s] != then[s]]
    new = [s for s in then if s not in now]
    if not moved and not new:
        return [], 0, 0
    pulls = [step(disconnect, ground.cable_of[s].id) for s in moved]
    plugs: list[Edit] = []
    for socket in [*moved, *new]:
        ends = (socket, then[socket]) if socket in laid.above else (then[socket], socket)
        plugs.append(step(connect, *ends, ground.cable_of[socket].length_m if socket in ground.cable_of else None))
    out_at, in_at = {c: s for s, c in laid.above.items()}, {c: s for s, c in laid.below.items()}
    touched = {c for s in (*moved, *new) for c in (laid.above.get(s), laid.below.get(s)) if c is not None}
    normals, joined = [], set[tuple[PortEnd, PortEnd]]()
    for at, (upper, lower) in enumerate(ground.points):
        pair = (out_at.get(at), in_at.get(at))
        mode = next(
            (n.mode for n in studio.bays[upper.unit].normals if (n.start, n.end) == (upper.port, lower.port)), ""
        )
        wished = pair in ground.wishes
        if at in touched and pair[0] is not None and pair[1] is not None:
            normals.append(step(set_normal, upper, (mode or "half") if wished else "", lower.port))
        if wished and pair[0] is not None and pair[1] is not None and (at in touched or mode):
            joined.add((pair[0], pair[1]))
    labels = _label_steps(studio, [(now[s], then[s]) for s in moved])
    return [*pulls, *plugs, *normals, *labels, *_cord_steps(studio, ground, then, joined)], len(moved), len(new)


def _label_steps(studio: Studio, moves: Sequence[tuple[PortEnd, PortEnd]]) -> list[Edit]:
    """Return the edits by which labels go with what they name."""
    said = [(old, new, studio.bays[old.unit].labels.get(old.port, PointLabel())) for old, new in moves]
    clear = [step(label_point, old, number="", first="", second="") for old, _, label in said if label != PointLabel()]
    return clear + [
        step(label_point, new, number=label.number, first=label.first, second=label.second)
        for _, new, label in said
        if label != PointLabel()
    ]


def _cord_steps(
    studio: Studio, ground: _Ground, then: Mapping[PortEnd, PortEnd], joined: set[tuple[PortEnd, PortEnd]]
) -> list[Edit]:
    """Return the edits that lay every scene's cords to where their sockets stand now: none where a normal does it, new ones for lost normals."""
    everyday = []
    outs = set(ground.bench.outs)
    for unit, bay in studio.bays.items():
        for normal in bay.normals:
            sockets = [ground.socket_at.get(PortEnd(unit, key)) for key in (normal.start, normal.end)]
            if (
                sockets[0] in outs
                and sockets[1] is not None
                and sockets[0] is not None
                and (sockets[0], sockets[1]) not in joined
            ):
                everyday.append((sockets[0], sockets[1]))
    steps: list[Edit] = []
    for scene in studio.scenes.values():
        edits: list[Edit] = []
        for cord in scene.cords:
            ends = tuple([then.get(ground.socket_at[p], p) if p in ground.socket_at else p for p in cord.plugs])
            if _pair(cord, ground, outs) in joined:
                edits.insert(0, step(pull_cord, cord.id))
            elif ends != cord.plugs:
                edits.insert(0, step(pull_cord, cord.id))
                other = ends[1] if len(ends) > 1 else None
                edits.append(
                    step(
                        lay_cord, ends[0], other, length_m=cord.length_m, colour=cord.colour, unbalanced=cord.unbalanced
                    )
                )
        held = {p for c in scene.cords for p in c.plugs}
        for out, into in everyday:
            if not {p for p, s in ground.socket_at.items() if s in (out, into)} & held:
                edits.append(step(lay_cord, then[out], then[into]))
        if edits:
            steps += [step(choose_scene, scene.id), *edits]
    return [*steps, step(choose_scene, studio.scene or SceneId(""))] if steps else []


def _pair(cord: Cord, ground: _Ground, outs: set[PortEnd]) -> tuple[PortEnd, PortEnd] | None:
    sockets = [ground.socket_at.get(p) for p in cord.plugs]
    if len(sockets) != 2 or sockets[0] is None or sockets[1] is None:
        return None
    return (sockets[0], sockets[1]) if sockets[0] in outs else (sockets[1], sockets[0])


def layout_text(found: LaidOut) -> str:
    """Return what a layout would change, in a few sentences, with the weights it goes by."""
    if not found.change.steps:
        return "Nothing would be better elsewhere: no planned cable has to move."
    proven = (
        "no layout that leaves what is soldered saves more"
        if found.saved == found.bound
        else f"at most {found.bound - found.saved:g} more could be saved"
    )
    return (
        f"{found.cords_before} cords now, {found.cords_after} with this layout; {found.moved} planned cable{'s' * (found.moved != 1)} move, "
        f"{found.laid} socket{'s' * (found.laid != 1)} come to the bays, nothing soldered moves. Weight of the pairs that need no cord: "
        f"{found.saved:g} ({proven}; in the order of the units {found.plain:g}). An everyday pair weighs {EVERYDAY:g}, one of tonight {TONIGHT:g}, of another scene {ELSEWHERE:g}."
    )
