"""The passes of a studio: its print jobs with what each takes for itself, planned, and the jobs that cannot be printed with why."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ennead.planning.passes.pass_plan import LONGEST_S, PassPlan, plan_passes
from ennead.planning.passes.pass_problem import Job, PassProblem
from ennead.planning.passes.redials import dials_of
from ennead.studio.ids import JobId, UnitId
from ennead.studio.print_job import PrintJob, waits_for
from ennead.survey.survey import Survey

#: What there are several of: outputs and line inputs that nothing else of the session holds.
SENDS, RETURNS = "sends", "returns"


@dataclass(frozen=True, slots=True)
class StudioPasses:
    """What is printed together, in order.

    Parameters
    ----------
    cannot : map of JobId to str
        Jobs that cannot be printed, with why; those that wait for them among them.
    dials : tuple of map of UnitId to RecallId
        Of each pass what has to be dialled before it; an empty card where the job has none.
    """

    jobs: tuple[PrintJob, ...]
    problem: PassProblem
    plan: PassPlan
    cannot: Mapping[JobId, str]
    dials: tuple[Mapping[str, str], ...]


def print_plan(
    survey: Survey, *, longest_s: float = LONGEST_S, stopped: Callable[[], bool] = lambda: False
) -> StudioPasses:
    """Return the passes of the jobs that are not printed yet.

    Parameters
    ----------
    longest_s : float, s
        How long the plan is improved at most.
    """
    studio = survey.studio
    open_jobs = {key: job for key, job in studio.prints.items() if not job.printed}
    sockets = _loop_sockets(survey)
    limits = _free_channels(survey)
    waits = {key: {w for w in before if w in open_jobs} for key, before in waits_for(studio.prints).items()}
    cannot: dict[JobId, str] = {}
    for key, job in open_jobs.items():
        if why := _why_not(survey, job, sockets, limits):
            cannot[key] = why
        elif held := next((w for w in sorted(waits[key], key=lambda w: int(w[1:])) if w in cannot), None):
            cannot[key] = f"it waits for {studio.prints[held].track}, which cannot be printed"
    jobs = tuple([job for key, job in open_jobs.items() if key not in cannot])
    problem = PassProblem(
        tuple([_job(job, sockets, frozenset(waits[job.id])) for job in jobs]),
        limits if any(_is_free(job, sockets) for job in jobs) else {},
        studio.printing.setup_s,
        studio.printing.share,
    )
    plan = plan_passes(problem, longest_s=longest_s, stopped=stopped)
    order = [sum(1 << n for n in one) for one in plan.passes]
    return StudioPasses(jobs, problem, plan, cannot, tuple(dials_of(problem, order)))


def _loop_sockets(survey: Survey) -> dict[UnitId, frozenset[str]]:
    """Return the sends and returns of the loop of the session in which each box stands, by their driver numbers."""
    found: dict[UnitId, frozenset[str]] = {}
    for loop in (d for d in survey.destinations if d.kind == "loop" and d.outputs and d.returns):
        ends = frozenset(
            [f"send {end.unit} {end.port}" for end in loop.outputs]
            + [f"return {end.unit} {end.port}" for end in loop.returns]
        )
        for box in loop.boxes:
            found[box] = found.get(box, frozenset()) | ends
    return found


def _is_free(job: PrintJob, sockets: Mapping[UnitId, frozenset[str]]) -> bool:
    """Say whether a job has no loop of its own, so that any free sends and returns serve."""
    return not any(box in sockets for box in job.boxes)


def _free_channels(survey: Survey) -> dict[str, int]:
    """Return how many outputs and line inputs nothing of the session holds."""
    sound = {
        p.number: p
        for p in survey.output_points
        if "line" in p.port.carries and p.port.key not in survey.faults.get(p.unit, {})
    }
    busy = {(end.unit, end.port) for d in survey.destinations for end in d.outputs}
    sends = [p for p in sound.values() if (p.unit, p.port.key) not in busy and p.feeds in ("", "point", "outboard")]
    taken = {path.driver.number for path in survey.signal_paths if path.driver is not None}
    back = {(end.unit, end.port) for d in survey.destinations for end in d.returns}
    returns = {
        p.number
        for p in survey.input_points
        if "line" in p.carries and not p.fault and p.number not in taken and (p.unit, p.port.key) not in back
    }
    return {SENDS: len(sends), RETURNS: len(returns)}


def _why_not(survey: Survey, job: PrintJob, sockets: Mapping[UnitId, frozenset[str]], limits: Mapping[str, int]) -> str:
    """Return why a job cannot be printed on this session; empty where it can."""
    for box in job.boxes:
        if box in survey.studio.current.missing:
            return f"{survey.studio.units[box].name} is away on this session"
        if survey.studio.settings_of(box).off:
            return f"{survey.studio.units[box].name} is switched off"
    if _is_free(job, sockets) and job.channels > min(limits.values()):
        few = min(limits, key=lambda name: limits[name])
        what = "outputs" if few == SENDS else "line inputs"
        return f"it needs {job.channels} {what}, and {limits[few] or 'none'} of this session are free"
    return ""


def _job(job: PrintJob, sockets: Mapping[UnitId, frozenset[str]], after: frozenset[JobId]) -> Job:
    own = frozenset[str](job.boxes).union(*[sockets.get(box, frozenset()) for box in job.boxes])
    return Job(
        job.id,
        job.song.casefold(),
        job.length_s + job.tail_s,
        own | {f"track {job.track.casefold()}"},
        job.from_s,
        {SENDS: job.channels, RETURNS: job.channels} if _is_free(job, sockets) else {},
        {box: job.cards.get(box, "") for box in job.boxes},
        own,
        after,
    )
