"""Patch bays as rows: every point with its label, what it is joined to, and what is soldered behind it."""

from typing import Any

from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.bays import NORMAL_LABELS, Bay, PointLabel
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.survey.survey import survey_of


def bay_rows(studio: Studio) -> list[dict[str, Any]]:
    """Return one row a bay."""
    return [
        {
            "bay": studio.units[bay.id].name,
            "place": studio.places[place].name if (place := studio.units[bay.id].place) else "",
            "rows": len(bay.rows),
            "points": len(bay.points),
            "connector": CONNECTOR_LABELS[studio.port(PortEnd(bay.id, min(bay.points))).connector],
            "pitch_mm": bay.pitch_mm,
            "note": bay.note,
        }
        for bay in studio.bays.values()
    ]


def point_rows(studio: Studio) -> list[dict[str, Any]]:
    """Return one row a point: bay by bay, row by row, from the left."""
    return [
        _row(studio, bay, at, key)
        for bay in studio.bays.values()
        for at, row in enumerate(bay.rows, start=1)
        for key in row
        if key
    ]


def _row(studio: Studio, bay: Bay, at: int, key: str) -> dict[str, Any]:
    end = PortEnd(bay.id, key)
    label = bay.labels.get(key, PointLabel())
    behind = [studio.far_text(cable, end) for cable in survey_of(studio).cables_at(end)]
    return {
        "bay": studio.units[bay.id].name,
        "point": studio.port(end).label,
        "row": at,
        "number": label.number,
        "label": " / ".join(text for text in (label.first, label.second) if text),
        "normal": normal_text(studio, bay, key),
        "to": ", ".join(behind),
        "fault": studio.units[bay.id].faults.get(key, ""),
    }


def normal_text(studio: Studio, bay: Bay, key: str) -> str:
    """Return what a point is joined to unplugged, and how: ``half-normalled to 3 below``; empty for an open one."""
    texts = []
    for normal in bay.normals:
        if key in (normal.start, normal.end):
            other, way = (normal.end, "to") if key == normal.start else (normal.start, "from")
            way = "with" if normal.mode == "parallel" else way
            texts.append(f"{NORMAL_LABELS[normal.mode]} {way} {studio.port(PortEnd(bay.id, other)).label}")
    return ", ".join(texts)
