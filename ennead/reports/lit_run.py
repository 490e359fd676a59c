"""What is lit when a point is chosen: everything copper joins to it, and the whole way of every line that passes."""

from typing import NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.survey.paths_onward import passed
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey_interface import Parts


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
    runs: tuple[SignalPath, ...]


NOT_LIT = LitRun(frozenset(), frozenset(), ())


#: A socket as a plain key.
_Socket = tuple[UnitId, str]


def lit_run(survey: Parts, end: PortEnd) -> LitRun:
    """Return what is lit when a point is chosen."""
    passing = survey.once(_passing)
    here = _joined(survey, (end.unit, end.port))
    found: dict[int, tuple[SignalPath, frozenset[_Socket]]] = {}
    for socket in here:
        for run, on_way in passing.get(socket, ()):
            found[id(run)] = run, on_way
    points, bays = set(here), survey.bays
    for _, on_way in found.values():
        points |= on_way
        for socket in on_way:
            if socket[0] in bays:
                points |= _joined(survey, socket)
    cords = [c.id for c in survey.cords if all((p.unit, p.port) in points for p in c.plugs)]
    return LitRun(frozenset([PortEnd(*p) for p in points]), frozenset(cords), tuple([run for run, _ in found.values()]))


def paths_through(survey: Parts, end: PortEnd) -> list[SignalPath]:
    """Return the runs that pass a socket, or the copper it is on."""
    passing = survey.once(_passing)
    found = {id(run): run for socket in _joined(survey, (end.unit, end.port)) for run, _ in passing.get(socket, ())}
    return list(found.values())


def _passing(survey: Parts) -> dict[_Socket, tuple[tuple[SignalPath, frozenset[_Socket]], ...]]:
    """Return the runs that pass each socket, each with all sockets on its way."""
    found: dict[_Socket, list[tuple[SignalPath, frozenset[_Socket]]]] = {}
    for run in (*survey.signal_paths, *survey.output_paths):
        on_way = frozenset(passed(run.stops))
        for socket in on_way:
            found.setdefault(socket, []).append((run, on_way))
    return {socket: tuple(several) for socket, several in found.items()}


def _joined(survey: Parts, socket: _Socket) -> set[_Socket]:
    net = survey.nets.get((*socket, 1))
    contacts = net.contacts if net is not None else ()
    return {socket, *[(UnitId(unit), port) for unit, port, _ in contacts if unit[:1] == LETTERS["units"]]}
