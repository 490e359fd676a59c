"""Reach and price: how hard it is to bring a signal from one place to a socket in another."""

from typing import Final

from ennead.studio.ids import PlaceId

#: Prices of a way, from what is wired already to a cable that must be run to another place. House defaults: only
#: their order matters while ways are compared, and four cables within a room weigh as much as two between rooms.
STANDING: Final = 0
NORMAL: Final = 1
CORD: Final = 2
CABLE: Final = 4
CABLE_TO_ANOTHER_PLACE: Final = 8


def reach_price(here: PlaceId | None, there: PlaceId | None) -> int:
    """Return the price of a new cable between two places; where one is not known they are taken to be the same."""
    return CABLE if here is None or there is None or here == there else CABLE_TO_ANOTHER_PLACE
