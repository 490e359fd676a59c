"""Rule: a stereo pair sits on odd and even neighbours of the same converter."""

from ennead.survey.seats import Seat


def is_pair(left: Seat, right: Seat) -> bool:
    """Say whether two sockets make a stereo pair: odd then even, next to each other, on one converter."""
    ports = [p.key for p in left.profile.ports]
    if left.end.unit != right.end.unit or left.converter != right.converter:
        return False
    row = [
        k for k in ports if left.profile.port_by_key[k].row == left.port.row
        and left.profile.port_by_key[k].direction == "in"
    ]  # fmt: skip
    if right.port.key not in row or left.port.key not in row:
        return False
    return row.index(left.port.key) % 2 == 0 and right.number == left.number + 1
