"""Sockets of boxes that a loop could have: bare ones, ones that end at a point of a bay, ones that lead round by themselves."""

from collections.abc import Iterator, Sequence
from typing import Final, Literal, NamedTuple

from ennead.rules.mains_keep_outputs import kept_ahead
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Port
from ennead.survey.loops import back_socket
from ennead.survey.output_points import output_point_at
from ennead.survey.paths_onward import remembered
from ennead.survey.placed import fed
from ennead.survey.survey import Survey
from ennead.survey.walk import Lane, along_copper, first_path, is_record

Way = Literal["in", "out"]
#: By what a socket is reached: what stands wired, a cord, a cable.
Reached = Literal["led", "point", "bare"]
_REACHED: Final[tuple[Reached, ...]] = ("led", "point", "bare")


class BoxSocket(NamedTuple):
    """One lane of a socket of a box.

    Parameters
    ----------
    bare : bool
        Whether it holds no cable.
    point : PortEnd or None
        The free point of a bay it leads to.
    led : PortEnd or None
        The free output that feeds it, or the free input it comes back by, as it stands wired.
    """

    end: PortEnd
    lane: int
    bare: bool = False
    point: PortEnd | None = None
    led: PortEnd | None = None

    @property
    def ways(self) -> frozenset[Reached]:
        """By what it can be reached."""
        ways: dict[Reached, bool] = {"led": self.led is not None, "point": self.point is not None, "bare": self.bare}
        return frozenset([way for way, holds in ways.items() if holds])


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
    look = _into if way == "in" else _out_of
    return [look(survey, (unit, p.key, n)) for p in line_ports(survey, unit, way) for n in range(1, p.channels + 1)]


def _into(survey: Survey, at: Lane) -> BoxSocket | None:
    end = PortEnd(at[0], at[1])
    if end not in survey.plugs:
        return BoxSocket(end, at[2], bare=True)
    feeding = survey.once(fed).get(at, ())
    out = PortEnd(feeding[0][1][0], feeding[0][1][1]) if feeding else None
    net = survey.nets.get(at)
    contacts = [PortEnd(UnitId(unit), port) for unit, port, _ in net.contacts if unit in survey.bays] if net else []
    # A plug belongs into the point behind which the cable is.
    points = [p for p in contacts if p.port in survey.passages[p.unit].leaving and _is_free(survey, p)]
    # What another box drives is in use; what an output of the computer drives by a normal is not, for a cord breaks it.
    driven = net is not None and bool(net.drivers) and not feeding
    point = points[0] if points and not driven else None
    led = out if out is not None and out in _free_outs(survey) else None
    return BoxSocket(end, at[2], point=point, led=led) if point or led else None


def _out_of(survey: Survey, at: Lane) -> BoxSocket | None:
    end = PortEnd(at[0], at[1])
    if end not in survey.plugs:
        return BoxSocket(end, at[2], bare=True)
    ask = remembered(survey.passages.__getitem__)
    path, led = first_path(ask, at, is_record), None
    if not path.end.cause:
        back = back_socket(ask, path.hops, 1)
        taken = {e for d in survey.destinations for e in d.returns} | {lead.end for lead in survey.leads.values()}
        led = back if back not in taken else None
    points = [PortEnd(unit, port) for unit, port, _ in along_copper(ask, at) if port in ask(unit).points]
    point = next((p for p in points if _is_free(survey, p)), None)
    return BoxSocket(end, at[2], point=point, led=led) if point or led else None


def _is_free(survey: Survey, point: PortEnd) -> bool:
    held = any(point in cord.plugs for cord in survey.cords)
    return not held and point.port not in survey.faults.get(point.unit, ())


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
                f"It has {len(held)} free {word}{'s' if len(held) != 1 else ''} of {many}: pull what is plugged there, or make the"
                " loop narrower.",
            )
    return found
