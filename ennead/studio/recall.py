"""Recall cards: how a box stood, in words and numbers, with photographs, so that it can stand so again."""

import re
from collections.abc import Mapping
from datetime import date
from typing import Final, Literal

from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import DestinationId, RecallId, UnitId
from ennead.studio.record import record

Shows = Literal["whole", "close-up"]
SHOWS: Final[tuple[Shows, ...]] = ("whole", "close-up")

#: Limits of one card. House defaults: a large console channel has some forty settings.
MOST_SETTINGS: Final = 200
MOST_PHOTOS: Final = 24
MOST_NOTE: Final = 10_000
#: Cards of one studio. House default: forty years of one a day.
MOST_CARDS: Final = 15_000

_HASH: Final = re.compile(r"[0-9a-f]{64}")


@record(frozen=True)
class Setting:
    """One named setting, as it is read off the box: ``Ratio``, ``4:1``."""

    name: str
    value: str


@record(frozen=True)
class Photo:
    """One photograph of a card; its bytes stand in a table of their own.

    Parameters
    ----------
    sha256 : str
        Hash of its bytes, 64 hexadecimal digits, by which they are found.
    shows : "whole" or "close-up"
    taken : str
        The day, as ``2026-11-27``; empty where it is not known.

    References
    ----------
    FIPS 180-4 (SHA-256).
    """

    sha256: str
    shows: Shows = "whole"
    taken: str = ""
    note: str = ""


@record(frozen=True)
class Recall:
    """How a box stood on a day.

    Parameters
    ----------
    unit : UnitId
        The box; empty once it has left the studio.
    box : str
        What the box was called, so that the card is found when it has left.
    day : str
        As ``2026-11-27``.
    engineer : str
        The role of the person at the box.
    loop : DestinationId
        The loop in which it stood; empty for none.
    settings : tuple of Setting
        In the order of the front panel.
    gains : map of port key to float, dB
        The input gains of its sockets.
    """

    id: RecallId
    unit: UnitId
    box: str
    day: str
    song: str = ""
    engineer: str = ""
    loop: DestinationId = DestinationId("")
    settings: tuple[Setting, ...] = ()
    gains: Mapping[str, float] = FrozenMap()
    note: str = ""
    photos: tuple[Photo, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "gains", FrozenMap.of(self.gains))


def is_day(text: str) -> bool:
    """Say whether a text is a day of the calendar, as ``2026-11-27``.

    References
    ----------
    ISO 8601-1:2019, 5.2.2.1, extended format.
    """
    try:
        return len(text) == 10 and text.isascii() and date.fromisoformat(text).isoformat() == text
    except ValueError:
        return False


def is_hash(text: str) -> bool:
    """Say whether a text is the hash of a photograph."""
    return _HASH.fullmatch(text) is not None


def card_fault(card: Recall) -> str:
    """Return what is wrong with a card in itself, in words; empty where nothing is."""
    if not is_day(card.day):
        return f"“{card.day[:40]}” is no day; write it as 2026-11-27"
    if len(card.settings) > MOST_SETTINGS:
        return f"it has {len(card.settings)} settings, and {MOST_SETTINGS} are the most"
    if len({s.name.casefold() for s in card.settings}) < len(card.settings):
        return "two of its settings bear one name"
    if any(not s.name or len(s.name) > 500 or len(s.value) > 500 for s in card.settings):
        return "a setting has a name of 1 to 500 letters and a value of at most 500"
    if len(card.note) > MOST_NOTE or max(map(len, (card.box, card.song, card.engineer))) > 500:
        return f"a note of it is longer than {MOST_NOTE:,} letters, or a name longer than 500"
    if any(not -200.0 <= gain <= 200.0 for gain in card.gains.values()):
        return "a gain of it is none from −200 to +200 dB"
    if len(card.photos) > MOST_PHOTOS:
        return f"it has {len(card.photos)} photographs, and {MOST_PHOTOS} are the most"
    for photo in card.photos:
        if not is_hash(photo.sha256) or len(photo.note) > 500 or (photo.taken and not is_day(photo.taken)):
            return "a photograph of it has no hash, no day, or too long a note"
    return ""
