"""The lists one can take along: cable schedule and driver sheet."""

from pathlib import Path

from ennead.files.tables import write_table
from ennead.reports.cable_schedule import cable_rows
from ennead.reports.driver_sheet import driver_rows
from ennead.reports.strip_rows import label_rows
from ennead.survey.survey import Survey

CABLE_COLUMNS = ("cable", "from", "to", "type", "length_m", "adapters", "state")
LABEL_COLUMNS = ("bay", "point", "number", "first", "second")
DRIVER_COLUMNS = ("direction", "number", "label", "unit", "port", "lane", "track")


def export_list(survey: Survey, what: str, path: Path) -> None:
    """Write one of the lists (``cables``, ``drivers`` or ``labels``) to a file.

    Raises
    ------
    FileTrouble
    """
    name = survey.studio.name
    if what == "cables":
        write_table(path, f"{name}: cable schedule", cable_rows(survey), CABLE_COLUMNS)
        return
    if what == "labels":
        write_table(path, f"{name}: labels of the bays", label_rows(survey), LABEL_COLUMNS)
        return
    sheets = driver_rows(survey)
    rows = [{"direction": way, **row} for way, channels in sheets.items() for row in channels]
    write_table(path, f"{name}: driver channels", rows, DRIVER_COLUMNS)
