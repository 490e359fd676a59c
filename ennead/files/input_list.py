"""Input lists: typed, pasted from a spreadsheet, read from CSV and XLSX, written to CSV."""

import csv
import io
import re
from collections.abc import Iterable
from pathlib import Path
from typing import Any, Final

from ennead.files.errors import FileTrouble
from ennead.files.regular import read_regular
from ennead.files.spreadsheet import is_spreadsheet, spreadsheet_rows
from ennead.planning.boxes.guessing import guess
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.session import KINDS

#: House limits: the longest list a session is made for, and the longest file such a list makes.
MOST_LINES: Final = 5_000
_MOST_BYTES: Final = 20_000_000
_LONGEST: Final = 500
_COLUMNS: Final = ("name", "kind", "phantom", "channels", "place", "group", "track")
_HEADINGS: Final[dict[str, str]] = {
    "name": "name", "source": "name", "input": "name", "signal": "name",
    "kind": "kind", "type": "kind", "48 v": "phantom", "48v": "phantom", "phantom": "phantom", "+48": "phantom",
    "channels": "channels", "stereo": "channels", "mono/stereo": "channels", "width": "channels",
    "place": "place", "room": "place", "where": "place", "group": "group", "track": "track",
}  # fmt: skip
_PHANTOM: Final[dict[str, str]] = {
    "needed": "needed", "yes": "needed", "y": "needed", "x": "needed", "on": "needed", "48": "needed",
    "48v": "needed", "48 v": "needed", "+48": "needed", "1": "needed",
    "tolerated": "tolerated", "no": "tolerated", "n": "tolerated", "off": "tolerated", "0": "tolerated",
    "forbidden": "forbidden", "never": "forbidden",
}  # fmt: skip
#: Whatever some reader takes for the end of a line.
LINE_ENDS: Final = ("\r", "\n", "\v", "\f", "\x1c", "\x1d", "\x1e", "\x85", "\u2028", "\u2029")
_NUMBERED: Final = re.compile(r"^\s*\d{1,3}\s*(?:[.):]\s*|\s+|-\s+)(?=\D)")


class ListTooLong(EnneadError):
    """A list with more lines than a session is made for; nothing of it is taken.

    Parameters
    ----------
    lines : int
    """

    def __init__(self, lines: int) -> None:
        super().__init__(lines)
        self.lines = lines

    def __str__(self) -> str:
        return (
            f"The list has {self.lines:,} lines; an input list has {MOST_LINES:,} at most. Cut it down to the lines of"
            " this session."
        )


def read_lines(text: str, places: Iterable[str] = ()) -> list[dict[str, Any]]:
    """Return the facts of each source of a list: a line each, or a table with tabs, semicolons or commas.

    A first line of headings is understood; a first column of numbers is dropped; what a line does not say is
    guessed from its name and marked as a guess. `places` are the names of the places there are.

    Raises
    ------
    ListTooLong
    """
    return read_rows(_rows(text), places)


def read_rows(rows: list[list[str]], places: Iterable[str] = ()) -> list[dict[str, Any]]:
    """Return the facts of each source of a list that has been cut into cells; see `read_lines`.

    Raises
    ------
    ListTooLong
    """
    if len(rows) > MOST_LINES + 1:
        raise ListTooLong(len(rows))
    if not rows:
        return []
    headings = [_HEADINGS.get(cell.strip().casefold(), "") for cell in rows[0]]
    if "name" in headings:
        rows = rows[1:]
    else:
        if len(rows[0]) > 1 and all(not row[0].strip() or row[0].strip().isdecimal() for row in rows):
            rows = [row[1:] for row in rows]
        headings = ["name"]
    if len(rows) > MOST_LINES:
        raise ListTooLong(len(rows))
    known = tuple(places)
    lines = []
    for row in rows:
        cells = {h: c.strip() for h, c in zip(headings, row, strict=False) if h}
        said = _facts(cells) if len(headings) > 1 else _loose(row[1:])
        name = _NUMBERED.sub("", cells.get("name", "")).strip()[:_LONGEST]
        if not name:
            continue
        facts = guess(name, known)
        guessed = tuple(g for g in facts.get("guessed", ()) if g not in said)
        lines.append({**facts, **said, "name": name, "guessed": guessed})
    return lines


def _rows(text: str) -> list[list[str]]:
    text = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
    lines = [line for line in text.split("\n") if line.strip()]
    if len(lines) > MOST_LINES + 1:
        # Counted before it is cut into cells: a log file opened by mistake is refused at once.
        raise ListTooLong(len(lines))
    if not lines:
        return []
    separator = next((s for s in ("\t", ";", ",") if s in lines[0]), None)
    if separator is None:
        return [[_bare(line)] for line in lines]
    try:
        rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=separator))
    except csv.Error:
        rows = [line.split(separator) for line in lines]
    return [[_bare(cell) for cell in row] for row in rows if any(cell.strip() for cell in row)]


def _bare(cell: str) -> str:
    """Take off the apostrophe that kept a spreadsheet from reading a name as a formula."""
    return cell[1:] if cell[:1] == "'" and _is_live(cell[1:]) else cell


def _is_live(cell: str) -> bool:
    """Say whether a spreadsheet could take a cell for a formula, whatever space stands before it."""
    return cell.lstrip()[:1] in ("=", "+", "-", "@") or cell[:1] in ("\t", "\r", "\n")


def _facts(cells: dict[str, str]) -> dict[str, Any]:
    facts: dict[str, Any] = {k: cells[k][:_LONGEST] for k in ("place", "group", "track") if cells.get(k)}
    kind = cells.get("kind", "").casefold()
    if kind:
        facts |= next(({"kind": k} for k in KINDS if kind.startswith(k[:5])), {})
    phantom = _PHANTOM.get(cells.get("phantom", "").casefold())
    if phantom:
        facts["phantom"] = phantom
    channels = cells.get("channels", "").casefold()
    if channels:
        facts["channels"] = 2 if channels in ("2", "stereo", "st", "yes", "x") else 1
    return facts


def _loose(cells: list[str]) -> dict[str, Any]:
    """Read cells without headings: only words that cannot mean anything else are taken."""
    facts: dict[str, Any] = {}
    for cell in (c.strip().casefold() for c in cells):
        if cell in KINDS:
            facts["kind"] = cell
        elif cell in ("48", "48v", "48 v", "+48", "needed", "forbidden"):
            facts["phantom"] = _PHANTOM[cell]
        elif cell in ("mono", "stereo"):
            facts["channels"] = 2 if cell == "stereo" else 1
    return facts


def read_list_file(path: Path, places: Iterable[str] = ()) -> list[dict[str, Any]]:
    """Read an input list from an XLSX spreadsheet, or from a CSV or text file in UTF-8, UTF-16 or Latin-1.

    Raises
    ------
    FileTrouble
    """
    raw = read_regular(path, _MOST_BYTES)
    try:
        if is_spreadsheet(raw):
            lines = read_rows(spreadsheet_rows(path, MOST_LINES + 1), places)
        elif len(raw) > _MOST_BYTES:
            raise FileTrouble(
                path, "it is far longer than an input list can be", "Cut it down to the lines of this session."
            )
        else:
            lines = read_lines(_decoded(raw), places)
    except ListTooLong as error:
        what = f"it has {error.lines:,} lines; an input list has {MOST_LINES:,} at most"
        raise FileTrouble(path, what, "Cut it down to the lines of this session.") from None
    if not lines:
        raise FileTrouble(path, "there is no source in it", "Give a line for each source, its name first.")
    return lines


def _decoded(raw: bytes) -> str:
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return raw.decode("utf-16", "replace")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("latin-1")


def list_csv(studio: Studio) -> str:
    """Return the current session's input list as CSV text."""
    rows = []
    for source in studio.session_sources:
        place = studio.places[source.place].name if source.place else ""
        rows.append([source.name, source.kind, source.phantom, source.channels, place, source.group, source.track])
    return csv_text(_COLUMNS, rows)


def csv_text(headings: tuple[str, ...], rows: list[list[Any]]) -> str:
    """Return CSV text in which no cell can be taken for a formula, and no cell begins a row.

    References
    ----------
    RFC 4180: what holds a separator, a quotation mark or a line end is quoted. Line ends are taken out besides:
    many readers cut there all the same.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(headings)
    for row in rows:
        writer.writerow(["" if cell is None else harmless(cell) for cell in row])
    return out.getvalue()


def harmless(cell: Any) -> Any:
    """Return a text cell on one line, so that a spreadsheet shows it instead of computing it."""
    if not isinstance(cell, str):
        return cell
    live = _is_live(cell)
    line = " ".join(cell.splitlines()) if len(cell.splitlines()) > 1 or cell[-1:] in LINE_ENDS else cell
    return f"'{line}" if live or _is_live(line) else line
