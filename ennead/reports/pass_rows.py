"""Print passes as rows: the timetable, what to dial before each pass, what to do once a job is printed."""

from collections.abc import Mapping
from typing import Any, Final, NamedTuple

from ennead.planning.passes.print_plan import StudioPasses
from ennead.reports.recall_rows import card_text
from ennead.studio.document import Studio
from ennead.studio.ids import RecallId, UnitId
from ennead.studio.print_job import PrintJob

PASS_COLUMNS: Final = ("pass", "starts", "length", "song", "track", "boxes", "dial", "afterwards")


class PassRow(NamedTuple):
    """One pass of the timetable.

    Parameters
    ----------
    starts_s : float, s
        When it is rolled, from the beginning of the first setup.
    dials : tuple of str
        What to dial before it, a box each.
    """

    n: int
    starts_s: float
    length_s: float
    song: str
    jobs: tuple[PrintJob, ...]
    dials: tuple[str, ...]


def clock_text(seconds: float) -> str:
    """Return a length of time as on a tape counter: ``4:05``, ``1:02:00``."""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    return f"{hours}:{rest // 60:02d}:{rest % 60:02d}" if hours else f"{rest // 60}:{rest % 60:02d}"


def pass_rows(studio: Studio, found: StudioPasses) -> list[PassRow]:
    """Return the passes with when each starts and what is dialled before it."""
    rows, at = [], 0.0
    for n, (numbers, dials) in enumerate(zip(found.plan.passes, found.dials, strict=True), start=1):
        jobs = tuple([found.jobs[i] for i in numbers])
        length = found.problem.length_s(sum(1 << i for i in numbers))
        at += found.problem.setup_s
        rows.append(PassRow(n, at, length, jobs[0].song, jobs, _dials(studio, dials)))
        at += length
    return rows


def _dials(studio: Studio, dials: Mapping[str, str]) -> tuple[str, ...]:
    said = []
    for box, card in dials.items():
        name = studio.units[UnitId(box)].name
        noted = studio.recalls.get(RecallId(card))
        said.append(f"{name}: {card_text(studio, noted)}" if noted is not None else f"{name}: no card, dial by ear")
    return tuple(said)


def boxes_of(studio: Studio, job: PrintJob) -> str:
    """Return the boxes of a job in order."""
    return " → ".join([studio.units[u].name for u in job.boxes])


def afterwards(studio: Studio, job: PrintJob) -> tuple[str, ...]:
    """Return what to do once a job is printed, in order."""
    left = [j for j in studio.prints.values() if not j.printed and j.id != job.id]
    free = [studio.units[u].name for u in job.boxes if not any(u in j.boxes for j in left)]
    kept = "the MIDI and its instrument" if job.kept == "MIDI" else "the dry take"
    steps = [
        f"Listen to the print of {job.track} against the original, to its end.",
        f"Keep {kept} of {job.track} and mute it; what plays now is the print.",
        f"Take the insert off {job.track}: else it passes {boxes_of(studio, job)} twice.",
    ]
    steps += [f"{' and '.join(free)} {'is' if len(free) == 1 else 'are'} free again."] if free else []
    if not left:
        steps.append("Nothing is left to print: the song can be exported faster than it plays.")
    return tuple(steps)


def afterwards_line(studio: Studio, job: PrintJob) -> str:
    """Return the same as one line: what is to be done, in few words."""
    left = [j for j in studio.prints.values() if not j.printed and j.id != job.id]
    free = [studio.units[u].name for u in job.boxes if not any(u in j.boxes for j in left)]
    kept = "the MIDI" if job.kept == "MIDI" else "the dry take"
    more = f"; {' and '.join(free)} {'is' if len(free) == 1 else 'are'} free again" if free else ""
    return f"{job.track}: listen to its end, keep and mute {kept}, take the insert off{more}."


def passes_row(studio: Studio, found: StudioPasses) -> dict[str, Any]:
    """Return the passes as the command line prints them."""
    return {
        "passes": [
            {
                "n": row.n,
                "starts_s": row.starts_s,
                "length_s": row.length_s,
                "song": row.song,
                "jobs": [{"track": j.track, "boxes": [studio.units[u].name for u in j.boxes]} for j in row.jobs],
                "dial": list(row.dials),
            }
            for row in pass_rows(studio, found)
        ],
        "total_s": found.plan.total_s,
        "lower_bound_s": found.plan.bound_s,
        "proven": found.plan.proven,
        "dials": found.plan.dials,
        "setup_s": found.problem.setup_s,
        "cannot": [{"track": studio.prints[key].track, "why": why} for key, why in found.cannot.items()],
    }


def passes_said(found: StudioPasses) -> str:
    """Return how long all passes take, and how sure it is that no plan is shorter."""
    plan = found.plan
    if not plan.passes:
        return "Nothing is left to print."
    many = f"{len(plan.passes)} pass{'es' if len(plan.passes) != 1 else ''}"
    head = f"{many}, {clock_text(plan.total_s)} with {clock_text(found.problem.setup_s)} to dial before each"
    if plan.proven:
        return f"{head}: no plan is shorter."
    gap = 100.0 * (plan.total_s / plan.bound_s - 1.0)
    return f"{head}; none can be shorter than {clock_text(plan.bound_s)}, so at most {gap:.1f} % are to be gained."


def passes_working(found: StudioPasses) -> tuple[str, ...]:
    """Return the sum behind the total: each pass with the time to dial before it."""
    plan, problem = found.plan, found.problem
    parts = [clock_text(problem.length_s(sum(1 << i for i in numbers))) for numbers in plan.passes]
    return (
        f"{' + '.join(parts)} + {len(parts)} × {clock_text(problem.setup_s)} = {clock_text(plan.total_s)}",
        f"A box is dialled {plan.dials} times; fewer may be possible, that is not proven.",
    )


def passes_table(studio: Studio, found: StudioPasses) -> list[dict[str, Any]]:
    """Return the timetable as rows, one a job."""
    return [
        {
            "pass": row.n,
            "starts": clock_text(row.starts_s),
            "length": clock_text(row.length_s),
            "song": row.song,
            "track": job.track,
            "boxes": boxes_of(studio, job),
            "dial": "; ".join(row.dials) if job is row.jobs[0] else "",
            "afterwards": " ".join(afterwards(studio, job)),
        }
        for row in pass_rows(studio, found)
        for job in row.jobs
    ]
