"""What a point of a bay is called: its own label, else what is wired behind it, beside its number."""

import re
from typing import Final, NamedTuple

from ennead.studio.bays import PointLabel
from ennead.studio.document import Studio
from ennead.studio.house import LineEnd, PortEnd
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.survey.survey import Survey, survey_of

_NUMBER: Final = re.compile(r"^(.*?)\s*(\d+|L|R)$")


class PointText(NamedTuple):
    """One point in words.

    Parameters
    ----------
    number : str
        As it is written at the point: its own, that of the socket behind it, or its place in the row.
    group : str
        What it shares with its neighbours: the box and the row of sockets behind it; empty where nothing is wired and nothing said.
    wired : bool
        Whether a cable is behind it.
    """

    number: str
    group: str
    wired: bool


def point_texts(survey: Survey, unit: UnitId) -> dict[str, PointText]:
    """Return what every point of a bay is called."""
    studio, bay = survey.studio, survey.bays[unit]
    return {
        key: _text(studio, PortEnd(unit, key), bay.labels.get(key, PointLabel()), at)
        for row in bay.rows
        for at, key in enumerate(row, start=1)
        if key
    }


def _text(studio: Studio, end: PortEnd, label: PointLabel, at: int) -> PointText:
    behind = behind_text(studio, end)
    own = " ".join(part for part in (label.first, label.second) if part)
    name = own or behind
    found = _NUMBER.match(name)
    group, number = (found[1], found[2]) if found and found[1] else (name, "")
    return PointText(label.number or number or str(at), group, bool(behind))


def behind_text(studio: Studio, end: PortEnd) -> str:
    """Return what is wired behind a point, as few words; empty for nothing."""
    for cable in survey_of(studio).cables_at(end):
        for plug in cable.plugs:
            if isinstance(plug, LineEnd):
                line = studio.sources.get(SourceId(plug.line)) or studio.destinations[DestinationId(plug.line)]
                return line.name
        return studio.far_text(cable, end)
    return ""
