"""The survey of one studio: its parts, each worked out when first asked for and kept while what it reads is unchanged."""

from collections.abc import Callable, Mapping
from functools import cached_property
from operator import is_
from typing import Any, Final, TypeVar

from ennead.studio.document import Studio
from ennead.studio.house import Cable, PortEnd, Settings, SourceEnd
from ennead.studio.ids import CableId, SourceId, UnitId
from ennead.studio.profile import Profile
from ennead.survey.balance import Wanted, wanted_by_need
from ennead.survey.clock import Clocks, clock_arrivals, survey_clock
from ennead.survey.input_points import (
    InputPoint,
    find_input_points,
    in_order,
    points_by_socket,
    sum_of_needs,
    taken_inputs,
    units_with_faults,
)
from ennead.survey.links import Arrival, Link, link_again, link_cables, links_by_start
from ennead.survey.numbering import Numbering, number_channels
from ennead.survey.output_points import OutputPoint, find_output_points
from ennead.survey.phantom_way import PASSIVE, passive_sockets
from ennead.survey.runs import Run
from ennead.survey.session_runs import output_runs, runs_anew, source_runs
from ennead.survey.unit_view import UnitView, view_unit
from ennead.survey.wires import Wires

T = TypeVar("T")


#: Parts that are put together from something worth keeping beside them.
_BESIDE: Final = {"views": "kinds", "output_runs": "outputs_of", "input_points": "points_of"}


def _same(old: tuple[T, ...], new: tuple[T, ...]) -> tuple[T, ...]:
    """Return the old tuple where the new one holds the very same objects."""
    return old if len(old) == len(new) and all(map(is_, old, new)) else new


class Survey:
    """Everything that follows from a studio.

    Parameters
    ----------
    studio : Studio
    previous : Survey, optional
        The survey of the studio before an edit. A part is taken over from it when every object it read is
        still the very same object; and a part that comes out as it was stays the very same object, so that
        what reads it is kept as well.
    """

    def __init__(self, studio: Studio, previous: "Survey | None" = None) -> None:
        self.studio = studio
        self._held: dict[Any, tuple[tuple[object, ...], Any]] = {}
        self._before = previous._held if previous is not None else {}  # noqa: SLF001 - its own kind

    def part(self, name: Any, reads: tuple[object, ...], make: Callable[[], T]) -> T:
        """Return a part: as it was where all it reads is as it was, else made anew."""
        held = self._held.get(name)
        if held is None:
            held = self._before.get(name)
            if held is None or any(a is not b for a, b in zip(held[0], reads, strict=True)):
                held = (reads, make())
            elif _BESIDE.get(name) in self._before:
                self._held[_BESIDE[name]] = self._before[_BESIDE[name]]
            self._held[name] = held
        value: T = held[1]
        return value

    def _beside(self, name: str, value: object) -> None:
        """Keep what a part was put together from as long as the part itself is kept."""
        self._held[_BESIDE[name]] = ((), value)

    def _was(self, name: Any) -> Any:
        """Return what a part was before the edit, or None."""
        held = self._before.get(name)
        return held[1] if held is not None else None

    def _steady(self, name: Any, reads: tuple[object, ...], make: Callable[[], dict[Any, Any]]) -> Any:
        """Return a part that is a dictionary; the very same one where all its values are the very same."""

        def steadied() -> dict[Any, Any]:
            new, old = make(), self._was(name)
            if old is None or len(old) != len(new) or not all(map(is_, old.values(), new.values())):
                return new
            return old if list(old) == list(new) else new

        return self.part(name, reads, steadied)

    @property
    def rate_hz(self) -> int:
        """The current session's rate, Hz."""
        return self.studio.rate_hz

    @property
    def pull_ppm(self) -> float:
        """How far the current session's clocks run off its rate, ppm."""
        return self.studio.current.pull_ppm

    @cached_property
    def settings(self) -> Mapping[UnitId, Settings]:
        """The settings of every unit; the same map as before while only names and places change."""
        units = self.studio.units
        settings: Mapping[UnitId, Settings] = self._steady(
            "settings", (units,), lambda: {u.id: u.settings for u in units.values()}
        )
        return settings

    @cached_property
    def phantom_on(self) -> Mapping[UnitId, tuple[str, ...]]:
        """The phantom banks that are on in each unit."""
        settings = self.settings
        on: Mapping[UnitId, tuple[str, ...]] = self._steady(
            "phantom_on", (settings,), lambda: {u: s.phantom for u, s in settings.items()}
        )
        return on

    @cached_property
    def profiles(self) -> Mapping[UnitId, Profile]:
        """The profile of every unit."""
        units, shelf = self.studio.units, self.studio.profiles
        profiles: Mapping[UnitId, Profile] = self._steady(
            "profiles", (units, shelf), lambda: {u.id: shelf[u.profile] for u in units.values()}
        )
        return profiles

    @cached_property
    def views(self) -> dict[UnitId, UnitView]:
        """The view of every unit; units of one profile that are set alike share one."""
        reads = (self.settings, self.profiles, self.rate_hz)
        views: dict[UnitId, UnitView] = self._steady("views", reads, self._make_views)
        return views

    def _make_views(self) -> dict[UnitId, UnitView]:
        rate, profiles = self.rate_hz, self.profiles
        old: dict[Any, UnitView] = self._was("kinds") or {}
        before = self._before.get("views")
        set_before, made_before, views_before = (*before[0][:2], before[1]) if before and before[0][2] == rate else ({}, {}, {})
        kinds: dict[Any, UnitView] = {}
        views: dict[UnitId, UnitView] = {}
        for unit, settings in self.settings.items():
            profile = profiles[unit]
            if set_before.get(unit) is settings and made_before.get(unit) is profile:
                views[unit] = views_before[unit]
                continue
            # The profile itself is held by the view, so its address stands for it as long as the view does.
            key = (id(profile), settings.driver_map, tuple(sorted(settings.modes.items())) if settings.modes else (), rate)
            view = kinds.get(key) or old.get(key)
            kinds[key] = views[unit] = view or view_unit(profile, settings, rate)
        self._beside("views", old | kinds)
        return views

    @cached_property
    def numbering(self) -> Numbering:
        """Every driver channel of the computers."""
        hosts, views = self.studio.hosts, self.views
        return self.part("numbering", (hosts, views), lambda: number_channels(hosts, views))

    @cached_property
    def links(self) -> dict[CableId, Link]:
        """Every cable between two ports."""
        cables, views, pull_ppm = self.studio.cables, self.views, self.pull_ppm
        links: dict[CableId, Link] = self._steady("links", (cables, views, pull_ppm), self._make_links)
        return links

    def _make_links(self) -> dict[CableId, Link]:
        cables, pull_ppm = self.studio.cables, self.pull_ppm
        before = self._before.get("links")
        if before is None or before[0][2] != pull_ppm:
            return link_cables(cables.values(), self.views, {}, pull_ppm)
        old: dict[CableId, Link] = before[1]
        then: Any = before[0]
        if then[0] is cables:
            return link_again(old, self.views, then[1], pull_ppm)
        return link_cables(cables.values(), self.views, old, pull_ppm)

    @cached_property
    def leaving(self) -> dict[tuple[UnitId, str], tuple[Link, ...]]:
        """The links that leave each output."""
        links = self.links
        before: Any = self._before.get("leaving")
        return self.part("leaving", (links,), lambda: links_by_start(links, (before[0][0], before[1]) if before else None))

    @cached_property
    def wires(self) -> Wires:
        """Everything a signal can run along."""
        views, leaving, numbering, faults = self.views, self.leaving, self.numbering, self.faults
        reads = (views, leaving, numbering, faults)
        return self.part("wires", reads, lambda: Wires(views, leaving, numbering, self._was("wires"), faults))

    @cached_property
    def source_cables(self) -> dict[tuple[SourceId, int], Cable]:
        """The cable each channel of a source is on."""
        cables = self.studio.cables

        def find() -> dict[tuple[SourceId, int], Cable]:
            return {(s.source, s.channel): c for c in cables.values() if isinstance(s := c.start, SourceEnd)}

        found: dict[tuple[SourceId, int], Cable] = self._steady("source_cables", (cables,), find)
        return found

    @cached_property
    def plugged(self) -> tuple[tuple[SourceId, Cable], ...]:
        """The current session's sources and the cables they are on."""
        cables, session = self.source_cables, self.studio.current
        listed = frozenset(session.sources)
        return self.part(
            "plugged", (cables, session), lambda: tuple((key[0], c) for key, c in cables.items() if key[0] in listed)
        )

    @cached_property
    def clocks(self) -> Clocks:
        """Who leads and who follows."""
        settings, profiles, links, hosts = self.settings, self.profiles, self.links, self.studio.hosts
        menus = self._steady("menus", (settings,), lambda: {u: s.clock_source for u, s in settings.items()})
        was = self._was("arrivals")

        def find() -> dict[tuple[UnitId, str], Arrival]:
            found = clock_arrivals(links.values())
            return was if was == found else found

        arrivals = self.part("arrivals", (links,), find)
        reads = (menus, profiles, arrivals, hosts)
        return self.part("clocks", reads, lambda: survey_clock(*reads, self._was("clocks")))

    @cached_property
    def runs(self) -> tuple[Run, ...]:
        """The input runs of the current session."""
        studio, wires, cables = self.studio, self.wires, self.source_cables
        reads = (studio.sources, studio.current, cables, wires)
        return self.part("runs", reads, lambda: self._make_runs(reads))

    def _make_runs(self, reads: tuple[object, ...]) -> tuple[Run, ...]:
        wires, plugged = self.wires, self.source_cables
        before = self._before.get("runs")
        if before is None or before[0][0] is not reads[0] or before[0][1] is not reads[1]:
            return source_runs(self.studio, wires, plugged)
        # The very same wires still tell of the edit before this one.
        units, moved = (wires.changed, wires.renumbered) if before[0][3] is not wires else (frozenset(), frozenset())
        if units is None:
            return source_runs(self.studio, wires, plugged)
        old: Any = before[0][2]
        plugs: set[Any] = set()
        if old is not plugged:
            plugs = {key[0] for key, cable in plugged.items() if old.get(key) is not cable}
            plugs |= {key[0] for key in old if key not in plugged}
        return _same(before[1], runs_anew(wires, plugged, before[1], units, moved, plugs))

    @cached_property
    def broken_runs(self) -> tuple[Run, ...]:
        """The input runs that end too early."""
        runs = self.runs
        return self.part("broken_runs", (runs,), lambda: tuple([r for r in runs if r[3][3] is not None]))

    @cached_property
    def output_runs(self) -> tuple[Run, ...]:
        """The runs of driver outputs that lead anywhere."""
        wires = self.wires
        return self.part("output_runs", (wires,), self._make_output_runs)

    def _make_output_runs(self) -> tuple[Run, ...]:
        of_units = output_runs(self.wires, self._was("outputs_of") or {})
        self._beside("output_runs", of_units)
        return _same(self._was("output_runs") or (), tuple(r for runs, _ in of_units.values() for r in runs))

    @cached_property
    def faults(self) -> Mapping[UnitId, Mapping[str, str]]:
        """The ports out of service, of the units that have any."""
        units = self.studio.units
        faults: Mapping[UnitId, Mapping[str, str]] = self._steady("faults", (units,), lambda: units_with_faults(units))
        return faults

    @cached_property
    def input_points(self) -> tuple[InputPoint, ...]:
        """Every input socket from which a signal reaches the computer."""
        return self.part("input_points", (self.wires, self.faults, self.links), self._make_input_points)

    def _make_input_points(self) -> tuple[InputPoint, ...]:
        of_units = find_input_points(self.wires, self.faults, self.taken, self._was("points_of") or {})
        self._beside("input_points", of_units)
        return _same(self._was("input_points") or (), in_order(of_units))

    @cached_property
    def output_points(self) -> tuple[OutputPoint, ...]:
        """Every analogue output that a driver number comes out of."""
        wires = self.wires
        return self.part("output_points", (wires,), lambda: find_output_points(wires))

    @cached_property
    def taken(self) -> dict[UnitId, set[str]]:
        """The inputs of each unit that hold a cable from another unit."""
        cables = self.studio.cables
        return self.part("taken", (cables,), lambda: taken_inputs(cables))

    @cached_property
    def held_inputs(self) -> Mapping[UnitId, set[str]]:
        """The inputs of each unit into which nothing more goes: another unit's cable is in them, or a source of the session."""
        taken, plugged = self.taken, self.plugged

        def hold() -> dict[UnitId, set[str]]:
            held: dict[UnitId, set[str]] = {}
            for _, cable in plugged:
                end = cable.end
                if (ports := held.get(end.unit)) is None:
                    ports = held[end.unit] = set(taken.get(end.unit, ()))
                ports.add(end.port)
            return taken | held

        return self.part("held_inputs", (taken, plugged), hold)

    @cached_property
    def inputs_by_need(self) -> Mapping[str, int]:
        """How many channels each kind of need could use."""
        was = self._was("inputs_by_need")

        def count() -> Mapping[str, int]:
            counts = sum_of_needs(self._held["points_of"][1])
            return was if was == counts else counts

        return self.part("inputs_by_need", (self.input_points,), count)

    @cached_property
    def wanted_by_need(self) -> Wanted:
        """How many channels of each kind the session needs, and by whom."""
        studio = self.studio
        return self.part("wanted_by_need", (studio.sources, studio.current), lambda: wanted_by_need(studio))

    @cached_property
    def powered(self) -> Mapping[tuple[UnitId, str], PortEnd]:
        """The sockets of panels and bays, each with the socket whose 48 V reaches it."""
        wires = self.wires
        was: Mapping[tuple[UnitId, str], PortEnd] | None = self._was("powered")

        def find() -> Mapping[tuple[UnitId, str], PortEnd]:
            if was is not None and wires.changed is not None:
                passive = {u for u, p in self.profiles.items() if p.role in PASSIVE}
                if wires.changed.isdisjoint({*passive, *(end.unit for end in was.values())}):
                    return was
            found = passive_sockets(wires)
            return was if was == found else found

        return self.part("powered", (wires,), find)

    def powered_socket(self, end: PortEnd) -> PortEnd:
        """Return the socket whose 48 V reaches a socket: itself, but behind a panel or a bay the preamp's."""
        return self.powered.get((end.unit, end.port), end)

    @cached_property
    def input_point_at(self) -> Mapping[tuple[UnitId, str], InputPoint]:
        """The input points by unit and port key."""
        return self.part("input_point_at", (self.input_points,), lambda: points_by_socket(self._held["points_of"][1]))
