"""The survey of one studio: its parts, each worked out when first asked for and kept while what it reads is unchanged."""

from collections.abc import Callable
from functools import cached_property
from typing import Any, TypeVar

from ennead.studio.document import Studio
from ennead.studio.house import Cable, PortEnd, SourceEnd
from ennead.studio.ids import CableId, UnitId
from ennead.survey.clock import Clocks, survey_clock
from ennead.survey.links import Link, link_cables, links_by_start
from ennead.survey.numbering import Numbering, number_channels
from ennead.survey.runs import Run, output_runs, source_runs
from ennead.survey.seats import Seat, find_seats
from ennead.survey.unit_view import UnitView, view_unit

T = TypeVar("T")


class Survey:
    """Everything that follows from a studio.

    Parameters
    ----------
    studio : Studio
    previous : Survey, optional
        The survey of the studio before an edit. A part is taken over from it when every object it read is
        still the very same object.
    """

    def __init__(self, studio: Studio, previous: "Survey | None" = None) -> None:
        self.studio = studio
        self._held: dict[Any, tuple[tuple[object, ...], Any]] = {}
        self._before = previous._held if previous is not None else {}  # noqa: SLF001 - its own kind

    def _part(self, name: Any, reads: tuple[object, ...], make: Callable[[], T]) -> T:
        held = self._held.get(name)
        if held is None:
            held = self._before.get(name)
            if held is None or any(a is not b for a, b in zip(held[0], reads, strict=True)):
                held = (reads, make())
            self._held[name] = held
        value: T = held[1]
        return value

    @property
    def rate_hz(self) -> int:
        """The current session's rate, Hz."""
        return self.studio.rate_hz

    @cached_property
    def views(self) -> dict[UnitId, UnitView]:
        """The view of every unit; views outlive renaming and moving, which they do not read."""
        studio = self.studio
        return self._part("views", (studio.units, studio.profiles, self.rate_hz), self._make_views)

    def _make_views(self) -> dict[UnitId, UnitView]:
        studio, rate = self.studio, self.rate_hz
        held: Any = self._before.get("views", (({}, {}, 0), {}))
        (units, profiles, old_rate), old = held
        views: dict[UnitId, UnitView] = {}
        for unit in studio.units.values():
            profile, was = studio.profiles[unit.profile], units.get(unit.id)
            kept = was is not None and was.settings is unit.settings and profiles.get(was.profile) is profile
            views[unit.id] = old[unit.id] if kept and rate == old_rate else view_unit(profile, unit.settings, rate)
        # The very same dictionary where no view changed, so that what reads views is kept as well.
        same = list(old) == list(views) and all(old[u] is view for u, view in views.items())
        return old if same else views

    @cached_property
    def numbering(self) -> Numbering:
        """Every driver channel of the computer."""
        hosts = self.studio.hosts
        views = self.views
        return self._part("numbering", (hosts, views), lambda: number_channels(hosts, views))

    @cached_property
    def links(self) -> dict[CableId, Link]:
        """Every cable between two ports."""
        cables, views = self.studio.cables, self.views
        return self._part("links", (cables, views), lambda: link_cables(cables, views))

    @cached_property
    def leaving(self) -> dict[PortEnd, tuple[Link, ...]]:
        """The links that leave each output."""
        links = self.links
        return self._part("leaving", (links,), lambda: links_by_start(links))

    @cached_property
    def source_cables(self) -> dict[SourceEnd, Cable]:
        """The cable each channel of a source is on."""
        cables = self.studio.cables
        return self._part(
            "source_cables",
            (cables,),
            lambda: {c.start: c for c in cables.values() if isinstance(c.start, SourceEnd)},
        )

    @cached_property
    def clocks(self) -> Clocks:
        """Who leads and who follows."""
        studio, links = self.studio, self.links
        reads = (studio.units, studio.profiles, links, studio.hosts)
        return self._part(
            "clocks", reads, lambda: survey_clock(studio.units, studio.profiles, links.values(), studio.hosts)
        )

    def _reads(self) -> tuple[object, ...]:
        studio = self.studio
        return (studio.units, studio.cables, studio.sources, studio.sessions, studio.session, self.numbering)

    @cached_property
    def runs(self) -> tuple[Run, ...]:
        """The input runs of the current session."""
        return self._part("runs", self._reads(), lambda: source_runs(self))

    @cached_property
    def output_runs(self) -> tuple[Run, ...]:
        """The runs of driver outputs that lead anywhere."""
        return self._part("output_runs", self._reads(), lambda: output_runs(self))

    @cached_property
    def seats(self) -> tuple[Seat, ...]:
        """Every input socket from which a signal reaches the computer."""
        studio = self.studio
        return self._part("seats", (studio.units, studio.cables, self.numbering), lambda: find_seats(self))
