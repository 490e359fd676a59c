"""Rule: whether a destination may leave by an output, and what stands against it; searches, refusals and checks all ask here.

An output that is wired to something serves what it is wired to: main outputs stay with the monitors, and what drives outboard
serves no cue.
"""

from functools import lru_cache
from typing import Final, Literal, NamedTuple

from ennead.standards.links import DIGITAL
from ennead.studio.session import Destination, DestinationKind
from ennead.survey.output_points import Feeds, OutputPoint
from ennead.survey.survey_interface import Parts

#: What may stand against it, the hardest first.
Rule = Literal["numbers", "faults", "monitors", "kinds of output", "wired", "boxes"]


class OutWanted(NamedTuple):
    """All that rules read of a destination.

    Parameters
    ----------
    by_hand : bool
        Whether a person gives it this place: a loop may then go out by an output behind which another box stands.
    """

    kind: DestinationKind
    channels: int
    by_hand: bool = False


class OutWhere(NamedTuple):
    """All that rules read of an output.

    Parameters
    ----------
    feeds : Feeds
        What it is wired to.
    back : bool
        Whether a box stands behind it that is wired back into a converter.
    fault : str
        The note of a socket out of service; empty where it is in order.
    kept : bool
        Whether it is kept for the monitors.
    joined : bool
        Whether another output drives the same copper.
    """

    carries: tuple[str, ...]
    feeds: Feeds
    back: bool = False
    fault: str = ""
    kept: bool = False
    joined: bool = False


class OutObstacle(NamedTuple):
    """One thing that stands against it.

    Parameters
    ----------
    about : str
        What the rule met: a fault's note, a kind of socket, what the output is wired to.
    """

    rule: Rule
    about: str = ""

    def __str__(self) -> str:
        """Return it in words that follow the name of a socket or of its box."""
        return self.about if self.rule == "faults" else _WORDS[self.rule].get(self.about, self.about)


_SERVES: Final[dict[str, tuple[str, ...]]] = {
    "loudspeakers": ("mains", "speakers"),
    "cue": ("cue",),
    "outboard": ("send", "loop"),
    "console": ("send",),
    "other": (),
    "point": (),
}
_WORDS: Final[dict[str, dict[str, str]]] = {
    "numbers": {"": "no driver output comes out there at this rate"},
    "monitors": {"": "is kept for the monitors; list them, or say that the mains are silent"},
    "kinds of output": {
        "headphones": "is for headphones", "one ear": "is a stereo socket and would reach one ear only",
        "speaker": "is at loudspeaker level", "no line": "is no line output",
    },
    "wired": {
        "loudspeakers": "is wired to loudspeakers", "cue": "is wired to a cue system", "outboard": "is wired to outboard",
        "console": "is wired to a mixer", "other": "is wired to something else", "point": "ends at a point of a bay, and no cord takes it on", "joined": "is joined with another output",
    },
    "boxes": {"": "leads into a box that is wired back"},
}  # fmt: skip


def wanted_of(destination: Destination, *, by_hand: bool = False) -> OutWanted:
    """Return what rules read of a destination."""
    return OutWanted(destination.kind, destination.channels, by_hand)


def where_of(survey: Parts, point: OutputPoint, *, back: bool = False, kept: bool = False) -> OutWhere:
    """Return what rules read of an output."""
    fault = survey.faults.get(point.unit, {}).get(point.port.key, "")
    net = survey.nets.get((point.unit, point.port.key, point.lane))
    return OutWhere(point.port.carries, point.feeds, back, fault, kept, net is not None and len(net.drivers) > 1)


@lru_cache(maxsize=16_384)
def obstacles(wanted: OutWanted, where: OutWhere) -> tuple[OutObstacle, ...]:
    """Return all that stands against a destination at an output, the hardest first; nothing where it may leave there."""
    found: list[OutObstacle] = []
    if where.fault:
        found.append(OutObstacle("faults", where.fault))
    if where.kept:
        found.append(OutObstacle("monitors"))
    if where.joined:
        found.append(OutObstacle("wired", "joined"))
    if unfit := _unfit(wanted, where.carries):
        found.append(OutObstacle("kinds of output", unfit))
    elif where.feeds and wanted.kind not in _SERVES[where.feeds]:
        found.append(OutObstacle("wired", where.feeds))
    if where.back and wanted.kind == "loop" and not wanted.by_hand:
        found.append(OutObstacle("boxes"))
    return tuple(found)


def _unfit(wanted: OutWanted, carries: tuple[str, ...]) -> str:
    """Return what kind of misfit a destination and a socket are, in a word or two; empty where they suit each other."""
    if "headphone" in carries:
        if wanted.kind != "cue":
            return "headphones"
        return "" if wanted.channels == 2 else "one ear"
    if "speaker" in carries:
        return "speaker"
    # A digital output is among them only where a box hangs on it.
    digital = wanted.kind in ("loop", "send") and not DIGITAL.isdisjoint(carries)
    return "" if "line" in carries or digital else "no line"
