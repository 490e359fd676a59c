"""A phase-coherent group must run on one clock."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.checks.stated_sources import paths_by_source, stated
from ennead.studio.ids import UnitId
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every group with channels converted by units of different clock domains."""
    groups: dict[str, list[Source]] = {}
    for source in stated(survey).coherent:
        groups.setdefault(source.group, []).append(source)
    for name, members in groups.items():
        where: dict[UnitId, str] = {}
        for source in members:
            for run in paths_by_source(survey)[source.id]:
                stops = [s for s in run.stops if s.zone == "converter" and s.unit in survey.clocks.by_unit]
                if stops and stops[-1].unit is not None:
                    where.setdefault(survey.clocks.domain_of(stops[-1].unit).units[0], source.name)
        if len(where) < 2:
            continue
        units = survey.units
        yield Finding(
            "group_on_two_clocks",
            "trouble",
            subject_of(members[0].id),
            (*(s.id for s in members), *where),
            f"{name} is spread over {len(where)} clocks.",
            "Its channels drift against each other while they are recorded; no later shift puts that right. Join the"
            " clocks or move the group.",
            (Fix(f"Find places for {name}", Request("allocate", members[0].id)),),
            tuple(f"{source} arrives over the clock of {units[unit].name}" for unit, source in where.items()),
        )
