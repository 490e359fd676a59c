"""What passes are planned from: jobs, what each takes for itself alone, and what must come before."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from ennead.studio.ids import JobId


@dataclass(frozen=True, slots=True)
class Job:
    """One job as the planner sees it.

    Parameters
    ----------
    length_s : float, s
        With its tail.
    takes : frozenset of str
        What no other job of its pass may take: boxes, its track, sockets.
    needs : map of str to int
        Channels of what there are several of, by its name.
    dials : map of box to card
        How each box has to stand; a box without a card stands in a way of its own for every job.
    boxes : frozenset of str
        Those of `takes` that may be shared on disjoint stretches, sockets of their loops among them.
    """

    id: JobId
    song: str
    length_s: float
    takes: frozenset[str]
    from_s: float = 0.0
    needs: Mapping[str, int] = field(default_factory=dict)
    dials: Mapping[str, str] = field(default_factory=dict)
    boxes: frozenset[str] = frozenset()
    after: frozenset[JobId] = frozenset()

    @property
    def to_s(self) -> float:
        """Where in the song it ends, with its tail."""
        return self.from_s + self.length_s


@dataclass(frozen=True)
class PassProblem:
    """Jobs that are to be printed.

    Parameters
    ----------
    limits : map of str to int
        How many channels there are of what jobs need.
    setup_s : float, s
        Before each pass.
    share : bool
        Whether boxes that stand the same may serve several jobs of a pass, one after the other.
    """

    jobs: tuple[Job, ...]
    limits: Mapping[str, int]
    setup_s: float
    share: bool = False

    # A search asks of the same sets of jobs over and over.
    @cached_property
    def _lengths(self) -> dict[int, float]:
        return {}

    @cached_property
    def _waits(self) -> dict[int, int]:
        return {}

    @cached_property
    def _fits(self) -> dict[int, bool]:
        return {}

    @cached_property
    def conflicts(self) -> tuple[int, ...]:
        """Of each job the others with which it cannot stand in one pass, as bits."""
        found = [0] * len(self.jobs)
        for i, one in enumerate(self.jobs):
            for j in range(i):
                if not self._may_meet(one, self.jobs[j]):
                    found[i] |= 1 << j
                    found[j] |= 1 << i
        return tuple(found)

    def _may_meet(self, one: Job, other: Job) -> bool:
        if one.song != other.song or one.id in other.after or other.id in one.after:
            return False
        both = one.takes & other.takes
        if not both:
            return True
        apart = one.to_s <= other.from_s or other.to_s <= one.from_s
        return (
            self.share
            and apart
            and both <= one.boxes
            and both <= other.boxes
            and all(one.dials.get(b) and one.dials[b] == other.dials.get(b) for b in both & one.dials.keys())
        )

    @cached_property
    def before(self) -> tuple[int, ...]:
        """Of each job all that must be printed before it, as bits; what those wait for included."""
        index = {job.id: n for n, job in enumerate(self.jobs)}
        found = [sum(1 << index[w] for w in job.after if w in index) for job in self.jobs]
        for _ in self.jobs:
            wider = [mask | or_all(found[n] for n in bits(mask)) for mask in found]
            if wider == found:
                break
            found = wider
        return tuple(found)

    def waits_for(self, mask: int) -> int:
        """Return all that must be printed before a pass, as bits."""
        known = self._waits.get(mask)
        if known is None:
            known = self._waits[mask] = or_all([self.before[n] for n in bits(mask)])
        return known

    def in_order(self, passes: Sequence[int]) -> list[int] | None:
        """Return passes in an order in which every job follows what it waits for among them, or None where there is none."""
        missing = or_all(passes)
        left, order = [(mask, self.waits_for(mask)) for mask in passes], []
        while left:
            ready = [mask for mask, waits in left if not waits & missing]
            if not ready:
                return None
            order += ready
            missing &= ~or_all(ready)
            left = [(mask, waits) for mask, waits in left if mask & missing]
        return order

    def length_s(self, mask: int) -> float:
        """Return how long a pass is: from where its first job begins to where its last one ends."""
        known = self._lengths.get(mask)
        if known is None:
            jobs = [self.jobs[n] for n in bits(mask)]
            known = max(j.to_s for j in jobs) - min(j.from_s for j in jobs) if jobs else 0.0
            self._lengths[mask] = known
        return known

    def fits(self, mask: int) -> bool:
        """Say whether there are channels enough for the jobs of a pass."""
        known = self._fits.get(mask)
        if known is None:
            known = self._fits[mask] = self._has_channels(mask)
        return known

    def _has_channels(self, mask: int) -> bool:
        jobs = [self.jobs[n] for n in bits(mask)]
        for name, limit in self.limits.items():
            needing = [j for j in jobs if j.needs.get(name)]
            if sum(j.needs[name] for j in needing) <= limit:
                continue
            # At one time, where stretches that are disjoint may share.
            if not self.share or any(
                sum(o.needs[name] for o in needing if o.from_s <= j.from_s < o.to_s) > limit for j in needing
            ):
                return False
        return True

    def total_s(self, passes: Iterable[int]) -> float:
        """Return how long some passes take, with what has to be dialled before each."""
        return sum(self.length_s(mask) + self.setup_s for mask in passes)


def bits(mask: int) -> list[int]:
    """Return the numbers of the bits that are set, from the lowest."""
    found = []
    while mask:
        low = mask & -mask
        found.append(low.bit_length() - 1)
        mask ^= low
    return found


def or_all(masks: Iterable[int]) -> int:
    """Return all bits that are set in any of some masks."""
    found = 0
    for mask in masks:
        found |= mask
    return found
