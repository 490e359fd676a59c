"""Edits of what is set aside: a finding put away with a reason, and taken up again."""

from ennead.edits.names import clean_name
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.ids import LETTERS, SessionId
from ennead.studio.record import replace
from ennead.studio.set_aside import MOST_SET_ASIDE, SetAside, entry_fault


def set_aside(studio: Studio, entry: SetAside) -> Studio:
    """Set a finding aside, on the session of the entry or on all; one that was there already has the new reason.

    Raises
    ------
    UnknownObject
        If there is no such session.
    BadValue
        If the entry is none, or there are too many.
    """
    if entry.session and entry.session not in studio.sessions:
        raise UnknownObject("session", entry.session)
    entry = replace(
        entry,
        reason=clean_name(entry.reason, "a reason", may_be_empty=True),
        by=clean_name(entry.by, "a role", may_be_empty=True),
    )
    if fault := entry_fault(entry):
        raise BadValue("a finding to set aside", entry.rule, f"{fault[:1].upper()}{fault[1:]}.")
    others = [e for e in studio.set_aside if e.key != entry.key]
    if len(others) >= MOST_SET_ASIDE:
        raise BadValue("findings set aside", len(others) + 1, f"{MOST_SET_ASIDE:,} are the most; take some up again.")
    return replace(studio, set_aside=(*others, entry))


def take_up(studio: Studio, entry: SetAside) -> Studio:
    """Take a finding up again that was set aside."""
    return replace(studio, set_aside=tuple([e for e in studio.set_aside if e.key != entry.key]))


def with_subjects_that_are_there(studio: Studio) -> Studio:
    """Return the studio without the entries that have lost their subject or their session."""
    held = tuple([e for e in studio.set_aside if _is_there(studio, e.subject) and _is_there(studio, e.session)])
    return studio if len(held) == len(studio.set_aside) else replace(studio, set_aside=held)


def _is_there(studio: Studio, key: str) -> bool:
    """Say whether what an id names is in the studio; what is no id, a kind of need, say, always is."""
    if not key[1:].isdigit():
        return True
    if key[0] == LETTERS["cords"]:
        cords = [*studio.as_built.cords, *[c.id for scene in studio.scenes.values() for c in scene.cords]]
        return key in cords
    maps = [name for name, letter in LETTERS.items() if letter == key[0] and name != "cords"]
    return not maps or any(key in getattr(studio, name) for name in maps)


def this_session(studio: Studio, *, everywhere: bool) -> SessionId:
    """Return the session an entry is for: the one at hand, or empty for all."""
    return SessionId("") if everywhere else studio.current.id
