"""The balance: inputs needed by the session against inputs that reach the computer at its rate."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from ennead.studio.document import Studio
from ennead.studio.ids import SourceId
from ennead.studio.session import Source


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
    sources: tuple[SourceId, ...]


class Balanced(Protocol):
    """The parts of a survey that the balance reads."""

    @property
    def wanted_by_need(self) -> "Wanted": ...
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
Wanted = Mapping[str, tuple[int, tuple[SourceId, ...]]]


def wanted_by_need(studio: Studio) -> Wanted:
    """Return what the current session's sources need."""
    users: dict[str, list[Source]] = {key: [] for key in _LABELS}
    for source in studio.session_sources:
        users["all"].append(source)
        if source.is_microphone:
            users["mic"].append(source)
            if source.phantom == "needed":
                users["phantom"].append(source)
        elif source.kind == "instrument":
            users["hiz"].append(source)
        else:
            users["digital" if source.kind == "digital" else "line"].append(source)
    return {key: (sum(s.channels for s in those), tuple(s.id for s in those)) for key, those in users.items()}


def balance(survey: Balanced) -> tuple[Need, ...]:
    """Return needed against available for every kind of input, the sum of all last."""
    there, wanted = survey.inputs_by_need, survey.wanted_by_need
    return tuple(Need(key, label, wanted[key][0], there[key], wanted[key][1]) for key, label in _LABELS.items())
