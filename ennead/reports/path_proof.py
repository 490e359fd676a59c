"""Which boxes are in one signal's path, and which are not: every piece of it, what hangs on its copper besides, what plugs keep apart."""

from collections.abc import Iterator
from typing import NamedTuple

from ennead.checks.at_points import broken_normals
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.survey.nets import Contact
from ennead.survey.paths_onward import passed
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey
from ennead.survey.traces import trace
from ennead.survey.words import gap_text, stop_text


class ProofRow(NamedTuple):
    """One piece of the path: by what the signal comes, where it is then, and whether the box works on it or only joins conductors."""

    by: str
    at: str
    does: str


class PathProof(NamedTuple):
    """What is in one signal's path.

    Parameters
    ----------
    sentence : str
        What is proven, or that it is not.
    holds : bool
        Whether the signal arrives, and nothing hangs on its way that is not part of it.
    works, joins : tuple of str
        The boxes that pass it on by what is in them, and those that only join conductors, in the order of the path.
    beside : tuple of str
        What hangs on the copper of the path, or is sent the same signal by a box in it.
    parted : tuple of str
        The normals that plugs on the path have broken, with what they keep out of it.
    """

    signal: str
    sentence: str
    holds: bool
    rows: tuple[ProofRow, ...]
    works: tuple[str, ...]
    joins: tuple[str, ...]
    beside: tuple[str, ...]
    parted: tuple[str, ...]


#: A socket as a plain key.
_Socket = tuple[UnitId, str]


def path_proof(survey: Survey, run: SignalPath) -> PathProof:
    """Return what is in a run's path: its pieces by the trace, what else is there by the nets, which know nothing of the trace."""
    on_way = set(passed(run.stops))
    rows = tuple(_rows(survey, run, on_way))
    units = list(dict.fromkeys(unit for stop in run.stops if (unit := stop.unit) is not None))
    names = survey.units
    joining = [u for u in units if _only_joins(survey, u, on_way)]
    joins = tuple([names[u].name for u in joining])
    works = tuple([names[u].name for u in units if u not in joining])
    beside, parted = tuple(_beside(survey, run, on_way)), tuple(_parted(survey, on_way))
    if run.gap is not None:
        sentence = f"{run.signal} does not arrive: {gap_text(survey, run)}"
    elif beside:
        sentence = f"More than the path hangs on it: {'; '.join(beside)}."
    else:
        said = f"{_listed(works)} {'work' if len(works) > 1 else 'works'} on {run.signal}" if works else "no box works"
        only = f"; {_listed(joins)} only {'join' if len(joins) > 1 else 'joins'} conductors" if joins else ""
        sentence = f"Only these boxes are in this path: {said}{only}."
    return PathProof(run.signal, sentence, run.gap is None and not beside, rows, works, joins, beside, parted)


def _listed(names: tuple[str, ...]) -> str:
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def _rows(survey: Survey, run: SignalPath, on_way: set[_Socket]) -> Iterator[ProofRow]:
    before = None
    for stop in run.stops:
        text = stop_text(survey, run, stop)
        if stop.unit is None:
            yield ProofRow("", text, "begins")
            before = stop
            continue
        if stop.cable is not None:
            kind = "cord" if stop.cable[:1] == LETTERS["cords"] else "cable"
            by = f"{kind} {stop.cable}"
        else:
            by = "within it" if before is not None and before.unit == stop.unit else ""
        left = _left_by(survey, stop.unit, stop.port, on_way)
        does = "only joins" if _only_joins(survey, stop.unit, on_way) else "works on it"
        yield ProofRow(by, text, f"{does}{f', goes on by {left}' if left else ''}")
        before = stop


def _left_by(survey: Survey, unit: UnitId, port: str, on_way: set[_Socket]) -> str:
    """Return the other point of a bay to which a normal carries the signal on; empty where it leaves by the same."""
    bay = survey.bays.get(unit)
    for normal in bay.normals if bay is not None else ():
        other = normal.end if normal.start == port else normal.start if normal.end == port else ""
        if other and (unit, other) in on_way:
            return f"its normal to {survey.end_text(PortEnd(unit, other))}"
    return ""


def _only_joins(survey: Survey, unit: UnitId, on_way: set[_Socket]) -> bool:
    copper = survey.profiles[unit].copper_ports
    return all(port in copper for there, port in on_way if there == unit)


def _beside(survey: Survey, run: SignalPath, on_way: set[_Socket]) -> Iterator[str]:
    """Yield what hangs on the path's copper and is not on the path, and where else the same signal is sent."""
    own = {run.source, run.to}
    met: set[Contact] = set()
    for unit, port in sorted(on_way):
        net = survey.nets.get((unit, port, 1))
        for contact in (*net.drivers, *net.receivers) if net is not None else ():
            if contact in met or contact[:2] in on_way or contact[0] in own:
                continue
            met.add(contact)
            does = "drives the same copper" if contact in (net.drivers if net else ()) else "is fed by the same copper"
            yield f"{survey.contact_text(contact)} {does}"
    for leg in trace(survey, run).legs[1:]:
        last = leg.run.stops[-1]
        if last.unit is not None and (last.unit, last.port, last.lane) not in met:
            yield f"{stop_text(survey, leg.run, last)} is sent the same signal"


def _parted(survey: Survey, on_way: set[_Socket]) -> Iterator[str]:
    for (unit, start), (normal, cords) in survey.once(broken_normals).items():
        if (unit, start) not in on_way and (unit, normal.end) not in on_way:
            continue
        plugs = " and ".join(f"cord {c.id}" for c in cords)
        ends = f"{survey.end_text(PortEnd(unit, start))} → {survey.end_text(PortEnd(unit, normal.end))}"
        yield f"{plugs} {'break' if len(cords) > 1 else 'breaks'} the normal {ends}"
