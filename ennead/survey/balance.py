"""The balance: inputs needed by the session against inputs that reach the computer at its rate."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Protocol

from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.studio.session import MICROPHONES, Destination, Source
from ennead.survey.output_points import OutputPoint
from ennead.survey.parts import part


@dataclass(frozen=True, slots=True)
class Need:
    """One kind of input.

    Parameters
    ----------
    needed, available : int, channels
        A socket that can serve several kinds counts in each; the last line of the balance counts it once.
    """

    key: str
    label: str
    needed: int
    available: int
    sources: tuple[SourceId | DestinationId, ...]


class Balanced(Protocol):
    """The parts of a survey that the balance reads."""

    @property
    def wanted_by_need(self) -> "WantedByNeed": ...
    @property
    def inputs_by_need(self) -> Mapping[str, int]: ...


_LABELS = {
    "phantom": "microphone inputs with 48 V",
    "mic": "microphone inputs in all",
    "line": "line inputs",
    "hiz": "Hi-Z inputs",
    "digital": "digital input channels",
    "all": "inputs in all",
}


#: Channels needed and the sources that need them, for each kind of input.
WantedByNeed = Mapping[str, tuple[int, tuple[SourceId, ...]]]


@part
def wanted_by_need(sources: tuple[Source, ...], held_inside: frozenset[SourceId]) -> WantedByNeed:
    """Return what the session's sources need; those that come in by a number without a socket need none."""
    sources = tuple([s for s in sources if s.id not in held_inside]) if held_inside else sources
    mic = [s for s in sources if s.kind in MICROPHONES or (s.kind == "instrument" and s.di)]
    users = {
        "phantom": [s for s in mic if s.phantom == "needed"],
        "mic": mic,
        "line": [s for s in sources if s.kind == "line"],
        "hiz": [s for s in sources if s.kind == "instrument" and not s.di],
        "digital": [s for s in sources if s.kind == "digital"],
        "all": list(sources),
    }
    return {key: (sum([s.channels for s in those]), tuple([s.id for s in those])) for key, those in users.items()}


def balance(survey: Balanced) -> tuple[Need, ...]:
    """Return needed against available for every kind of input, the sum of all last."""
    there, wanted = survey.inputs_by_need, survey.wanted_by_need
    return tuple(Need(key, label, wanted[key][0], there[key], wanted[key][1]) for key, label in _LABELS.items())


class Leaving(Protocol):
    """The parts of a survey that the balance of outputs reads."""

    @property
    def faults(self) -> Mapping[UnitId, Mapping[str, str]]: ...
    @property
    def destinations(self) -> tuple[Destination, ...]: ...
    @property
    def output_points(self) -> tuple[OutputPoint, ...]: ...


#: Kinds of need on the way out: label, what kinds of destination want it, and what an output may be wired to.
_OUT: tuple[tuple[str, str, tuple[str, ...], tuple[str, ...]], ...] = (
    ("mains", "outputs to loudspeakers", ("mains", "speakers"), ("", "point", "loudspeakers")),
    ("cues", "cue outputs", ("cue",), ("", "point", "cue")),
    ("sends", "sends, click and loop sends", ("send", "click", "loop"), ("", "point", "outboard", "console")),
)


def output_balance(survey: Leaving, kept: Collection[int] = ()) -> tuple[Need, ...]:
    """Return needed against available for every kind of output, the sum of all last.

    Parameters
    ----------
    kept : collection of int
        Driver outputs that are kept for loudspeakers although none are listed.

    Notes
    -----
    An output that is wired to something counts only for what it is wired to; a free line output counts for each kind,
    a headphone socket for cues.
    """
    faulty = {(unit, port) for unit, ports in survey.faults.items() for port in ports}
    points = [
        s
        for s in survey.output_points
        if (s.unit, s.port.key) not in faulty and ("line" in s.port.carries or "headphone" in s.port.carries)
    ]
    destinations = survey.destinations
    needs = []
    for key, label, kinds, feeds in _OUT:
        mine = [d for d in destinations if d.kind in kinds]
        able = {s.number for s in points if s.feeds in feeds and ("headphone" not in s.port.carries or key == "cues")}
        needs.append(_out_need(key, label, mine, len(able if key == "mains" else able - set(kept))))
    return (
        *needs,
        _out_need(
            "outs",
            "outputs in all",
            list(destinations),
            len({s.number for s in points if s.feeds != "other"} - set(kept)),
        ),
    )


def _out_need(key: str, label: str, destinations: list[Destination], available: int) -> Need:
    return Need(key, label, sum(d.channels for d in destinations), available, tuple(d.id for d in destinations))
