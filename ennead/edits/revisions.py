"""Edits of kept revisions: one more, one under another name, one less."""

from typing import Final

from ennead.edits.names import clean_name
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.ids import RevisionId
from ennead.studio.record import replace
from ennead.studio.revision import Revision

#: Of one studio; each holds a whole one.
MOST_REVISIONS: Final = 200


def keep_revision(studio: Studio, name: str, made: str, body: str) -> Studio:
    """Keep a studio under a name.

    Parameters
    ----------
    made : str
        When that is, as ``2026-11-27 05:12``.
    body : str
        The studio to keep, in the interchange form; without the revisions it has itself.

    Raises
    ------
    BadValue
        If another revision has the name, or there are too many.
    """
    if len(studio.revisions) >= MOST_REVISIONS:
        raise BadValue("the kept revisions", len(studio.revisions) + 1, f"Keep them to {MOST_REVISIONS}.")
    name = clean_name(name, "the name of a revision")
    if any(r.name.casefold() == name.casefold() for r in studio.revisions.values()):
        raise BadValue("the name of a revision", name, "Another revision has it.")
    studio, key = studio.with_counter("revisions")
    new = Revision(RevisionId(key), name, made, body)
    return replace(studio, revisions=studio.revisions.put(new.id, new))


def remove_revision(studio: Studio, revision: RevisionId) -> Studio:
    """Let a kept revision go.

    Raises
    ------
    UnknownObject
    """
    if revision not in studio.revisions:
        raise UnknownObject("revision", revision)
    return replace(studio, revisions=studio.revisions.without(revision))


def free_name(studio: Studio, stem: str) -> str:
    """Return a name that no revision has: a stem and the next number."""
    taken, number = {r.name.casefold() for r in studio.revisions.values()}, 1
    while f"{stem} {number}".casefold() in taken:
        number += 1
    return f"{stem} {number}"
