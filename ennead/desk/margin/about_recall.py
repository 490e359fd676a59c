"""What the margin says of how boxes stood last, by their recall cards, and their gains set so again."""

from ennead.desk.margin.notes import Deed, Fact
from ennead.edits.change import Change, step
from ennead.edits.recalls import stand_as_noted
from ennead.reports.recall_rows import card_text, latest_card, loop_cards
from ennead.studio.document import Studio
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.recall import Recall


def unit_recall(studio: Studio, unit: UnitId) -> tuple[list[Fact], list[Deed]]:
    """Return how a box stood last, with what can be done about it; nothing where it has no card."""
    card = latest_card(studio, unit)
    if card is None:
        return [], [Deed("Note how it stands…", wish="recall")]
    return [_fact("Stood last", studio, card)], [Deed("Recall cards…", wish="recall"), *_again(studio, [card])]


def loop_recall(studio: Studio, loop: DestinationId) -> tuple[list[Fact], list[Deed]]:
    """Return how each box of a loop stood last in it, with what can be done about it."""
    found = [(studio.units[unit].name, card) for unit, card in loop_cards(studio, loop)]
    facts = [_fact(f"{name} stood last", studio, card) for name, card in found if card is not None]
    again = _again(studio, [card for _, card in found if card is not None])
    return facts, [Deed("Recall cards…", wish="recall"), *again] if found else []


def _fact(label: str, studio: Studio, card: Recall) -> Fact:
    return Fact(label, f"{card.day}{f', {card.song}' if card.song else ''}: {card_text(studio, card)}")


def _again(studio: Studio, cards: list[Recall]) -> list[Deed]:
    """Return the deed that sets the gains as last time, where one stands otherwise now."""
    turned = [
        card
        for card in cards
        if any(studio.settings_of(card.unit).gains.get(port) != gain for port, gain in card.gains.items())
    ]
    if not turned:
        return []
    names = " and ".join([card.box for card in turned])
    return [
        Deed(
            "Gains as last time",
            Change(f"Set {names} as last time", tuple([step(stand_as_noted, c.id) for c in turned])),
        )
    ]
