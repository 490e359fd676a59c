"""A box of an insert on neighbouring points."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.bays import NEAR_POINTS
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each processor with input and output on one bay, but not near each other."""
    if not survey.bays:
        return
    seats: dict[tuple[UnitId, UnitId], dict[str, list[int]]] = {}
    corded: set[tuple[UnitId, UnitId]] = set()
    outboard = {unit for unit, profile in survey.profiles.items() if profile.is_outboard}
    for (unit, key), there in survey.behind.items():
        for cable in there:
            far = cable.far
            if isinstance(far, PortEnd) and far.unit in outboard:
                at = survey.bays[unit].places[key][1]
                seats.setdefault((unit, far.unit), {}).setdefault(cable.way, []).append(at)
                if not _is_joined(survey, unit, key):
                    corded.add((unit, far.unit))
    for (unit, box), ways in seats.items():
        if set(ways) != {"in", "out"} or (unit, box) not in corded:
            continue
        apart = min(abs(a - b) for a in ways["in"] for b in ways["out"])
        if apart > NEAR_POINTS:
            name = survey.units[box].name
            yield Finding(
                "loop_points_apart",
                "note",
                subject_of(unit),
                (unit, box),
                f"{name}'s output and input stand {apart} points apart on {survey.units[unit].name}.",
                "An insert is two cords beside each other; far apart they are mixed up, and short cords do not reach.",
                (),
                (f"{NEAR_POINTS} points or fewer are near (house default)",),
            )


def _is_joined(survey: Parts, unit: UnitId, key: str) -> bool:
    """Say whether a normal joins a point to one that is wired as well: no cord is needed there."""
    others = [n.end if n.start == key else n.start for n in survey.bays[unit].normals if key in (n.start, n.end)]
    return any((unit, other) in survey.behind for other in others)
