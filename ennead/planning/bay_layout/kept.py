"""A layout that was kept as a revision, brought back to the studio as it is now."""

from collections.abc import Iterable

from ennead.planning.bay_layout.bench_of import Bays, ground_of
from ennead.planning.bay_layout.layout import LaidOut, NoLayout, laid_out
from ennead.planning.bay_layout.pairing import Column, Laid, lay, saved_by
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.survey import survey_of


def as_kept(studio: Studio, kept: Studio) -> LaidOut:
    """Return the layout of a kept revision: every socket goes to the point it had there, as far as that is to be had.

    What is soldered meanwhile stays; what the revision does not know stays where it is, or goes to the first free point.

    Raises
    ------
    NoLayout
    """
    then = ground_of(kept)
    place = {socket: end for end, socket in then.socket_at.items()}
    now = ground_of(studio)
    come = [s for s in place if s not in now.cable_of and _is_there(studio, s) and not survey_of(studio).cables_at(s)]
    ground = ground_of(studio, list(dict.fromkeys([UnitId(s.unit) for s in come])))
    column = {point: at for at, pair in enumerate(ground.points) for point in pair}
    best = lay(ground.bench, ground.wishes)
    if best is None:
        raise NoLayout(f"The {len(come)} sockets that layout brings do not fit on the bays as they are now.")
    above = _seated(ground, ground.bench.outs, 0, place, column)
    below = _seated(ground, ground.bench.ins, 1, place, column)
    saved = saved_by(above, below, ground.wishes)
    return laid_out(studio, ground, Laid(above, below, saved, best.bound))


def _is_there(studio: Studio, socket: PortEnd) -> bool:
    return socket.unit in studio.units and socket.port in studio.profile_of(socket.unit).port_by_key


def _seated(
    ground: Bays, sockets: Iterable[PortEnd], side: int, place: dict[PortEnd, PortEnd], column: dict[PortEnd, Column]
) -> dict[PortEnd, Column]:
    bench = ground.bench
    laid = dict((bench.fixed_outs, bench.fixed_ins)[side])
    taken = {*laid.values(), *(bench.shut_above, bench.shut_below)[side]}
    here = {socket: end for end, socket in ground.socket_at.items()}
    waiting = [s for s in sockets if s not in laid]
    for wanted in (place, here):
        for socket in waiting:
            at = column.get(wanted[socket]) if socket not in laid and socket in wanted else None
            if at is not None and at not in taken and ground.points[at][side] == wanted[socket]:
                laid[socket] = at
                taken.add(at)
    free = iter([at for at in range(bench.columns) if at not in taken])
    return laid | {s: next(free) for s in waiting if s not in laid}
