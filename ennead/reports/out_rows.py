"""Destinations with the way of each: driver numbers, links, sockets, what they are wired to."""

from collections.abc import Sequence
from dataclasses import dataclass

from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ranges import in_ranges
from ennead.studio.session import PlacedDestination
from ennead.survey.output_points import OutputPoint, output_point_at
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import path_outward
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class OutWay:
    """One destination's way.

    Parameters
    ----------
    numbers, return_numbers : tuple of int
        Driver outputs, and the driver inputs by which a loop comes back.
    links : tuple of str
        The digital hops, in words.
    sockets, feeds, returns : str
        The outputs, the boxes they are wired to, and the inputs of a loop's return, in words.
    broken : bool
        Whether an output is one that no driver number comes out of.
    """

    numbers: tuple[int, ...]
    links: tuple[str, ...]
    sockets: str
    feeds: str
    returns: str
    return_numbers: tuple[int, ...]
    broken: bool


def out_way(survey: Survey, outputs: Sequence[PortEnd], returns: Sequence[PortEnd] = ()) -> OutWay:
    """Return the way of some outputs, as a destination that is taken from them has it."""
    studio, at = survey.studio, output_point_at(survey.output_points)
    points: list[OutputPoint] = []
    broken = False
    for i, end in enumerate(outputs):
        lanes = at.get(end, ())
        lane = outputs[:i].count(end)
        if lane < len(lanes):
            points.append(lanes[lane])
        else:
            broken = True
    fed = [_wired_to(survey, end, outputs[:i].count(end) + 1) for i, end in enumerate(outputs)]
    numbers = [survey.arrival(e) for e in returns]
    return OutWay(
        tuple(s.number for s in points),
        _links(survey, points),
        sockets_text(studio, outputs),
        " + ".join(dict.fromkeys([text for text in fed if text])),
        sockets_text(studio, returns),
        tuple(s.number for s in numbers if s is not None),
        broken,
    )


def _wired_to(survey: Survey, end: PortEnd, lane: int) -> str:
    """Return the boxes an output leads through, in order; the point at which it ends where no cord takes it on."""
    if not ({end.port} & survey.passages[end.unit].leaving.keys()):
        return ""
    way = path_outward(remembered(survey.passages.__getitem__), end.unit, end.port, lane)
    units = list(dict.fromkeys([s.unit for s in way.stops if s.unit is not None and s.unit != end.unit]))
    boxes = [unit for unit in units if unit not in survey.bays and (way.lands is None or unit != way.lands[0])]
    last = way.stops[-1] if way.stops else None
    if not boxes and last is not None and last.unit in survey.bays:
        return f"{survey.end_text(PortEnd(last.unit, last.port))}, no cord"  # type: ignore[arg-type]
    return " → ".join([survey.units[unit].name for unit in boxes or units[:1]])


def _links(survey: Survey, points: Sequence[OutputPoint]) -> tuple[str, ...]:
    """Return the digital sockets the first of some outputs passes after the interface, in words."""
    if not points:
        return ()
    driver, names = points[0].driver, survey.studio.units
    if driver.channel.port not in survey.views[driver.unit].digital:
        return ()
    way = survey.outward[driver.unit][driver.channel.port, driver.channel.lane]
    stops = [
        s
        for s in way.stops
        if s.unit is not None and s.zone in ("link", "converter") and s.port in survey.views[s.unit].digital
    ]
    first = (
        f"{names[driver.unit].name}"
        f" {survey.profiles[driver.unit].port_by_key[driver.channel.port].label.removesuffix(' out')}"
    )
    lanes = [s.driver.channel.lane for s in points if s.driver.channel.port == driver.channel.port]
    span = f"{lanes[0]}–{lanes[-1]}" if len(lanes) > 1 else str(lanes[0])
    return (f"{first} · {span}", *(f"{names[s.unit].name} · {s.lane}" for s in stops[1:] if s.unit is not None))


def sockets_text(studio: Studio, ends: Sequence[PortEnd]) -> str:
    """Return sockets in a few words, neighbours as one: ``Pier Line out 1–2``."""
    return in_ranges([f"{studio.units[e.unit].name} {studio.port(e).label}" for e in ends])


def way_of(survey: Survey, destination: PlacedDestination) -> OutWay:
    """Return the way of a destination as the plan has it."""
    return out_way(survey, destination.outputs, destination.returns)
