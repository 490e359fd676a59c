"""Subjects: the one thing that a finding is about, that is selected, or that a row stands for."""

from typing import Final, Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId

Kind = Literal[
    "nothing",
    "unit",
    "port",
    "source",
    "destination",
    "cable",
    "cord",
    "session",
    "scene",
    "computer",
    "place",
    "need",
    "rule",
]

#: Kinds by the map in which their ids stand.
_BY_MAP: Final[dict[str, Kind]] = {
    "units": "unit",
    "sources": "source",
    "destinations": "destination",
    "cables": "cable",
    "cords": "cord",
    "sessions": "session",
    "scenes": "scene",
    "hosts": "computer",
    "places": "place",
}
_BY_LETTER: Final[dict[str, Kind]] = {LETTERS[name]: kind for name, kind in _BY_MAP.items()}


class Subject(NamedTuple):
    """One thing.

    Parameters
    ----------
    key : str
        Its id; of a port that of its unit; of a need or a rule its name.
    port : str
        Port key where a port is meant.
    """

    kind: Kind = "nothing"
    key: str = ""
    port: str = ""

    @property
    def end(self) -> PortEnd:
        """The port as a cable end."""
        return PortEnd(UnitId(self.key), self.port)


NOTHING: Final = Subject()


def subject_of(an_id: str) -> Subject:
    """Return what an id stands for; ids begin with the letter of their kind, and nothing has an empty one.

    Raises
    ------
    ValueError
        If it is no id.
    """
    if not an_id:
        return NOTHING
    kind = _BY_LETTER.get(an_id[:1])
    if kind is None or not an_id[1:].isdecimal():
        raise ValueError(f"“{an_id}” is no id")
    return Subject(kind, an_id)
