"""The cells of a spreadsheet in XLSX form as text, read without trusting the file."""

import warnings
import zipfile
import zlib
from datetime import date, datetime, time
from pathlib import Path
from typing import Any, Final

from ennead.files.errors import FileTrouble, reason_of

#: House limits: an input list of 5,000 lines unpacks to about two million bytes.
MOST_BYTES: Final = 32_000_000
_MOST_PARTS: Final = 1_000
_MOST_COLUMNS: Final = 40
#: Elements of the parts of a package: a list of 5,000 lines and 40 columns has 200,000 cells and few styles.
_MOST_ELEMENTS: Final = {"worksheets/": 500_000, "sharedStrings": 500_000}
_MOST_OTHERWISE: Final = 20_000
_NO_SHEET: Final = "it is not a spreadsheet in XLSX form"
_REMEDY: Final = "Save it again as XLSX without a password, or as CSV."


def is_spreadsheet(raw: bytes) -> bool:
    """Return whether a file begins as a spreadsheet does: a ZIP archive, or the older compound document."""
    return raw[:4] == b"PK\x03\x04" or raw[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"


def spreadsheet_rows(path: Path, most_rows: int) -> list[list[str]]:
    """Return the rows of the first sheet that holds anything, each cell as text; a formula gives its last value.

    Raises
    ------
    FileTrouble
        Where it cannot be read, would unpack to more than `MOST_BYTES`, or holds more than `most_rows` rows.

    References
    ----------
    ISO/IEC 29500-2, clause 6 (a package is a ZIP archive; its parts state their unpacked size).
    """
    _check_package(path)
    # Some 150 ms to import, and needed for this alone.
    from openpyxl import load_workbook

    try:
        # Opened here, because the reader leaves a package open that it fails on.
        with path.open("rb") as file, warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = load_workbook(file, read_only=True, data_only=True, keep_links=False)
            try:
                for sheet in book.worksheets:
                    rows = _rows(path, sheet, most_rows)
                    if rows:
                        return rows
            finally:
                book.close()
    except FileTrouble:
        raise
    except OSError as error:
        raise FileTrouble(path, f"it cannot be read ({reason_of(error)})", "Check the path.") from None
    except Exception as error:  # noqa: BLE001 - a damaged package fails in as many ways as its reader has lines
        raise FileTrouble(path, f"{_NO_SHEET}, or it is damaged ({type(error).__name__})", _REMEDY) from None
    return []


def _check_package(path: Path) -> None:
    """Look at the sizes the parts state; the archive reader never unpacks a part further than that."""
    try:
        with zipfile.ZipFile(path) as package:
            parts = package.infolist()
            whole = sum(part.file_size for part in parts)
            if whole > MOST_BYTES or len(parts) > _MOST_PARTS:
                what = f"it would unpack to {whole / 1e6:,.0f} MB in {len(parts)} parts, far more than an input list"
                raise FileTrouble(path, what, "Copy the list into a new spreadsheet and save that.")
            for part in parts:
                _check_part(path, package, part)
    except OSError as error:
        raise FileTrouble(path, f"it cannot be read ({reason_of(error)})", "Check the path.") from None
    except (zipfile.BadZipFile, zlib.error, EOFError, ValueError, RuntimeError):
        # The archive reader raises a kind of RuntimeError for a packing it does not know.
        raise FileTrouble(path, _NO_SHEET, _REMEDY) from None


def _check_part(path: Path, package: zipfile.ZipFile, part: zipfile.ZipInfo) -> None:
    """Count the elements of a part before they are read: each costs its reader far more than its few bytes."""
    most = next((most for name, most in _MOST_ELEMENTS.items() if name in part.filename), _MOST_OTHERWISE)
    if part.file_size > 4 * most and package.read(part).count(b"<") > 2 * most:
        what = f"its part “{part.filename[:60]}” holds more than {most:,} elements, far more than an input list"
        raise FileTrouble(path, what, "Copy the cells alone into a new spreadsheet and save that.")


def _rows(path: Path, sheet: Any, most_rows: int) -> list[list[str]]:
    rows: list[list[str]] = []
    # The reader fills in the rows a file leaves out, so that one cell in the last row would make a million.
    for at, cells in enumerate(sheet.iter_rows(max_col=_MOST_COLUMNS, values_only=True)):
        row = [_text(cell) for cell in cells]
        if any(cell.strip() for cell in row):
            if len(rows) >= most_rows:
                what = f"it has more than {most_rows:,} lines, more than an input list can have"
                raise FileTrouble(path, what, "Cut it down to the lines of this session.")
            rows.append(row)
        elif at > 50 * most_rows:
            break
    return rows


def _text(cell: Any) -> str:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, float) and cell.is_integer() and abs(cell) < 1e15:
        return str(int(cell))
    if isinstance(cell, datetime | date | time):
        return cell.isoformat()
    return str(cell)
