"""Recall cards as rows: one card's lines, the cards that hold some words, two cards beside each other, the latest of a loop's boxes."""

from collections.abc import Iterable
from typing import Any, Final, NamedTuple

from ennead.studio.document import Studio
from ennead.studio.ids import DestinationId, UnitId, number_of
from ennead.studio.recall import Recall

RECALL_COLUMNS: Final = ("card", "box", "day", "song", "engineer", "loop", "setting", "value")


class Compared(NamedTuple):
    """One setting on two cards; None where a card does not have it."""

    name: str
    first: str | None
    second: str | None

    @property
    def differs(self) -> bool:
        """Whether the two are not the same."""
        if self.first is None or self.second is None:
            return True
        return self.first.casefold() != self.second.casefold()


def box_name(studio: Studio, card: Recall) -> str:
    """Return what the box of a card is called: as it is now, or as it was when it left."""
    unit = studio.units.get(card.unit)
    return unit.name if unit is not None else card.box


def gain_rows(studio: Studio, card: Recall) -> list[tuple[str, str]]:
    """Return the gains of a card by the labels of their sockets."""
    unit = studio.units.get(card.unit)
    ports = studio.profiles[unit.profile].port_by_key if unit is not None else {}
    return [
        (f"Gain {ports[key].label if key in ports else key}", f"{gain:+g} dB".replace("-", "−"))
        for key, gain in card.gains.items()
    ]


def card_lines(studio: Studio, card: Recall) -> list[tuple[str, str]]:
    """Return what there is to dial on a card: its settings in their order, then its gains."""
    return [*[(s.name, s.value) for s in card.settings], *gain_rows(studio, card)]


def card_text(studio: Studio, card: Recall) -> str:
    """Return what there is to dial on a card, on one line."""
    return ", ".join([f"{name} {value}".strip() for name, value in card_lines(studio, card)]) or "nothing noted"


def card_title(studio: Studio, card: Recall) -> str:
    """Return by what a card is known in a list: ``Capstan · 2026-09-01 · The storm``."""
    return " · ".join(filter(None, (box_name(studio, card), card.day, card.song)))


def newest_first(cards: Iterable[Recall]) -> list[Recall]:
    """Return cards by their day, and those of one day by when they were made, the latest first."""
    return sorted(cards, key=lambda c: (c.day, number_of(c.id)), reverse=True)


def find_cards(studio: Studio, words: str) -> list[Recall]:
    """Return the cards that hold every one of some words, anywhere and in whatever case; all for none, the newest first."""
    wanted = words.casefold().split()
    loops = {key: d.name for key, d in studio.destinations.items()}
    return newest_first(
        [card for card in studio.recalls.values() if not wanted or _holds(_words_of(studio, card, loops), wanted)]
    )


def _holds(text: str, wanted: list[str]) -> bool:
    return all(word in text for word in wanted)


def _words_of(studio: Studio, card: Recall, loops: dict[DestinationId, str]) -> str:
    """Return all words of a card; they are put together once for as long as nothing they name is called otherwise."""
    unit = studio.units.get(card.unit)
    named = box_name(studio, card), loops.get(card.loop, ""), unit.profile if unit is not None else ""
    held: tuple[tuple[str, str, str], str] | None = card.__dict__.get("_words")
    if held is None or held[0] != named:
        parts = [*named[:2], card.box, card.day, card.song, card.engineer, card.note]
        parts += [f"{name} {value}" for name, value in card_lines(studio, card)]
        parts += [f"{photo.shows} {photo.taken} {photo.note}" for photo in card.photos]
        # Beside the fields of a frozen value, as a cached property is.
        held = card.__dict__["_words"] = named, "\n".join(parts).casefold()
    return held[1]


def latest_card(studio: Studio, unit: UnitId, song: str = "") -> Recall | None:
    """Return the newest card of a box, one of a song before all others; None where it has none."""
    cards = newest_first([c for c in studio.recalls.values() if c.unit == unit])
    return next((c for c in cards if song and c.song.casefold() == song.casefold()), cards[0] if cards else None)


def loop_cards(studio: Studio, loop: DestinationId, song: str = "") -> list[tuple[UnitId, Recall | None]]:
    """Return the boxes of a loop in order, each with the card that says how it stood last; one noted in this loop goes before."""
    found = []
    for unit in studio.destination(loop).boxes:
        here = newest_first([c for c in studio.recalls.values() if c.unit == unit and c.loop == loop])
        of_song = [c for c in here if song and c.song.casefold() == song.casefold()]
        found.append((unit, next(iter(of_song or here), latest_card(studio, unit, song))))
    return found


def compare_cards(studio: Studio, first: Recall, second: Recall) -> list[Compared]:
    """Return every setting of two cards with both values, in the order of the first, then what the second has besides."""
    one = {name.casefold(): (name, value) for name, value in card_lines(studio, first)}
    two = {name.casefold(): (name, value) for name, value in card_lines(studio, second)}
    rows = [Compared(name, value, two.get(key, ("", None))[1]) for key, (name, value) in one.items()]
    return rows + [Compared(name, None, value) for key, (name, value) in two.items() if key not in one]


def recall_table(studio: Studio) -> list[dict[str, Any]]:
    """Return all cards as rows, one a setting; a card without any has one row."""
    rows = []
    for card in newest_first(studio.recalls.values()):
        loop = studio.destinations[card.loop].name if card.loop else ""
        head = {"card": card.id, "box": box_name(studio, card), "day": card.day, "song": card.song}
        head |= {"engineer": card.engineer, "loop": loop}
        lines = card_lines(studio, card)
        lines += [("Note", card.note)] if card.note else []
        lines += [
            ("Photograph", f"{p.shows}, {p.taken or 'no day'}{f', {p.note}' if p.note else ''}") for p in card.photos
        ]
        rows += [{**head, "setting": name, "value": value} for name, value in lines or [("", "")]]
    return rows
