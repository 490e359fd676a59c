"""Sockets of boxes as a loop finds them: bare ones, ones that end at a point of a bay, ones that lead round as they stand."""

from collections.abc import Container
from typing import Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.loops import back_socket
from ennead.survey.paths_onward import remembered
from ennead.survey.placed import fed
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import Lane, along_copper, first_path, is_record

#: By what a socket is reached: what stands wired, a cord, a cable.
Reached = Literal["led", "point", "bare"]


class BoxSocket(NamedTuple):
    """One lane of a socket of a box.

    Parameters
    ----------
    bare : bool
        Whether it holds no cable.
    point : PortEnd or None
        The free point of a bay it leads to.
    led : PortEnd or None
        The free output that feeds it, or the free input it comes back by, as it stands wired.
    """

    end: PortEnd
    lane: int
    bare: bool = False
    point: PortEnd | None = None
    led: PortEnd | None = None

    @property
    def ways(self) -> frozenset[Reached]:
        """By what it can be reached."""
        ways: dict[Reached, bool] = {"led": self.led is not None, "point": self.point is not None, "bare": self.bare}
        return frozenset([way for way, holds in ways.items() if holds])


def socket_into(survey: Parts, at: Lane, free_outs: Container[PortEnd]) -> BoxSocket | None:
    """Return an input lane of a box as a loop would find it; None where it serves something else.

    Parameters
    ----------
    free_outs : container of PortEnd
        The outputs of converters that a loop may have.
    """
    end = PortEnd(at[0], at[1])
    if end not in survey.plugs:
        return BoxSocket(end, at[2], bare=True)
    feeding = survey.once(fed).get(at, ())
    out = PortEnd(feeding[0][1][0], feeding[0][1][1]) if feeding else None
    net = survey.nets.get(at)
    contacts = [PortEnd(UnitId(unit), port) for unit, port, _ in net.contacts if unit in survey.bays] if net else []
    # A plug belongs into the point behind which the cable is.
    points = [p for p in contacts if p.port in survey.passages[p.unit].leaving and _is_free(survey, p)]
    # What another box drives is in use; what an output of the computer drives by a normal is not, for a cord breaks it.
    driven = net is not None and bool(net.drivers) and not feeding
    point = points[0] if points and not driven else None
    led = out if out is not None and out in free_outs else None
    return BoxSocket(end, at[2], point=point, led=led) if point or led else None


def socket_out_of(survey: Parts, at: Lane) -> BoxSocket | None:
    """Return an output lane of a box as a loop would find it; None where it serves something else."""
    end = PortEnd(at[0], at[1])
    if end not in survey.plugs:
        return BoxSocket(end, at[2], bare=True)
    ask = remembered(survey.passages.__getitem__)
    path, led = first_path(ask, at, is_record), None
    if not path.end.cause:
        back = back_socket(ask, path.hops, 1)
        taken = {e for d in survey.destinations for e in d.returns} | {lead.end for lead in survey.leads.values()}
        led = back if back not in taken else None
    points = [PortEnd(unit, port) for unit, port, _ in along_copper(ask, at) if port in ask(unit).points]
    point = next((p for p in points if _is_free(survey, p)), None)
    return BoxSocket(end, at[2], point=point, led=led) if point or led else None


def _is_free(survey: Parts, point: PortEnd) -> bool:
    held = any(point in cord.plugs for cord in survey.cords)
    return not held and point.port not in survey.faults.get(point.unit, ())
