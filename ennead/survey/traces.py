"""Traces: everywhere a signal goes, as a tree whose leaves are driver inputs, ears and the last boxes it reaches.

Each leaf is known by its first way; further ways to the same leaf are counted, to two, so that a tree stays small however many
ways run together again. A leg that is wired and on which nothing arrives is a stray, beside legs that do.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from typing import NamedTuple

from ennead.studio.ids import UnitId
from ennead.survey.asked import Parts
from ennead.survey.passages import Passages
from ennead.survey.runs import Run, Stop, Way, Zone
from ennead.survey.ways import OnwardWalk, OutwardWalk, ear, joined_by, passed_through

#: What tells leaves apart: the driver input, or the socket at which it is heard.
End = tuple[UnitId, str, int]


class Leaf(NamedTuple):
    """Where a signal arrives, by its first way, and by how many ways it comes there: one, or two for several."""

    way: Way
    ways: int


class Leg(NamedTuple):
    """A leaf as a run of its own."""

    run: Run
    ways: int


class Trace(NamedTuple):
    """Everywhere one signal goes.

    Parameters
    ----------
    legs : tuple of Leg
        The one its line is known by first; none where nothing arrives.
    strays : tuple of Run
        Wired legs on which nothing arrives, each with its gap, beside legs that do.
    """

    legs: tuple[Leg, ...]
    strays: tuple[Run, ...]


def trace(survey: Parts, run: Run) -> Trace:
    """Return everywhere the signal of a run goes."""
    if run.into is None or run.gap is not None:
        return Trace((), ())
    starts = [run.into]
    if run.source is not None:
        own = survey.leads.get((run.source, run.channel))
        leads = () if own is None else (own, *survey.further_leads.get((run.source, run.channel), ()))
        starts += [
            Stop(run.into.zone, c.end.unit, c.end.port, c.lane, c.id)
            for c in leads
            if (c.id, c.end.unit, c.end.port, c.lane) != (run.into.cable, run.into.unit, run.into.port, run.into.lane)
        ]
    tree: _Tree = OutwardTree(survey.passages.__getitem__) if run.out else OnwardTree(survey.passages.__getitem__)
    found: dict[End, Leg] = {}
    strays: list[Run] = []
    for start in starts:
        if start.unit is None:
            continue
        leaves = tree.leaves(start.unit, start.port, start.lane)
        for end, leaf in leaves.items():
            if end in found:
                found[end] = found[end]._replace(ways=2)
                continue
            driver = run.driver if leaf.way.lands is None else survey.numbering.input_at(leaf.way.lands)
            found[end] = Leg(
                replace(run, into=replace(start, zone=leaf.way.zone), way=leaf.way, driver=driver), leaf.ways
            )
        if not leaves and not run.out:
            strays.append(replace(run, into=start, way=survey.way(start.unit, start.port, start.lane), driver=None))
    if not found:
        # What a destination hears by leads of its own goes over no cable between two units.
        return Trace((Leg(run, 1),), ())
    strays += [replace(run, way=way, driver=None) for way in tree.strays]
    first = _end_of(run)
    ordered = sorted(found, key=lambda end: end != first)
    return Trace(tuple([found[end] for end in ordered]), tuple(strays))


def legs(survey: Parts, run: Run) -> tuple[Run, ...]:
    """Return the other runs of a signal that arrive: at a driver input, at a loudspeaker or an ear; in the order of paths and cables."""
    return tuple([leg.run for leg in trace(survey, run).legs[1:]])


def _end_of(run: Run) -> End | None:
    if run.way.lands is not None:
        return _landing(run.way)
    last = run.stops[-1]
    return None if last.unit is None else (last.unit, last.port, last.lane)


def _landing(way: Way) -> End:
    unit, channel = way.lands  # type: ignore[misc]
    return unit, channel.port, channel.lane


class _Tree:
    """What both directions share: trees that are known, lanes being followed, strays met."""

    def __init__(self) -> None:
        self._trees: dict[End, dict[End, Leaf]] = {}
        self._following: set[End] = set()
        self._turned = 0
        self.strays: list[Way] = []

    def leaves(self, unit: UnitId, port: str, lane: int) -> dict[End, Leaf]:
        """Return the leaves behind a lane, in the order of paths and cables."""
        key = (unit, port, lane)
        if key in self._trees:
            return self._trees[key]
        if key in self._following:
            self._turned += 1
            return {}
        turned = self._turned
        self._following.add(key)
        found, dead = self._branch(unit, port, lane)
        self._following.discard(key)
        if found:
            self.strays += [way for way in dead if way.gap is not None and way.gap.cause != "ring"]
        # What was cut short because it came back to its own way may run on when looked at from elsewhere.
        if turned == self._turned:
            self._trees[key] = found
        return found

    def _branch(self, unit: UnitId, port: str, lane: int) -> tuple[dict[End, Leaf], list[Way]]:
        raise NotImplementedError


def _same(way: Way) -> Way:
    return way


def _merge(found: dict[End, Leaf], more: Mapping[End, Leaf], over: Callable[[Way], Way]) -> None:
    for end, leaf in more.items():
        found[end] = Leaf(found[end].way, 2) if end in found else Leaf(over(leaf.way), leaf.ways)


class OnwardTree(_Tree, OnwardWalk):
    """Follows a signal to every driver input."""

    def __init__(self, ask: Callable[[UnitId], Passages]) -> None:
        _Tree.__init__(self)
        OnwardWalk.__init__(self, ask)

    def _branch(self, unit: UnitId, port: str, lane: int) -> tuple[dict[End, Leaf], list[Way]]:
        here = self.ask(unit)
        if here.on_computer and (port, lane) in here.view.input_at:
            arrival = self.follow(unit, port, lane)
            return {_landing(arrival): Leaf(arrival, 1)}, []
        found: dict[End, Leaf] = {}
        dead = []
        for out, out_lane in here.view.inside.get((port, lane), ()):
            back = here.view.inserts.get((out, out_lane))
            if back is not None and out not in here.opened:
                _merge(found, self.leaves(unit, *back), partial(self.closed, unit, here, port))
                continue
            for link in joined_by(here.leaving.get(out, ()), out_lane):
                across = link.across(out_lane)
                more = self.leaves(link.end.unit, link.end.port, across) if across is not None else {}
                if more and across is not None:
                    _merge(found, more, partial(self.over, unit, here, port, out, out_lane, link, across))
                else:
                    dead.append(self.leave(unit, here, port, out, out_lane, link))
        return found, dead


class OutwardTree(_Tree, OutwardWalk):
    """Follows a driver output to every ear, loudspeaker and last box."""

    def __init__(self, ask: Callable[[UnitId], Passages]) -> None:
        _Tree.__init__(self)
        OutwardWalk.__init__(self, ask)

    def _branch(self, unit: UnitId, port: str, lane: int) -> tuple[dict[End, Leaf], list[Way]]:
        here = self.ask(unit)
        found: dict[End, Leaf] = {}
        dead = []
        if port not in here.leaving and port in here.view.phones:
            return {(unit, port, lane): Leaf(self.outward(unit, port, lane), 1)}, []
        zone: Zone = "link" if port in here.view.digital else "converter"
        for link in joined_by(here.leaving.get(port, ()), lane):
            across = link.across(lane)
            if across is None:
                dead.append(self.lost(unit, zone, link, lane))
                continue
            reached = self._beyond(unit, zone, *self.cross(here, port, link, across))
            if not reached:
                dead.append(self.to_ear((unit, port, lane), here, link, zone))
            _merge(found, reached, _same)
        return found, dead

    def _beyond(self, unit: UnitId, zone: Zone, stop: Stop, late: float | None, box: Passages) -> dict[End, Leaf]:
        """Return the leaves behind a cable: the box it ends in, or what lies beyond it."""
        there = stop.unit
        assert there is not None  # noqa: S101 - a cable ends in a unit
        role = box.view.profile.role
        itself = {(there, stop.port, stop.lane): Leaf(Way(zone, (stop,), None, None, late, (unit, there)), 1)}
        onward = () if role == "loudspeaker" else box.view.inside.get((stop.port, stop.lane), ())
        if not onward:
            return itself
        found: dict[End, Leaf] = {}
        for out, out_lane in onward:
            heard = out not in box.leaving and out in box.view.phones
            if (heard and role == "processor") or not (heard or out in box.leaving):
                continue
            more = {
                e: leaf for e, leaf in self.leaves(there, out, out_lane).items() if role != "processor" or ear(leaf.way)
            }
            _merge(found, more, partial(passed_through, unit, zone, stop, late, (there, out, out_lane), heard=heard))
        return found or (itself if role == "processor" else {})
