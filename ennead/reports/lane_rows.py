"""The lanes of a digital link: the signal on each, the number at which it arrives, and the lanes lost at this rate."""

from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple

from ennead.standards.links import LINKS
from ennead.studio.ids import CableId, UnitId
from ennead.studio.mixes import lane_label
from ennead.survey.links import Link
from ennead.survey.signal_paths import Stop
from ennead.survey.survey_interface import Parts
from ennead.survey.unit_view import UnitView

LaneState = Literal["used", "free", "lost"]


class Lane(NamedTuple):
    """One lane.

    Parameters
    ----------
    sent, arrives : str
        Number of the socket or driver output at the sending end, and at the receiving end; empty where there is none.
    track : str
        The source or destination of the signal on it.
    """

    number: int
    state: LaneState
    sent: str
    arrives: str
    track: str


def link_lanes(survey: Parts) -> Mapping[CableId, tuple[Lane, ...]]:
    """Return the lanes of every digital link, as many as its format has at single speed."""
    return survey.once(_all)


def lanes_in_use(survey: Parts) -> Mapping[tuple[CableId, int], str]:
    """Return the lanes of cables on which a line of this session runs, each with its source or destination."""
    return survey.once(_used)


def _used(survey: Parts) -> dict[tuple[CableId, int], str]:
    on: dict[tuple[CableId, int], str] = {}
    lines: list[tuple[str, Iterable[Stop]]] = [(run.track or run.signal, run.stops) for run in survey.signal_paths]
    lines += [(survey.destination_by_id[run.to].name, run.stops) for run in survey.output_paths if run.to is not None]
    for destination in survey.destinations:
        lines += [(destination.name, survey.way(end.unit, end.port).stops) for end in destination.returns]
    for name, stops in lines:
        for stop in stops:
            if stop.cable is not None:
                on.setdefault((stop.cable, stop.lane), name)
    return on


def _all(survey: Parts) -> dict[CableId, tuple[Lane, ...]]:
    on = lanes_in_use(survey)
    return {
        n.cable: tuple(_lanes(survey, n, on))
        for n in survey.links.values()
        if n.digital and LINKS[n.sends].lanes["single"]
    }


def _lanes(survey: Parts, link: Link, on: Mapping[tuple[CableId, int], str]) -> list[Lane]:
    sent = _sent(survey, link.start.unit, link.start.port)
    lanes = []
    for lane in range(1, max(LINKS[link.sends].lanes["single"], link.lanes_out) + 1):
        track = on.get((link.cable, lane), "")
        state: LaneState = "lost" if lane > link.lanes else "used" if track else "free"
        lanes.append(
            Lane(lane, state, sent.get(lane, ""), _arrives(survey, link, lane) if state != "lost" else "", track)
        )
    return lanes


def _sent(survey: Parts, unit: UnitId, port: str) -> dict[int, str]:
    """Return the number of what a unit puts on each lane of an output: a driver output, or one of its sockets."""
    view = survey.views[unit]
    before = survey.numbering.before_out.get(unit)
    if before is not None:
        here = [p for p in view.played if p.at[0] == port]
        found = {p.at[1]: lane_label(view.profile, p.mix) for p in here if p.mix}
        found |= {p.at[1]: str(before + p.channel) for p in here if not p.mix}
        if found:
            return found
    sent = {}
    for (into, lane), ends in view.inside.items():
        for out, to in ends:
            if out == port:
                sent[to] = f"{lane}" if into in view.digital else _place(view, into)
    return sent


def _arrives(survey: Parts, link: Link, lane: int) -> str:
    """Return the driver input at which a lane arrives, or the socket it leaves the receiving box by."""
    way = survey.way(link.end.unit, link.end.port, lane)
    if way.lands is not None:
        return str(survey.numbering.input_at(way.lands).number)
    view = survey.views[link.end.unit]
    for out, to in view.inside.get((link.end.port, lane), ()):
        return str(to) if out in view.digital else _place(view, out)
    return ""


def _place(view: UnitView, key: str) -> str:
    """Return the place of an analogue socket, from 1, among those that an inner path takes one by one; of one alone the first letters."""
    place = view.places.get(key)
    return view.profile.port_by_key[key].label[:3] if place is None else str(place)
