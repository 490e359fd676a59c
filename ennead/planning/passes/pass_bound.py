"""How long the passes of some jobs take at the least."""

from collections import defaultdict

from ennead.planning.passes.pass_problem import Job, PassProblem, bits, or_all


def lower_bound_s(problem: PassProblem) -> float:
    """Return a bound below every plan: of the passes of a song, longest first, the k-th is no shorter than the k-th longest job on any one thing.

    Jobs that take one thing stand in as many passes; of what there are several of, no pass takes more than there is. Where boxes may be
    shared on disjoint stretches, a thing that may be counts by the jobs that cannot share it with any other. Jobs of which each two stand in each
    other's way count as jobs on one thing do, whatever it is: three boxes used two by two need three passes.
    """
    by_song: dict[str, list[Job]] = defaultdict(list)
    for job in problem.jobs:
        by_song[job.song].append(job)
    return sum(_of_song_s(problem, jobs) for jobs in by_song.values())


def _of_song_s(problem: PassProblem, jobs: list[Job]) -> float:
    lengths: list[list[float]] = []
    for thing in {t for j in jobs for t in j.takes}:
        taking = sorted([j for j in jobs if thing in j.takes], key=lambda j: -j.length_s)
        if problem.share:
            # Of jobs that may stand together only those in conflict with all taken so far are sure to need a pass each.
            apart: list[Job] = []
            for job in taking:
                if all(_in_conflict(problem, job, other) for other in apart):
                    apart.append(job)
            taking = apart
        lengths.append([j.length_s for j in taking])
    for name, limit in problem.limits.items():
        needing = sorted([j for j in jobs if j.needs.get(name)], key=lambda j: -j.length_s)
        if needing and not problem.share:
            most = max(1, limit // min(j.needs[name] for j in needing))
            lengths.append([j.length_s for j in needing[::most]])
            lengths.append(_by_channels(needing, name, max(limit, *[j.needs[name] for j in needing])))
    lengths += _cliques(problem, jobs)
    lengths.append([max(j.length_s for j in jobs)])
    longest = max(map(len, lengths))
    return sum(max(row[k] for row in lengths if k < len(row)) + problem.setup_s for k in range(longest))


def _cliques(problem: PassProblem, jobs: list[Job]) -> list[list[float]]:
    """Return the lengths of sets of jobs of which no two can stand in one pass, longest first: grown from each job, by length and by room."""
    index = {job.id: n for n, job in enumerate(problem.jobs)}
    length = [job.length_s for job in problem.jobs]
    song = or_all(1 << index[job.id] for job in jobs)
    found: set[int] = set()
    for job in jobs:
        for by_room in (False, True):
            clique, left = 1 << index[job.id], problem.conflicts[index[job.id]] & song
            while left:
                best = max(
                    bits(left),
                    key=lambda n: ((left & problem.conflicts[n]).bit_count() if by_room else 0, length[n]),
                )
                clique |= 1 << best
                left &= problem.conflicts[best]
            found.add(clique)
    return [sorted([length[n] for n in bits(clique)], reverse=True) for clique in found]


def _by_channels(needing: list[Job], name: str, limit: int) -> list[float]:
    """Return the least lengths of passes by what fits into each: the longest jobs with more channels than k passes have need one more."""
    found: list[float] = []
    channels = 0
    for job in needing:
        channels += job.needs[name]
        while channels > len(found) * limit:
            found.append(job.length_s)
    return found


def _in_conflict(problem: PassProblem, one: Job, other: Job) -> bool:
    index = {job.id: n for n, job in enumerate(problem.jobs)}
    return bool(problem.conflicts[index[one.id]] >> index[other.id] & 1)
