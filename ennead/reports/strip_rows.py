"""What the strips of the bays say: each row with its points, each point with its number and its two lines."""

from typing import NamedTuple

from ennead.reports.point_labels import point_texts
from ennead.studio.bays import Bay, PointLabel
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey


class StripRow(NamedTuple):
    """One row of a bay, as its strip has it."""

    name: str
    bay: Bay
    keys: tuple[str, ...]
    labels: dict[str, PointLabel]


def strip_rows(survey: Survey, only: UnitId | None = None) -> list[StripRow]:
    """Return the strips of all bays, or of one; a point without a label of its own says what is wired behind it."""
    found = []
    for unit, bay in survey.bays.items():
        if only not in (None, unit):
            continue
        texts = point_texts(survey, unit)
        for at, keys in enumerate(bay.rows, start=1):
            row = {1: "above", 2: "below"}.get(at, f"row {at}") if len(bay.rows) == 2 else f"row {at}"
            labels = {}
            for key in (k for k in keys if k):
                labels[key] = PointLabel(texts[key].number, texts[key].first, texts[key].second)
            found.append(StripRow(f"{survey.units[unit].name} {row}", bay, keys, labels))
    return found


def label_rows(survey: Survey) -> list[dict[str, str]]:
    """Return one row a point, as a table of labels has it."""
    return [
        {
            "bay": survey.units[row.bay.id].name,
            "point": survey.profiles[row.bay.id].port_by_key[key].label,
            "number": row.labels[key].number,
            "first": row.labels[key].first,
            "second": row.labels[key].second,
        }
        for row in strip_rows(survey)
        for key in row.keys
        if key
    ]
