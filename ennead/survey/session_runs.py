"""The runs of a session: one for every channel of its sources, and one for every driver output in use."""

from collections.abc import Mapping

from ennead.studio.house import Cable
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.studio.session import Destination, Source
from ennead.survey.numbering import DriverChannel
from ennead.survey.parts import part
from ennead.survey.passages import Passages
from ennead.survey.runs import UNPLACED, Run, Stop, Way
from ennead.survey.ways import no_lane

_Ways = Mapping[UnitId, Mapping[tuple[str, int], Way]]
_Drivers = Mapping[UnitId, tuple[DriverChannel, ...]]


@part
def runs(
    sources: tuple[Source, ...], leads: Mapping[tuple[SourceId, int], Cable], ways: _Ways, driver_inputs: _Drivers,
    passages: Mapping[UnitId, Passages],
) -> tuple[Run, ...]:  # fmt: skip
    """Return the runs of the evening's sources, one a channel, in the order of the list."""
    found = []
    for source in sources:
        digital = source.kind == "digital"
        for channel in range(1, source.channels + 1):
            # One digital cable carries both channels; analogue channels have a cable each.
            cable = leads.get((source.id, 1 if digital else channel))
            if cable is None:
                found.append(Run(source, channel, None, UNPLACED))
                continue
            unit, port, lane = cable.end.unit, cable.end.port, channel if digital else 1
            way = ways[unit].get((port, lane)) or no_lane(unit, passages[unit], port, lane)
            driver = None if way.lands is None else driver_inputs[way.lands[0]][way.lands[1].index - 1]
            found.append(Run(source, channel, Stop(way.zone, unit, port, lane, cable.id), way, driver))
    return tuple(found)


@part
def broken_runs(runs: tuple[Run, ...]) -> tuple[Run, ...]:
    """Return the input runs that end too early."""
    return tuple([r for r in runs if r.way.gap is not None])


@part
def output_runs(outward: _Ways, driver_outputs: _Drivers) -> tuple[Run, ...]:
    """Return the runs of driver outputs that lead anywhere: to a cable, or to headphones of their own."""
    found = []
    for unit, drivers in driver_outputs.items():
        used = outward[unit]
        for driver in drivers if used else ():
            port, lane = driver.channel.port, driver.channel.lane
            if (way := used.get((port, lane))) is not None:
                found.append(Run(None, lane, Stop(way.zone, unit, port, lane), way, driver, out=True))
    return tuple(found)



@part
def source_by_id(sources: tuple[Source, ...]) -> dict[SourceId, Source]:
    """Return the evening's sources by id."""
    return {s.id: s for s in sources}


@part
def destination_by_id(destinations: tuple[Destination, ...]) -> dict[DestinationId, Destination]:
    """Return the evening's destinations by id."""
    return {d.id: d for d in destinations}
