"""Whether a loop is only not connected in this scene: a cord sits on its way, or its own cord is laid in another scene."""

from collections.abc import Iterator
from typing import NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId, CordId, UnitId
from ennead.studio.session import Destination
from ennead.survey.paths_onward import remembered
from ennead.survey.placed import lanes_of
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import Lane, first_path, is_record


class Interrupted(NamedTuple):
    """Where a loop is interrupted.

    Parameters
    ----------
    cord : CordId or None
        The cord that sits there; None where a cord of another scene is not laid.
    """

    point: PortEnd
    cord: CordId | CableId | None


def interruption(survey: Parts, loop: Destination) -> Interrupted | None:
    """Return where a loop that stands at a box is interrupted by the scene alone, or None."""
    if loop.kind != "loop" or not survey.bays:
        return None
    plugged = {plug: cord.id for cord in survey.cords for plug in cord.plugs}
    elsewhere = survey.named("corded_elsewhere")
    for at in lanes_of(loop.at):
        for point in (*_before(survey, at), *_behind(survey, at)):
            if point in plugged:
                return Interrupted(point, plugged[point])
            if point in elsewhere:
                return Interrupted(point, None)
    return None


def interruption_text(survey: Parts, found: Interrupted) -> str:
    """Return what interrupts a loop, and where, as part of a sentence."""
    where = survey.end_text(found.point)
    return f"a cord sits at {where}" if found.cord is not None else f"its cord at {where} is laid in another scene"


def _before(survey: Parts, at: Lane) -> Iterator[PortEnd]:
    """Yield the points at which the way to a box is open: those joined to its input, and those a normal would join to them."""
    net = survey.nets.get(at)
    if net is None or net.drivers:
        return
    for unit, port, _ in net.contacts:
        if unit in survey.bays:
            yield from _around(survey, PortEnd(UnitId(unit), port))


def _behind(survey: Parts, at: Lane) -> Iterator[PortEnd]:
    """Yield the points at which the way behind a box ends, and those a normal would join to them."""
    path = first_path(remembered(survey.passages.__getitem__), at, is_record)
    if not path.end.cause:
        return
    for hop in path.hops[::-1]:
        if hop.to is not None and hop.to[0] in survey.bays:
            yield from _around(survey, PortEnd(hop.to[0], hop.to[1]))
            return


def _around(survey: Parts, point: PortEnd) -> Iterator[PortEnd]:
    yield point
    yield from [PortEnd(point.unit, key) for key in survey.bays[point.unit].beside.get(point.port, ())]
