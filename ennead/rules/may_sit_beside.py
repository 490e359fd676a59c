"""Rule: what may sit beside what is seated already: the sides of a pair, behind one 48 V switch, in a socket that is taken."""

from collections.abc import Iterable

from ennead.rules.source_fits_port import unfit
from ennead.studio.profile import Port
from ennead.survey.input_points import InputPoint
from ennead.survey.output_points import OutputPoint


def is_pair(left: InputPoint, right: InputPoint) -> bool:
    """Say whether two sockets make a stereo pair: behind them odd then even inputs, next to each other, on one converter.

    Panels and splitters before the converter do not matter: the pair is judged at the converter's inputs.
    """
    if left.converter != right.converter or right.number != left.number + 1:
        return False
    (row, place), (other, beside) = left.seat, right.seat
    return row == other and place >= 0 and place % 2 == 0 and beside == place + 1


def is_output_pair(left: OutputPoint, right: OutputPoint) -> bool:
    """Say whether two outputs make a stereo pair: the two lanes of one socket, or odd and even neighbours of one unit."""
    if left.unit != right.unit or right.number != left.number + 1:
        return False
    if left.port is right.port:
        return (left.lane, right.lane) == (1, 2)
    alike = [
        p.key
        for p in left.profile.ports
        if p.direction == "out" and p.row == left.port.row and p.carries == left.port.carries
    ]
    if left.lane != 1 or right.lane != 1 or left.port.key not in alike or right.port.key not in alike:
        return False
    return alike.index(left.port.key) % 2 == 0 and alike.index(right.port.key) == alike.index(left.port.key) + 1


def torn(wishes: Iterable[int]) -> bool:
    """Say whether what sits behind one 48 V switch wants it both on (1) and off (-1)."""
    return {1, -1} <= set(wishes)


def may_come_back(port: Port) -> bool:
    """Say whether a loop may come back by an input: the jack of a combo socket too; a microphone socket would use up a preamp."""
    return not unfit("line", port.direction, port.carries, port.connector)
