"""Edits of recall cards: how a box stands, noted; photographs of it; and the box set as it stood."""

from collections.abc import Collection, Mapping, Sequence
from typing import Any, Final

from ennead.edits.names import clean_name
from ennead.edits.settings import set_gain
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import DestinationId, RecallId, UnitId
from ennead.studio.recall import MOST_CARDS, Photo, Recall, Setting, card_fault
from ennead.studio.record import replace

#: Facts a person may state; the box is given when the card is made, and photographs have edits of their own.
_FACTS: Final = frozenset({"day", "song", "engineer", "loop", "settings", "gains", "note"})


def add_card(studio: Studio, unit: UnitId, day: str, **facts: Any) -> Studio:
    """Note how a box stands on a day; where no gains are stated, the noted gains of its inputs are taken.

    Raises
    ------
    UnknownObject, BadValue
    """
    name = studio.unit(unit).name
    if len(studio.recalls) >= MOST_CARDS:
        raise BadValue("the recall cards", len(studio.recalls) + 1, f"{MOST_CARDS:,} are the most; remove some first.")
    facts.setdefault("gains", studio.settings_of(unit).gains)
    studio, key = studio.with_counter("recalls")
    return _put(studio, replace(Recall(RecallId(key), unit, name, day), **_checked(studio, facts)))


def change_card(studio: Studio, card: RecallId, **facts: Any) -> Studio:
    """Change what a card states.

    Raises
    ------
    UnknownObject, BadValue
    """
    return _put(studio, replace(_card(studio, card), **_checked(studio, facts)))


def remove_card(studio: Studio, card: RecallId) -> Studio:
    """Remove a card; print jobs that were dialled by it are no longer.

    Raises
    ------
    UnknownObject
    """
    _card(studio, card)
    prints = {
        job.id: replace(job, cards={u: c for u, c in job.cards.items() if c != card})
        for job in studio.prints.values()
        if card in job.cards.values()
    }
    return replace(
        studio,
        recalls=studio.recalls.without(card),
        prints=studio.prints.put_all(prints) if prints else studio.prints,
    )


def add_photo(studio: Studio, card: RecallId, photo: Photo) -> Studio:
    """Add a photograph to a card; its bytes are stored by whoever applies the edit.

    Raises
    ------
    UnknownObject, BadValue
    """
    old = _card(studio, card)
    if any(p.sha256 == photo.sha256 for p in old.photos):
        raise BadValue("a photograph", old.box, "The card holds this picture already. Choose another one.")
    clean = replace(photo, note=clean_name(photo.note, "the note of a photograph", may_be_empty=True))
    return _put(studio, replace(old, photos=(*old.photos, clean)))


def remove_photo(studio: Studio, card: RecallId, sha256: str) -> Studio:
    """Take a photograph off a card.

    Raises
    ------
    UnknownObject
    """
    old = _card(studio, card)
    return _put(studio, replace(old, photos=tuple([p for p in old.photos if p.sha256 != sha256])))


def stand_as_noted(studio: Studio, card: RecallId) -> Studio:
    """Set the input gains of a box as a card has them; what has no socket in the studio is dialled by hand.

    Raises
    ------
    UnknownObject, BadValue
    """
    noted = _card(studio, card)
    ports = studio.profile_of(noted.unit).port_by_key
    for port, gain in noted.gains.items():
        if port in ports:
            studio = set_gain(studio, noted.unit, port, gain)
    return studio


def cards_without(studio: Studio, unit: UnitId) -> FrozenMap[RecallId, Recall]:
    """Return the cards once a box is gone: they are kept under what it was called."""
    cards = {c.id: replace(c, unit=UnitId("")) for c in studio.recalls.values() if c.unit == unit}
    return studio.recalls.put_all(cards) if cards else studio.recalls


def cards_off_loops(studio: Studio, gone: Collection[DestinationId]) -> FrozenMap[RecallId, Recall]:
    """Return the cards once some loops are gone: the boxes stood in none that is known."""
    cards = {c.id: replace(c, loop=DestinationId("")) for c in studio.recalls.values() if c.loop in gone}
    return studio.recalls.put_all(cards) if cards else studio.recalls


def _card(studio: Studio, card: RecallId) -> Recall:
    try:
        return studio.recalls[card]
    except KeyError:
        raise UnknownObject("recall card", card) from None


def _checked(studio: Studio, facts: Mapping[str, Any]) -> dict[str, Any]:
    found = dict(facts)
    for name, value in facts.items():
        if name not in _FACTS:
            raise BadValue("a fact of a recall card", name, f"Known are: {', '.join(sorted(_FACTS))}.")
        if name in ("song", "engineer"):
            found[name] = clean_name(value, f"the {name} of a recall card", may_be_empty=True)
        elif name == "settings":
            found[name] = clean_settings(value)
        elif name == "loop" and value and studio.destination(DestinationId(value)).kind != "loop":
            raise BadValue("the loop of a recall card", value, "Choose an outboard loop, or none.")
    return found


def clean_settings(settings: Sequence[Setting]) -> tuple[Setting, ...]:
    """Return settings with their words on one line each.

    Raises
    ------
    BadValue
        If a setting has no name.
    """
    return tuple(
        [
            Setting(clean_name(s.name, "a setting"), clean_name(s.value, "the value of a setting", may_be_empty=True))
            for s in settings
        ]
    )


def _put(studio: Studio, card: Recall) -> Studio:
    if fault := card_fault(card):
        raise BadValue(f"the recall card of {card.box}", card.day, f"{fault[:1].upper()}{fault[1:]}.")
    return replace(studio, recalls=studio.recalls.put(card.id, card))
