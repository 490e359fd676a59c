"""Where else a split signal arrives: the driver numbers beside the one its line ends at."""

from ennead.studio.ids import UnitId
from ennead.survey.numbering import DriverChannel
from ennead.survey.runs import Run
from ennead.survey.wires import Wires


def also_at(wires: Wires, run: Run) -> tuple[DriverChannel, ...]:
    """Return the driver inputs a source's channel reaches beside its own, in the order of the legs."""
    into = run.into
    if into is None or into.unit is None:
        return ()
    found: list[DriverChannel] = []
    _follow(wires, (into.unit, into.port, into.lane), set(), found)
    return tuple(d for d in found if d != run.driver)


def _follow(wires: Wires, at: tuple[UnitId, str, int], seen: set[tuple[UnitId, str, int]], found: list[DriverChannel]) -> None:
    if at in seen:
        return
    seen.add(at)
    unit, port, lane = at
    view = wires.views[unit]
    inner = view.onward.get((port, lane))
    if (port, lane) in view.input_at or inner is None:
        driver = wires.onward(unit, port, lane).driver
        if driver is not None and driver not in found:
            found.append(driver)
        return
    for out, out_lane in inner:
        for link in wires.leaving.get((unit, out), ()):
            if out_lane <= link.lanes:
                _follow(wires, (link.end.unit, link.end.port, out_lane), seen, found)
