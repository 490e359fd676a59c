"""A seating problem with what its numbers stand for: the owner of each demand, the sockets of each slot."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from ennead.planning.seating.corded import Cords
from ennead.planning.seating.corded_outs import OutCords
from ennead.planning.seating.problem import Problem, Seats
from ennead.planning.seating.wired import Ways
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.input_points import InputPoint
from ennead.survey.output_points import OutputPoint
from ennead.survey.survey import Survey

Point = InputPoint | OutputPoint


class DemandOwner(NamedTuple):
    """The owner of a demand: a source, a destination's output, or a loop's return."""

    key: SourceId | DestinationId
    leg: Literal["source", "out", "return"]


@dataclass
class Posed:
    """A seating problem with what its numbers stand for.

    Parameters
    ----------
    survey : Survey
        What it was posed of, with the cords that may be laid.
    sockets : list of list of Point
        By slot and face.
    apart : tuple of DemandOwner
        Demands that stay where they are although no signal of theirs arrives: pinned, and left alone.
    standing : map of DestinationId to outputs and returns
        Loops that are cabled in the house.
    cords : map of PortEnd to CordTo
        The sockets that arrive by a cord that is still to be laid; in the survey they are laid.
    out_cords : map of PortEnd to tuple of CordTo
        The outputs that lead to a box by cords that are still to be laid.
    no_block : map of DestinationId to str
        The wide loops for which no block of sockets is left, and why.
    """

    survey: Survey
    problem: Problem
    asked: tuple[DemandOwner, ...]
    sockets: list[list[Point]]
    apart: tuple[DemandOwner, ...] = ()
    standing: Mapping[DestinationId, Ways] = field(default_factory=dict)
    cords: Cords = field(default_factory=dict)
    out_cords: OutCords = field(default_factory=dict)
    no_block: Mapping[DestinationId, str] = field(default_factory=dict)

    def ends(self, place: Seats) -> tuple[PortEnd, ...]:
        """Return the sockets of a place."""
        return tuple(self.sockets[slot][face].end for slot, face in place)

    def numbers(self, place: Seats) -> tuple[int, ...]:
        """Return the driver numbers of a place."""
        return tuple(n for slot, face in place for n in numbers_of(self.sockets[slot][face]))


def numbers_of(socket: Point) -> tuple[int, ...]:
    """Return the driver numbers a socket's lanes have."""
    return tuple(d.number for d in socket.drivers) if isinstance(socket, InputPoint) else (socket.number,)
