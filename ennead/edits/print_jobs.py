"""Edits of what is to be printed through boxes: jobs, their order, what has been printed, how passes are planned."""

from collections.abc import Mapping, Sequence
from typing import Any, Final

from ennead.edits.names import clean_name
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.ids import JobId, UnitId
from ennead.studio.print_job import MOST_JOBS, PrintJob, job_fault, printing_fault, wait_in_ring
from ennead.studio.recall import is_day
from ennead.studio.record import names_of, replace

_FACTS: Final = frozenset(names_of(PrintJob)) - {"id", "printed"}


def add_job(studio: Studio, song: str, track: str, boxes: Sequence[UnitId], length_s: float, **facts: Any) -> Studio:
    """Add a job at the end of the list.

    Raises
    ------
    UnknownObject, BadValue
    """
    if len(studio.prints) >= MOST_JOBS:
        raise BadValue("the print jobs", len(studio.prints) + 1, f"{MOST_JOBS:,} are the most; remove some first.")
    studio, key = studio.with_counter("prints")
    facts |= {"song": song, "track": track, "boxes": tuple(boxes), "length_s": float(length_s)}
    blank = PrintJob(JobId(key), "", "", (), 1.0)
    return _put(studio, replace(blank, **_checked(facts)))


def change_job(studio: Studio, job: JobId, **facts: Any) -> Studio:
    """Change what is stated of a job; a card for a box it no longer passes goes.

    Raises
    ------
    UnknownObject, BadValue
    """
    new = replace(_job(studio, job), **_checked(facts))
    return _put(studio, replace(new, cards={u: c for u, c in new.cards.items() if u in new.boxes}))


def remove_job(studio: Studio, job: JobId) -> Studio:
    """Remove a job; no other waits for it any more.

    Raises
    ------
    UnknownObject
    """
    _job(studio, job)
    left = studio.prints.without(job)
    return replace(studio, prints=left.put_all(_not_waiting(left, {job})))


def move_job(studio: Studio, job: JobId, by: int) -> Studio:
    """Move a job in the list by so many places.

    Raises
    ------
    UnknownObject
    BadValue
        If jobs would then wait for each other in a ring.
    """
    _job(studio, job)
    order = list(studio.prints)
    at = order.index(job)
    to = max(0, min(len(order) - 1, at + by))
    order.insert(to, order.pop(at))
    # The list is in the order of the ids: each job takes the id of the place where it stands now.
    now = dict(zip(order, studio.prints, strict=True))
    moved = {
        now[key]: replace(studio.prints[key], id=now[key], after=tuple([now[w] for w in studio.prints[key].after]))
        for key in order
    }
    new = replace(studio, prints=studio.prints.put_all(moved))
    _check_order(new, moved[now[job]].track)
    return new


def set_printed(studio: Studio, job: JobId, day: str) -> Studio:
    """State the day on which a job was printed; empty for not yet, or for once more.

    Raises
    ------
    UnknownObject, BadValue
    """
    if day and not is_day(day):
        raise BadValue("the day of a print", day, "Write it as 2026-11-27.")
    old = _job(studio, job)
    return replace(studio, prints=studio.prints.put(job, replace(old, printed=day)))


def set_printing(studio: Studio, **facts: Any) -> Studio:
    """State how passes are planned: `setup_s`, `share`.

    Raises
    ------
    BadValue
    """
    new = replace(studio.printing, **facts)
    if fault := printing_fault(new):
        raise BadValue("the time to dial", new.setup_s, f"{fault[:1].upper()}{fault[1:]}.")
    return replace(studio, printing=new)


def jobs_without(studio: Studio, unit: UnitId) -> Mapping[JobId, PrintJob]:
    """Return the list of jobs without a box that leaves; a job that passed that box alone leaves with it."""
    gone = {key for key, job in studio.prints.items() if job.boxes == (unit,)}
    left = studio.prints.without(*gone)
    left = left.put_all(_not_waiting(left, gone))
    passing = {
        key: replace(
            job,
            boxes=tuple([u for u in job.boxes if u != unit]),
            cards={u: c for u, c in job.cards.items() if u != unit},
        )
        for key, job in left.items()
        if unit in job.boxes
    }
    return left.put_all(passing)


def _not_waiting(jobs: Mapping[JobId, PrintJob], gone: set[JobId]) -> dict[JobId, PrintJob]:
    return {
        key: replace(job, after=tuple([w for w in job.after if w not in gone]))
        for key, job in jobs.items()
        if not gone.isdisjoint(job.after)
    }


def _job(studio: Studio, job: JobId) -> PrintJob:
    try:
        return studio.prints[job]
    except KeyError:
        raise UnknownObject("print job", job) from None


def _checked(facts: Mapping[str, Any]) -> dict[str, Any]:
    found = dict(facts)
    for name, value in facts.items():
        if name not in _FACTS:
            raise BadValue("a fact of a print job", name, f"Known are: {', '.join(sorted(_FACTS))}.")
        if name in ("song", "track", "note"):
            found[name] = clean_name(value, f"the {name} of a print job", may_be_empty=name != "track")
    return found


def _put(studio: Studio, job: PrintJob) -> Studio:
    if fault := job_fault(job):
        raise BadValue(f"the print of {job.track}", job.id, f"{fault[:1].upper()}{fault[1:]}.")
    for unit in job.boxes:
        studio.unit(unit)
    for card in job.cards.values():
        if card not in studio.recalls:
            raise UnknownObject("recall card", card)
    for other in job.after:
        if other not in studio.prints:
            raise UnknownObject("print job", other)
    new = replace(studio, prints=studio.prints.put(job.id, job))
    _check_order(new, job.track)
    return new


def _check_order(studio: Studio, track: str) -> None:
    if wait_in_ring(studio.prints):
        raise BadValue(f"the order of {track}", "a ring", "Jobs would wait for each other; take one of the waits away.")
