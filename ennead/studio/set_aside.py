"""Entries for findings that are set aside: the digest they hold for, their scope and the reason."""

import re
from typing import Final

from ennead.studio.ids import SessionId
from ennead.studio.record import record

#: The longest reason, and the longest name under one. House default.
MOST_REASON: Final = 500
#: More than are set aside by hand. House default.
MOST_SET_ASIDE: Final = 2_000


@record(frozen=True)
class SetAside:
    """A finding that is not to be shown again while it rests on the same things.

    Parameters
    ----------
    rule, subject : str
        Of the finding.
    digest : str
        What the finding rests on, in twelve hexadecimal digits.
    session : SessionId
        The session on which it is set aside; empty for all.
    reason, by : str
        The reason, and the role of the person that decided it.
    at : str
        When, as ISO 8601.
    """

    rule: str
    subject: str
    digest: str
    session: SessionId = SessionId("")
    reason: str = ""
    by: str = ""
    at: str = ""

    @property
    def key(self) -> tuple[str, str, str, SessionId]:
        """What makes it the same entry."""
        return self.rule, self.subject, self.digest, self.session


def entry_fault(entry: SetAside) -> str:
    """Return what is wrong with an entry, in words; empty where nothing is."""
    if not re.fullmatch(r"[a-z_]{1,60}", entry.rule) or not re.fullmatch(r"[0-9a-f]{12}", entry.digest):
        return "its rule or its digest is none"
    if len(entry.subject) > MOST_REASON or max(len(entry.reason), len(entry.by), len(entry.at)) > MOST_REASON:
        return f"a text of it is longer than {MOST_REASON} characters"
    return ""
