"""Traces: everywhere a signal goes, as a tree; its leaves are driver inputs, ears and the last boxes it reaches.

Each leaf is known by its first way; further ways to the same leaf are counted, to two, so that a tree stays small however many
ways run together again. A leg that is wired and on which nothing arrives is a stray, beside legs that do.
"""

from dataclasses import replace
from typing import NamedTuple

from ennead.studio.ids import UnitId
from ennead.survey.paths_onward import path_along, remembered
from ennead.survey.paths_out import is_terminal, path_out_along
from ennead.survey.signal_paths import SignalPath, Stop
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import ARRIVED, Lane, Path, first_path, is_record, reach


class Leg(NamedTuple):
    """A leaf as a run of its own, and by how many ways a signal comes there: one, or two for several."""

    run: SignalPath
    ways: int


class Trace(NamedTuple):
    """Everywhere one signal goes.

    Parameters
    ----------
    legs : tuple of Leg
        The one its line is known by first; none where nothing arrives.
    strays : tuple of Run
        Wired legs on which nothing arrives, each with its gap, beside legs that do.
    """

    legs: tuple[Leg, ...]
    strays: tuple[SignalPath, ...]


def trace(survey: Parts, run: SignalPath) -> Trace:
    """Return everywhere the signal of a run goes."""
    if run.into is None or run.into.unit is None or run.gap is not None:
        return Trace((), ())
    starts = [run.into]
    if run.source is not None:
        own = survey.leads.get((run.source, run.channel))
        leads = () if own is None else (own, *survey.further_leads.get((run.source, run.channel), ()))
        starts += [
            Stop(run.into.zone, c.end.unit, c.end.port, c.lane, c.id)
            for c in leads
            if (c.id, c.end.unit, c.end.port, c.lane) != (run.into.cable, run.into.unit, run.into.port, run.into.lane)
        ]
        # Two lines on one lead are one conductor.
        held = survey.at_lines.get((run.source, "", run.channel), ())
        starts += [Stop(run.into.zone, UnitId(unit), port, lane, cable) for (unit, port, lane), cable in held]
    ask = remembered(survey.passages.__getitem__)
    along, is_end = (path_out_along, is_terminal) if run.out else (path_along, is_record)
    by_lane = {(s.unit, s.port, s.lane): s for s in reversed(starts) if s.unit is not None}
    lanes = list(reversed(by_lane))
    tree = reach(ask, lanes[0], is_end, *lanes[1:])
    found: dict[Lane, Leg] = {}
    strays: list[SignalPath] = []
    for index in tree.ends:
        hops = tree.path_to(index)
        way = along(ask, Path(hops, ARRIVED))
        driver = run.driver if run.out or way.lands is None else survey.numbering.input_at(way.lands)
        into = replace(by_lane[hops[0].to], zone=way.zone)  # type: ignore[index]
        found[tree.lanes[index]] = Leg(replace(run, into=into, way=way, driver=driver), tree.ways[index])
    for lane in lanes if not run.out else ():
        # What goes on from a dead leg by another lead of the line is that lead's.
        others = {other for other in lanes if other != lane}
        behind = first_path(ask, lane, is_end, lambda hop, others=others: hop.to in others)  # type: ignore[misc]
        if behind.end.cause not in ("", "ring"):
            way = along(ask, behind)
            strays.append(replace(run, into=replace(by_lane[lane], zone=way.zone), way=way, driver=None))
    for at, behind in tree.astray:
        hops = tree.path_to(at)
        way = along(ask, Path((*hops, *behind.hops), behind.end))
        strays.append(replace(run, into=replace(by_lane[hops[0].to], zone=way.zone), way=way, driver=None))  # type: ignore[index]
    if not found:
        # What a destination hears by leads of its own goes over no cable between two units.
        return Trace((Leg(run, 1),), ())
    first = end_of(run)
    ordered = sorted(found, key=lambda end: end != first)
    return Trace(tuple([found[end] for end in ordered]), tuple(strays))


def legs(survey: Parts, run: SignalPath) -> tuple[SignalPath, ...]:
    """Return the other runs of a signal that arrive: at a driver input, at a loudspeaker or an ear; in the order of paths and cables."""
    return tuple([leg.run for leg in trace(survey, run).legs[1:]])


def end_of(run: SignalPath) -> Lane | None:
    """Return the lane at which a run ends; None for one that is not plugged in."""
    if run.way.lands is not None:
        unit, channel = run.way.lands
        return unit, channel.port, channel.lane
    last = run.stops[-1]
    return None if last.unit is None else (last.unit, last.port, last.lane)
