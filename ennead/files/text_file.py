"""Reads a small text file whole."""

from pathlib import Path

from ennead.files.errors import FileTrouble
from ennead.files.regular import read_regular


def read_small(path: Path, most_bytes: int, what: str, remedy: str) -> str:
    """Return the text of a file in UTF-8, with or without a mark of byte order.

    Parameters
    ----------
    what : str
        What it should be, with its article: ``a profile``.
    remedy : str
        What to do about one that is no text or too long, a whole sentence.

    Raises
    ------
    FileTrouble
    """
    raw = read_regular(path, most_bytes)
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileTrouble(path, "it is no text in UTF-8", remedy) from None
    if len(raw) > most_bytes:
        raise FileTrouble(path, f"it is too long for {what}", remedy)
    return text
