"""Routes over the bays: which cords bring a line through some boxes into an input, fewest first, and what each alternative breaks."""

import re
from collections.abc import Iterator, Sequence
from itertools import islice, product
from typing import Final, NamedTuple

from ennead.edits.change import Change, step
from ennead.edits.scenes import lay_cord
from ennead.planning.moves.contact_state import ContactState, Soldered, contact_state_of
from ennead.planning.routing.cord_words import in_a_scene
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.profile import Port
from ennead.survey.nets import Contact
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey
from ennead.survey.traces import legs

#: Alternatives that are looked at, and told.
_MOST_TRIED: Final = 24
_MOST_TOLD: Final = 6
_THROUGH: Final = re.compile(r"\s+(?:through|over|via)\s+", re.IGNORECASE)
_INTO: Final = re.compile(r"\s+(?:into|to)\s+", re.IGNORECASE)
_REMEDY: Final = "Say it as: Narrator through Winch into Harbour 1."


class Route(NamedTuple):
    """One way to bring a line where it is to go.

    Parameters
    ----------
    cords : tuple of pair of PortEnd
        Those to lay; none where normals bring it there already.
    lost : tuple of str
        The lines that arrived before and would no longer, by their names.
    arrives : int or None
        The driver input at which the line then arrives.
    """

    cords: tuple[tuple[PortEnd, PortEnd], ...]
    lost: tuple[str, ...]
    arrives: int | None


class RouteRequest(NamedTuple):
    """What is asked for.

    Parameters
    ----------
    through : tuple of UnitId
        Boxes in the order in which they are passed.
    into : PortEnd
        The input it is to end in.
    """

    source: SourceId
    through: tuple[UnitId, ...]
    into: PortEnd


def route_in_words(studio: Studio, text: str) -> RouteRequest:
    """Return what a text asks for: a source, the boxes it goes through, the input it goes into.

    Raises
    ------
    BadValue
    """
    sides = _INTO.split(text.strip(), maxsplit=1)
    if len(sides) != 2:
        raise BadValue("a route", text, _REMEDY)
    name, *boxes = _THROUGH.split(sides[0])
    names = [s for s in studio.session_sources if s.name.casefold() == name.strip().casefold()]
    if not names:
        raise BadValue("a source of this session", name, _REMEDY)
    units = []
    for box in boxes:
        found = [u.id for u in studio.units.values() if u.name.casefold() == box.strip().casefold()]
        if not found:
            raise BadValue("a box", box, _REMEDY)
        units.append(found[0])
    return RouteRequest(names[0].id, tuple(units), _input_in_words(studio, sides[1]))


def _input_in_words(studio: Studio, text: str) -> PortEnd:
    """Return the input a text names: a unit, and the number or the label of one of its inputs."""
    low = text.strip().casefold()
    for unit in sorted(studio.units.values(), key=lambda u: -len(u.name)):
        if low.startswith(unit.name.casefold()):
            rest = low[len(unit.name) :].strip(" ·.")
            ports = [p for p in studio.profile_of(unit.id).ports if p.direction == "in" and not p.is_digital]
            fits = [p for p in ports if p.label.casefold() == rest] or [
                p for p in ports if p.label.casefold().split()[-1:] == rest.split()[-1:]
            ]
            if fits:
                return PortEnd(unit.id, fits[0].key)
    raise BadValue("an input", text, _REMEDY)


def routes(studio: Studio, wanted: RouteRequest) -> tuple[Route, ...]:
    """Return the ways to bring a line where it is asked for: fewest cords first, then those that cost other lines least.

    Raises
    ------
    BadValue
        If a box or the input is not wired to any point that is free.
    """
    board = contact_state_of(studio)
    stretches = _stretches(studio, board, wanted)
    before = Survey(studio)
    arriving = {r.source: r for r in before.signal_paths if r.driver is not None}
    held = {p for c in studio.cords for p in c.plugs}
    tried = islice(_alternatives(studio, board, stretches, held), _MOST_TRIED)
    found = []
    for cords in tried:
        try:
            after = Survey(_lay(studio, cords).apply(studio), before)
        except EnneadError:
            continue
        now = {r.source: r.driver.number for r in after.signal_paths if r.driver is not None}
        lost = [before.source_by_id[s].name for s in arriving if s is not None and s not in now and s != wanted.source]
        leg = next((run for run in _legs_of(after, wanted.source) if _does(run, wanted)), None)
        if leg is not None:
            found.append(Route(cords, tuple(lost), leg.driver.number if leg.driver is not None else None))
    return tuple(sorted(found, key=lambda r: (r.arrives is None, len(r.cords), len(r.lost)))[:_MOST_TOLD])


def _legs_of(survey: Survey, source: SourceId) -> Iterator[SignalPath]:
    """Yield the ways a source goes: a half-normal that is only tapped goes on beside the cord."""
    for run in survey.signal_paths:
        if run.source == source:
            yield run
            yield from legs(survey, run)


def _does(run: SignalPath, wanted: RouteRequest) -> bool:
    """Say whether a run passes the boxes in their order and comes into the input."""
    stops = [(stop.unit, stop.port) for stop in run.stops]
    passed = list(dict.fromkeys(unit for unit, _ in stops if unit in wanted.through))
    return (wanted.into.unit, wanted.into.port) in stops and passed == list(wanted.through)


_Stretch = tuple[Soldered, Soldered]


def _stretches(studio: Studio, board: ContactState, wanted: RouteRequest) -> list[_Stretch]:
    """Return from which copper to which each stretch goes: from the line to the first box, from box to box, into the input."""
    groups = list({id(g): g for g in board.behind.values()}.values())

    def driven_by(contact: Contact, what: str) -> Soldered:
        here = next((g for g in groups if contact in g.drivers), None)
        if here is None:
            raise BadValue("a route", what, "It is not wired to any point of a bay.")
        return here

    def heard_by(end: PortEnd, what: str) -> Soldered:
        here = next((g for g in groups if (end.unit, end.port, 1) in g.receivers), None)
        if here is None:
            raise BadValue("a route", what, "It is not wired to any point of a bay.")
        return here

    here = driven_by((wanted.source, "", 1), studio.source(wanted.source).name)
    found = []
    for unit in wanted.through:
        name = studio.units[unit].name
        ins, outs = _line_ports(studio, unit, "in"), _line_ports(studio, unit, "out")
        into = next((p for p in ins if any((unit, p.key, 1) in g.receivers for g in groups)), None)
        out = next((p for p in outs if any((unit, p.key, 1) in g.drivers for g in groups)), None)
        if into is None or out is None:
            raise BadValue("passed", name, "Its input or its output is not wired to any point of a bay.")
        found.append((here, heard_by(PortEnd(unit, into.key), name)))
        here = driven_by((unit, out.key, 1), name)
    return [*found, (here, heard_by(wanted.into, studio.end_text(wanted.into)))]


def _line_ports(studio: Studio, unit: UnitId, direction: str) -> list[Port]:
    return [p for p in studio.profile_of(unit).ports if p.direction == direction and not p.is_digital]


def _alternatives(
    studio: Studio, board: ContactState, stretches: Sequence[_Stretch], held: set[PortEnd]
) -> Iterator[tuple[tuple[PortEnd, PortEnd], ...]]:
    """Yield sets of cords, fewest first: a stretch that normals bridge needs none, any other one cord."""
    fronts: dict[PortEnd, PortEnd | None] = {}
    for cord in studio.cords:
        for plug in cord.plugs:
            fronts[plug] = next((p for p in cord.plugs if p != plug), None)
    faults = {PortEnd(u.id, key) for u in studio.units.values() for key in u.faults}
    choices: list[list[tuple[tuple[PortEnd, PortEnd], ...]]] = []
    for start, end in stretches:
        if any(g is end for g in board.groups(start.points[0], fronts)):
            choices.append([()])
            continue
        free = [
            [p for p in _reach(board, group, fronts) if p not in held and p not in faults] for group in (start, end)
        ]
        pairs = [
            ((one, other),)
            for one in free[0]
            for other in free[1]
            if one != other and studio.port(one).connector == studio.port(other).connector
        ]
        choices.append(sorted(pairs, key=lambda pair: _awkward(start, end, pair[0])))
    for picked in product(*choices):
        cords = tuple(cord for leg in picked for cord in leg)
        plugs = [p for cord in cords for p in cord]
        if len(set(plugs)) == len(plugs):
            yield cords


def _reach(board: ContactState, group: Soldered, fronts: dict[PortEnd, PortEnd | None]) -> list[PortEnd]:
    """Return the points at which some copper may be met: its own, and those its normals lead to."""
    near = [p for g in board.groups(group.points[0], fronts) if not g.drivers - group.drivers for p in g.points]
    return list(dict.fromkeys([*group.points, *near]))


def _awkward(start: Soldered, end: Soldered, cord: tuple[PortEnd, PortEnd]) -> int:
    """Return how far a cord is from what one would lay first: in the very points the two are soldered to."""
    return (cord[0] not in start.points) + (cord[1] not in end.points)


def _lay(studio: Studio, cords: Sequence[tuple[PortEnd, PortEnd]]) -> Change:
    return in_a_scene(studio, "Lay a route", [step(lay_cord, one, other) for one, other in cords])


def route_change(studio: Studio, wanted: RouteRequest, route: Route) -> Change:
    """Return the change that lays a route in the scene at hand."""
    name = studio.source(wanted.source).name
    boxes = "".join(f" through {studio.units[u].name}" for u in wanted.through)
    made = _lay(studio, route.cords)
    return Change(f"Lay {name}{boxes} into {studio.end_text(wanted.into)}", made.steps)


def route_text(studio: Studio, route: Route) -> str:
    """Return a route in words: its cords, where the line arrives, what is lost."""
    cords = (
        ", ".join(f"{studio.end_text(one)} → {studio.end_text(other)}" for one, other in route.cords)
        or "no cord: normals bring it there"
    )
    arrives = f"driver input {route.arrives}" if route.arrives is not None else "reaches no driver input"
    lost = f"; {', '.join(route.lost)} no longer arrive{'s' * (len(route.lost) == 1)}" if route.lost else ""
    return f"{cords}  ·  {arrives}{lost}"
