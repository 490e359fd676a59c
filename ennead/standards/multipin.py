"""Multipins of 25 contacts: which line is on which of them."""

from typing import Final, NamedTuple


class Contacts(NamedTuple):
    """The contacts of one balanced line."""

    hot: int
    cold: int
    shield: int


#: Lines 1 to 8; contact 13 is free. AES59-2012, annex A (analogue).
AES59: Final[tuple[Contacts, ...]] = (
    Contacts(24, 12, 25), Contacts(10, 23, 11), Contacts(21, 9, 22), Contacts(7, 20, 8),
    Contacts(18, 6, 19), Contacts(4, 17, 5), Contacts(15, 3, 16), Contacts(1, 14, 2),
)  # fmt: skip

#: The two rows of a plug with pins, seen from the solder side: 13 above, 12 below, counted from the right.
ROWS: Final[tuple[tuple[int, ...], ...]] = (tuple(range(13, 0, -1)), tuple(range(25, 13, -1)))

#: Colours in the order in which figures 1 to 9 and 0 are written with them. IEC 60062, table 1.
FIGURE_COLOURS: Final[tuple[str, ...]] = (
    "brown",
    "red",
    "orange",
    "yellow",
    "green",
    "blue",
    "violet",
    "grey",
    "white",
    "black",
)
