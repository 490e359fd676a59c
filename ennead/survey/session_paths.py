"""The signal paths of a session: one for every channel of its sources, and one for every driver output in use."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from operator import is_
from typing import TYPE_CHECKING

from ennead.studio.house import Lead, Settings
from ennead.studio.ids import CableId, DestinationId, SourceId, UnitId
from ennead.studio.session import PlacedDestination, Source
from ennead.survey.nets import Contact
from ennead.survey.numbering import DriverChannel
from ennead.survey.output_points import output_point_at
from ennead.survey.parts import Held, changed_keys, each, kept, part, renews
from ennead.survey.passages import Passages
from ennead.survey.paths_onward import path_from, path_onward, remembered
from ennead.survey.signal_paths import UNPLACED, Gap, PathOnward, SignalPath, Stop
from ennead.survey.unit_view import UnitView
from ennead.survey.walk import Lane

if TYPE_CHECKING:
    from ennead.survey.survey_interface import Parts

_Onward = Mapping[UnitId, Mapping[tuple[str, int], PathOnward]]
_Drivers = Mapping[UnitId, tuple[DriverChannel, ...]]

_NONE: Mapping[tuple[str, int], PathOnward] = {}


@part
def signal_paths(
    sources: tuple[Source, ...],
    leads: Mapping[tuple[SourceId, int], Lead],
    further_leads: Mapping[tuple[SourceId, int], tuple[Lead, ...]],
    at_lines: Mapping[Contact, tuple[tuple[Contact, CableId], ...]],
    paths_onward: _Onward,
    driver_inputs: _Drivers,
    passages: Mapping[UnitId, Passages],
) -> tuple[SignalPath, ...]:
    """Return the runs of the session's sources, one a channel, in the order of the list."""
    found, alone = [], not further_leads and not at_lines
    for source in sources:
        digital, key = source.kind == "digital", source.id
        for channel in range(1, source.channels + 1):
            # One digital cable carries both channels; analogue channels have a cable each.
            at = key, 1 if digital else channel
            cable = leads.get(at)
            if cable is None and not at_lines.get((key, "", channel)):
                found.append(_inner_path(source, channel, driver_inputs))
                continue
            if cable is not None and (alone or (at not in further_leads and (key, "", channel) not in at_lines)):
                end, lane = cable.end, channel if digital else cable.lane
                unit, port = end.unit, end.port
                known = paths_onward[unit].get((port, lane))
                way = known or path_from(paths_onward, passages, unit, port, lane)
                driver = None if way.lands is None else driver_inputs[way.lands[0]][way.lands[1].index - 1]
                into = Stop(way.zone, unit, port, lane, cable.id)
                found.append(SignalPath(source, channel, into, way, driver, walked=known is None))
                continue
            legs = _legs(cable, further_leads.get(at, ()), at_lines.get((key, "", channel), ()))
            (unit, port, lane), over = legs[0] if not digital else ((legs[0][0][0], legs[0][0][1], channel), legs[0][1])
            if len(legs) == 1:
                way = paths_onward[unit].get((port, lane)) or path_from(paths_onward, passages, unit, port, lane)
            else:
                # A lead split in two is known by the first leg that arrives, or by the first.
                ((unit, port, lane), over), way = _first_leg(legs, passages)
            driver = None if way.lands is None else driver_inputs[way.lands[0]][way.lands[1].index - 1]
            found.append(SignalPath(source, channel, Stop(way.zone, unit, port, lane, over), way, driver))
    return tuple(found)


@renews(signal_paths)
def _renewed_paths(
    was: Held,
    sources: tuple[Source, ...],
    leads: Mapping[tuple[SourceId, int], Lead],
    further_leads: Mapping[tuple[SourceId, int], tuple[Lead, ...]],
    at_lines: Mapping[Contact, tuple[tuple[Contact, CableId], ...]],
    paths_onward: _Onward,
    driver_inputs: _Drivers,
    passages: Mapping[UnitId, Passages],
) -> tuple[SignalPath, ...] | None:
    """Return the runs, each that rests on the lead, the way and the driver channels it had as it was."""
    (listed, led, *several, had_paths, numbered, passed) = was.reads
    if sources is not listed or several != [further_leads, at_lines] or further_leads or at_lines:
        return None
    replugged = {source for source, _ in changed_keys(leads, led)}
    renumbered = changed_keys(driver_inputs, numbered)
    walked, turned = passages is not passed or paths_onward is not had_paths, changed_keys(paths_onward, had_paths)
    at: dict[SourceId, list[int]] = {}
    # Every line of a house is looked at: each by what costs least to ask.
    for n, run in enumerate(was.value):
        if (
            ((stop := run.into) is not None and stop.unit in turned and _is_another(run, paths_onward))
            or (walked and run.walked)
            or (replugged and run.of.id in replugged)
            or (renumbered and run.of.inside)
            or (renumbered and (lands := run.way.lands) is not None and lands[0] in renumbered)
        ):
            at.setdefault(run.of.id, []).append(n)
    if not at:
        return was.value  # type: ignore[no-any-return]
    of_these = tuple([was.value[places[0]].of for places in at.values()])
    made = {
        (r.source, r.channel): r for r in signal_paths(of_these, leads, {}, {}, paths_onward, driver_inputs, passages)
    }
    found = list(was.value)
    for places in at.values():
        for n in places:
            found[n] = kept(found[n], made[found[n].source, found[n].channel])
    return was.value if all(map(is_, found, was.value)) else tuple(found)


def _is_another(run: SignalPath, paths_onward: _Onward) -> bool:
    """Say whether the way from the socket of a run is another than it has."""
    stop = run.into
    return (
        stop is None
        or stop.unit is None
        or paths_onward.get(stop.unit, _NONE).get((stop.port, stop.lane)) is not run.way
    )


def _inner_path(source: Source, channel: int, driver_inputs: _Drivers) -> SignalPath:
    """Return the run of a channel without a cable: by a driver number that no socket carries, or nowhere."""
    held = source.inside[channel - 1] if channel <= len(source.inside) else None
    if held is None:
        return SignalPath(source, channel, None, UNPLACED)
    into = Stop("driver", None, "", held.channel)
    for driver in driver_inputs.get(held.unit, ()):
        at = driver.channel
        if at.live and not at.port and (at.block.key, at.index - at.block_first + 1) == (held.block, held.channel):
            return SignalPath(
                source, channel, into, PathOnward("driver", (), (held.unit, at), None, None, (held.unit,)), driver
            )
    return SignalPath(
        source,
        channel,
        into,
        PathOnward("driver", (), None, Gap("not-listed", held.unit, held.block, held.channel), None, ()),
    )


@part
def with_inside(sources: tuple[Source, ...]) -> tuple[Source, ...]:
    """Return the sources that come in by driver numbers without a socket where they have no cable."""
    return tuple([s for s in sources if s.inside])


@part
def held_inside(with_inside: tuple[Source, ...], leads: Mapping[tuple[SourceId, int], Lead]) -> frozenset[SourceId]:
    """Return the sources that do come in by driver numbers without a socket."""
    return frozenset([s.id for s in with_inside if not any((s.id, n) in leads for n in range(1, s.channels + 1))])


#: The socket a line is plugged into, and by which cable.
_Leg = tuple[Lane, CableId]


def _legs(own: Lead | None, further: Iterable[Lead], joined: Iterable[tuple[Contact, CableId]]) -> list[_Leg]:
    """Return the sockets one channel of a line is plugged into: by its own cables, and by what is on a lead with it."""
    legs: list[_Leg] = [
        ((lead.end.unit, lead.end.port, lead.lane), lead.id) for lead in ((own, *further) if own is not None else ())
    ]
    return legs + [
        leg for (unit, port, lane), cable in joined if (leg := ((UnitId(unit), port, lane), cable)) not in legs
    ]


def _first_leg(legs: list[_Leg], passages: Mapping[UnitId, Passages]) -> tuple[_Leg, PathOnward]:
    """Return the first leg that arrives, or the first, each by what lies behind it alone."""
    ask, lanes = remembered(passages.__getitem__), [lane for lane, _ in legs]
    found = [(leg, path_onward(ask, *leg[0], [lane for lane in lanes if lane != leg[0]])) for leg in legs]
    return next(((leg, way) for leg, way in found if way.lands is not None), found[0])


@part
def phantom_on(settings: Mapping[UnitId, Settings]) -> dict[UnitId, tuple[str, ...]]:
    """Return the phantom banks that are on in each unit; none in one that is switched off."""
    return {u: () if s.off else s.phantom for u, s in settings.items()}


@part
def broken_paths(signal_paths: tuple[SignalPath, ...]) -> tuple[SignalPath, ...]:
    """Return the input runs that end too early."""
    return tuple([r for r in signal_paths if r.way.gap is not None])


@each("output_paths_of", of={"drivers": "driver_outputs", "used": "outward"})
def output_paths_of(
    drivers: tuple[DriverChannel, ...], used: Mapping[tuple[str, int], PathOnward] | None
) -> tuple[tuple[SignalPath, ...], dict[int, int]]:
    """Return the runs of the driver outputs of one interface that lead to a cable or to headphones, and where each stands by its channel."""
    found: list[SignalPath] = []
    at: dict[int, int] = {}
    for driver in drivers if used else ():
        channel = driver.channel
        way = used.get((channel.port, channel.lane)) if used else None
        if way is not None:
            at[channel.index] = len(found)
            found.append(
                SignalPath(
                    None, channel.lane, Stop(way.zone, driver.unit, channel.port, channel.lane), way, driver, True
                )
            )
    return tuple(found), at


def output_paths(survey: "Parts") -> tuple[SignalPath, ...]:
    """Return the runs of driver outputs that lead anywhere: to a cable, to headphones of their own, or to a destination of the session."""
    # Without destinations the sockets of the driver outputs need not be known.
    heard_at = survey.once(_heard_at) if survey.destinations else {}
    found: list[SignalPath] = []
    for unit, (paths_here, place) in survey.output_paths_of.items():
        heard = heard_at.get(unit)
        if heard is None:
            found += paths_here
            continue
        for driver in survey.numbering.outputs_of[unit]:
            channel = driver.channel
            to, at = heard.get(channel.index), place.get(channel.index)
            if to is not None:
                found.append(
                    _heard_path(survey.views[unit], driver, paths_here[at].way if at is not None else None, to)
                )
            elif at is not None:
                found.append(paths_here[at])
    return tuple(found)


def _heard_path(view: UnitView, driver: DriverChannel, way: PathOnward | None, to: DestinationId) -> SignalPath:
    """Return the run of a driver output that a destination hears."""
    unit, channel = driver.unit, driver.channel
    if way is None:
        way = PathOnward("converter", (), None, None, view.delays[channel.port], (unit,))
    into = Stop(way.zone, unit, channel.port, channel.lane)
    if way.gap is not None and way.gap.cause == "no-cable":
        # What leaves by a lead of a destination's own is heard there.
        way = replace(way, gap=None)
    return SignalPath(None, channel.lane, into, way, driver, True, to)


def _heard_at(survey: "Parts") -> dict[UnitId, dict[int, DestinationId]]:
    """Return by which driver channel of which interface each destination of the session hears; the first where several share it."""
    points = output_point_at(survey.output_points)
    found: dict[UnitId, dict[int, DestinationId]] = {}
    for destination in survey.destinations:
        for at, end in enumerate(destination.outputs):
            lane = destination.outputs[:at].count(end)
            for point in points.get(end, ())[lane : lane + 1]:
                found.setdefault(point.driver.unit, {}).setdefault(point.driver.channel.index, destination.id)
    return found


@part
def source_by_id(sources: tuple[Source, ...]) -> dict[SourceId, Source]:
    """Return the session's sources by id."""
    return {s.id: s for s in sources}


def destinations_by_id(survey: "Parts") -> dict[DestinationId, PlacedDestination]:
    """Return the session's destinations by id."""
    return {d.id: d for d in survey.destinations}
