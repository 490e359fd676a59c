"""The balance: inputs needed by the session against inputs that reach the computer at its rate."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from ennead.studio.document import Studio
from ennead.studio.ids import SourceId
from ennead.studio.session import Source
from ennead.survey.seats import Seat, count_by_need


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
    def studio(self) -> Studio: ...
    @property
    def seats(self) -> Sequence[Seat]: ...


_LABELS = {
    "phantom": "microphone inputs with 48 V",
    "mic": "microphone inputs in all",
    "line": "line inputs",
    "hiz": "Hi-Z inputs",
    "digital": "digital input channels",
    "all": "inputs in all",
}


def balance(survey: Balanced) -> tuple[Need, ...]:
    """Return needed against available for every kind of input, the sum of all last."""
    there = count_by_need(tuple(survey.seats))
    users: dict[str, list[Source]] = {key: [] for key in _LABELS}
    for source in survey.studio.session_sources:
        users["all"].append(source)
        if source.is_microphone:
            users["mic"].append(source)
            if source.phantom == "needed":
                users["phantom"].append(source)
        elif source.kind == "instrument":
            users["hiz"].append(source)
        else:
            users["digital" if source.kind == "digital" else "line"].append(source)
    return tuple(
        Need(key, label, sum(s.channels for s in users[key]), there[key], tuple(s.id for s in users[key]))
        for key, label in _LABELS.items()
    )
