"""What stands wired in the house, so that no search moves it: loops out of a box and back, sources that are outputs."""

from collections.abc import Iterator, Sequence

from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.session import Destination, Source
from ennead.survey.loops import LoopPath, WiredLoop
from ennead.survey.placed import stands_wired as stands_out_and_back
from ennead.survey.survey import Survey

#: Outputs and returns, channel by channel.
Ways = tuple[tuple[PortEnd, ...], tuple[PortEnd, ...]]


def standing_loops(survey: Survey) -> dict[DestinationId, Ways]:
    """Return the session's loops that stand wired in the house; they are fixed.

    A loop that has no place yet claims one that stands: by the boxes it states, by a box of its own name, or where it is the only one with
    just its channels. One that no claim makes out is left to be asked for.
    """
    loops = [d for d in survey.destinations if d.kind == "loop" and not d.tap]
    if not loops:
        return {}
    found = {d.id: (d.outputs, d.returns) for d in loops if stands_out_and_back(survey, d) and d.outputs and d.returns}
    claimed = {end for d in survey.destinations for end in (*d.at, *d.outputs, *d.returns)}
    free = [
        (
            loop,
            [w for w in loop.ways if claimed.isdisjoint(_sockets(w)) and "line" in survey.port(_sockets(w)[0]).carries],
        )
        for loop in survey.wired_loops
    ]
    waiting = [d for d in loops if not d.outputs and not d.returns and not d.at]
    # One output may feed two boxes: what one loop has claimed, and whatever else comes out at its numbers, is no other's.
    taken = set[object]()
    for by in (_by_boxes, _by_name, _by_size):
        for destination in [d for d in waiting if d.id not in found]:
            left = [(loop, [w for w in ways if taken.isdisjoint(_held(w))]) for loop, ways in free]
            fitting = [
                (loop, ways) for loop, ways in left if legs_of(ways, destination) and by(survey, destination, loop)
            ]
            if by is _by_size:
                # A box with just these channels before one of which some would be left.
                fitting = sorted(fitting, key=lambda f: len(_channels(f[1])))[:1]
            if len(fitting) == 1:
                legs = legs_of(fitting[0][1], destination)
                assert legs is not None  # noqa: S101 - it was looked at above
                found[destination.id] = legs
                taken.update(
                    held for w in fitting[0][1] if _sockets(w)[0] in legs[0] and w.back in legs[1] for held in _held(w)
                )
    return found


def _held(way: LoopPath) -> tuple[object, ...]:
    """Return what a way has for itself: its output, its driver number, its return."""
    return way.output, (way.interface, way.number), way.back


def _sockets(way: LoopPath) -> tuple[PortEnd, PortEnd]:
    return PortEnd(way.output[0], way.output[1]), way.back


def _channels(ways: Sequence[LoopPath]) -> list[LoopPath]:
    """Return of some ways one an output and one a return: what goes out once and comes back twice is one channel."""
    found: list[LoopPath] = []
    for way in ways:
        if all(way.output != other.output and way.back != other.back for other in found):
            found.append(way)
    return found


def legs_of(ways: Sequence[LoopPath], destination: Destination) -> Ways | None:
    """Return the outputs and returns that some ways have for a loop, or None where they are too few."""
    if destination.goes_straight:
        straight = _channels(ways)[: destination.channels]
        outs, backs = [_sockets(w)[0] for w in straight], [w.back for w in straight]
    else:
        # Of one channel out and two back, each output and each return once.
        outs = [PortEnd(*at[:2]) for at in dict.fromkeys([w.output for w in ways])][: destination.channels]
        backs = list(dict.fromkeys([w.back for w in ways]))[: destination.backs]
    return (tuple(outs), tuple(backs)) if (len(outs), len(backs)) == (destination.channels, destination.backs) else None


def _by_boxes(_: Survey, destination: Destination, loop: WiredLoop) -> bool:
    return bool(destination.boxes) and set(destination.boxes) <= set(loop.boxes)


def _by_name(survey: Survey, destination: Destination, loop: WiredLoop) -> bool:
    return any(survey.units[box].name.casefold() == destination.name.casefold() for box in loop.boxes)


def _by_size(survey: Survey, destination: Destination, loop: WiredLoop) -> bool:
    # What bears the name of another box is meant for that.
    named = any(u.name.casefold() == destination.name.casefold() for u in survey.units.values())
    return not named or _by_name(survey, destination, loop)


def wired_back(survey: Survey) -> frozenset[PortEnd]:
    """Return the outputs behind which a box stands that is wired back: where a loop goes out by one, it comes back by that box."""
    return frozenset([_sockets(way)[0] for loop in survey.wired_loops for way in loop.ways])


def stands_wired(survey: Survey, source: Source) -> bool:
    """Say whether a source comes in by a cable of the house, by a lead made up for it, or inside an interface; none of these is moved."""
    if source.id in survey.held_inside:
        return True
    channels = [(source.id, c) for c in range(1, source.channels + 1)]
    held = [lead for at in channels for lead in (survey.leads.get(at), *survey.further_leads.get(at, ()))]
    cables = [survey.in_use[lead.id] for lead in held if lead is not None]
    return any(not c.is_plain or (source.at and not c.sessions) for c in cables)


def made_up_ends(survey: Survey) -> Iterator[PortEnd]:
    """Yield the sockets of leads made up for a source: no other may have them."""
    for several in (((lead,) for lead in survey.leads.values()), survey.further_leads.values()):
        for leads in several:
            yield from [lead.end for lead in leads if not survey.in_use[lead.id].is_plain]
