"""A finding: what is wrong, why one would hear it, what to do, and the arithmetic behind it."""

from dataclasses import dataclass
from typing import Final, Literal

from ennead.edits.change import Change

Severity = Literal["trouble", "caution", "note"]

SEVERITIES: Final[tuple[Severity, ...]] = ("trouble", "caution", "note")


@dataclass(frozen=True, slots=True)
class Wish:
    """A change only a search can make, by name; planning fulfils it.

    ``place`` finds a source another socket; ``allocate`` proposes one for every source of a session; ``clock`` brings
    a unit and all it meets onto one clock with the fewest new cables; ``shortage`` asks what binds and what helps.
    """

    name: Literal["place", "allocate", "clock", "shortage"]
    about: str


@dataclass(frozen=True, slots=True)
class Fix:
    """One way out, in a button's words."""

    text: str
    does: Change | Wish


@dataclass(frozen=True, slots=True)
class Finding:
    """Something an engineer would want to hear before the first cable.

    Parameters
    ----------
    rule : str
        Name of the rule: the module in `ennead.checks`.
    sheet : str
        The sheet on which it is best seen.
    subject : str
        Id of what it is about.
    concerns : tuple of str
        Ids of everything involved; lines and stops that are marked.
    message, why : str
        What is wrong; why one would hear it.
    """

    rule: str
    severity: Severity
    sheet: str
    subject: str
    concerns: tuple[str, ...]
    message: str
    why: str
    fixes: tuple[Fix, ...] = ()
    working: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[str, str, str]:
        """What makes it the same finding after an edit elsewhere."""
        return (self.rule, self.subject, self.message)


def rank(finding: Finding) -> int:
    """Return the place of a finding's severity: trouble first."""
    return SEVERITIES.index(finding.severity)
