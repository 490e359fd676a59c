"""The edits that lead from a studio to a layout: cables, normals, labels, and the cords of every scene."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ennead.edits.bays import label_point, set_normal
from ennead.edits.cables import connect, move_plugs
from ennead.edits.change import Edit, step
from ennead.edits.scenes import choose_scene, lay_cord, pull_cord
from ennead.planning.bay_layout.bench_of import Bays
from ennead.planning.bay_layout.pairing import Laid
from ennead.studio.bays import Cord, PointLabel
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId, SceneId


class Going(NamedTuple):
    """A socket of which the cable goes from behind one point to behind another."""

    cable: CableId
    socket: PortEnd
    start: PortEnd
    end: PortEnd


def layout_steps(studio: Studio, ground: Bays, laid: Laid) -> tuple[list[Edit], tuple[Going, ...], int]:
    """Return the edits that lead from the studio to a layout, the cables they move, how many sockets they bring."""
    now = {socket: end for end, socket in ground.socket_at.items()}
    then = {s: ground.points[c][0] for s, c in laid.above.items()} | {
        s: ground.points[c][1] for s, c in laid.below.items()
    }
    moved = [s for s in then if s in now and now[s] != then[s]]
    new = [s for s in then if s not in now]
    if not moved and not new:
        return [], (), 0
    # A cable that moves is the same one: its number, its note, the sessions it serves.
    going = tuple([Going(ground.cable_of[s].id, s, now[s], then[s]) for s in moved])
    plugs: list[Edit] = [step(move_plugs, [(g.cable, g.start, g.end) for g in going])] if going else []
    plugs += [step(connect, *((s, then[s]) if s in laid.above else (then[s], s))) for s in new]
    out_at, in_at = {c: s for s, c in laid.above.items()}, {c: s for s, c in laid.below.items()}
    touched = {c for s in (*moved, *new) for c in (laid.above.get(s), laid.below.get(s)) if c is not None}
    everyday = {
        frozenset((ground.socket_at.get(PortEnd(unit, n.start)), ground.socket_at.get(PortEnd(unit, n.end)))): n.mode
        for unit, bay in studio.bays.items()
        for n in bay.normals
    }
    normals, joined = [], set[tuple[PortEnd, PortEnd]]()
    for at, (upper, lower) in enumerate(ground.points):
        pair = (out_at.get(at), in_at.get(at))
        mode = next(
            (n.mode for n in studio.bays[upper.unit].normals if (n.start, n.end) == (upper.port, lower.port)), ""
        )
        wished = pair in ground.wishes
        if at in touched and pair[0] is not None and pair[1] is not None:
            # A pair keeps its mode wherever it goes. A new one is broken by either plug: where another scene has a cord in it, nothing changes there.
            normals.append(step(set_normal, upper, everyday.get(frozenset(pair), "full") if wished else "", lower.port))
        if wished and pair[0] is not None and pair[1] is not None and (at in touched or mode):
            joined.add((pair[0], pair[1]))
    labels = _label_steps(studio, [(now[s], then[s]) for s in moved])
    return [*plugs, *normals, *labels, *_cord_steps(studio, ground, then, joined)], going, len(new)


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
    studio: Studio, ground: Bays, then: Mapping[PortEnd, PortEnd], joined: set[tuple[PortEnd, PortEnd]]
) -> list[Edit]:
    """Return the edits that lay every scene's cords to where their sockets stand now: none where a normal does it, new ones for lost normals."""
    everyday = []
    outs = set(ground.bench.outs)
    straight = set(ground.points)
    for unit, bay in studio.bays.items():
        for normal in bay.normals:
            points = PortEnd(unit, normal.start), PortEnd(unit, normal.end)
            pair = ground.socket_at.get(points[0]), ground.socket_at.get(points[1])
            # One that runs elsewhere than straight down stays with what it joins.
            if (
                points in straight
                and pair[0] in outs
                and pair[0] is not None
                and pair[1] is not None
                and pair not in joined
            ):
                everyday.append((pair[0], pair[1]))
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


def _pair(cord: Cord, ground: Bays, outs: set[PortEnd]) -> tuple[PortEnd, PortEnd] | None:
    sockets = [ground.socket_at.get(p) for p in cord.plugs]
    if len(sockets) != 2 or sockets[0] is None or sockets[1] is None:
        return None
    return (sockets[0], sockets[1]) if sockets[0] in outs else (sockets[1], sockets[0])
