"""What is lit when a point is chosen: everything copper joins to it, and the whole way of every line that passes."""

from typing import NamedTuple

from ennead.studio.bays import Cord
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.survey.asked import Parts
from ennead.survey.runs import Run
from ennead.survey.ways import passed


class LitRun(NamedTuple):
    """The way through one point.

    Parameters
    ----------
    points : frozenset of PortEnd
        All sockets on it, points of bays and others.
    cords : frozenset of str
        Ids of the cords on it.
    runs : tuple of Run
        The lines that pass, or end there.
    """

    points: frozenset[PortEnd]
    cords: frozenset[str]
    runs: tuple[Run, ...]


NOT_LIT = LitRun(frozenset(), frozenset(), ())


def lit_run(survey: Parts, end: PortEnd) -> LitRun:
    """Return what is lit when a point is chosen."""
    here = _joined(survey, end)
    runs, points = [], set(here)
    for run in (*survey.runs, *survey.output_runs):
        on_way = {PortEnd(unit, port) for unit, port in passed(survey.links, run.stops)}
        if not on_way.isdisjoint(here):
            runs.append(run)
            points |= on_way
            for socket in on_way:
                if socket.unit in survey.bays:
                    points |= _joined(survey, socket)
    cords: list[Cord] = [c for c in survey.cords if all(p in points for p in c.plugs)]
    return LitRun(frozenset(points), frozenset(c.id for c in cords), tuple(runs))


def _joined(survey: Parts, end: PortEnd) -> set[PortEnd]:
    net = survey.nets.get((end.unit, end.port, 1))
    contacts = net.contacts if net is not None else ()
    return {end, *(PortEnd(UnitId(unit), port) for unit, port, _ in contacts if unit[:1] == LETTERS["units"])}
