"""The lists one can take along: cable schedule, driver sheet, labels, flags and the wiring of the bays."""

from pathlib import Path

from ennead.files.tables import write_table
from ennead.reports.cable_schedule import cable_rows
from ennead.reports.driver_sheet import driver_rows
from ennead.reports.flag_rows import flag_table
from ennead.reports.strip_rows import label_rows
from ennead.reports.wiring_rows import wiring_rows
from ennead.survey.survey import Survey

CABLE_COLUMNS = ("cable", "from", "to", "type", "length_m", "adapters", "state")
LABEL_COLUMNS = ("bay", "point", "number", "first", "second")
FLAG_COLUMNS = ("cable", "here", "other_end")
WIRING_COLUMNS = ("bay", "point", "label", "normal", "cable", "to", "length_m", "state")
DRIVER_COLUMNS = ("direction", "number", "label", "unit", "port", "lane", "track")


def export_list(survey: Survey, what: str, path: Path) -> None:
    """Write one of the lists (``cables``, ``drivers``, ``labels``, ``flags`` or ``wiring``) to a file.

    Raises
    ------
    FileTrouble
    """
    name = survey.studio.name
    plain = {
        "cables": ("cable schedule", cable_rows, CABLE_COLUMNS),
        "labels": ("labels of the bays", label_rows, LABEL_COLUMNS),
        "flags": ("flags of the cables", flag_table, FLAG_COLUMNS),
        "wiring": ("wiring of the bays", wiring_rows, WIRING_COLUMNS),
    }
    if what in plain:
        title, rows_of, columns = plain[what]
        write_table(path, f"{name}: {title}", rows_of(survey), columns)
        return
    sheets = driver_rows(survey)
    rows = [{"direction": way, **row} for way, channels in sheets.items() for row in channels]
    write_table(path, f"{name}: driver channels", rows, DRIVER_COLUMNS)
