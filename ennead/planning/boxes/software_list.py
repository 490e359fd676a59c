"""The recording software's own list of inputs or outputs, pasted: blocks of a driver map, and what each is likely to be."""

import re
from dataclasses import dataclass, replace
from typing import Final, Literal, NamedTuple

from ennead.planning.boxes.list_lines import ListLine, read_list_lines

Guess = Literal[
    "mic", "line", "analogue", "phones", "adat", "spdif", "aes3", "madi", "loopback", "talkback", "gap", "unknown"
]

_WORDS: Final[tuple[tuple[str, Guess], ...]] = (
    (r"adat|optical|opt|toslink|light", "adat"),
    (r"s\W?/?\W?pdif|coax(ial)?|rca", "spdif"),
    (r"aes|ebu|aes3", "aes3"),
    (r"madi", "madi"),
    (r"loop\W?back|virtual|mix|dim|software", "loopback"),
    (r"talk\W?back|tb", "talkback"),
    (r"phones?|head\W?phones?|hp|cans", "phones"),
    (r"mic|preamp|pre|xlr", "mic"),
    (r"line|trs", "line"),
    (r"analog(ue)?|input|in|output|out|main|mains|monitors?|ch|channel|inst", "analogue"),
)
_RANGE_END: Final = re.compile(r"^(.*?)[\s#_/-]*(\d{1,3})(?:\s*(?:-|–|/|\+|to|&)\s*(\d{1,3}))?\s*(?:\(.*\))?$")
_SIDE_END: Final = re.compile(r"^(.*?)[\s_-]*\(?(left|right|l|r)\)?$", re.IGNORECASE)

MOST_CHANNELS: Final = 1_024


@dataclass(frozen=True, slots=True)
class ListedBlock:
    """Consecutive entries of one kind.

    Parameters
    ----------
    first, last : int
        Numbers in the software's list, closed.
    first_label : int
        The number the first of them bears in its own name: 5 for ``Line 5``.
    """

    label: str
    guess: Guess
    first: int
    last: int
    first_label: int = 1

    @property
    def channels(self) -> int:
        """How many channels it has."""
        return self.last - self.first + 1

    @property
    def span(self) -> str:
        """Its numbers: ``9–16``, or ``9``."""
        return f"{self.first}–{self.last}" if self.last > self.first else f"{self.first}"


class SoftwareList(NamedTuple):
    """What was read of a pasted list, and what had to be assumed."""

    blocks: tuple[ListedBlock, ...]
    assumed: tuple[str, ...]


class _Entry(NamedTuple):
    """One line: its number in the list where one stands before it, its stem, its channels, the number in its name."""

    number: int | None
    label: str
    channels: int
    named: int | None


def read_software_list(text: str) -> SoftwareList:
    """Return the blocks of a pasted list, one entry a line.

    Numbers before the entries are theirs in the list where most have one and they rise; numbers left out between them
    are channels of their own without a name. An entry that spans channels (``ADAT 1-8``, ``Main L/R``) counts as many.
    """
    lines, assumed = read_list_lines(text)
    entries = [_entry(line) for line in lines]
    if zeros := {e.label.casefold() for e in entries if e.named == 0}:
        # A label on a socket begins with 1.
        assumed.append("Names that count from 0 are taken to count from 1 here.")
        entries = [
            e._replace(named=e.named + 1) if e.named is not None and e.label.casefold() in zeros else e for e in entries
        ]
    blocks: list[ListedBlock] = []
    at = 1
    for entry in entries:
        here = entry.number if entry.number is not None and entry.number >= at else at
        if here + entry.channels - 1 > MOST_CHANNELS:
            break
        if here > at:
            gap = ListedBlock("not listed", "gap", at, here - 1)
            blocks.append(gap)
            assumed.append(
                f"{gap.span} stand{'s' if gap.channels == 1 else ''} not in the list: taken as channels without a"
                " socket, so that what follows keeps its number."
            )
        _append(blocks, entry, here)
        at = here + entry.channels
    return SoftwareList(tuple(blocks), tuple(assumed))


def _append(blocks: list[ListedBlock], entry: _Entry, at: int) -> None:
    """Add an entry at a number: to the block before it where it goes on with that, else as a block of its own."""
    last = blocks[-1] if blocks else None
    goes_on = last is not None and last.label.casefold() == entry.label.casefold()
    if last is not None and goes_on and entry.named in (None, last.first_label + last.channels):
        blocks[-1] = replace(last, last=at + entry.channels - 1)
    else:
        blocks.append(ListedBlock(entry.label, guess_kind(entry.label), at, at + entry.channels - 1, entry.named or 1))


def _entry(line: ListLine) -> _Entry:
    """Return what a line says."""
    name, number = line.name, line.number
    channels = line.channels if 1 < line.channels <= 128 else 0
    if line.single:
        stem, named = re.split(r"\s*[-–.:]\s*(?=\d{1,3}$)", name)
        return _Entry(number, _stem(stem), channels or 1, int(named))
    span = _RANGE_END.match(name)
    if span and span.group(1):
        first, last = int(span.group(2)), int(span.group(3) or span.group(2))
        return _Entry(
            number, _stem(span.group(1)), channels or (last - first + 1 if 0 <= last - first < 128 else 1), first
        )
    if re.search(r"(?<!\w)(l\s*[/+&-]\s*r|stereo)(?!\w)", name, re.IGNORECASE):
        return _Entry(
            number,
            _stem(re.sub(r"\(?\b(l\s*[/+&-]\s*r|stereo)\b\)?", "", name, flags=re.IGNORECASE)),
            channels or 2,
            None,
        )
    side = _SIDE_END.match(name)
    return _Entry(number, _stem(side.group(1) if side and side.group(1) else name), channels or 1, None)


def _stem(name: str) -> str:
    return name.strip(" -–_:/#(").strip() or "Input"


def guess_kind(label: str) -> Guess:
    """Return what a block of this name most likely is."""
    for words, kind in _WORDS:
        if re.search(rf"(?<![a-z])(?:{words})(?![a-z])", label.casefold()):
            return kind
    return "unknown"
