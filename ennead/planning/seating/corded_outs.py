"""Outputs behind a cord: outputs that end in a bay, each with the cords that bring what comes out there to a box, and a loop back."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Final, NamedTuple

from ennead.planning.seating.corded import CordTo, Landing, free_landings, laid
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.rules.may_sit_beside import is_output_pair
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.session import PlacedDestination
from ennead.survey.interrupted import interruption
from ennead.survey.output_points import OutputPoint, feeds
from ennead.survey.paths_onward import remembered
from ennead.survey.placed import comes_back
from ennead.survey.survey import Survey
from ennead.survey.walk import Lane, along_copper

#: By output, the cords that what goes out there needs: to the box, and of a loop back from it.
OutCords = Mapping[PortEnd, tuple[CordTo, ...]]
#: What an output has to be wired to for a kind of destination.
_FOR: Final = {
    "mains": ("loudspeakers",),
    "speakers": ("loudspeakers",),
    "cue": ("cue",),
    "send": ("outboard", "console"),
    "loop": ("outboard",),
}


class _Target(NamedTuple):
    """An input of a box behind a free point that nothing drives."""

    point: PortEnd
    box: Lane
    kind: str


class _Choice(NamedTuple):
    """A box for one destination: by output the cords it needs, and what is then no longer free."""

    cords: dict[PortEnd, tuple[CordTo, ...]]
    numbers: frozenset[int]
    targets: frozenset[_Target]
    landings: frozenset[PortEnd]


def outs_within_reach(survey: Survey, *, same: bool = False) -> tuple[Survey, OutCords]:
    """Return the survey with the cords that unplaced destinations need, and these by output; the very same survey where there are none.

    As many destinations without an output as can be are each offered a box of their kind: one with as many inputs as its channels, by the
    lowest outputs that make a pair. Nothing that leads somewhere by a normal loses it.

    Parameters
    ----------
    same : bool
        Whether a loop must come back by the number by which it goes out.
    """
    waiting = [
        d
        for d in survey.destinations
        if not d.outputs
        and not d.tap
        and d.kind in _FOR
        and (d.kind != "loop" or (d.goes_straight and not d.is_wide and interruption(survey, d) is None))
    ]
    if not survey.bays or not waiting:
        return survey, {}
    held = {plug for cord in survey.cords for plug in cord.plugs}
    free = _Free(survey, held, same=same)
    found = _most([d for d in waiting if next(free.choices(d), None) is not None], free)
    cords = {end: new for choice in found for end, new in choice.cords.items()}
    return (laid(survey, [c for new in cords.values() for c in new]), cords) if cords else (survey, {})


#: Choices looked at, at most, for one that serves more. House default.
_TRIED: Final = 400


def _most(waiting: list[PlacedDestination], free: "_Free") -> list[_Choice]:
    """Return a choice for as many destinations as can have one together; of equal ones the first met, which has the lowest outputs."""
    best: list[_Choice] = []
    tried = 0

    def look(index: int, taken: list[_Choice]) -> None:
        nonlocal best, tried
        if len(taken) > len(best):
            best = list(taken)
        if (
            index == len(waiting)
            or len(best) == len(waiting)
            or len(taken) + len(waiting) - index <= len(best)
            or tried > _TRIED
        ):
            return
        for choice in free.choices(waiting[index], taken):
            tried += 1
            look(index + 1, [*taken, choice])
            if len(best) == len(waiting) or tried > _TRIED:
                return
        look(index + 1, taken)

    look(0, [])
    return best


class _Free:
    """What is free in the bays for destinations: outputs, boxes, ways back."""

    def __init__(self, survey: Survey, held: set[PortEnd], *, same: bool) -> None:
        self.survey, self.held, self.same = survey, held, same
        self.starts, self.targets = starts_of(survey, held), _targets(survey, held)
        self.landings = free_landings(survey, held)
        self.like = survey.studio.current.loop_numbers != "free"
        self.returns = {t: _return_of(survey, t, held) for t in self.targets if t.kind == "outboard"}

    def choices(self, destination: PlacedDestination, taken: Iterable[_Choice] = ()) -> Iterator[_Choice]:
        """Yield what could serve a destination beside what others have taken."""
        used = {n for choice in taken for n in choice.numbers}
        gone = {t for choice in taken for t in choice.targets}
        landed = {p for choice in taken for p in choice.landings}
        starts = [s for s in self.starts if s[0].number not in used]
        landings = [e for e in self.landings if e.point not in landed]
        for box in _boxes(destination, [t for t in self.targets if t not in gone]):
            # A mixer has inputs for many; any other box works for one.
            mine = {t for t in self.targets if t in box or (t.kind != "console" and t.box[0] == box[0].box[0])}
            for outputs in _outputs(starts, len(box)):
                numbers = [output.number for output, _ in outputs]
                backs = self._backs(box, numbers, landings) if destination.kind == "loop" else iter([[()] * len(box)])
                for back in backs:
                    cords = {
                        o.end: (CordTo(start, t.point), *b) for (o, start), t, b in zip(outputs, box, back, strict=True)
                    }
                    ends = frozenset(cord.end for new in back for cord in new)
                    yield _Choice(cords, frozenset(numbers), frozenset(mine), ends)

    def _backs(
        self, box: list[_Target], numbers: list[int], landings: list[Landing]
    ) -> Iterator[list[tuple[CordTo, ...]]]:
        """Yield the cords by which the channels of a box come back, none where they do by themselves: the same numbers first, then line inputs."""
        ways = [self.returns.get(t) for t in box]
        if any(way is None for way in ways):
            return
        by_number = {e.number: e for e in landings}
        if all(isinstance(way, int) for way in ways):
            if not self.same or ways == numbers:
                yield [()] * len(box)
            return
        for first in sorted(landings, key=lambda e: (self.like and e.number != numbers[0], e.mic, e.number)):
            pair = [first] if len(box) == 1 else [first, by_number.get(first.number + 1)]
            if None in pair or (len(box) == 2 and first.number % 2 == 0) or (self.same and first.number != numbers[0]):
                continue
            if all(isinstance(way, PortEnd) for way in ways):
                yield [
                    (CordTo(way, e.point),)
                    for way, e in zip(ways, pair, strict=True)
                    if isinstance(way, PortEnd) and e is not None
                ]


def _return_of(survey: Survey, target: _Target, held: set[PortEnd]) -> int | PortEnd | None:
    """Return the number by which a box comes back by itself, else the free point at which a cord would bring it back; None where there is neither."""
    back = comes_back(survey, target.box)
    if back is not None:
        arrival = survey.arrival(back)
        return arrival.number if arrival is not None else None
    ask = remembered(survey.passages.__getitem__)
    outs = [(target.box[0], *out) for out in ask(target.box[0]).view.inside.get(target.box[1:], ())]
    ends = [PortEnd(unit, port) for out in outs for unit, port, _ in along_copper(ask, out) if port in ask(unit).points]
    return next((end for end in ends if end not in held and end.port not in survey.faults.get(end.unit, ())), None)


_Start = tuple[OutputPoint, PortEnd]


def starts_of(survey: Survey, held: set[PortEnd]) -> list[_Start]:
    """Return the outputs that end in a bay, each with the point at which a cord would take it on; those kept for the mains apart."""
    ask = remembered(survey.passages.__getitem__)
    kept = kept_for_mains(survey.session_facts, survey.destinations, survey.output_points)
    busy = {(way.interface, way.number) for loop in survey.wired_loops for way in loop.ways}
    given = {end for d in survey.destinations for end in d.outputs}
    found = []
    for point in survey.output_points:
        in_use = point.number in kept or point.end in given or (point.driver.unit, point.driver.channel.index) in busy
        if (
            point.feeds != "point"
            or in_use
            or point.port.key in survey.faults.get(point.unit, ())
            or "line" not in point.port.carries
        ):
            continue
        ends = [
            PortEnd(unit, port)
            for unit, port, _ in along_copper(ask, (point.unit, point.port.key, point.lane))
            if port in ask(unit).points
        ]
        start = next((end for end in ends if end not in held and end.port not in survey.faults.get(end.unit, ())), None)
        if start is not None:
            found.append((point, start))
    return found


def _targets(survey: Survey, held: set[PortEnd]) -> list[_Target]:
    """Return the inputs of boxes behind free points that nothing drives."""
    ask = remembered(survey.passages.__getitem__)
    found = []
    for end in (PortEnd(unit, key) for unit, bay in survey.bays.items() for row in bay.rows for key in row if key):
        here = survey.passages[end.unit]
        # A plug belongs into the point behind which the cable is.
        if end in held or end.port in here.faults or end.port not in here.leaving:
            continue
        net = survey.nets.get((end.unit, end.port, 1))
        boxes = [c for c in net.receivers if c[0] in survey.profiles] if net is not None and not net.drivers else []
        if boxes:
            unit, port, lane = boxes[0]
            found.append(_Target(end, (UnitId(unit), port, lane), feeds(ask, end.unit, end.port, 1)))
    return found


def _boxes(destination: PlacedDestination, targets: list[_Target]) -> Iterator[list[_Target]]:
    """Yield the boxes that could serve a destination, each as inputs one a channel; those it states or is named after first."""
    by_unit: dict[object, list[_Target]] = {}
    for target in targets:
        if target.kind in _FOR[destination.kind]:
            # Two loudspeakers are a pair as one controller with two inputs is.
            key = target.box[0] if target.kind != "loudspeakers" else target.kind
            by_unit.setdefault(key, []).append(target)
    for several in sorted(
        by_unit.values(), key=lambda t: (t[0].box[0] not in destination.boxes, len(t) != destination.channels)
    ):
        if len(several) >= destination.channels:
            yield several[: destination.channels]


def _outputs(starts: list[_Start], channels: int) -> Iterator[list[_Start]]:
    """Yield outputs for the channels of a destination: one, or a pair."""
    if channels == 1:
        yield from ([start] for start in starts)
    else:
        yield from ([one, other] for one in starts for other in starts if is_output_pair(one[0], other[0]))
