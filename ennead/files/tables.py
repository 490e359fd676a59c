"""Report rows as CSV, JSON or Markdown, by the file's ending."""

import json
from pathlib import Path
from typing import Any

from ennead.files.errors import FileTrouble
from ennead.files.input_list import csv_text
from ennead.files.regular import write_text
from ennead.standards.visible_signs import visible


def write_table(path: Path, title: str, rows: list[dict[str, Any]], columns: tuple[str, ...]) -> None:
    """Write rows to a file.

    Raises
    ------
    FileTrouble
    """
    ending = path.suffix.lower()
    if ending == ".csv":
        text = csv_text(columns, [[row[c] for c in columns] for row in rows])
    elif ending == ".json":
        text = json.dumps(rows, ensure_ascii=False, indent=2, allow_nan=False) + "\n"
    elif ending == ".md":
        text = _markdown(title, rows, columns)
    else:
        raise FileTrouble(path, "its ending says nothing", "Use .csv, .json or .md.")
    write_text(path, text)


def _markdown(title: str, rows: list[dict[str, Any]], columns: tuple[str, ...]) -> str:
    def cell(value: Any) -> str:
        text = "" if value is None else visible(" ".join(str(value).splitlines()))
        for mark in "\\|<>`*_[]":
            text = text.replace(mark, f"\\{mark}")
        return text

    head = [f"# {cell(title)}", "", "| " + " | ".join(c.replace("_", " ") for c in columns) + " |"]
    rule = "|" + "|".join(" --- " for _ in columns) + "|"
    body = ["| " + " | ".join(cell(row[c]) for c in columns) + " |" for row in rows]
    return "\n".join([*head, rule, *body]) + "\n"
