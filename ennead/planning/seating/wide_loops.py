"""Blocks for wide loops: as many outputs, and as many inputs, side by side as a summing mixer or a rack of stems has channels.

They are looked for before everything else is placed, for a block cannot be put together of what is left over.
"""

from collections.abc import Collection, Iterable, Iterator, Sequence
from typing import NamedTuple

from ennead.planning.seating.wired import Ways
from ennead.rules import may_go_out
from ennead.rules.mains_keep_outputs import kept_ahead
from ennead.rules.may_sit_beside import may_come_back
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.session import Destination, PlacedDestination
from ennead.survey.survey import Survey


class SocketAt(NamedTuple):
    """One socket with the driver number it is on.

    Parameters
    ----------
    suits : int
        Zero for a line socket, one for a microphone socket that takes a line as well.
    """

    unit: UnitId
    number: int
    end: PortEnd
    suits: int = 0


class Blocks(NamedTuple):
    """What was found for the wide loops of a session, and why nothing was found for the others."""

    found: dict[DestinationId, Ways]
    missing: dict[DestinationId, str]

    @property
    def sockets(self) -> set[PortEnd]:
        """All sockets that were found."""
        return {end for legs in self.found.values() for leg in legs for end in leg}


def wide_blocks(survey: Survey, standing: Collection[DestinationId], shut: Collection[PortEnd]) -> Blocks:
    """Return the sockets of every wide loop that does not stand wired: those it has, else the lowest free block of consecutive numbers.

    What others have is taken only where no free block is left, and never from what is pinned or stands wired.
    """
    blocks = Blocks({}, {})
    gone = set(shut)
    for loop in survey.destinations:
        if loop.kind != "loop" or not loop.is_wide or loop.tap or loop.id in standing:
            continue
        if loop.outputs and loop.returns:
            blocks.found[loop.id] = loop.outputs, loop.returns
        else:
            held, pinned = _held(survey, loop)
            found = _block(survey, loop, gone | held) or _block(survey, loop, gone | pinned)
            if found is None:
                back = f" and {loop.backs} line inputs" if loop.backs > 1 else " and a line input"
                blocks.missing[loop.id] = f"no interface has {loop.channels} outputs{back} left for it"
                continue
            blocks.found[loop.id] = found
        gone |= {end for leg in blocks.found[loop.id] for end in leg}
    return blocks


def _held(survey: Survey, loop: PlacedDestination) -> tuple[set[PortEnd], set[PortEnd]]:
    """Return the sockets that others of the session have, and those of these that are pinned."""
    others = [d for d in survey.destinations if d.id != loop.id]
    lines = {key: lead.end for key, lead in survey.leads.items()}
    held = {end for d in others for end in (*d.outputs, *d.returns)} | set(lines.values())
    kept = {s.id for s in survey.studio.session_sources if s.pinned}
    pinned = {end for d in others if d.pinned for end in (*d.outputs, *d.returns)}
    return held, pinned | {end for (source, _), end in lines.items() if source in kept}


def _block(survey: Survey, loop: PlacedDestination, gone: Collection[PortEnd]) -> Ways | None:
    outs = runs_of(free_outputs(survey, loop, gone), loop.channels)
    backs = runs_of(free_inputs(survey, gone), loop.backs)
    best = best_of(outs, backs, survey.session_facts.loop_numbers)
    return (tuple([a.end for a in best[0]]), tuple([b.end for b in best[1]])) if best is not None else None


def best_of(
    outs: Iterable[list[SocketAt]], backs: Iterable[list[SocketAt]], policy: str
) -> tuple[list[SocketAt], list[SocketAt]] | None:
    """Return the best outputs and returns for one loop: side by side, on line sockets, with the same numbers out and in, the lowest.

    Parameters
    ----------
    policy : str
        Of the session: whether the numbers must be the same, are where it costs nothing, or need not.
    """
    ahead, found = list(backs), None
    best: tuple[int, ...] = ()
    for out in outs:
        for back in ahead:
            differ = sum(a.number != b.number for a, b in zip(out, back, strict=False))
            if differ and policy == "always":
                continue
            cost = (
                _gaps(out) + _gaps(back),
                sum(b.suits for b in back),
                out[0].unit != back[0].unit,
                differ if policy != "free" else 0,
                out[0].number,
                back[0].number,
            )
            if found is None or cost < best:
                best, found = cost, (out, back)
    return found


def _gaps(run: Sequence[SocketAt]) -> int:
    return run[-1].number - run[0].number + 1 - len(run)


def runs_of(sockets: Iterable[SocketAt], many: int) -> Iterator[list[SocketAt]]:
    """Yield sockets of one box in the order of their numbers, as many as are wanted; two are a pair, of more some may stand apart."""
    by_unit: dict[UnitId, list[SocketAt]] = {}
    for at in sorted(sockets, key=lambda at: at.number):
        if all(at.number != other.number for other in by_unit.get(at.unit, ())):
            by_unit.setdefault(at.unit, []).append(at)
    for held in by_unit.values():
        for first in range(len(held) - many + 1):
            run = held[first : first + many]
            if many != 2 or (run[0].number % 2 and run[1].number == run[0].number + 1):
                yield run


def free_outputs(survey: Survey, loop: Destination, gone: Collection[PortEnd]) -> list[SocketAt]:
    """Return the outputs that lead nowhere and by which a loop may go out, those that are gone apart."""
    kept = kept_ahead(survey)
    wanted = may_go_out.wanted_of(loop)
    return [
        SocketAt(point.unit, point.number, point.end)
        for point in survey.output_points
        if point.end not in gone
        and point.feeds == ""
        and point.lane == 1
        and not may_go_out.obstacles(wanted, may_go_out.where_of(survey, point, kept=point.number in kept))
    ]


def free_inputs(survey: Survey, gone: Collection[PortEnd]) -> list[SocketAt]:
    """Return the inputs that hold nothing and by which a loop may come back, those that are gone apart."""
    return [
        SocketAt(point.unit, point.number, point.end, int(point.port.connector == "xlr"))
        for point in survey.input_points
        if not point.fault and point.end not in gone and point.end not in survey.plugs and may_come_back(point.port)
    ]
