"""What the words of an input list usually mean: guesses of kind, 48 V, stereo, DI box and place, marked as guesses."""

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import Any, Final

#: Words, the facts they suggest; the first line that matches decides. House defaults, all changeable.
_WORDS: Final[tuple[tuple[str, dict[str, Any]], ...]] = (
    (r"ribbons?", {"kind": "ribbon", "phantom": "forbidden"}),
    (r"di|d\.i\.", {"kind": "instrument", "di": "passive", "phantom": "tolerated"}),
    (r"condensers?|oh|ohs|overheads?|choir|room|rooms|ambience|amb|piano|strings?|violins?|violas?|cello|harp"
     r"|acoustic|narrator|voice|foley|main pair|spots?|hat|hihat|hi-hat|ride|cymbals?",
     {"kind": "condenser", "phantom": "needed"}),
    (r"kick|bd|bass drum|snare|sn|toms?|floor tom|vox|vocals?|voc|bv|guitar amp|amp|talkback|tb|horn|trumpet|sax"
     r"|trombone|shout", {"kind": "dynamic", "phantom": "tolerated"}),
    (r"keys?|keyboards?|synths?|playback|drum machine|sampler|organ|return|aux|mixer|laptop|line",
     {"kind": "line", "phantom": "tolerated"}),
    (r"s/?pdif|aes|adat|digital", {"kind": "digital", "phantom": "tolerated"}),
    (r"bass|e-?guitar|electric guitar|gtr|guitar|e-?git", {"kind": "instrument", "phantom": "tolerated"}),
)  # fmt: skip


def _whole_words(pattern: str) -> re.Pattern[str]:
    return re.compile(rf"(?<!\w)(?:{pattern})(?!\w)", re.IGNORECASE)


_PATTERNS: Final = tuple((_whole_words(words), meaning) for words, meaning in _WORDS)
_PAIR: Final = re.compile(r"\b(stereo|pair|st\.?)(\W|$)|\bl/r\b", re.IGNORECASE)

#: Words that name a place wherever they stand in a name; "room" alone is more often a pair of microphones.
_ROOMS: Final = re.compile(
    r"(?<!\w)(hall|booth|stage|control room|live room|iso booth|drum room|chapel)(?!\w)", re.IGNORECASE
)


def guess(name: str, places: Iterable[str] = ()) -> dict[str, Any]:
    """Return facts guessed from a name, with `guessed` naming them; empty where no word says anything.

    Parameters
    ----------
    places : iterable of str
        Names of the places there are; one that stands in the name is where the source is.
    """
    facts: dict[str, Any] = {}
    for words, meaning in _PATTERNS:
        if words.search(name):
            facts = dict(meaning)
            break
    if _PAIR.search(name):
        facts["channels"] = 2
    if place := _place(name, places):
        facts["place"] = place
    if facts:
        facts["guessed"] = tuple(facts)
    return facts


def _place(name: str, places: Iterable[str]) -> str:
    """Return the longest known place that stands in a name, else a word that means one."""
    found = [place for place, pattern in _known(tuple(places)) if pattern.search(name)]
    if found:
        return max(found, key=len)
    room = _ROOMS.search(name)
    return room[1].capitalize() if room else ""


@lru_cache(maxsize=4)
def _known(places: tuple[str, ...]) -> tuple[tuple[str, re.Pattern[str]], ...]:
    """Return a pattern for each place; a letter alone stands in too many names to mean one."""
    return tuple((p, _whole_words(re.escape(p))) for p in places if len(p) > 1)


#: Words of a destination, the kind they mean; the first line that matches decides.
_DESTINATIONS: Final = tuple(
    (_whole_words(words), kind, channels)
    for words, kind, channels in (
        (r"click|metronome", "click", 1),
        (r"mains?|main monitors?|main loudspeakers?|main speakers?", "mains", 2),
        (r"speakers?|loudspeakers?|near ?fields?|monitors?|sub", "speakers", 2),
        (r"loop|insert|compressor|equaliser|eq|tape loop|outboard", "loop", 2),
        (r"send|reverb|echo|delay|plate|spring", "send", 2),
        (r"cue|phones|headphones?|ears|foldback", "cue", 2),
    )
)


def guess_destination(name: str) -> dict[str, Any]:
    """Return kind and width of a destination guessed from its name; a cue where no word says anything."""
    for words, kind, channels in _DESTINATIONS:
        if words.search(name):
            mono = channels == 1 or bool(re.search(r"(?<!\w)mono(?!\w)", name, re.IGNORECASE))
            return {"kind": kind, "channels": 1 if mono else 2}
    return {"kind": "cue", "channels": 2}
