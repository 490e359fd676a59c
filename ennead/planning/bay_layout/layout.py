"""The bays of a studio laid out anew: what is soldered stays, what is only planned goes where tonight needs fewest cords."""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from ennead.checks.all_checks import find_all
from ennead.checks.finding import Finding, at
from ennead.edits.change import Change
from ennead.edits.scenes import choose_scene
from ennead.planning.bay_layout.bench_of import Bays, Pair, beside, ground_of
from ennead.planning.bay_layout.layout_steps import Going, layout_steps
from ennead.planning.bay_layout.local_search import KeepGoing, improved, in_blocks
from ennead.planning.bay_layout.neighbours import (
    ROOM,
    Awkward,
    at_least,
    awkward,
)
from ennead.planning.bay_layout.pairing import Bench, Laid, in_order, lay, saved_by
from ennead.planning.bay_layout.undisturbed import Arrivals, arrivals, disturbed
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import PortEnd
from ennead.studio.ids import SceneId, UnitId
from ennead.survey.survey import Survey


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
    was, now : Awkward
        The adjacency penalties.
    least : float
        What no layout can be below in that.
    given_up : map of pair of PortEnd to str
        Outputs and inputs that could stand above one another but for the trouble a normal between them brings elsewhere.
    going : tuple of Going
        The planned cables that go to another point.
    """

    change: Change
    cords_before: int
    cords_after: int
    moved: int
    laid: int
    saved: float
    bound: float
    plain: float
    was: Awkward
    now: Awkward
    least: float
    given_up: Mapping[Pair, str] = FrozenMap()
    going: tuple[Going, ...] = ()


def lay_out(studio: Studio, bring: Sequence[UnitId] = (), keep_going: KeepGoing = lambda _: True) -> LaidOut:
    """Return the layout that saves most cords, and of those the least awkward one found; what is soldered, as ticked, does not move.

    Parameters
    ----------
    bring : sequence of UnitId
        Boxes to bring to the bays as well.
    keep_going : callable
        Is told the part done, 0 to 1, and says whether to look on for a less awkward one.

    Raises
    ------
    NoLayout
    """
    given_up: dict[Pair, str] = {}
    stays: set[PortEnd] = set()
    before: Arrivals | None = None
    while True:
        found, ground, laid = _best(studio, bring, frozenset(given_up), keep_going, frozenset(stays))
        if not found.change.steps:
            return found._replace(given_up=given_up)
        after = found.change.apply(studio)
        blamed = _blamed(studio, after, ground, laid)
        if blamed is None:
            before = arrivals(studio) if before is None else before
            harm = disturbed(studio, before, arrivals(after))
            if harm is None:
                return found._replace(given_up=given_up)
            sockets, message = harm
            pair = next((p for p in _new_pairs(studio, ground, laid) if not sockets.isdisjoint(p)), None)
            if pair is None:
                # What is on that way stays where it is; where nothing of it moves, nothing moves at all.
                more = (sockets & set(ground.cable_of)) - stays or set(ground.cable_of) - stays
                if not more:
                    raise NoLayout(f"No layout was found that leaves every line as it is: {message}.")
                stays |= more
                continue
            blamed = pair, message
        # What one scene would be spared is heard in another: that pair goes on needing its cord.
        given_up[blamed[0]] = blamed[1]


def _best(
    studio: Studio,
    bring: Sequence[UnitId],
    without: frozenset[Pair],
    keep_going: KeepGoing,
    stays: frozenset[PortEnd],
) -> tuple[LaidOut, Bays, Laid]:
    ground = ground_of(studio, bring, without, stays)
    laid = lay(ground.bench, ground.wishes)
    if laid is None:
        raise NoLayout(
            f"{len(ground.bench.outs)} outputs and {len(ground.bench.ins)} inputs do not fit on {ground.bench.columns}"
            " columns of points."
        )
    near = beside(studio, ground)
    # Planned cables are free to move, but a plan that changes for nothing has to be read again: of equals, the present layout comes first.
    still = lay(_as_it_is(ground), ground.wishes)
    blocks = [in_blocks(ground.bench, near, ground.wishes, laid, gap) for gap in (ROOM, 0)]
    starts = [s for s in (still, laid, *blocks) if s is not None]
    found = improved(ground.bench, near, ground.wishes, starts, keep_going).laid._replace(bound=laid.bound)
    return laid_out(studio, ground, found), ground, found


def _blamed(studio: Studio, after: Studio, ground: Bays, laid: Laid) -> tuple[Pair, str] | None:
    """Return a pair joined by a new normal that brings trouble into a scene without it before, and the finding; None where there is none."""
    new = _new_pairs(studio, ground, laid)
    for scene in ("", *studio.scenes) if new else ():
        surveys = [Survey(choose_scene(s, SceneId(scene))) for s in (studio, after)]
        before, then = map(_troubles, surveys)
        rules, known = [f.rule for f in before], {f.key for f in before}
        more = [f for f in then if rules.count(f.rule) < sum(g.rule == f.rule for g in then)]
        # What was found before the layout says nothing of it, unless all of that rule was.
        more = [f for f in more if f.key not in known] or more
        joined = {pair: _joined(surveys[1], points) for pair, points in new.items()} if more else {}
        # Every new normal is on a bay, so that bays tell nothing.
        boxes = {pair: [s for s in sockets if s[0] not in studio.bays] for pair, sockets in joined.items()}
        for of, there in ((_by_socket, joined), (_by_owner, boxes)):
            for finding in more:
                for pair, sockets in there.items():
                    if of(finding, sockets):
                        return pair, finding.message
    return None


def _new_pairs(studio: Studio, ground: Bays, laid: Laid) -> dict[Pair, tuple[PortEnd, PortEnd]]:
    """Return the pairs that a layout joins by a normal of their own, each with its points, and that none joined before."""
    everyday = {
        (ground.socket_at.get(PortEnd(unit, n.start)), ground.socket_at.get(PortEnd(unit, n.end)))
        for unit, bay in studio.bays.items()
        for n in bay.normals
    }
    below = {c: s for s, c in laid.below.items()}
    pairs = {(out, below[c]): ground.points[c] for out, c in laid.above.items() if c in below}
    return {pair: points for pair, points in pairs.items() if pair in ground.wishes and pair not in everyday}


def _by_socket(finding: Finding, sockets: Iterable[tuple[str, str]]) -> bool:
    return not set(finding.cause).isdisjoint(at(*sockets))


def _by_owner(finding: Finding, sockets: Iterable[tuple[str, str]]) -> bool:
    """Say whether a finding that names no socket is about a box or a line at some of them."""
    about = {finding.subject.key, *finding.concerns}
    return any(key in about for key, _ in sockets)


def _joined(survey: Survey, points: Iterable[PortEnd]) -> set[tuple[str, str]]:
    """Return the sockets that copper joins to some points, these among them."""
    found = {(str(p.unit), p.port) for p in points}
    for point in points:
        net = survey.nets.get((point.unit, point.port, 1))
        found.update([(str(key), port) for key, port, _ in net.contacts] if net is not None else ())
    return found


def _troubles(survey: Survey) -> list[Finding]:
    return [f for f in find_all(survey) if f.severity == "trouble"]


def laid_out(studio: Studio, ground: Bays, laid: Laid) -> LaidOut:
    """Return a layout with what it would change and what is to be said of it."""
    near, plain = beside(studio, ground), in_order(ground.bench)
    steps, going, new = layout_steps(studio, ground, laid)
    change = Change("Lay the bays out", tuple(steps))
    now = [
        {s: at for at, pair in enumerate(ground.points) if (s := ground.socket_at.get(pair[side])) is not None}
        for side in (0, 1)
    ]
    return LaidOut(
        change,
        _cords(studio),
        _cords(change.apply(studio)),
        len(going),
        new,
        laid.saved,
        laid.bound,
        saved_by(plain.above, plain.below, ground.wishes) if plain is not None else 0.0,
        awkward(near, *now),
        awkward(near, laid.above, laid.below),
        at_least(ground.bench, near),
        going=going,
    )


def _as_it_is(ground: Bays) -> Bench:
    """Return the bench with everything that is on the bays now fixed where it is, but for what is behind a point out of service."""
    bench = ground.bench
    column = {end: (at, side) for at, pair in enumerate(ground.points) for side, end in enumerate(pair)}
    fixed = (dict(bench.fixed_outs), dict(bench.fixed_ins))
    for end, socket in ground.socket_at.items():
        at, side = column[end]
        if at not in (bench.shut_above, bench.shut_below)[side]:
            fixed[side][socket] = at
    return bench._replace(fixed_outs=fixed[0], fixed_ins=fixed[1])


def _cords(studio: Studio) -> int:
    return len(studio.cords) if studio.scene else sum(len(s.cords) for s in studio.scenes.values())
