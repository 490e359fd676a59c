"""A finding: what is wrong, why one would hear it, what to do, and the arithmetic behind it."""

from dataclasses import dataclass
from typing import Any, Final, Literal

from ennead.edits.change import Change
from ennead.studio.subjects import Subject

Severity = Literal["trouble", "caution", "note"]

SEVERITIES: Final[tuple[Severity, ...]] = ("trouble", "caution", "note")


@dataclass(frozen=True, slots=True)
class Request:
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
    does: Change | Request


@dataclass(frozen=True, slots=True)
class Finding:
    """Something an engineer would want to hear before the first cable.

    Parameters
    ----------
    rule : str
        Name of the rule: the module in `ennead.checks`.
    subject : Subject
        What it is about.
    concerns : tuple of str
        Ids of everything involved; lines and stops that are marked.
    message, why : str
        What is wrong; why one would hear it.
    cause : tuple of str
        What it rests on beside the objects it concerns: sockets, modes, menu entries, by their keys; never a name, a count or a length. A
        finding that was set aside comes back when it rests on something else.
    """

    rule: str
    severity: Severity
    subject: Subject
    concerns: tuple[str, ...]
    message: str
    why: str
    fixes: tuple[Fix, ...] = ()
    working: tuple[str, ...] = ()
    cause: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[str, Subject, str]:
        """What makes it the same finding after an edit elsewhere."""
        return (self.rule, self.subject, self.message)


def at(*sockets: Any) -> tuple[str, ...]:
    """Return sockets as the cause of a finding: of pairs of unit and port key, or of whatever has both as attributes; None is left out."""
    pairs = [(s.unit, s.port) if hasattr(s, "unit") else s for s in sockets if s is not None]
    return tuple(dict.fromkeys(f"{unit}.{port}" for unit, port in pairs if unit))


def rank(finding: Finding) -> int:
    """Return the place of a finding's severity: trouble first."""
    return SEVERITIES.index(finding.severity)
