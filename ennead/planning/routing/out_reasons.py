"""The rules that leave a destination on its outputs, and the rule that keeps it from others."""

from dataclasses import replace
from typing import Final

from ennead.planning.seating.problem import Seats
from ennead.planning.seating.studio_problem import Posed
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.rules.may_go_out import obstacles, wanted_of, where_of
from ennead.studio.house import PortEnd
from ennead.studio.session import Destination, PlacedDestination
from ennead.survey.output_points import OutputPoint, output_point_at
from ennead.survey.survey import Survey

_WANTED: Final = {
    "mains": "line output that may go to loudspeakers",
    "speakers": "line output that may go to loudspeakers",
    "cue": "line output or headphone socket that may go to ears",
    "send": "line output that may go to outboard",
    "click": "line output of its own",
    "loop": "line output that may go to outboard",
}
_BOUND: Final = {
    "loudspeakers": "main outputs stay with the monitors",
    "cue": "what feeds ears feeds nothing else",
    "outboard": "what drives outboard serves no cue",
    "console": "what drives a mixer is a send",
}


def out_rules(survey: Survey, destination: PlacedDestination, posed: Posed, index: int | None) -> list[str]:
    """Return the rules that leave a destination where it is, from the hardest on."""
    studio, said = survey.studio, []
    if index is not None:
        could = len(places_of(posed, index))
        wanted = f"{'pair of ' if destination.channels == 2 else ''}{_WANTED[destination.kind]}"
        said.append(f"It wants a {wanted}: {could} {'place' if could == 1 else 'places'} could serve.")
    if destination.id in posed.standing:
        said.append("It stands wired in the house, out and back; Allocate leaves it there.")
    if destination.pinned:
        said.append("It is pinned there.")
    if destination.tap:
        said.append("It may tap another's output, so it is left where it is.")
    at = output_point_at(survey.output_points)
    ends = list(dict.fromkeys(destination.outputs))
    for end in ends:
        point = next(iter(at.get(end, ())), None)
        if point is not None and point.feeds in _BOUND:
            said.append(f"{studio.end_text(end)} is wired to {_wired_to(survey, end)}: {_BOUND[point.feeds]}.")
    if len(ends) == 2:
        said.append("Its two sides sit on odd and even neighbours of one unit.")
    if destination.kind == "loop":
        numbers = [s.number for e in ends for s in at.get(e, ())]
        back = [arrival.number for e in destination.returns if (arrival := survey.arrival(e)) is not None]
        if numbers and numbers == back:
            said.append("Send and return have the same numbers.")
    if ends and destination.place is not None and studio.units[ends[0].unit].place == destination.place:
        said.append(f"Both stand in {studio.places[destination.place].name}.")
    return said


def _wired_to(survey: Survey, end: PortEnd) -> str:
    names = (survey.studio.units[n.end.unit].name for n in survey.passages[end.unit].leaving.get(end.port, ()))
    return " and ".join(dict.fromkeys(names))


def places_of(posed: Posed, index: int) -> list[Seats]:
    """Return every place a demand could take, were it not pinned."""
    return posed.problem.places(replace(posed.problem.demands[index], fixed=False))


def place_from(posed: Posed, index: int, end: PortEnd) -> Seats | None:
    """Return the place of a demand that begins at a socket."""
    return next((p for p in places_of(posed, index) if posed.ends(p)[0] == end), None)


def why_not_from(survey: Survey, destination: Destination, end: PortEnd) -> str:
    """Return the hard rule that keeps a destination from an output, of those that no place begins at."""
    text = survey.studio.end_text(end)
    points: tuple[OutputPoint, ...] = tuple(output_point_at(survey.output_points).get(end, ()))
    if not points and end.port not in survey.faults.get(end.unit, ()):
        return f"no driver number comes out of {text}"
    kept = kept_for_mains(survey.studio.current, survey.destinations, survey.output_points)
    against = [
        o
        for p in points[:1]
        for o in obstacles(wanted_of(destination, by_hand=True), where_of(survey, p, kept=p.number in kept))
    ]
    if not points or (against and against[0].rule == "faults"):
        return f"{text} is out of service"
    if against and against[0].rule == "monitors":
        return f"{text} {against[0]}"
    if against:
        return f"{survey.studio.units[end.unit].name}: {points[0].port.label} {against[0]}"
    return f"no pair begins at {text}; pairs are odd and even, side by side"
