"""SQLite's write-ahead journal, looked at before SQLite may touch it: whether it is whole, and what it holds."""

import struct
from collections.abc import Iterator
from pathlib import Path
from typing import Literal

State = Literal["none", "whole", "cut"]

_HEAD, _FRAME = 32, 24


def journal_of(path: Path) -> Path:
    """Return where the journal of a studio file stands while it is in use."""
    return path.with_name(path.name + "-wal")


def journal_state(path: Path) -> State:
    """Say whether a file has a journal beside it, and whether that ends with a whole edit.

    A journal is left behind where the program was killed; one that is cut short, or damaged, holds
    less than was once written.

    References
    ----------
    SQLite database file format, section 4: the write-ahead log, its header, frames and checksums.
    """
    journal = journal_of(path)
    try:
        text = journal.read_bytes()
    except OSError:
        return "none"
    if not text:
        return "none"
    commits = list(_frames(text))
    if not commits or not commits[-1]:
        return "cut"
    page = int.from_bytes(text[8:12], "big")
    rest = text[_HEAD + len(commits) * (_FRAME + page) :]
    # Behind the last good frame stand frames of an earlier round, which bear other salts; anything else is a cut.
    return "cut" if rest and (len(rest) < _FRAME or rest[8:16] == text[16:24]) else "whole"


def _frames(text: bytes) -> Iterator[bool]:
    """Yield for every good frame, in order, whether an edit ends with it."""
    if len(text) < _HEAD or text[:4] not in (b"\x37\x7f\x06\x82", b"\x37\x7f\x06\x83"):
        return
    order = ">" if text[3] == 0x83 else "<"
    page = int.from_bytes(text[8:12], "big")
    sums = _checksum(text[:24], order, (0, 0))
    if page < 512 or sums != struct.unpack(">II", text[24:32]):
        return
    at = _HEAD
    while at + _FRAME + page <= len(text):
        head, body = text[at : at + _FRAME], text[at + _FRAME : at + _FRAME + page]
        if head[8:16] != text[16:24]:
            return
        sums = _checksum(body, order, _checksum(head[:8], order, sums))
        if sums != struct.unpack(">II", head[16:24]):
            return
        yield int.from_bytes(head[4:8], "big") != 0
        at += _FRAME + page


def _checksum(data: bytes, order: str, start: tuple[int, int]) -> tuple[int, int]:
    one, two = start
    words = struct.unpack(f"{order}{len(data) // 4}I", data)
    for even, odd in zip(words[0::2], words[1::2], strict=True):
        one = (one + even + two) & 0xFFFFFFFF
        two = (two + odd + one) & 0xFFFFFFFF
    return one, two
