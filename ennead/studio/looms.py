"""How looms are made up, and which lie in a drawer."""

from typing import Final, Literal

from ennead.studio.record import record

#: Which contacts of a multipin of 25 the lines of a loom are on.
Pinning = Literal["", "aes59", "digital", "other"]
PINNING_LABELS: Final[dict[Pinning, str]] = {
    "": "not stated",
    "aes59": "analogue, AES59",
    "digital": "digital",
    "other": "wired otherwise",
}
#: The thread of the two screws that hold a multipin: both kinds are about, and one does not go into the other.
Screws = Literal["", "metric", "inch"]
SCREW_LABELS: Final[dict[Screws, str]] = {"": "not stated", "metric": "metric, M3", "inch": "inch, 4-40 UNC"}


@record(frozen=True)
class Loom:
    """How a cable of several lines in one jacket is made up.

    Parameters
    ----------
    name : str
        What is written on its jacket.
    marks : tuple of str
        What its lines bear where they come out of the jacket, lane by lane: a colour or a number.
    """

    name: str = ""
    pinning: Pinning = ""
    screws: Screws = ""
    marks: tuple[str, ...] = ()


@record(frozen=True)
class SpareLoom:
    """A loom that lies in a drawer.

    Parameters
    ----------
    lanes : int
        How many lines it has.
    ends : tuple of str
        What is on either end, in words: ``multipin``, ``8 quarter-inch plugs``.
    length_m : float or None, m
    note : str
        Where it lies, and what is wrong with it.
    """

    lanes: int
    ends: tuple[str, ...]
    loom: Loom = Loom()
    length_m: float | None = None
    note: str = ""
