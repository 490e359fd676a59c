"""Outcome: what is observed of a house as it is wired: where lines arrive, what the software records, which units lock, what is heard."""

from collections.abc import Mapping
from typing import NamedTuple

from ennead.studio.ids import DestinationId, UnitId
from ennead.survey.arrival_numbers import Line
from ennead.survey.clock import State
from ennead.survey.output_points import output_point_at
from ennead.survey.placed import lanes_of
from ennead.survey.split_paths import split_paths
from ennead.survey.survey import Survey
from ennead.survey.survey_interface import Parts


class Outcome(NamedTuple):
    """What is observed, without opening a box.

    Parameters
    ----------
    arrives : map of Line to int or None
        The driver input at which each line arrives; None where it does not.
    recorded : map of Line to tuple of Line
        What is on the driver input that the software has picked for each line; empty for silence.
    locked : map of UnitId to State
        How each digital unit that has power stands to the clock.
    heard : map of DestinationId to tuple of int or None
        The driver output that each channel of each destination hears; None for silence.
    back : map of int to int
        Driver outputs that come back, with the driver input of each.
    """

    arrives: Mapping[Line, int | None]
    recorded: Mapping[Line, tuple[Line, ...]]
    locked: Mapping[UnitId, State]
    heard: Mapping[DestinationId, tuple[int | None, ...]]
    back: Mapping[int, int]


def outcome(survey: Survey, plan: Survey | None = None) -> Outcome:
    """Return the outcome of a house as it is wired.

    Parameters
    ----------
    plan : Survey, optional
        What the software was set up for: it has picked the numbers at which lines arrive there. None for the survey itself.
    """
    at, picked = survey.once(_at_numbers), {**(plan or survey).named("arrival_numbers"), **survey.named("picked")}
    return Outcome(
        survey.named("arrival_numbers"),
        {line: at.get(number, ()) for line, number in picked.items() if number is not None},
        survey.once(_locked),
        survey.once(_heard),
        survey.once(_back),
    )


def _at_numbers(survey: Parts) -> dict[int, tuple[Line, ...]]:
    """Return the lines on each driver input on which any is."""
    splits = survey.once(split_paths)
    at: dict[int, tuple[Line, ...]] = survey.named("lines_at_numbers")
    if splits:
        at = {**at}
    for split in splits:
        if split.run.of is not None:
            # A second leg is recorded as well, where something listens to its number.
            for leg in split.trace.legs:
                number = leg.run.driver.number if leg.run.driver is not None else 0
                line = split.run.of.id, split.run.channel
                if number and line not in at.get(number, ()):
                    at[number] = (*at.get(number, ()), line)
    return at


def _locked(survey: Parts) -> dict[UnitId, State]:
    views = survey.views
    return {unit: clock.state for unit, clock in survey.clocks.by_unit.items() if not views[unit].off}


def _heard(survey: Parts) -> dict[DestinationId, tuple[int | None, ...]]:
    points = output_point_at(survey.output_points) if survey.destinations else {}
    found, silent = {}, survey.named("quiet")
    for destination in survey.destinations:
        numbers: list[int | None] = [None] * destination.channels
        stands = list(lanes_of(destination.at))
        for n, end in enumerate(destination.outputs):
            lane = destination.outputs[:n].count(end)
            if (n < len(stands) and stands[n] in silent) or (end.unit, end.port, lane + 1) in silent:
                continue
            for point in points.get(end, ())[lane : lane + 1]:
                numbers[n] = point.number
        found[destination.id] = tuple(numbers)
    return found


def _back(survey: Parts) -> dict[int, int]:
    return {
        run.driver.number: survey.numbering.input_at(run.way.lands).number
        for run in survey.output_paths
        if run.way.lands is not None and run.driver is not None
    }
