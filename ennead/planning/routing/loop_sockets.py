"""Which sockets of its boxes a loop gets, channel by channel, and how wide it is from box to box."""

from collections.abc import Iterator, Sequence
from typing import Final, Literal

from ennead.rules.mains_keep_outputs import kept_ahead
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port
from ennead.survey.box_sockets import BoxSocket, Reached, socket_into, socket_out_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey import Survey

Way = Literal["in", "out"]
_REACHED: Final[tuple[Reached, ...]] = ("led", "point", "bare")


def reached_by(survey: Survey, sockets: Sequence[BoxSocket]) -> Reached:
    """Return by what some sockets of one box are all reached; what stands wired is kept before a cord is laid.

    Raises
    ------
    BadValue
        If they are reached in several ways.
    """
    for way in _REACHED:
        if all(way in s.ways for s in sockets):
            return way
    odd = next(s for s in sockets if s.ways != sockets[0].ways)
    raise BadValue(
        f"{survey.units[odd.end.unit].name} in a loop",
        survey.end_text(odd.end),
        "Some of its sockets are on a bay or wired, others are not: wire them alike first.",
    )


def line_ports(survey: Survey, unit: UnitId, way: Way) -> list[Port]:
    """Return the analogue sockets of a box by which a loop could pass it one way: those for lines, else all."""
    ports = [p for p in survey.profiles[unit].ports if p.direction == way and not p.is_digital and p.wiring != "multi"]
    return [p for p in ports if "line" in p.carries] or ports


def box_sockets(survey: Survey, unit: UnitId, way: Way) -> list[BoxSocket | None]:
    """Return the lanes of a box's sockets one way, in order; None for one that serves something else."""
    lanes = [(unit, p.key, n) for p in line_ports(survey, unit, way) for n in range(1, p.channels + 1)]
    if way == "out":
        return [socket_out_of(survey, at) for at in lanes]
    free = _free_outs(survey)
    return [socket_into(survey, at, free) for at in lanes]


def _free_outs(survey: Survey) -> set[PortEnd]:
    """Return the numbered outputs that no destination has and that are not kept for the mains."""
    kept = kept_ahead(survey)
    given = {end for d in survey.destinations for end in d.outputs}
    at = output_point_at(survey.output_points)
    return {end for end, points in at.items() if end not in given and all(p.number not in kept for p in points)}


def widths_through(counts: Sequence[tuple[int, int]], out: int, back: int) -> list[tuple[int, int]] | None:
    """Return with how many channels a loop enters and leaves each of some boxes in series, or None where they are too narrow.

    Parameters
    ----------
    counts : sequence of pair of int
        Inputs and outputs of each box.
    out, back : int
        With how many channels the loop is to go out and to come back; one box on the way makes the one of the other.

    Examples
    --------
    >>> widths_through([(1, 1), (1, 2), (2, 2)], 1, 2)
    [(1, 1), (1, 2), (2, 2)]
    """
    return next(_widths(counts, out, back), None)


def _widths(counts: Sequence[tuple[int, int]], now: int, back: int) -> Iterator[list[tuple[int, int]]]:
    if not counts:
        if now == back:
            yield []
        return
    ins, outs = counts[0]
    if ins < now:
        return
    for width in dict.fromkeys((now, back)):
        if outs >= width:
            yield from [[(now, width), *rest] for rest in _widths(counts[1:], width, back)]


def sockets_for(survey: Survey, unit: UnitId, into: int, out: int) -> tuple[list[BoxSocket], list[BoxSocket]]:
    """Return the sockets by which a loop enters and leaves a box: the first that are free, of a box with a path a channel both of one.

    Raises
    ------
    BadValue
        If too few of them are free.
    """
    ins, outs = box_sockets(survey, unit, "in"), box_sockets(survey, unit, "out")
    if into == out and len(ins) == len(outs):
        pairs = [(a, b) for a, b in zip(ins, outs, strict=True) if a is not None and b is not None]
        found = [a for a, _ in pairs][:into], [b for _, b in pairs][:out]
    else:
        found = [a for a in ins if a is not None][:into], [b for b in outs if b is not None][:out]
    for many, held, way, word in ((into, found[0], "in", "input"), (out, found[1], "out", "output")):
        if len(held) < many:
            taken = [
                PortEnd(unit, p.key)
                for p in line_ports(survey, unit, "in" if way == "in" else "out")
                if PortEnd(unit, p.key) in survey.plugs
            ]
            raise BadValue(
                f"{survey.units[unit].name} in a loop",
                survey.end_text(taken[0]) if taken else many,
                f"It has {len(held)} free {word}{'s' if len(held) != 1 else ''} of {many}:"
                " pull what is plugged there, or make the loop narrower.",
            )
    return found
