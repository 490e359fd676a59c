"""The runs of a session: one for every channel of its sources and for every output in use, kept from edit to edit."""

from collections.abc import Collection, Mapping

from ennead.studio.document import Studio
from ennead.studio.house import Cable
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.session import Source
from ennead.survey.numbering import DriverChannel
from ennead.survey.runs import UNPLACED, Run, Stop, Way
from ennead.survey.wires import Wires

# As in `ennead.survey.wires`: made this way at half the cost.
_new = tuple.__new__


def source_runs(
    studio: Studio, wires: Wires, plugged: Mapping[tuple[SourceId, int], Cable]
) -> tuple[Run, ...]:
    """Return the runs of the current session's sources, one a channel, in the order of the list."""
    return tuple(
        [_run(wires, plugged, source, c) for source in studio.session_sources for c in range(1, source.channels + 1)]
    )


def _run(wires: Wires, plugged: Mapping[tuple[SourceId, int], Cable], source: Source, channel: int) -> Run:
    digital = source.kind == "digital"
    # One digital cable carries both channels; analogue channels have a cable each.
    cable = plugged.get((source.id, 1 if digital else channel))
    if cable is None:
        return Run(source, channel, None, UNPLACED)
    unit, port, lane = cable.end.unit, cable.end.port, channel if digital else 1
    way = wires.onward(unit, port, lane)
    into = _new(Stop, (way.zone, unit, port, lane, cable.id))
    return _new(Run, (source, channel, into, way, None))


def runs_anew(
    wires: Wires,
    plugged: Mapping[tuple[SourceId, int], Cable],
    previous: tuple[Run, ...],
    units: frozenset[UnitId],
    moved: frozenset[UnitId],
    sources: Collection[SourceId],
) -> tuple[Run, ...]:
    """Return the runs of the same sources after an edit; those it does not touch stay the same objects.

    Parameters
    ----------
    units : set of UnitId
        Units that stand otherwise than before.
    moved : set of UnitId
        Interfaces whose numbers begin elsewhere than before.
    sources : collection of SourceId
        Sources that are plugged otherwise than before.
    """
    stale: list[int] = []
    runs = list(previous)
    if units or moved:
        for i, run in enumerate(previous):
            way = run[3]
            if not units.isdisjoint(way[5]):
                stale.append(i)
            elif (driver := way[2]) is not None and driver[1] in moved:
                now = _new(Way, (*way[:2], wires.number_now(driver), *way[3:]))
                runs[i] = _new(Run, (*run[:3], now, run[4]))
    if sources:
        stale += [i for i, run in enumerate(previous) if run[0] is not None and run[0].id in sources]
    for i in stale:
        source = previous[i].of
        if source is not None:
            runs[i] = _run(wires, plugged, source, previous[i].channel)
    return tuple(runs)


#: The runs of one interface's outputs, and every unit they pass.
OutputsOf = tuple[tuple[Run, ...], frozenset[UnitId]]


def output_runs(wires: Wires, previous: Mapping[UnitId, OutputsOf]) -> dict[UnitId, OutputsOf]:
    """Return the runs of each interface's outputs that go anywhere: a cable, or a headphone socket of their own."""
    found: dict[UnitId, OutputsOf] = {}
    for unit, before in wires.numbering.before_out.items():
        was = previous.get(unit)
        if was is not None and wires.changed is not None and wires.changed.isdisjoint(was[1]):
            found[unit] = was if unit not in wires.renumbered else (_renumbered(was[0], before), was[1])
            continue
        runs: list[Run] = []
        units: set[UnitId] = {unit}
        view = wires.views[unit]
        for channel in view.outputs:
            port, lane = channel.port, channel.lane
            if not port or not channel.live:
                continue
            if (unit, port) not in wires.leaving and "headphone" not in view.profile.port_by_key[port].carries:
                continue
            way = wires.outward(unit, port, lane)
            units.update(way.units)
            out = _new(DriverChannel, (before + channel.index, unit, channel, before))
            into = _new(Stop, (way.zone, unit, port, lane, None))
            runs.append(_new(Run, (None, lane, into, way, out)))
        found[unit] = tuple(runs), frozenset(units)
    return found


def _renumbered(runs: tuple[Run, ...], before: int) -> tuple[Run, ...]:
    """Return the runs of one interface's outputs with the numbers they have behind `before` channels of others."""
    return tuple(
        [
            _new(Run, (None, lane, into, way, _new(DriverChannel, (before + out[2].index, out[1], out[2], before))))
            for _, lane, into, way, out in runs
            if out is not None
        ]
    )
