"""The lists one can take along, as tables: cable schedule, driver sheet, labels, flags, wiring, moves, looms, paths, loops, cards, passes, changeovers."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from ennead.files.tables import write_table
from ennead.planning.passes.print_plan import print_plan
from ennead.reports.cable_schedule import cable_rows
from ennead.reports.driver_sheet import driver_rows
from ennead.reports.flag_rows import flag_table
from ennead.reports.loop_rows import LOOP_COLUMNS, loops_table
from ennead.reports.page_rows import looms_table, moves_table
from ennead.reports.pass_rows import PASS_COLUMNS, passes_table
from ennead.reports.recall_rows import RECALL_COLUMNS, recall_table
from ennead.reports.strip_rows import label_rows
from ennead.reports.wiring_rows import wiring_rows
from ennead.survey.survey import Survey

CABLE_COLUMNS = ("cable", "from", "to", "type", "length_m", "adapters", "state")
LABEL_COLUMNS = ("bay", "point", "number", "first", "second")
FLAG_COLUMNS = ("cable", "here", "other_end")
WIRING_COLUMNS = ("bay", "point", "label", "normal", "cable", "to", "length_m", "state")
DRIVER_COLUMNS = ("direction", "number", "label", "unit", "port", "lane", "track")


MOVE_COLUMNS = ("n", "action", "what")
LOOM_COLUMNS = ("loom", "ends", "line", "mark", "contacts", "from", "to")
PATH_COLUMNS = ("signal", "by", "at", "does")
CHANGEOVER_COLUMNS = ("n", "action", "from", "to")


def export_list(survey: Survey, what: str, path: Path) -> None:
    """Write one of the lists (``cables``, ``drivers``, ``labels``, ``flags``, ``wiring``, ``moves``, ``looms``, ``loops``, ``recall``, ``passes``).

    Raises
    ------
    EnneadError
        If it cannot be made, or not be written.
    """
    title, rows, columns = table_of(survey, what)
    write_table(path, f"{survey.studio.name}: {title}", rows, columns)


def table_of(survey: Survey, what: str) -> tuple[str, list[dict[str, Any]], tuple[str, ...]]:
    """Return the title, the rows and the columns of a list.

    Raises
    ------
    EnneadError
        If it cannot be made.
    """
    plain: dict[str, tuple[str, Callable[[Survey], list[dict[str, Any]]], tuple[str, ...]]] = {
        "cables": ("cable schedule", cable_rows, CABLE_COLUMNS),
        "labels": ("labels of the bays", label_rows, LABEL_COLUMNS),
        "flags": ("flags of the cables", flag_table, FLAG_COLUMNS),
        "wiring": ("wiring of the bays", wiring_rows, WIRING_COLUMNS),
        "moves": ("moves to the scene", lambda s: moves_table(s.studio), MOVE_COLUMNS),
        "loops": ("loops", loops_table, LOOP_COLUMNS),
        "looms": ("looms", lambda s: looms_table(s.studio), LOOM_COLUMNS),
        "recall": ("recall cards", lambda s: recall_table(s.studio), RECALL_COLUMNS),
        "passes": ("print passes", lambda s: passes_table(s.studio, print_plan(s)), PASS_COLUMNS),
    }
    if what in plain:
        title, rows_of, columns = plain[what]
        return title, rows_of(survey), columns
    sheets = driver_rows(survey)
    rows = [{"direction": way, **row} for way, channels in sheets.items() for row in channels]
    # Only where a computer was read is there anything to stand beside the plan.
    read = ("on_computer",) if any("on_computer" in row for row in rows) else ()
    return "driver channels", rows, (*DRIVER_COLUMNS, *read)
