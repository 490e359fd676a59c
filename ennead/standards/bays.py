"""Patch bays as they are made: their sockets, and the distances by which strips are printed."""

from typing import Final, Literal, NamedTuple

from ennead.standards.signals import Connector


class BayConnector(NamedTuple):
    """A kind of bay by its sockets.

    Parameters
    ----------
    socket : Connector
    contacts : "balanced" or "unbalanced"
    rack_units : float, RU
        Of two rows.
    """

    label: str
    socket: Connector
    contacts: Literal["balanced", "unbalanced"]
    rack_units: float

    def pitch_mm(self, across: int) -> float:
        """Return from one point to the next in a row of so many, mm.

        Strips of 24 and of 48 points have the house's figures; what has fewer or more is as far apart as it fits into a
        rack's width, and no farther than 24.
        """
        if across > 24 or self.socket == "tt":
            return 9.0 if across <= 48 else max(PITCH_RANGE_MM[0], RACK_INSIDE_MM / across)
        return 17.9 if across > 16 else 26.0


#: House defaults; a quarter-inch plug and an ordinary long-frame plug (B-gauge) do not fit each other's sockets.
BAY_CONNECTORS: Final[dict[str, BayConnector]] = {
    "trs": BayConnector("quarter-inch TRS", "trs", "balanced", 1.0),
    "ts": BayConnector("quarter-inch TS", "ts", "unbalanced", 1.0),
    "long-frame": BayConnector("long-frame", "long-frame", "balanced", 1.0),
    "tt": BayConnector("TT", "tt", "balanced", 1.0),
    "xlr": BayConnector("XLR", "xlr", "balanced", 2.0),
}
BAY_CONNECTOR_LABELS: Final[dict[str, str]] = {key: kind.label for key, kind in BAY_CONNECTORS.items()}

#: Inside a 19-inch rack (IEC 60297-3-100: 450 mm between the uprights), mm.
RACK_INSIDE_MM: Final = 450.0
#: Closer than this no plug fits beside another; farther is a slip of the hand, mm.
PITCH_RANGE_MM: Final = (6.0, 80.0)
#: Of one row, of one bay, and of a label's line. House defaults, well beyond what is made.
MOST_POINTS: Final = 96
MOST_ROWS: Final = 8
LONGEST_LABEL: Final = 60
#: Of one scene; of steps by hand in it.
MOST_CORDS: Final = 1_000
MOST_STEPS: Final = 200

#: What a cord needs beyond the straight way between two points, for its plugs and its bend, m. House default.
SLACK_M: Final = 0.15
#: The smallest print of a strip that is read at arm's length, mm a letter in a narrow face. House default.
LETTER_MM: Final = 1.3


#: Points further apart than this along a row are not found together by the eye, nor joined by a short cord. House default.
NEAR_POINTS: Final = 2

#: How much wider than the pitch the gap behind every second point is, where points stand in pairs. House default.
PAIR_GAP: Final = 0.45


def place_mm(at: int, pitch_mm: float, *, in_pairs: bool) -> float:
    """Return how far a place of a row is from the first, mm.

    Parameters
    ----------
    at : int
        The place, from 0.
    pitch_mm : float, mm
    """
    return (at + (at // 2 * PAIR_GAP if in_pairs else 0.0)) * pitch_mm


def reach_m(one: int, other: int, pitch_mm: float, *, in_pairs: bool = False) -> float:
    """Return how long a cord between two places of one bay has to be at least, m.

    Parameters
    ----------
    one, other : int
        Places along a row.
    pitch_mm : float, mm
    """
    ends = [place_mm(at, pitch_mm, in_pairs=in_pairs) for at in (one, other)]
    return abs(ends[0] - ends[1]) / 1000 + SLACK_M


def letters_on(pitch_mm: float) -> int:
    """Return how many letters a line of a point's label holds at the smallest print.

    Parameters
    ----------
    pitch_mm : float, mm
    """
    return int(pitch_mm / LETTER_MM)
