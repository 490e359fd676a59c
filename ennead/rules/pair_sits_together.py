"""Rule: a stereo pair sits on odd and even neighbours of the same converter."""

from ennead.survey.seats import Seat


def is_pair(left: Seat, right: Seat) -> bool:
    """Say whether two sockets make a stereo pair: odd then even, next to each other, on one converter."""
    if left.unit != right.unit or left.converter != right.converter or right.number != left.number + 1:
        return False
    return left.port.row == right.port.row and left.profile.place_in_row[left.port.key] % 2 == 0
