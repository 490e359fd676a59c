"""A thousand random loops against the model written apart, and boxes made into loops by cables or cords."""

from bench.loop_model import Expected, random_loop, unjoined
from bench.report import Report
from ennead.checks.all_checks import find_all
from ennead.planning.routing.loop_making import make_loop
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.loop_rows import figures_of
from ennead.studio.errors import EnneadError
from ennead.survey.circuits import circuits
from ennead.survey.survey import Survey

#: Figures closer than this are the same, dB.
_SAME_DB = 1e-9


def run(report: Report, times: int) -> None:
    """Count what comes out otherwise."""
    report.head("Loops of every width and wiring against a model written apart")
    wrong = sum(not _as_expected(seed) for seed in range(times))
    report.figure("loops_otherwise", wrong, f"{times} loops: numbers, boxes, delay or headroom otherwise in {wrong}", 0)
    made = max(1, times // 3)
    refused = sum(not _made(seed) for seed in range(made))
    report.figure(
        "loops_not_made", refused, f"{made} rows of boxes made into loops: {refused} refused or in trouble", 0
    )


def otherwise(expected: Expected, survey: Survey) -> str:
    """Return what of the only loop of a house is otherwise than the model says, or nothing."""
    (circuit,) = survey.once(circuits)
    found = figures_of(survey, circuit)
    boxes = list(dict.fromkeys([box for c in circuit.channels for box in c.boxes]))
    delay = found.time.round_trip if found.time is not None else None
    is_so = (list(found.sends), list(found.returns), boxes, delay)
    should = (expected.sends, expected.returns, expected.boxes, expected.delay)
    rooms = [[s.headroom_db for s in stairs.stops if s.headroom_db is not None] for stairs in found.levels]
    if is_so != should:
        return f"{is_so}, not {should}"
    alike = len(rooms) == len(expected.headrooms) and all(
        len(one) == len(other) and all(abs(a - b) < _SAME_DB for a, b in zip(one, other, strict=True))
        for one, other in zip(rooms, expected.headrooms, strict=True)
    )
    return "" if alike else f"headroom {rooms}, not {expected.headrooms}"


def _as_expected(seed: int) -> bool:
    studio, expected = random_loop(seed)
    survey = Survey(studio)
    return not otherwise(expected, Survey(take(survey, allocate(survey)).apply(studio)))


def _made(seed: int) -> bool:
    studio, boxes, width, _ = unjoined(seed)
    try:
        survey = Survey(make_loop(Survey(studio), "Squash", boxes, *width).apply(studio))
    except EnneadError:
        return False
    (circuit,) = survey.once(circuits)
    return circuit.closed and not any(f.severity == "trouble" for f in find_all(survey))
