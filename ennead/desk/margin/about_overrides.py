"""What the margin says of switches that stand otherwise on one session than on others, or in a scene."""

from ennead.desk.margin.notes import Deed, Fact
from ennead.edits.change import change
from ennead.edits.settings import settle, stated_by_sessions
from ennead.reports.move_rows import switch_words
from ennead.studio.document import Studio
from ennead.studio.house import Unit
from ennead.studio.switches import states


def override_facts(studio: Studio, unit: Unit) -> tuple[Fact, ...]:
    """Return which switches of a box are stated session by session, and which scenes state some of them above that."""
    stated = stated_by_sessions(studio, unit.id)
    if not stated:
        return ()
    facts = [Fact("Per session", ", ".join([switch_words(studio, s) for s in stated]))]
    masking = [
        s.name for s in studio.scenes.values() if any(states(s.settings.get(unit.id, ()), one) for one in stated)
    ]
    return (*facts, Fact("Scenes above it", ", ".join(masking))) if masking else tuple(facts)


def of_every_session(studio: Studio, unit: Unit) -> tuple[Deed, ...]:
    """Return the button that lets every session have these switches as the current one has them."""
    stated = stated_by_sessions(studio, unit.id)
    if not stated:
        return ()
    said = switch_words(studio, stated[0]) if len(stated) == 1 else f"these {len(stated)} switches"
    return (Deed("Same on every session", change(f"Set {said} of {unit.name} on every session", settle, unit.id)),)
