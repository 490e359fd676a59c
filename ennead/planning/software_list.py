"""The recording software's own list of inputs, pasted: blocks of a driver map, and what each is likely to be."""

import re
from dataclasses import dataclass
from typing import Final, Literal

Guess = Literal["mic", "line", "analogue", "adat", "spdif", "aes3", "madi", "loopback", "talkback", "unknown"]

_WORDS: Final[tuple[tuple[str, Guess], ...]] = (
    (r"adat|optical|opt|toslink|light", "adat"),
    (r"s\W?/?\W?pdif|coax(ial)?|rca", "spdif"),
    (r"aes|ebu|aes3", "aes3"),
    (r"madi", "madi"),
    (r"loop\W?back|virtual|mix|dim|software", "loopback"),
    (r"talk\W?back|tb", "talkback"),
    (r"mic|preamp|pre|xlr", "mic"),
    (r"line|trs", "line"),
    (r"analog(ue)?|input|in|ch|channel|inst", "analogue"),
)
_NUMBER_FIRST: Final = re.compile(r"^\s*(\d{1,4})\s*(?:[.):=\t-]|\s)\s*(?=\S)")
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
    """

    label: str
    guess: Guess
    first: int
    last: int

    @property
    def channels(self) -> int:
        """How many channels it has."""
        return self.last - self.first + 1


def read_software_list(text: str) -> tuple[ListedBlock, ...]:
    """Return the blocks of a pasted list, one entry a line.

    A number before an entry is taken for its number in the list when all entries have one; an entry that
    spans channels (``ADAT 1-8``, ``Main L/R``) counts as many.
    """
    entries = [e for line in text.replace("\r", "\n").split("\n") for e in _entries(line)]
    blocks: list[ListedBlock] = []
    at = 1
    for label, channels in entries:
        if at + channels - 1 > MOST_CHANNELS:
            break
        last = blocks[-1] if blocks else None
        if last is not None and last.label.casefold() == label.casefold():
            blocks[-1] = ListedBlock(last.label, last.guess, last.first, at + channels - 1)
        else:
            blocks.append(ListedBlock(label, guess_kind(label), at, at + channels - 1))
        at += channels
    return tuple(blocks)


def _entries(line: str) -> list[tuple[str, int]]:
    """Return the stem of an entry's name and how many channels it stands for."""
    name = " ".join(line.split())[:200]
    numbered = _NUMBER_FIRST.match(name)
    if numbered:
        name = name[numbered.end() :].strip()
    if not name:
        return []
    span = _RANGE_END.match(name)
    if span and span.group(1):
        first, last = int(span.group(2)), int(span.group(3) or span.group(2))
        return [(_stem(span.group(1)), last - first + 1 if 0 <= last - first < 128 else 1)]
    if re.search(r"(?<!\w)(l\s*[/+&-]\s*r|stereo)(?!\w)", name, re.IGNORECASE):
        return [(_stem(re.sub(r"\(?\b(l\s*[/+&-]\s*r|stereo)\b\)?", "", name, flags=re.IGNORECASE)), 2)]
    side = _SIDE_END.match(name)
    return [(_stem(side.group(1) if side and side.group(1) else name), 1)]


def _stem(name: str) -> str:
    return name.strip(" -–_:/#(").strip() or "Input"


def guess_kind(label: str) -> Guess:
    """Return what a block of this name most likely is."""
    for words, kind in _WORDS:
        if re.search(rf"(?<![a-z])(?:{words})(?![a-z])", label.casefold()):
            return kind
    return "unknown"
