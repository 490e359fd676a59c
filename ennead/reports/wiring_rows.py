"""The wiring list of the bays: what is soldered behind every point, in the order in which one solders it."""

from typing import Any, Final

from ennead.reports.bay_rows import normal_text
from ennead.reports.cable_schedule import cable_state
from ennead.studio.bays import PointLabel
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey

_NOTHING: Final[dict[str, Any]] = {"cable": "", "to": "", "length_m": None, "state": ""}


def wiring_rows(survey: Survey) -> list[dict[str, Any]]:
    """Return one row a point of every bay, row by row, and one more for each further cable behind it; lengths in metres."""
    studio, found = survey.studio, list[dict[str, Any]]()
    for unit, bay in survey.bays.items():
        for key in (k for row in bay.rows for k in row if k):
            end = PortEnd(unit, key)
            label = bay.labels.get(key, PointLabel())
            about: dict[str, Any] = {
                "bay": studio.units[unit].name,
                "point": studio.port(end).label,
                "label": " ".join(part for part in (label.first, label.second) if part),
                "normal": normal_text(studio, bay, key),
            }
            behind = [
                {"cable": c.id, "to": studio.far_text(c, end), "length_m": c.length_m, "state": cable_state(studio, c)}
                for c in survey.cables_at(end)
            ]
            found += [about | cable for cable in behind or [_NOTHING]]
    return found
