"""Partition findings into open ones and those set aside: an entry holds while the digest of the finding is unchanged."""

import hashlib
from collections.abc import Iterable
from typing import NamedTuple

from ennead.checks.finding import Finding
from ennead.studio.ids import SessionId
from ennead.studio.set_aside import SetAside


class Aside(NamedTuple):
    """A finding that is set aside, and the entry by which it is."""

    finding: Finding
    entry: SetAside


class Sorted(NamedTuple):
    """The findings that are open, and those that are set aside; each in the order they came."""

    open: tuple[Finding, ...]
    aside: tuple[Aside, ...]


def digest_of(finding: Finding) -> str:
    """Return what a finding rests on, in twelve hexadecimal digits.

    It is made of the rule, the severity, the subject, what is concerned, in whatever order, and the cause that the rule states. A renaming,
    another count or another length leaves it as it is; one more member, another object or another socket does not.

    References
    ----------
    FIPS 180-4: SHA-256.
    """
    parts = (finding.rule, finding.severity, finding.subject.key, sorted({*finding.concerns}), sorted({*finding.cause}))
    return hashlib.sha256(repr(parts).encode()).hexdigest()[:12]


def sort_out(findings: Iterable[Finding], entries: Iterable[SetAside], session: SessionId) -> Sorted:
    """Return findings by whether they are set aside on a session."""
    known = {(e.rule, e.subject, e.digest): e for e in entries if e.session in ("", session)}
    if not known:
        return Sorted(tuple(findings), ())
    rules, left, aside = {rule for rule, _, _ in known}, list[Finding](), list[Aside]()
    for finding in findings:
        entry = None
        if finding.rule in rules:
            entry = known.get((finding.rule, finding.subject.key, digest_of(finding)))
        if entry is None:
            left.append(finding)
        else:
            aside.append(Aside(finding, entry))
    return Sorted(tuple(left), tuple(aside))
