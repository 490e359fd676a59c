"""What a point of a bay is called: its number, and beside it its own label, else what is wired behind it."""

import re
from collections.abc import Sequence
from typing import Final, NamedTuple

from ennead.studio.bays import PointLabel
from ennead.studio.document import Studio
from ennead.studio.house import LineEnd, PortEnd
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.survey.survey import Survey, survey_of

_COUNTED: Final = re.compile(r"^(.*\S)\s+(\d+|[LR])$")


class PointText(NamedTuple):
    """One point in words.

    Parameters
    ----------
    number : str
        Its own, or its place in the row; never that of what is behind it.
    first, second : str
        The two lines of its label, or the box and the socket behind it; empty where nothing is wired and nothing said.
    wired : bool
        Whether a cable is behind it.
    """

    number: str
    first: str
    second: str
    wired: bool

    @property
    def name(self) -> str:
        """Both lines as one."""
        return " ".join(part for part in (self.first, self.second) if part)

    @property
    def stem(self) -> str:
        """What it shares with its neighbours: its name without the number at its end."""
        found = _COUNTED.match(self.name)
        return found[1] if found else self.name

    @property
    def end_number(self) -> str:
        """The number, or the side, at the end of its name."""
        found = _COUNTED.match(self.name)
        return found[2] if found else ""


def point_texts(survey: Survey, unit: UnitId) -> dict[str, PointText]:
    """Return what every point of a bay is called."""
    studio, bay = survey.studio, survey.bays[unit]
    return {
        key: _text(studio, PortEnd(unit, key), bay.labels.get(key, PointLabel()), at)
        for row in bay.rows
        for at, key in enumerate(row, start=1)
        if key
    }


def shared_name(texts: Sequence[PointText]) -> tuple[str, str]:
    """Return what points beside each other are together, with the numbers behind them: ``Harbour Line out``, ``3–6``.

    Numbers that are those of the points need not be said again.
    """
    stem, counts = texts[0].stem, [text.end_number for text in texts]
    if not any(counts) or counts == [text.number for text in texts]:
        return stem, ""
    at = [int(count) for count in counts if count.isdigit()]
    if len(at) == len(counts) > 1 and at == list(range(at[0], at[0] + len(at))):
        return stem, f"{at[0]}–{at[-1]}"
    return stem, ", ".join(counts)


def _text(studio: Studio, end: PortEnd, label: PointLabel, at: int) -> PointText:
    first, second = _behind(studio, end)
    wired = bool(first or second)
    if label.first or label.second:
        first, second = label.first, label.second
    return PointText(label.number or str(at), first, second, wired)


def _behind(studio: Studio, end: PortEnd) -> tuple[str, str]:
    """Return what is wired behind a point: a line, or a box and its socket."""
    for cable in survey_of(studio).cables_at(end):
        for plug in cable.plugs:
            if isinstance(plug, LineEnd):
                line = studio.sources.get(SourceId(plug.line)) or studio.destinations[DestinationId(plug.line)]
                return line.name, ""
        return studio.far_parts(cable, end)
    return "", ""


def behind_text(studio: Studio, end: PortEnd) -> str:
    """Return what is wired behind a point, as few words; empty for nothing."""
    return " ".join(part for part in _behind(studio, end) if part)


def point_name(studio: Studio, point: PortEnd) -> str:
    """Return a point as it is found with a plug in hand: what it is called, and where it is: ``Hall 9 (A 9 above)``."""
    bay = studio.bays.get(point.unit)
    label = bay.labels.get(point.port, PointLabel()) if bay is not None else PointLabel()
    own = " ".join(part for part in (label.first, label.second) if part)
    label_there = studio.port(point).label
    at = bay.point_label(point.port, label_there) if bay is not None else label_there
    where = f"{studio.units[point.unit].name} {at}"
    name = own or behind_text(studio, point)
    return f"{name} ({where})" if name else where
