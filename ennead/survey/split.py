"""Where else a split signal arrives: the driver numbers beside the one its line ends at."""

from collections.abc import Mapping

from ennead.studio.ids import UnitId
from ennead.survey.numbering import DriverChannel, Landing, Numbering
from ennead.survey.passages import Passages
from ennead.survey.runs import Run, Way


def also_at(
    passages: Mapping[UnitId, Passages], ways: Mapping[UnitId, Mapping[tuple[str, int], Way]], numbering: Numbering, run: Run
) -> tuple[DriverChannel, ...]:
    """Return the driver inputs a source's channel reaches beside its own, in the order of the legs."""
    into = run.into
    if into is None or into.unit is None:
        return ()
    found: list[Landing] = []
    seen: set[tuple[UnitId, str, int]] = set()

    def follow(unit: UnitId, port: str, lane: int) -> None:
        if (unit, port, lane) in seen:
            return
        seen.add((unit, port, lane))
        here = passages[unit]
        inner = here.view.onward.get((port, lane))
        if (port, lane) in here.view.input_at or inner is None:
            way = ways[unit].get((port, lane))
            if way is not None and way.lands is not None and way.lands not in found:
                found.append(way.lands)
            return
        for out, out_lane in inner:
            for link in here.leaving.get(out, ()):
                if out_lane <= link.lanes:
                    follow(link.end.unit, link.end.port, out_lane)

    follow(into.unit, into.port, into.lane)
    return tuple(d for landing in found if (d := numbering.input_at(landing)) != run.driver)
