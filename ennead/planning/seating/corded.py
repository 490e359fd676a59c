"""Places behind a cord: sockets that lead no farther than a point of a bay, each with one cord that would bring it to a driver input."""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from ennead.edits.change import Edit, step
from ennead.edits.scenes import lay_cord
from ennead.planning.routing.cord_words import in_a_scene
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey


class CordTo(NamedTuple):
    """A cord that is to be laid: from the point a socket leads to, to the one behind which an input stands."""

    start: PortEnd
    end: PortEnd


#: By socket, the cord it would need.
Cords = Mapping[PortEnd, CordTo]
_NONE: Cords = {}


class Landing(NamedTuple):
    """A free lower point with the input behind it: its driver number, and whether that takes microphones."""

    number: int
    mic: bool
    point: PortEnd


def within_reach(survey: Survey, wanted: tuple[PortEnd, int] | None = None) -> tuple[Survey, Cords]:
    """Return the survey with a cord for each socket that needs one, and these; the very same survey where there are none.

    Every socket has one input that a cord would bring it to: sockets and inputs go together in their orders, so that neighbours stay
    neighbours, and microphone sockets first to inputs that take them. No socket that leads somewhere by a normal loses it.

    Parameters
    ----------
    wanted : pair of PortEnd and int, optional
        A socket with the driver number it is to come to, whatever normal that breaks.
    """
    if not survey.bays:
        return survey, _NONE
    cords: dict[PortEnd, CordTo] = {}
    held = {plug for cord in survey.cords for plug in cord.plugs}
    ends = _landings(survey, held, wanted[1] if wanted is not None else None)
    if wanted is not None:
        start, there = _first_point(survey, wanted[0], held), next((e for e in ends if e.number == wanted[1]), None)
        if start is not None and there is not None:
            cords[wanted[0]] = CordTo(start, there.point)
    else:
        starts = _starts(survey, held)
        for mic in (True, False):
            mine = [s for s in starts if ("mic" in survey.port(s).carries) == mic and s not in cords]
            used = {c.end for c in cords.values()}
            fits = sorted((e for e in ends if e.point not in used), key=lambda e: e.mic != mic)
            cords |= {s: CordTo(starts[s], e.point) for s, e in zip(mine, fits, strict=False)}
    if not cords:
        return survey, _NONE
    return laid(survey, cords.values()), cords


def laid(survey: Survey, cords: Iterable[CordTo]) -> Survey:
    """Return the survey with some cords laid."""
    steps = cord_steps(survey.studio, cords)
    studio = survey.studio
    for edit in steps:
        studio = edit(studio)
    return Survey(studio, survey) if steps else survey


def cord_steps(studio: Studio, cords: Iterable[CordTo]) -> tuple[Edit, ...]:
    """Return the edits that lay some cords in the scene at hand, or in a new one."""
    steps = [step(lay_cord, c.start, c.end) for c in cords]
    return in_a_scene(studio, "", steps).steps if steps else ()


def _starts(survey: Survey, held: set[PortEnd]) -> dict[PortEnd, PortEnd]:
    """Return the sockets that lead no farther than a bay, each with the point at which a cord would take it on."""
    found = {}
    for unit, ways in survey.paths_onward.items():
        taken = survey.taken.get(unit, ())
        for (port, lane), way in ways.items():
            gap = way.gap
            if lane != 1 or gap is None or gap.cause != "no-cable" or gap.unit not in survey.bays or port in taken:
                continue
            end = PortEnd(unit, port)
            point = _first_point(survey, end, held)
            if point is not None and port not in survey.units[unit].faults and survey.port(end).wiring != "multi":
                found[end] = point
    return found


def free_landings(survey: Survey, held: set[PortEnd]) -> list[Landing]:
    """Return the free points behind which a driver input stands that nothing leads to, by number."""
    return _landings(survey, held, None)


def _first_point(survey: Survey, end: PortEnd, held: set[PortEnd]) -> PortEnd | None:
    """Return the first point of a bay a socket leads to, where its front is free and in service."""
    stops = survey.way(end.unit, end.port).stops
    first = next((PortEnd(s.unit, s.port) for s in stops if s.unit is not None and s.unit in survey.bays), None)
    if first is None or first in held or first.port in survey.units[first.unit].faults:
        return None
    return first


def _landings(survey: Survey, held: set[PortEnd], number: int | None) -> list[Landing]:
    """Return the free points behind which a driver input stands that nothing leads to yet, or the one of a number, by number."""
    led_to = {d.number for point in survey.input_points for d in point.drivers} if number is None else set()
    found: dict[int, Landing] = {}
    for point in (PortEnd(unit, key) for unit, bay in survey.bays.items() for row in bay.rows for key in row if key):
        # By a normal an input is led to from both points of a pair: a plug belongs into the one behind which its cable is.
        if (
            point in held
            or point.port in survey.units[point.unit].faults
            or point.port not in survey.passages[point.unit].leaving
        ):
            continue
        way = survey.way(point.unit, point.port)
        if way.lands is None or way.fault:
            continue
        there = survey.numbering.input_at(way.lands).number
        net = survey.nets.get((point.unit, point.port, 1))
        if number is None and (there in led_to or (net is not None and net.drivers)):
            continue
        into = next((s for s in way.stops if s.unit is not None and s.unit not in survey.bays), None)
        mic = into is not None and "mic" in survey.port(PortEnd(into.unit, into.port)).carries  # type: ignore[arg-type]
        if number in (None, there):
            found.setdefault(there, Landing(there, mic, point))
    return [found[n] for n in sorted(found)]
